using System.Collections.Concurrent;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Storage;

/// <summary>Jobs as append-only logs. One writer at a time; an event and its summary row are one transaction.</summary>
/// <param name="database">The database.</param>
/// <param name="keeper">Rules need what the shop knows.</param>
/// <param name="clock">The shop's clock.</param>
public sealed partial class JobStore(Database database, ShopKeeper keeper, TimeProvider clock) : IDisposable
{
    /// <summary>Acts of the jobs that are kept in memory; a job counts at least ten.</summary>
    private const int MostActs = 200_000;

    private readonly SemaphoreSlim writer = new(1, 1);
    private readonly VersionReader versions = new(database);
    private readonly HighWater marks = new(database.Folder);

    /// <summary>Jobs by id as last read or written. Another process may write the same file: a job counts as known only
    /// while
    /// its version on the disk is still the same.</summary>
    private readonly MemoryCache jobs = new(new MemoryCacheOptions { SizeLimit = MostActs });
    private readonly ConcurrentDictionary<string, Guid> numbers = new(StringComparer.Ordinal);

    /// <summary>Called when a job was closed or opened again, or one came in closed: there is something to learn or to
    /// forget.</summary>
    public event Action? LessonsChanged;

    /// <summary>Called when an act of a job was stored: its id and its version now.</summary>
    public event Action<Guid, int>? Stored;

    private void Tell(JobState? before, JobState after)
    {
        if (before?.Closed != after.Closed)
        {
            LessonsChanged?.Invoke();
        }
    }

