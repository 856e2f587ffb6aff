using System.Collections.Concurrent;
using System.Text.Json;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>A job as it is stored: log, fold and version (number of events).</summary>
/// <param name="JobId">Id.</param>
/// <param name="Log">All events in order.</param>
/// <param name="State">Their fold.</param>
public sealed record StoredJob(Guid JobId, IReadOnlyList<JobEvent> Log, JobState State)
{
    /// <summary>Rises by one with every event.</summary>
    public int Version => Log.Count;
}

/// <summary>How adding an event ended.</summary>
public enum AppendOutcome
{
    /// <summary>Stored.</summary>
    Added,
    /// <summary>The same event was already stored; nothing changed.</summary>
    Repeated,
    /// <summary>Another event has this id; nothing changed.</summary>
    IdTaken,
    /// <summary>The rules forbid it; nothing changed.</summary>
    Refused,
    /// <summary>There is no such job.</summary>
    NoJob,
}

/// <summary>Result of adding an event.</summary>
/// <param name="Outcome">How it ended.</param>
/// <param name="Errors">Why it was refused.</param>
/// <param name="Job">The job afterwards, where there is one.</param>
public sealed record AppendResult(AppendOutcome Outcome, IReadOnlyList<FieldError> Errors, StoredJob? Job);

/// <summary>Jobs as append-only logs. One writer at a time; an event and its summary row are one transaction.</summary>
/// <param name="database">The database.</param>
/// <param name="shop">Rules need what the shop knows.</param>
public sealed class JobStore(Database database, ShopKnowledge shop) : IDisposable
{
    private readonly SemaphoreSlim writer = new(1, 1);
    private readonly VersionReader versions = new(database);

    /// <summary>Jobs by id as last read or written. Another process may write the same file: a job counts as known only while
    /// its version on the disk is still the same.</summary>
    private readonly ConcurrentDictionary<Guid, StoredJob> jobs = new();
    private readonly ConcurrentDictionary<string, Guid> numbers = new(StringComparer.Ordinal);

