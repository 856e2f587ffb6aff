using Idrum.Core.Jobs;
using Idrum.Core.Tests;
using Idrum.Core.Tests.Jobs;
using Idrum.Storage;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

public sealed class StoreTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-store").FullName;

    private JobStore OpenStore() => new(Database.Open(Path.Combine(folder, "idrum.db")), TestShop.Shop, TimeProvider.System);

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task Fold_of_the_log_equals_the_stored_summary_for_random_logs()
    {
        using var store = OpenStore();
        for (var seed = 0; seed < 12; seed++)
        {
            var jobId = Guid.NewGuid();
            foreach (var e in RandomWalk.Log(seed, 45))
            {
                var result = await store.AppendAsync(jobId, e);
                Assert.Equal(AppendOutcome.Added, result.Outcome);
                // A second store has nothing in memory: it reads what is on disk.
                Assert.Equal(JobSummary.Of(result.Job!.State, TestShop.Shop.LayoutOf(result.Job.State)), store.StoredSummary(jobId));
            }
            using var fresh = OpenStore();
            var read = fresh.Find(jobId)!;
            Assert.Equal(Logs.Fold(read.Log).Canonical(), store.Find(jobId)!.State.Canonical());
            Assert.Equal(JobSummary.Of(Logs.Fold(read.Log), TestShop.Shop.LayoutOf(read.State)), fresh.StoredSummary(jobId));
        }
    }

    [Fact]
    public async Task Sending_an_event_again_stores_nothing_and_another_event_of_the_same_id_is_told_apart()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        var log = RandomWalk.Log(5, 3);
        foreach (var e in log)
        {
            await store.AppendAsync(jobId, e);
        }
        var note = new NoteAdded("", "once") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        Assert.Equal(AppendOutcome.Added, (await store.AppendAsync(jobId, note)).Outcome);
        Assert.Equal(AppendOutcome.Repeated, (await store.AppendAsync(jobId, note with { At = note.At.AddMinutes(1) })).Outcome);
        Assert.Equal(AppendOutcome.IdTaken, (await store.AppendAsync(jobId, note with { Text = "twice" })).Outcome);
        Assert.Equal(log.Count + 1, OpenStore().Find(jobId)!.Version);
    }

    [Fact]
    public async Task Many_writers_at_once_lose_nothing()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        await store.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        await Task.WhenAll(Enumerable.Range(0, 60).Select(i => Task.Run(() => store.AppendAsync(jobId, new NoteAdded("", "n" + i) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }))));
        Assert.Equal(61, OpenStore().Find(jobId)!.Version);
    }

    [Fact]
    public async Task Two_processes_on_one_file_see_each_others_acts()
    {
        // Two stores share nothing but the file, as two processes would.
        using var first = OpenStore();
        using var second = OpenStore();
        var jobId = Guid.NewGuid();
        await first.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        NoteAdded Note(int i) => new("", "n" + i) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        for (var i = 0; i < 6; i++)
        {
            var (writes, reads) = i % 2 == 0 ? (first, second) : (second, first);
            Assert.Equal(AppendOutcome.Added, (await writes.AppendAsync(jobId, Note(i))).Outcome);
            Assert.Equal(["n" + i, $"{i + 2}"], new[] { reads.Find(jobId)!.State.Notes[^1].Text, $"{reads.Find(jobId)!.Version}" });
        }
        var outcomes = await Task.WhenAll(Enumerable.Range(0, 40).Select(i => Task.Run(async () => (await (i % 2 == 0 ? first : second).AppendAsync(jobId, Note(i))).Outcome)));
        Assert.All(outcomes, o => Assert.Equal(AppendOutcome.Added, o));
        Assert.Equal(47, first.Find(jobId)!.Version);
        Assert.Equal(first.Find(jobId)!.State.Canonical(), second.Find(jobId)!.State.Canonical());
    }

    [Fact]
    public async Task A_refused_event_leaves_no_trace()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        await store.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        var result = await store.AppendAsync(jobId, new FindingAnswered("ghost", "yes") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow });
        Assert.Equal((AppendOutcome.Refused, "findingId"), (result.Outcome, result.Errors[0].Pointer));
        Assert.Equal(1, OpenStore().Find(jobId)!.Version);
        Assert.Equal(AppendOutcome.NoJob, (await store.AppendAsync(Guid.NewGuid(), new NoteAdded("", "x") { Id = Guid.NewGuid() })).Outcome);
    }

    [Fact]
    public async Task A_photo_is_named_only_when_its_picture_is_stored()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        await store.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        var named = new PhotoAdded(new string('a', 64), "", "rear") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        var refused = await store.AppendAsync(jobId, named);
        Assert.Equal((AppendOutcome.Refused, "photoId"), (refused.Outcome, refused.Errors[0].Pointer));
        store.SavePhoto(jobId, named.PhotoId, [1, 2, 3]);
        Assert.Equal(AppendOutcome.Added, (await store.AppendAsync(jobId, named)).Outcome);
    }

    [Fact]
    public async Task An_import_is_whole_or_not_at_all()
    {
        using var store = OpenStore();
        var log = RandomWalk.Log(8, 30);
        var first = JobArchive.Of(Guid.NewGuid(), log, []);
        Assert.Empty(await store.ImportAsync(first, JobHistory.Of(first.Events)));
        Assert.Empty(await store.ImportAsync(first, JobHistory.Of(first.Events)));
        // Same events under another job: nothing of it may come in.
        var thief = JobArchive.Of(Guid.NewGuid(), [new JobOpened("J-other", ((JobOpened)log[0]).Machine) { Id = Guid.NewGuid(), At = log[0].At }, .. log.Skip(1)], []);
        Assert.NotEmpty(await store.ImportAsync(thief, JobHistory.Of(thief.Events)));
        Assert.Null(OpenStore().Find(thief.JobId));
        Assert.Single(store.List());
    }

    [Fact]
    public async Task Rows_written_by_an_older_form_are_written_anew_at_the_start()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        foreach (var e in RandomWalk.Log(8, 30))
        {
            await store.AppendAsync(jobId, e);
        }
        var whole = store.StoredSummary(jobId);
        using (var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "idrum.db")}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = "UPDATE job SET tag = '', complaints = '', place = 'old', shape = 1";
            command.ExecuteNonQuery();
        }
        Assert.NotEqual(whole, store.StoredSummary(jobId));
        using var started = OpenStore();
        started.Refresh();
        Assert.Equal(whole, started.StoredSummary(jobId));
    }

    [Fact]
    public void The_file_is_in_wal_mode_with_strict_tables()
    {
        using var store = OpenStore();
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "idrum.db")}");
        connection.Open();
        string Ask(string sql)
        {
            using var command = connection.CreateCommand();
#pragma warning disable CA2100 // Constant text of this test.
            command.CommandText = sql;
#pragma warning restore CA2100
            return command.ExecuteScalar()?.ToString() ?? "";
        }
        Assert.Equal("wal", Ask("PRAGMA journal_mode"));
        Assert.Equal("5", Ask("SELECT count(*) FROM pragma_table_list WHERE name IN ('job', 'event', 'photo', 'layout', 'shop_layout') AND strict = 1"));
    }
}
