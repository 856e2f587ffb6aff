using System.Globalization;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Week;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>Appointments, and what came due and was seen to.</summary>
/// <param name="database">The database.</param>
public sealed class WeekStore(Database database)
{
    /// <summary>Calendars read in that can still be taken back.</summary>
    private const int BatchesKept = 5;

    /// <summary>Appointments from one day to another, both counted, in their order.</summary>
    public IReadOnlyList<Booking> Between(DateOnly from, DateOnly until) =>
        Read("day >= $from AND day <= $until", ("$from", Text(from)), ("$until", Text(until)));

    /// <summary>Those from a day on whose job is still to be opened, and those of open jobs.</summary>
    public IReadOnlyList<Booking> From(DateOnly day) => Read("day >= $from", ("$from", Text(day)));

    /// <summary>The appointment of that id, or null.</summary>
    public Booking? Find(Guid id) => Read("booking_id = $id", ("$id", id.ToString())).FirstOrDefault();

    /// <summary>That of a name in calendars, or null.</summary>
    public Booking? FindUid(string uid) => Read("uid = $uid", ("$uid", uid)).FirstOrDefault();

    /// <summary>Appointments of a job, the earliest first.</summary>
    public IReadOnlyList<Booking> OfJob(string number) => Read("job_number = $job", ("$job", number));

    /// <summary>Keeps appointments, all or none; one of the same id gives way.</summary>
    /// <param name="bookings">What to keep.</param>
    /// <param name="batch">Under which name it can be taken back as one; null where it cannot.</param>
    public void Keep(IReadOnlyList<Booking> bookings, string? batch = null)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        foreach (var booking in bookings)
        {
            if (batch is not null)
            {
                Run(
                    "INSERT INTO booking_before (batch, booking_id, body) VALUES ($batch, $id, (SELECT body FROM booking WHERE booking_id = $id)) ON CONFLICT DO NOTHING",
                    ("$batch", batch),
                    ("$id", booking.Id.ToString())
                );
            }
            Write(connection, transaction, booking);
        }
        if (batch is not null)
        {
            Run(
                "DELETE FROM booking_before WHERE batch NOT IN (SELECT DISTINCT batch FROM booking_before ORDER BY batch DESC LIMIT $kept)",
                ("$kept", BatchesKept)
            );
        }
        transaction.Commit();

        void Run(string sql, params (string, object?)[] values)
        {
            using var command = connection.Command(transaction, sql, values);
            command.ExecuteNonQuery();
        }
    }

    /// <summary>Puts everything back as it was before a calendar was read in.</summary>
    /// <returns>How many appointments that were; 0 where there is no such reading.</returns>
    public int TakeBack(string batch)
    {
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        var were = new List<(string Id, string? Body)>();
        using (
            var command = connection.Command(
                transaction,
                "SELECT booking_id, body FROM booking_before WHERE batch = $batch",
                ("$batch", batch)
            )
        )
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                were.Add((reader.GetString(0), reader.IsDBNull(1) ? null : reader.GetString(1)));
            }
        }
        foreach (var (id, body) in were)
        {
            if (body is null)
            {
                using var gone = connection.Command(
                    transaction,
                    "DELETE FROM booking WHERE booking_id = $id",
                    ("$id", id)
                );
                gone.ExecuteNonQuery();
            }
            else
            {
                Write(connection, transaction, JsonSerializer.Deserialize<Booking>(body, IdrumJson.Options)!);
            }
        }
        using var done = connection.Command(
            transaction,
            "DELETE FROM booking_before WHERE batch = $batch",
            ("$batch", batch)
        );
        done.ExecuteNonQuery();
        transaction.Commit();
        return were.Count;
    }

    /// <summary>Takes an appointment out for good, with how it stood before.</summary>
    public void Remove(Guid id)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "DELETE FROM booking_before WHERE booking_id = $id; DELETE FROM booking WHERE booking_id = $id",
            ("$id", id.ToString())
        );
        command.ExecuteNonQuery();
    }

    /// <summary>What came due between two days and was seen to.</summary>
    public IReadOnlySet<(string Job, string Kind, DateOnly Day)> Done(DateOnly from, DateOnly until)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT job_number, kind, day FROM due_done WHERE day >= $from AND day <= $until",
            ("$from", Text(from)),
            ("$until", Text(until))
        );
        using var reader = command.ExecuteReader();
        var done = new HashSet<(string, string, DateOnly)>();
        while (reader.Read())
        {
            done.Add((reader.GetString(0), reader.GetString(1), Day(reader.GetString(2))));
        }
        return done;
    }

    /// <summary>Notes that it was seen to, or no longer.</summary>
    public void SeenTo(string job, string kind, DateOnly day, DateTimeOffset? at, string person)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            at is null
                ? "DELETE FROM due_done WHERE job_number = $job AND kind = $kind AND day = $day"
                : "INSERT INTO due_done (job_number, kind, day, done_at, person) VALUES ($job, $kind, $day, $at, $person) ON CONFLICT DO NOTHING",
            ("$job", job),
            ("$kind", kind),
            ("$day", Text(day)),
            ("$at", at is { } moment ? SqlRows.Text(moment) : null),
            ("$person", person)
        );
        command.ExecuteNonQuery();
    }

    /// <summary>Takes out what tells of a job's customer, with how it stood before.</summary>
    internal static void RemoveCustomer(SqliteConnection connection, SqliteTransaction transaction, string number)
    {
        using var command = connection.Command(
            transaction,
            "DELETE FROM booking_before WHERE booking_id IN (SELECT booking_id FROM booking WHERE job_number = $job); DELETE FROM booking WHERE job_number = $job",
            ("$job", number)
        );
        command.ExecuteNonQuery();
    }

    private static void Write(SqliteConnection connection, SqliteTransaction transaction, Booking booking)
    {
        using var command = connection.Command(
            transaction,
            "INSERT INTO booking (booking_id, day, uid, job_number, body) VALUES ($id, $day, $uid, $job, $body) ON CONFLICT (booking_id) DO UPDATE SET day = $day, uid = $uid, job_number = $job, body = $body",
            ("$id", booking.Id.ToString()),
            ("$day", Text(booking.Day)),
            ("$uid", booking.Uid),
            ("$job", booking.JobNumber),
            ("$body", JsonSerializer.Serialize(booking, IdrumJson.Options))
        );
        command.ExecuteNonQuery();
    }

    private List<Booking> Read(string where, params (string, object?)[] values)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, $"SELECT body FROM booking WHERE {where} ORDER BY day", values);
        using var reader = command.ExecuteReader();
        var list = new List<Booking>();
        while (reader.Read())
        {
            list.Add(JsonSerializer.Deserialize<Booking>(reader.GetString(0), IdrumJson.Options)!);
        }
        return [.. list.OrderBy(b => b.Day).ThenBy(b => b.Order).ThenBy(b => b.From ?? 0).ThenBy(b => b.Id)];
    }

    private static string Text(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private static DateOnly Day(string text) => DateOnly.ParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture);
}