    /// <summary>Writes rows anew that were written by an older form of the summary.</summary>
    public void Refresh()
    {
        var shop = keeper.Now;
        using var connection = database.Connect();
        using var transaction = connection.BeginTransaction(deferred: false);
        Chain.Begin(connection, transaction);
        var old = new List<Guid>();
        using (
            var command = connection.Command(
                transaction,
                "SELECT job_id FROM job WHERE shape < $shape",
                ("$shape", SqlRows.SummaryShape)
            )
        )
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                old.Add(Guid.Parse(reader.GetString(0)));
            }
        }
        foreach (var id in old)
        {
            var job = Current(connection, transaction, id)!;
            if (job.State.LayoutHash.Length == 0 && shop.LayoutOf(job.State) is { } present)
            {
                var pin = Pin(job.State, present);
                JobRows.WriteEvent(connection, transaction, id, pin);
                job = Known(new(id, job.History.Add(pin)));
            }
            KeepLayout(connection, transaction, job.State, shop);
            WriteSummary(connection, transaction, job, shop);
        }
        transaction.Commit();
    }

    /// <summary>The act that pins the present writing of a job's layout; it happened when the job last did
    /// something.</summary>
    private LayoutPinned Pin(JobState state, Layout layout) =>
        new(Variants.HashOf(layout))
        {
            Id = Guid.NewGuid(),
            At = state.LastAt,
            Arrived = clock.GetUtcNow(),
        };

    /// <summary>With what only the shop can say: the hash of the layout the job is to be worked with, where the act
    /// says which machine it is; the currency that was paid in.</summary>
    private static JobEvent Stamped(JobEvent e, JobState state, ShopSnapshot shop) =>
        e switch
        {
            JobOpened o => o with
            {
                LayoutHash = shop.FindLayout(o.Machine.LayoutId) is { } l ? Variants.HashOf(l) : null,
            },
            MachineCorrected m when m.Machine.LayoutId != state.Machine.LayoutId => shop.FindLayout(m.Machine.LayoutId)
                is { } l
                ? m with
                {
                    LayoutHash = Variants.HashOf(l),
                    Carried = CarryOver.Of(state, shop, m.Machine),
                }
                : m with
                {
                    LayoutHash = null,
                    Carried = null,
                },
            MachineCorrected m => m with { LayoutHash = null, Carried = null },
            OrderSettled settled => settled with { PaidIn = settled.PaidEach is null ? null : shop.Terms.Currency },
            _ => e,
        };

    private void KeepLayout(
        SqliteConnection connection,
        SqliteTransaction transaction,
        JobState state,
        ShopSnapshot shop
    )
    {
        if (shop.FindPinned(state.LayoutHash) is { } layout)
        {
            LayoutStore.Keep(connection, transaction, layout, state.LayoutHash, clock.GetUtcNow());
        }
    }

    /// <summary>The stored summary row of a job, or null.</summary>
    public JobSummary? StoredSummary(Guid jobId)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        using var reader = command.ExecuteReader();
        return reader.Read() ? SqlRows.Summary(reader) : null;
    }

    /// <summary>The job of that number, or null.</summary>
    public StoredJob? Find(string number)
    {
        if (!numbers.TryGetValue(number, out var id))
        {
            using var connection = database.Connect();
            using var command = connection.Command(
                null,
                "SELECT job_id FROM job WHERE number = $number",
                ("$number", number)
            );
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
        if (jobs.TryGetValue<StoredJob>(jobId, out var known) && known!.Version == versions.Of(jobId))
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
        using var command = connection.Command(
            null,
            "SELECT COALESCE(MAX(CAST(substr(number, 3) AS INTEGER)), 0) + 1 FROM job WHERE number GLOB 'J-[0-9]*' AND substr(number, 3) NOT GLOB '*[^0-9]*' AND length(number) <= 11"
        );
        return $"J-{(long)command.ExecuteScalar()!:0000}";
    }

    /// <summary>What the rules would say against an act now; nothing is stored.</summary>
    public IReadOnlyList<FieldError> Check(StoredJob job, JobEvent e) =>
        JobRules.Check(job.History, e, keeper.Now, clock.GetUtcNow());

    /// <summary>Adds an event to a job, or opens the job with it. When it arrived is the shop's clock now.</summary>
    public Task<AppendResult> AppendAsync(Guid jobId, JobEvent e, CancellationToken cancellation = default) =>
        AppendManyAsync(jobId, [e], null, cancellation);

    /// <summary>Adds an event with the file it carries: both or none.</summary>
    public Task<AppendResult> AppendAsync(Guid jobId, JobEvent e, Attachment? file) =>
        AppendManyAsync(jobId, [e], file is null ? [] : [file]);

    /// <summary>Adds the events of one act to a job, all of them or none; those that are stored already are passed
    /// over.</summary>
    /// <param name="jobId">The job.</param>
    /// <param name="events">In order; each is checked on the job as the ones before leave it.</param>
    /// <param name="files">What they carry, where it is not stored yet.</param>
    /// <param name="cancellation">Ends the waiting for other writers.</param>
    /// <returns>Added where one was; repeated where all stood there already; else why nothing was stored.</returns>
    public async Task<AppendResult> AppendManyAsync(
        Guid jobId,
        IReadOnlyList<JobEvent> events,
        IReadOnlyList<Attachment>? files = null,
        CancellationToken cancellation = default
    )
    {
        using var connection = database.Connect();
        // Whether it may be is thought through before others have to wait; the lock is held for looking whether that
        // still holds, and for writing.
        var ready = Prepare(connection, null, jobId, events, files ?? []);
        if (ready.Added.OfType<JobClosed>().Any())
        {
            ready = ready with { Checks = ChecksOf(ready.After, ready.Shop) };
        }
        if (ready.Ended is { } ended)
        {
            return ended;
        }
        await writer.WaitAsync(cancellation);
        try
        {
            using var transaction = connection.BeginTransaction(deferred: false);
            if (!Holds(connection, transaction, jobId, ready))
            {
                ready = Prepare(connection, transaction, jobId, events, files ?? []) with { Checks = ready.Checks };
                if (ready.Ended is { } late)
                {
                    return late;
                }
            }
            var next = new StoredJob(jobId, ready.After);
            KeepLayout(connection, transaction, next.State, ready.Shop);
            WriteSummary(connection, transaction, next, ready.Shop, ready.Checks);
            foreach (var e in ready.Added)
            {
                JobRows.WriteEvent(connection, transaction, jobId, e);
            }
            foreach (var file in files ?? [])
            {
                JobRows.WriteAttachment(connection, transaction, file);
            }
            var head = HeadOf(connection, transaction, jobId);
            await transaction.CommitAsync(CancellationToken.None);
            // Known means answered, so it is marked before.
            marks.Note(next.State.Number, jobId, next.Version, head);
            Known(next);
            Tell(ready.Before?.State, next.State);
            Stored?.Invoke(jobId, next.Version);
            return new(AppendOutcome.Added, [], next);
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>What acts would make of a job.</summary>
    /// <param name="Shop">What the shop knew.</param>
    /// <param name="Before">The job they were held against; null for one that is opened.</param>
    /// <param name="After">Its history with them.</param>
    /// <param name="Added">Those that are new.</param>
    /// <param name="Ended">The answer, where there is nothing to store.</param>
    private sealed record Prepared(
        ShopSnapshot Shop,
        StoredJob? Before,
        JobHistory After,
        IReadOnlyList<JobEvent> Added,
        AppendResult? Ended = null
    )
    {
        /// <summary>What the checks of a job that is closed were worth; null where it is not closed by these.</summary>
        internal IReadOnlyList<CheckWorth>? Checks { get; init; }
    }

    /// <summary>What the checks of a closed job were worth; null of one that is open or of no known machine.</summary>
    private static IReadOnlyList<CheckWorth>? ChecksOf(JobHistory history, ShopSnapshot shop) =>
        history.State.Closed is not null && shop.LayoutOf(history.State) is { } layout
            ? CheckWorth.Of(history, shop.For(layout))
            : null;

    private Prepared Prepare(
        SqliteConnection connection,
        SqliteTransaction? transaction,
        Guid jobId,
        IReadOnlyList<JobEvent> events,
        IReadOnlyList<Attachment> files
    )
    {
        var shop = keeper.Now;
        var job = Current(connection, transaction, jobId);
        var history = job?.History ?? JobHistory.Empty;
        var added = new List<JobEvent>();
        Prepared End(AppendOutcome outcome, IReadOnlyList<FieldError> errors, StoredJob? with) =>
            new(shop, job, history, [], new(outcome, errors, with));
        if (job is null && events is not [JobOpened, ..])
        {
            return End(AppendOutcome.NoJob, [], null);
        }
        foreach (var given in events)
        {
            if (JobRows.SameId(connection, transaction, given.Id) is { } stored)
            {
                // A device may send once more what the customer's data was taken out of meanwhile.
                if (
                    stored.JobId != jobId
                    || !EventText.Same(stored.Event, given) && !EventText.Same(stored.Event, given.WithoutCustomer())
                )
                {
                    return End(AppendOutcome.IdTaken, [], job);
                }
                continue;
            }
            var e = Stamped(given with { Arrived = clock.GetUtcNow() }, history.State, shop);
            if (JobRules.Check(history, e, shop, clock.GetUtcNow()) is { Count: > 0 } errors)
            {
                return End(AppendOutcome.Refused, errors, job);
            }
            if (
                e is ICarriesAttachment act
                && !files.Any(f => f.Name == act.CarriedName && f.Kind == act.Carries.Name)
                && !JobRows.AttachmentStored(connection, transaction, act)
            )
            {
                return End(
                    AppendOutcome.Refused,
                    [new("file", $"This {act.Carries.Name} is not stored: send it with the act.")],
                    job
                );
            }
            if (e is JobOpened opened && JobRows.NumberTaken(connection, transaction, opened.Number))
            {
                return End(AppendOutcome.Refused, [new("number", $"There is a job {opened.Number} already.")], null);
            }
            if (JobRows.CallBackFault(connection, transaction, e, history.State) is { } wrong)
            {
                return End(AppendOutcome.Refused, [wrong], job);
            }
            history = history.Add(e);
            added.Add(e);
        }
        return added.Count == 0 ? End(AppendOutcome.Repeated, [], job) : new(shop, job, history, added);
    }

    /// <summary>Whether nothing that the acts were held against has changed meanwhile.</summary>
    private bool Holds(SqliteConnection connection, SqliteTransaction transaction, Guid jobId, Prepared ready) =>
        ReferenceEquals(ready.Shop, keeper.Now)
        && Current(connection, transaction, jobId)?.Version == ready.Before?.Version
        && ready.Added.All(e =>
            JobRows.SameId(connection, transaction, e.Id) is null
            && (e is not JobOpened opened || !JobRows.NumberTaken(connection, transaction, opened.Number))
        );

    /// <summary>A stored file, or null: also where its bytes are not those that were stored.</summary>
    public Attachment? FindAttachment(string name)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT kind, bytes, sha256 FROM attachment WHERE name = $name",
            ("$name", name)
        );
        using var reader = command.ExecuteReader();
        if (!reader.Read())
        {
            return null;
        }
        var file = new Attachment(name, reader.GetString(0), reader.GetFieldValue<byte[]>(1));
        return reader.GetString(2) is { Length: > 0 } hash && hash != file.Sha256 ? null : file;
    }

    /// <inheritdoc />
    public void Dispose()
    {
        writer.Dispose();
        marks.Close();
        jobs.Dispose();
        versions.Dispose();
    }

    private StoredJob? Current(SqliteConnection connection, SqliteTransaction? transaction, Guid jobId)
    {
        using var command = connection.Command(
            transaction,
            "SELECT version FROM job WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        if (command.ExecuteScalar() is not long version)
        {
            return null;
        }
        if (jobs.TryGetValue<StoredJob>(jobId, out var known) && known!.Version == version)
        {
            return known;
        }
        // A row whose acts are gone is no job any more.
        return JobRows.ReadLog(connection, transaction, jobId) is { Count: > 0 } log
            ? Known(new(jobId, JobHistory.Of(log)))
            : null;
    }

    private StoredJob Known(StoredJob job) =>
        jobs.Set(job.JobId, job, new MemoryCacheEntryOptions { Size = Math.Max(10, job.Version) });

    private static string HeadOf(SqliteConnection connection, SqliteTransaction transaction, Guid jobId)
    {
        using var command = connection.Command(
            transaction,
            "SELECT head FROM job WHERE job_id = $job",
            ("$job", jobId.ToString())
        );
        return (string)command.ExecuteScalar()!;
    }

    /// <summary>Forgets what is kept in memory: another database was put in this one's place.</summary>
    public void Forget()
    {
        jobs.Clear();
        numbers.Clear();
        // The marks that are open left with the other shop.
        marks.Close();
    }

    /// <summary>When the last act of the shop arrived; null where there is none.</summary>
    public DateTimeOffset? LastArrived
    {
        get
        {
            using var connection = database.Connect();
            using var command = connection.Command(null, "SELECT MAX(arrived) FROM event WHERE arrived <> ''");
            return command.ExecuteScalar() is string text ? SqlRows.Time(text) : null;
        }
    }

    private static IReadOnlyList<CheckWorth>? KeptChecks(
        SqliteConnection connection,
        SqliteTransaction transaction,
        Guid jobId
    )
    {
        using var command = connection.Command(
            transaction,
            "SELECT json_extract(record, '$.checks') FROM job WHERE job_id = $job AND record <> ''",
            ("$job", jobId.ToString())
        );
        return command.ExecuteScalar() is string text
            ? JsonSerializer.Deserialize<IReadOnlyList<CheckWorth>>(text, IdrumJson.Options)
            : null;
    }

    private static void WriteSummary(
        SqliteConnection connection,
        SqliteTransaction transaction,
        StoredJob job,
        ShopSnapshot shop,
        IReadOnlyList<CheckWorth>? checks = null
    )
    {
        var layout = shop.LayoutOf(job.State);
        // What was worked out when it was closed stays with its record.
        checks ??= KeptChecks(connection, transaction, job.JobId);
        using var command = connection.Command(
            transaction,
            $"""
            INSERT INTO job (job_id, {SqlRows.SummaryColumns}, version, shape, lesson, record)
            VALUES ($job, $number, $place, $layout, $station, $closed, $opened, $last, $out, $timer, $due, $callback, $fault, $words, $tag, $complaints, $return, $version, $shape, $lesson, $record)
            ON CONFLICT (job_id) DO UPDATE SET place = $place, layout_id = $layout, station = $station, closed = $closed, last_at = $last,
                steps_out = $out, next_timer_at = $timer, part_due_at = $due, call_back_of = $callback, fault_id = $fault, words = $words, tag = $tag, complaints = $complaints, return_by = $return,
                version = $version, shape = $shape, number = $number, lesson = $lesson, record = $record
            """,
            [
                .. SqlRows.Parameters(job.JobId, JobSummary.Of(job.State, layout), job.Version),
                (
                    "$lesson",
                    LessonOfJob.Of(job.History, shop.Catalog) is { } lesson
                        ? JsonSerializer.Serialize(lesson, IdrumJson.Options)
                        : ""
                ),
                (
                    "$record",
                    JobRecord.Of(job.History, layout, shop, checks) is { } record
                        ? JsonSerializer.Serialize(record, IdrumJson.Options)
                        : ""
                ),
            ]
        );
        command.ExecuteNonQuery();
        LogbookStore.Write(connection, transaction, job.JobId, JobWords.Of(job.History, layout, shop));
    }
}
