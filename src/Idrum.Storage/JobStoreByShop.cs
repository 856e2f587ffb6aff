using Idrum.Core.Jobs.Log;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>What the shop itself does to a job, at its keeper's word: acts that no device can send.</summary>
public sealed partial class JobStore
{
    /// <summary>Takes what tells who the customer is out of a closed job: out of its acts, its row, and the files it
    /// alone names. Backups made before still hold it.</summary>
    /// <param name="jobId">The job.</param>
    /// <param name="by">Who does it.</param>
    /// <param name="device">On which device.</param>
    /// <returns>Out of how many acts something was taken; 0 where there was nothing, null where there is no such job,
    /// or it is open.</returns>
    public async Task<int?> RemoveCustomerAsync(Guid jobId, string? by, string? device)
    {
        int? taken = null;
        await ByShopAsync(jobId, by, device, wipe: true, (connection, transaction, job) =>
        {
            if (job.State.Closed is null)
            {
                return [];
            }
            var removed = JobRows.RemoveCustomer(connection, transaction, jobId);
            taken = removed.Count;
            if (removed.Count == 0)
            {
                return [];
            }
            // What was promised on the telephone for it goes too.
            WeekStore.RemoveCustomer(connection, transaction, job.State.Number);
            LeftStore.RemoveCustomer(connection, transaction, job.State.Number);
            return [new CustomerRemoved(removed)];
        });
        return taken;
    }

    /// <summary>Drops the files of recordings, and of what was felt, for good; what was heard in them stays. A file that
    /// another job names as well stays for that one.</summary>
    /// <param name="jobId">The job.</param>
    /// <param name="sounds">Names of the files; those that the job does not hold are passed over.</param>
    /// <param name="by">Who does it.</param>
    /// <param name="device">On which device.</param>
    /// <returns>How many were dropped.</returns>
    public async Task<int> DropSoundsAsync(Guid jobId, IReadOnlyList<string> sounds, string? by, string? device)
    {
        var dropped = 0;
        await ByShopAsync(jobId, by, device, wipe: false, (connection, transaction, job) =>
        {
            var held = SoundsOf(job).Intersect(sounds).ToList();
            dropped = held.Count;
            foreach (var name in held)
            {
                using var file = connection.Command(
                    transaction,
                    "DELETE FROM attachment WHERE name = $name AND NOT EXISTS (SELECT 1 FROM event WHERE job_id <> $job AND instr(body, $name) > 0)",
                    ("$name", name),
                    ("$job", jobId.ToString())
                );
                file.ExecuteNonQuery();
            }
            return [.. held.Select(name => new SoundDropped(name))];
        });
        return dropped;
    }

    /// <summary>Files of recordings that a job still holds, also of those that were taken back.</summary>
    private static IEnumerable<string> SoundsOf(StoredJob job) =>
        SoundDropped
            .Held(job.Log)
            .Where(a => AttachmentKind.Sounds.Contains(a.Carries))
            .Select(a => a.CarriedName)
            .Distinct();

    /// <summary>How much the recordings of all jobs take, bytes.</summary>
    public long SoundBytes()
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            $"SELECT COALESCE(SUM(length(bytes)), 0) FROM attachment WHERE kind IN ({string.Join(", ", AttachmentKind.Sounds.Select(k => $"'{k.Name}'"))})"
        );
        return (long)command.ExecuteScalar()!;
    }

    /// <summary>Gives the room of what was dropped back to the disk, where nobody works just then.</summary>
    public async Task CompactAsync()
    {
        await writer.WaitAsync();
        try
        {
            using var connection = database.Connect();
            Compact(connection);
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>Jobs that were closed before a moment and still hold recordings, with the names of these.</summary>
    public IReadOnlyList<(Guid JobId, IReadOnlyList<string> Sounds)> SoundsClosedBefore(DateTimeOffset moment)
    {
        using var connection = database.Connect();
        using var command = connection.Command(
            null,
            "SELECT DISTINCT job.job_id FROM job JOIN event ON event.job_id = job.job_id WHERE job.closed = 1 AND job.last_at < $before AND (instr(event.body, '\"sound-recorded\"') > 0 OR instr(event.body, '\"note-spoken\"') > 0)",
            ("$before", SqlRows.Text(moment))
        );
        var jobs = new List<Guid>();
        using (var reader = command.ExecuteReader())
        {
            while (reader.Read())
            {
                jobs.Add(Guid.Parse(reader.GetString(0)));
            }
        }
        return
        [
            .. jobs.Select(id => (id, (IReadOnlyList<string>)[.. SoundsOf(Find(id)!)])).Where(j => j.Item2.Count > 0),
        ];
    }

    /// <summary>Changes a stored job and adds the acts that say so, in one transaction; none: nothing is changed. Wiped, nothing
    /// of it stays in the file's slack.</summary>
    private async Task ByShopAsync(
        Guid jobId,
        string? by,
        string? device,
        bool wipe,
        Func<SqliteConnection, SqliteTransaction, StoredJob, IReadOnlyList<JobEvent>> change
    )
    {
        await writer.WaitAsync();
        try
        {
            using var connection = database.Connect();
            using var transaction = connection.BeginTransaction(deferred: false);
            if (
                Current(connection, transaction, jobId) is not { } job
                || change(connection, transaction, job) is not { Count: > 0 } acts
            )
            {
                return;
            }
            foreach (var act in acts)
            {
                var stamped = act with
                {
                    Id = Guid.NewGuid(),
                    At = clock.GetUtcNow(),
                    Arrived = clock.GetUtcNow(),
                    By = by,
                    Device = device,
                };
                JobRows.WriteEvent(connection, transaction, jobId, stamped);
            }
            var next = new StoredJob(jobId, JobHistory.Of(JobRows.ReadLog(connection, transaction, jobId)));
            WriteSummary(connection, transaction, next, keeper.Now);
            var head = HeadOf(connection, transaction, jobId);
            await transaction.CommitAsync(CancellationToken.None);
            marks.Note(next.State.Number, jobId, next.Version, head);
            Known(next);
            Stored?.Invoke(jobId, next.Version);
            transaction.Dispose();
            if (wipe)
            {
                Compact(connection);
            }
        }
        finally
        {
            writer.Release();
        }
    }

    /// <summary>Writes the file anew, so that nothing stays in slack left by an Idrum that did not wipe it, and cuts the journal. Where
    /// others read just then it is left: what was overwritten since is wiped already.</summary>
    private static void Compact(SqliteConnection connection)
    {
        try
        {
            using var command = connection.Command(null, "VACUUM; PRAGMA wal_checkpoint(TRUNCATE)");
            command.ExecuteNonQuery();
        }
        catch (SqliteException e) when (e.SqliteErrorCode is 5 or 6 or 13)
        {
            // Busy, locked, or no room for a second copy.
        }
    }
}
