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

    /// <summary>All summaries: open jobs first, then the newest.</summary>
    public IReadOnlyList<JobSummary> List()
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job ORDER BY closed, last_at DESC"
        );
        return Summaries(command);
    }

    /// <summary>Open jobs, the newest first.</summary>
    public IReadOnlyList<JobSummary> Open() => Where("closed = 0 ORDER BY last_at DESC");

    /// <summary>Closed jobs, the newest first, a page of them.</summary>
    /// <param name="page">From 1 up.</param>
    /// <param name="size">Jobs of a page.</param>
    public IReadOnlyList<JobSummary> Closed(int page, int size) =>
        Where(
            "closed = 1 ORDER BY last_at DESC LIMIT $size OFFSET $skip",
            ("$size", size),
            ("$skip", (long)(page - 1) * size)
        );

    /// <summary>Jobs with something to send back, the soonest first.</summary>
    public IReadOnlyList<JobSummary> ToReturn() => Where("return_by IS NOT NULL ORDER BY return_by");

    /// <summary>Jobs in which something was done since.</summary>
    public IReadOnlyList<JobSummary> Since(DateTimeOffset at) =>
        Where("last_at >= $since ORDER BY last_at", ("$since", SqlRows.Text(at)));

    private List<JobSummary> Where(string condition, params (string Name, object? Value)[] values)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job WHERE {condition}",
            values
        );
        return Summaries(command);
    }

    private static List<JobSummary> Summaries(SqliteCommand command)
    {
        using var reader = command.ExecuteReader();
        var list = new List<JobSummary>();
        while (reader.Read())
        {
            list.Add(SqlRows.Summary(reader));
        }
        return list;
    }

    /// <summary>Jobs that have to do with one: earlier and later jobs on the same tag, the job it comes back from, and
    /// those that
    /// came back from it; newest first.</summary>
    public IReadOnlyList<JobSummary> Related(JobState state)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT {SqlRows.SummaryColumns} FROM job WHERE number <> $number AND (($tag <> '' AND tag = $tag) OR call_back_of = $number OR number = $callback) ORDER BY opened_at DESC LIMIT 50",
            ("$number", state.Number),
            ("$tag", state.Machine.Tag),
            ("$callback", state.Machine.CallBackOf)
        );
        return Summaries(command);
    }

    /// <summary>The other jobs on a tag and the one it comes back from, each with its version: what is computed from them holds while this stays the
    /// same.</summary>
    public string StandOfTag(JobState state)
    {
        if (state.Machine.Tag.Length + state.Machine.CallBackOf.Length == 0)
        {
            return "";
        }
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT group_concat(number || ' ' || version) FROM (SELECT number, version FROM job WHERE (tag = $tag AND $tag <> '' OR number = $callback) AND number <> $number ORDER BY number)",
            ("$tag", state.Machine.Tag),
            ("$callback", state.Machine.CallBackOf),
            ("$number", state.Number)
        );
        return command.ExecuteScalar() as string ?? "";
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

    /// <summary>Stores a whole job at once, or nothing of it. The archive must have been read by <see
    /// cref="JobArchive.Read"/>.</summary>
    /// <param name="archive">The archive.</param>
    /// <param name="history">Its history, as the reading gave it.</param>
    /// <param name="by">Who brings it in.</param>
    /// <param name="device">On which device.</param>
    /// <returns>Errors where the shop already has the job, its number or one of its events.</returns>
    public async Task<IReadOnlyList<FieldError>> ImportAsync(
        JobArchive archive,
        JobHistory history,
        string? by = null,
        string? device = null
    )
    {
        // Worked out before anybody has to wait.
        var checks = ChecksOf(history, archive.Resolved is { } writing ? keeper.Now.Keeping(writing) : keeper.Now);
        await writer.WaitAsync();
        try
        {
            var state = history.State;
            var shop = archive.Resolved is { } brought ? keeper.Now.Keeping(brought) : keeper.Now;
            using var connection = database.Connect();
            using var transaction = connection.BeginTransaction(deferred: false);
            if (Current(connection, transaction, archive.JobId) is { } known)
            {
                // That a part of it came in as a file is said here, and not in the shop it comes from.
                var (here, there) = (Made(known.Log), Made(archive.Events));
                var common = here.Zip(there).All(p => EventText.Same(p.First, p.Second));
                if (common && there.Count <= here.Count)
                {
                    return [];
                }
                var more = there.Skip(here.Count).ToList();
                if (common && more.All(e => JobRows.SameId(connection, transaction, e.Id) is null))
                {
                    more.Add(Imported(more.Count, archive.Chain is not null, by, device));
                    var longer = more.Aggregate(known.History, (h, e) => h.Add(e));
                    Extend(connection, transaction, archive, longer, shop, checks);
                    var head = HeadOf(connection, transaction, archive.JobId);
                    await transaction.CommitAsync(CancellationToken.None);
                    marks.Note(longer.State.Number, archive.JobId, longer.Count, head);
                    KeepBrought(archive);
                    var now = Known(new(archive.JobId, longer));
                    Tell(known.State, now.State);
                    Stored?.Invoke(archive.JobId, now.Version);
                    return [];
                }
                return (known.State with { LayoutHash = "" }).SameAs(state with { LayoutHash = "" })
                    ? []
                    : [new("/jobId", $"The shop already has this job as {known.State.Number}, in another state.")];
            }
            if (JobRows.NumberTaken(connection, transaction, state.Number))
            {
                return [new("/events/0/number", $"There is a job {state.Number} already.")];
            }
            if (
                archive.Events.FirstOrDefault(e => JobRows.SameId(connection, transaction, e.Id) is not null) is
                { } taken
            )
            {
                return [new("/events", $"The event {taken.Id} belongs to another job of this shop.")];
            }
            // A job from before layouts were kept is worked with the present one from now on.
            if (state.LayoutHash.Length == 0)
            {
                history = history.Add(Pin(state, shop.LayoutOf(state)!));
            }
            history = history.Add(Imported(archive.Events.Count, archive.Chain is not null, by, device));
            var (log, job) = (history.Log, new StoredJob(archive.JobId, history));
            KeepLayout(connection, transaction, job.State, shop);
            WriteSummary(connection, transaction, job, shop, checks);
            foreach (var e in log)
            {
                JobRows.WriteEvent(connection, transaction, archive.JobId, e);
            }
            foreach (var file in archive.Attachments)
            {
                JobRows.WriteAttachment(connection, transaction, file);
            }
            var last = HeadOf(connection, transaction, archive.JobId);
            await transaction.CommitAsync(CancellationToken.None);
            marks.Note(job.State.Number, archive.JobId, job.Version, last);
            KeepBrought(archive);
            Known(job);
            Tell(null, job.State);
            return [];
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>A log without what says that it came in as a file.</summary>
    private static List<JobEvent> Made(IEnumerable<JobEvent> log) => [.. log.Where(e => e is not JobImported)];

    /// <summary>The act that says how acts came in, and by whom.</summary>
    private JobImported Imported(int acts, bool chained, string? by, string? device) =>
        new(acts, chained)
        {
            Id = Guid.NewGuid(),
            At = clock.GetUtcNow(),
            Arrived = clock.GetUtcNow(),
            By = by,
            Device = device,
        };

    /// <summary>The shop knows the writing a file brought once it is stored.</summary>
    private void KeepBrought(JobArchive archive)
    {
        if (archive.Resolved is { } layout && keeper.Now.FindPinned(Variants.HashOf(layout)) is null)
        {
            keeper.Change(now => now.Keeping(layout));
        }
    }

    /// <summary>Adds to a stored job what a file holds beyond its log.</summary>
    private void Extend(
        SqliteConnection connection,
        SqliteTransaction transaction,
        JobArchive archive,
        JobHistory history,
        ShopSnapshot shop,
        IReadOnlyList<CheckWorth>? checks
    )
    {
        var stored = Current(connection, transaction, archive.JobId)!;
        KeepLayout(connection, transaction, history.State, shop);
        WriteSummary(connection, transaction, new(archive.JobId, history), shop, checks);
        foreach (var e in history.Log.Skip(stored.Log.Count))
        {
            JobRows.WriteEvent(connection, transaction, archive.JobId, e);
        }
        foreach (var file in archive.Attachments)
        {
            JobRows.WriteAttachment(connection, transaction, file);
        }
    }

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

    /// <summary>What was answered once and is not in the database any more, in words; the marks begin anew from what
    /// it holds, so that each loss is told once.</summary>
    public IReadOnlyList<string> Missing()
    {
        using var connection = database.Connect();
        var missing = marks.Missing(connection);
        marks.Begin(connection);
        return missing;
    }

    /// <summary>Where a job's log was changed behind Idrum's back, in words; null where it was not.</summary>
    public string? Broken(Guid jobId)
    {
        using var connection = database.Connect();
        if (Chain.Broken(connection, jobId) is { } broken)
        {
            return broken;
        }
        if (Find(jobId) is not { } job)
        {
            return null;
        }
        var held = SoundDropped.Held(job.Log).ToHashSet(ReferenceEqualityComparer.Instance);
        return job
            .Log.Select((e, i) => (Act: e as ICarriesAttachment, Place: i + 1))
            .Where(e => e.Act is not null && held.Contains(e.Act))
            .Select(e => BrokenFile(e.Act!, e.Place))
            .FirstOrDefault(words => words is not null);
    }

    /// <summary>Whether the file an act carries was changed or removed, in words.</summary>
    private string? BrokenFile(ICarriesAttachment act, int place) =>
        FindAttachment(act.CarriedName) is not { } file
            ? $"The {act.Carries.Name} of act {place} was removed or changed."
        : act.CarriedSha256 is { } hash && hash != file.Sha256 ? $"The {act.Carries.Name} of act {place} was changed."
        : null;

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