    /// <summary>All summaries: open jobs first, then the newest.</summary>
    public IReadOnlyList<JobSummary> List()
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, $"SELECT {SqlRows.SummaryColumns} FROM job ORDER BY closed, last_at DESC");
        using var reader = command.ExecuteReader();
        var list = new List<JobSummary>();
        while (reader.Read())
        {
            list.Add(SqlRows.Summary(reader));
        }
        return list;
    }

    /// <summary>The stored summary row of a job, or null.</summary>
    public JobSummary? StoredSummary(Guid jobId)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, $"SELECT {SqlRows.SummaryColumns} FROM job WHERE job_id = $job", ("$job", jobId.ToString()));
        using var reader = command.ExecuteReader();
        return reader.Read() ? SqlRows.Summary(reader) : null;
    }

    /// <summary>The job of that number, or null.</summary>
    public StoredJob? Find(string number)
    {
        if (!numbers.TryGetValue(number, out var id))
        {
            using var connection = database.Connect();
            using var command = connection.Command(null, "SELECT job_id FROM job WHERE number = $number", ("$number", number));
            if (command.ExecuteScalar() is not string text)
            {
                return null;
            }
            id = Guid.Parse(text);
            numbers[number] = id;
        }
        return Find(id);
    }

    /// <summary>The job of that id, or null.</summary>
    public StoredJob? Find(Guid jobId)
    {
        if (jobs.TryGetValue(jobId, out var known) && known.Version == versions.Of(jobId))
        {
            return known;
        }
        using var connection = database.Connect();
        return Current(connection, null, jobId);
    }

    /// <summary>A number no job has yet: one above the highest of the form J-0001.</summary>
    public string NextNumber()
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT COALESCE(MAX(CAST(substr(number, 3) AS INTEGER)), 0) + 1 FROM job WHERE number GLOB 'J-[0-9]*'");
        return $"J-{(long)command.ExecuteScalar()!:0000}";
    }

    /// <summary>Adds an event to a job, or opens the job with it.</summary>
    public async Task<AppendResult> AppendAsync(Guid jobId, JobEvent e)
    {
        await writer.WaitAsync();
        try
        {
            using var connection = database.Connect();
            using var transaction = connection.BeginTransaction(deferred: false);
            var job = Current(connection, transaction, jobId);
            if (job is null && e is not JobOpened)
            {
                return new(AppendOutcome.NoJob, [], null);
            }
            if (SameId(connection, transaction, e.Id) is { } stored)
            {
                return new(stored.JobId == jobId && Body(stored.Event with { At = e.At }) == Body(e) ? AppendOutcome.Repeated : AppendOutcome.IdTaken, [], job);
            }
            var log = job?.Log ?? [];
            if (JobRules.Check(log, job?.State ?? JobState.Empty, e, shop) is { Count: > 0 } errors)
            {
                return new(AppendOutcome.Refused, errors, job);
            }
            if (e is PhotoAdded photo && !PhotoStored(connection, transaction, jobId, photo.PhotoId))
            {
                return new(AppendOutcome.Refused, [new("photoId", "This picture is not stored: send the picture first.")], job);
            }
            if (e is JobOpened opened && NumberTaken(connection, transaction, opened.Number))
            {
                return new(AppendOutcome.Refused, [new("number", $"There is a job {opened.Number} already.")], null);
            }
            IReadOnlyList<JobEvent> longer = [.. log, e];
            var next = new StoredJob(jobId, longer, e is Undone ? JobLog.Fold(longer) : JobLog.Apply(job?.State ?? JobState.Empty, e));
            WriteSummary(connection, transaction, next);
            WriteEvent(connection, transaction, jobId, log.Count, e);
            await transaction.CommitAsync();
            jobs[jobId] = next;
            return new(AppendOutcome.Added, [], next);
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>Stores a whole job at once, or nothing of it. The archive must have been read by <see cref="JobArchive.Read"/>.</summary>
    /// <returns>Errors where the shop already has the job, its number or one of its events.</returns>
    public async Task<IReadOnlyList<FieldError>> ImportAsync(JobArchive archive)
    {
        await writer.WaitAsync();
        try
        {
            var state = JobLog.Fold(archive.Events);
            using var connection = database.Connect();
            using var transaction = connection.BeginTransaction(deferred: false);
            if (Current(connection, transaction, archive.JobId) is { } known)
            {
                return known.State.SameAs(state) ? [] : [new("/jobId", $"The shop already has this job as {known.State.Number}, in another state.")];
            }
            if (NumberTaken(connection, transaction, state.Number))
            {
                return [new("/events/0/number", $"There is a job {state.Number} already.")];
            }
            if (archive.Events.FirstOrDefault(e => SameId(connection, transaction, e.Id) is not null) is { } taken)
            {
                return [new("/events", $"The event {taken.Id} belongs to another job of this shop.")];
            }
            var job = new StoredJob(archive.JobId, archive.Events, state);
            WriteSummary(connection, transaction, job);
            for (var i = 0; i < archive.Events.Count; i++)
            {
                WriteEvent(connection, transaction, archive.JobId, i, archive.Events[i]);
            }
            foreach (var photo in archive.Photos)
            {
                WritePhoto(connection, transaction, archive.JobId, photo.PhotoId, photo.Jpeg);
            }
            await transaction.CommitAsync();
            jobs[archive.JobId] = job;
            return [];
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>Stores a photo; storing the same again changes nothing.</summary>
    public void SavePhoto(Guid jobId, string photoId, byte[] jpeg)
    {
        using var connection = database.Connect();
        WritePhoto(connection, null, jobId, photoId, jpeg);
    }

    /// <summary>A photo of a job, or null.</summary>
    public byte[]? FindPhoto(Guid jobId, string photoId)
    {
        using var connection = database.Connect();
        using var command = connection.Command(null, "SELECT jpeg FROM photo WHERE job_id = $job AND photo_id = $photo", ("$job", jobId.ToString()), ("$photo", photoId));
        return command.ExecuteScalar() as byte[];
    }

    /// <inheritdoc />
    public void Dispose()
    {
        writer.Dispose();
        versions.Dispose();
    }

    private static string Body(JobEvent e) => JsonSerializer.Serialize(e, IdrumJson.Options);

    private StoredJob? Current(SqliteConnection connection, SqliteTransaction? transaction, Guid jobId)
    {
        using var command = connection.Command(transaction, "SELECT version FROM job WHERE job_id = $job", ("$job", jobId.ToString()));
        if (command.ExecuteScalar() is not long version)
        {
            return null;
        }
        if (jobs.TryGetValue(jobId, out var known) && known.Version == version)
        {
            return known;
        }
        var log = ReadLog(connection, transaction, jobId);
        return jobs[jobId] = new(jobId, log, JobLog.Fold(log));
    }

    private static List<JobEvent> ReadLog(SqliteConnection connection, SqliteTransaction? transaction, Guid jobId)
    {
        using var command = connection.Command(transaction, "SELECT body FROM event WHERE job_id = $job ORDER BY seq", ("$job", jobId.ToString()));
        using var reader = command.ExecuteReader();
        var log = new List<JobEvent>();
        while (reader.Read())
        {
            log.Add(JsonSerializer.Deserialize<JobEvent>(reader.GetString(0), IdrumJson.Options)!);
        }
        return log;
    }

    private static (Guid JobId, JobEvent Event)? SameId(SqliteConnection connection, SqliteTransaction transaction, Guid eventId)
    {
        using var command = connection.Command(transaction, "SELECT job_id, body FROM event WHERE event_id = $id", ("$id", eventId.ToString()));
        using var reader = command.ExecuteReader();
        return reader.Read() ? (Guid.Parse(reader.GetString(0)), JsonSerializer.Deserialize<JobEvent>(reader.GetString(1), IdrumJson.Options)!) : null;
    }

    private static bool NumberTaken(SqliteConnection connection, SqliteTransaction transaction, string number)
    {
        using var command = connection.Command(transaction, "SELECT 1 FROM job WHERE number = $number", ("$number", number));
        return command.ExecuteScalar() is not null;
    }

    private static bool PhotoStored(SqliteConnection connection, SqliteTransaction transaction, Guid jobId, string photoId)
    {
        using var command = connection.Command(transaction, "SELECT 1 FROM photo WHERE job_id = $job AND photo_id = $photo", ("$job", jobId.ToString()), ("$photo", photoId));
        return command.ExecuteScalar() is not null;
    }

    private static void WriteSummary(SqliteConnection connection, SqliteTransaction transaction, StoredJob job)
    {
        using var command = connection.Command(transaction,
            $"""
            INSERT INTO job (job_id, {SqlRows.SummaryColumns}, version)
            VALUES ($job, $number, $place, $layout, $station, $closed, $opened, $last, $out, $timer, $due, $callback, $fault, $words, $version)
            ON CONFLICT (job_id) DO UPDATE SET place = $place, layout_id = $layout, station = $station, closed = $closed, last_at = $last,
                steps_out = $out, next_timer_at = $timer, part_due_at = $due, call_back_of = $callback, fault_id = $fault, words = $words, version = $version
            """,
            SqlRows.Parameters(job.JobId, JobSummary.Of(job.State), job.Version));
        command.ExecuteNonQuery();
    }

    private static void WriteEvent(SqliteConnection connection, SqliteTransaction transaction, Guid jobId, int seq, JobEvent e)
    {
        using var command = connection.Command(transaction, "INSERT INTO event (event_id, job_id, seq, at, body) VALUES ($id, $job, $seq, $at, $body)",
            ("$id", e.Id.ToString()), ("$job", jobId.ToString()), ("$seq", seq), ("$at", SqlRows.Text(e.At)), ("$body", Body(e)));
        command.ExecuteNonQuery();
    }

    private static void WritePhoto(SqliteConnection connection, SqliteTransaction? transaction, Guid jobId, string photoId, byte[] jpeg)
    {
        using var command = connection.Command(transaction, "INSERT INTO photo (job_id, photo_id, jpeg) VALUES ($job, $photo, $jpeg) ON CONFLICT DO NOTHING",
            ("$job", jobId.ToString()), ("$photo", photoId), ("$jpeg", jpeg));
        command.ExecuteNonQuery();
    }
}
