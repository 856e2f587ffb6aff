using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

// Jobs that come in from an archive.
public sealed partial class JobStore
{
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
}
