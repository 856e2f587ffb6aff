using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>Rows of the log: acts, chained by hash, and the files they carry.</summary>
internal static class JobRows
{
    /// <summary>The log as far as it can be read: an act of a newer Idrum is kept as it stands; one whose text was
    /// spoilt behind Idrum's back is passed over, and shown
    /// by the chain.</summary>
    internal static List<JobEvent> ReadLog(SqliteConnection connection, SqliteTransaction? transaction, Guid jobId)
    {
        using var command = connection.Command(
            transaction,
            "SELECT body FROM event WHERE job_id = $job ORDER BY seq",
            ("$job", jobId.ToString())
        );
        using var reader = command.ExecuteReader();
        var log = new List<JobEvent>();
        while (reader.Read())
        {
            if (UnknownAct.Read(reader.GetString(0)) is { } e)
            {
                log.Add(e);
            }
        }
        return log;
    }

    /// <summary>The event of that id and its job, or null.</summary>
    internal static (Guid JobId, JobEvent Event)? SameId(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        Guid eventId
    )
    {
        using var command = connection.Command(
            transaction,
            "SELECT job_id, body FROM event WHERE event_id = $id",
            ("$id", eventId.ToString())
        );
        using var reader = command.ExecuteReader();
        return reader.Read() && UnknownAct.Read(reader.GetString(1)) is { } e
            ? (Guid.Parse(reader.GetString(0)), e)
            : null;
    }

    /// <summary>Whether a job has that number.</summary>
    internal static bool NumberTaken(SqliteConnection connection, SqliteTransaction? transaction, string number)
    {
        using var command = connection.Command(
            transaction,
            "SELECT 1 FROM job WHERE number = $number",
            ("$number", number)
        );
        return command.ExecuteScalar() is not null;
    }

    /// <summary>What is wrong with the job an act names as the one this comes back from: there must be one, another
    /// than this, on the same machine. Null where nothing is, or the act names none anew.</summary>
    internal static FieldError? CallBackFault(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        JobEvent e,
        JobState before
    )
    {
        var (card, number) = e switch
        {
            JobOpened o => (o.Machine, o.Number),
            MachineCorrected m when m.Machine.CallBackOf != before.Machine.CallBackOf => (m.Machine, before.Number),
            _ => (null, ""),
        };
        if (card is not { CallBackOf.Length: > 0 })
        {
            return null;
        }
        FieldError Wrong(string why) => new("machine.callBackOf", why);
        if (card.CallBackOf == number)
        {
            return Wrong("A job does not come back from itself.");
        }
        using var command = connection.Command(
            transaction,
            "SELECT layout_id, tag FROM job WHERE number = $number",
            ("$number", card.CallBackOf)
        );
        using var reader = command.ExecuteReader();
        return !reader.Read() ? Wrong($"There is no job {FieldErrors.Short(card.CallBackOf)} here.")
            : reader.GetString(0) != card.LayoutId
            || card.Tag.Length > 0 && reader.GetString(1).Length > 0 && reader.GetString(1) != card.Tag
                ? Wrong($"{card.CallBackOf} was another machine. Open it as a new job.")
            : null;
    }

    /// <summary>Whether a file of that name and kind is stored.</summary>
    internal static bool AttachmentStored(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        ICarriesAttachment act
    )
    {
        using var command = connection.Command(
            transaction,
            "SELECT 1 FROM attachment WHERE name = $name AND kind = $kind",
            ("$name", act.CarriedName),
            ("$kind", act.Carries.Name)
        );
        return command.ExecuteScalar() is not null;
    }

    /// <summary>Adds an act to the log and chains it to the one before; the summary row must be there.</summary>
    internal static void WriteEvent(SqliteConnection connection, SqliteTransaction transaction, Guid jobId, JobEvent e)
    {
        using var last = connection.Command(
            transaction,
            "SELECT COALESCE((SELECT MAX(seq) + 1 FROM event WHERE job_id = $job), 0), head FROM job WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        using var reader = last.ExecuteReader();
        reader.Read();
        var (seq, body) = (reader.GetInt32(0), EventText.Of(e));
        var hash = LogChain.Next(reader.GetString(1), seq, body);
        using var command = connection.Command(
            transaction,
            "INSERT INTO event (event_id, job_id, seq, at, body, arrived, hash) VALUES ($id, $job, $seq, $at, $body, $arrived, $hash); UPDATE job SET head = $hash WHERE job_id = $job",
            ("$id", e.Id.ToString()),
            ("$job", jobId.ToString()),
            ("$seq", seq),
            ("$at", SqlRows.Text(e.At)),
            ("$body", body),
            ("$arrived", e.Arrived is { } arrived ? SqlRows.Text(arrived) : ""),
            ("$hash", hash)
        );
        command.ExecuteNonQuery();
    }

    /// <summary>Takes what tells who the customer is out of a job's acts, and the files that no other job
    /// names.</summary>
    /// <returns>The acts that were changed, with the hash of what is left.</returns>
    internal static List<RemovedFrom> RemoveCustomer(
        SqliteConnection connection,
        SqliteTransaction transaction,
        Guid jobId
    )
    {
        var removed = new List<RemovedFrom>();
        foreach (var (e, place) in ReadLog(connection, transaction, jobId).Select((e, i) => (e, i)))
        {
            var (was, now) = (EventText.Of(e), EventText.Of(e.WithoutCustomer()));
            if (was == now)
            {
                continue;
            }
            using var write = connection.Command(
                transaction,
                "UPDATE event SET body = $body WHERE event_id = $id AND job_id = $job",
                ("$body", now),
                ("$id", e.Id.ToString()),
                ("$job", jobId.ToString())
            );
            write.ExecuteNonQuery();
            removed.Add(new(place, Chain.HashOf(now)));
            if (e is ICarriesAttachment act)
            {
                using var file = connection.Command(
                    transaction,
                    "DELETE FROM attachment WHERE name = $name AND NOT EXISTS (SELECT 1 FROM event WHERE instr(body, $name) > 0)",
                    ("$name", act.CarriedName)
                );
                file.ExecuteNonQuery();
            }
        }
        return removed;
    }

    /// <summary>Stores a file; the same again changes nothing.</summary>
    internal static void WriteAttachment(SqliteConnection connection, SqliteTransaction transaction, Attachment file)
    {
        using var command = connection.Command(
            transaction,
            "INSERT INTO attachment (name, kind, sha256, bytes) VALUES ($name, $kind, $hash, $bytes) ON CONFLICT DO NOTHING",
            ("$name", file.Name),
            ("$kind", file.Kind),
            ("$hash", file.Sha256),
            ("$bytes", file.Bytes)
        );
        command.ExecuteNonQuery();
    }
}
