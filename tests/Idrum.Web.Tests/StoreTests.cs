using System.Text.Json.Nodes;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;
using Idrum.Core.Tests.Jobs;
using Idrum.Storage;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

public sealed class StoreTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-store").FullName;

    private JobStore OpenStore() =>
        new(Database.Open(Path.Combine(folder, "idrum.db")), new(TestShop.Shop), TimeProvider.System);

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
                Assert.Equal(
                    JobSummary.Of(result.Job!.State, TestShop.Shop.LayoutOf(result.Job.State)),
                    store.StoredSummary(jobId)
                );
            }
            using var fresh = OpenStore();
            var read = fresh.Find(jobId)!;
            Assert.Equal(Logs.Fold(read.Log).Canonical(), store.Find(jobId)!.State.Canonical());
            Assert.Equal(
                JobSummary.Of(Logs.Fold(read.Log), TestShop.Shop.LayoutOf(read.State)),
                fresh.StoredSummary(jobId)
            );
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
        Assert.Equal(
            AppendOutcome.Repeated,
            (await store.AppendAsync(jobId, note with { At = note.At.AddMinutes(1) })).Outcome
        );
        Assert.Equal(AppendOutcome.IdTaken, (await store.AppendAsync(jobId, note with { Text = "twice" })).Outcome);
        Assert.Equal(log.Count + 1, OpenStore().Find(jobId)!.Version);
    }

    [Fact]
    public async Task A_group_of_acts_is_stored_whole_or_not_at_all_and_sent_again_changes_nothing()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        foreach (var e in RandomWalk.Log(5, 3))
        {
            await store.AppendAsync(jobId, e);
        }
        var version = store.Find(jobId)!.Version;
        NoteAdded Note(string text) => new("", text) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        // The second cannot be: the first is not stored either, in memory or on the disk.
        var bad = await store.AppendManyAsync(
            jobId,
            [
                Note("first"),
                new NoteAdded("no-such-step", "second") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow.AddYears(3) },
                Note("third"),
            ]
        );
        Assert.Equal((AppendOutcome.Refused, version), (bad.Outcome, OpenStore().Find(jobId)!.Version));
        Assert.Equal(version, store.Find(jobId)!.Version);
        JobEvent[] group = [Note("first"), Note("second"), Note("third")];
        Assert.Equal(
            (AppendOutcome.Added, version + 3),
            (await store.AppendManyAsync(jobId, group)) is var done ? (done.Outcome, done.Job!.Version) : default
        );
        Assert.Equal(AppendOutcome.Repeated, (await store.AppendManyAsync(jobId, group)).Outcome);
        // Half of it was there: the rest is added.
        Assert.Equal(
            (AppendOutcome.Added, version + 4),
            (await store.AppendManyAsync(jobId, [.. group, Note("fourth")])) is var more
                ? (more.Outcome, more.Job!.Version)
                : default
        );
        Assert.Null(store.Broken(jobId));
    }

    [Fact]
    public async Task An_act_of_a_newer_Idrum_is_kept_letter_by_letter_and_the_job_is_read_only()
    {
        var jobId = Guid.NewGuid();
        var log = RandomWalk.Log(7, 6);
        const string newer =
            """{"kind":"sound-heard","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12","at":"2027-01-02T10:00:00+00:00","hz":[7.4,9.1],"by":"B."}""";
        using (var store = OpenStore())
        {
            foreach (var e in log)
            {
                await store.AppendAsync(jobId, e);
            }
            // As a newer Idrum would have written it, with its place in the chain.
            using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "idrum.db")}");
            connection.Open();
            using var write = connection.CreateCommand();
            write.CommandText = "SELECT head FROM job WHERE job_id = $job";
            write.Parameters.AddWithValue("$job", jobId.ToString());
            var head = LogChain.Next((string)write.ExecuteScalar()!, log.Count, newer);
            write.CommandText =
                "INSERT INTO event (event_id, job_id, seq, at, body, arrived, hash) VALUES ('7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12', $job, $seq, '2027-01-02T10:00:00Z', $body, '2027-01-02T10:00:00Z', $head); UPDATE job SET head = $head WHERE job_id = $job";
            write.Parameters.AddWithValue("$seq", log.Count);
            write.Parameters.AddWithValue("$body", newer);
            write.Parameters.AddWithValue("$head", head);
            write.ExecuteNonQuery();
        }
        using var again = OpenStore();
        var read = again.Find(jobId)!;
        var act = Assert.IsType<UnknownAct>(read.Log[^1]);
        Assert.Equal((newer, log.Count + 1), (EventText.Of(act), read.Version));
        Assert.Null(again.Broken(jobId));
        Assert.Equal(["sound-heard"], read.State.Unknown);
        var refused = await again.AppendAsync(
            jobId,
            new NoteAdded("", "x") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
        );
        Assert.Equal(AppendOutcome.Refused, refused.Outcome);
        Assert.Contains(
            "A newer Idrum worked on this job (sound-heard)",
            Assert.Single(refused.Errors).Message,
            StringComparison.Ordinal
        );
        // Nobody makes one; and what it holds leaves with the job, under its hash.
        Assert.Contains(
            JobRules.Check(
                JobHistory.Of(log),
                new UnknownAct(newer) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow },
                TestShop.Shop,
                null
            ),
            e => e.Pointer == "kind"
        );
        var archive = JobArchive.Of(jobId, read.Log, []);
        Assert.Equal(LogChain.Of(read.Log.Select(EventText.Of)), archive.Chain!.Hashes);
        var file = archive.Text();
        Assert.True(JsonNode.DeepEquals(JsonNode.Parse(newer), JsonNode.Parse(file)!["events"]![log.Count]));
        // Brought in here, it is declined, wherever its kind stands among its fields.
        foreach (
            var text in new[]
            {
                file,
                file.Replace("\"kind\": \"sound-heard\",", "", StringComparison.Ordinal)
                    .Replace("\"by\": \"B.\"", "\"by\": \"B.\", \"kind\": \"sound-heard\"", StringComparison.Ordinal),
            }
        )
        {
            var error = Assert.Single(JobArchive.Read(text, TestShop.Shop, TestShop.Reader).Errors);
            Assert.Equal(
                ($"/events/{log.Count}/kind", true),
                (
                    error.Pointer,
                    error.Message.Contains("'sound-heard': a newer one wrote the file", StringComparison.Ordinal)
                )
            );
        }
    }

    [Fact]
    public void A_shop_that_asks_for_a_newer_reader_is_declined_and_not_touched()
    {
        var path = Path.Combine(folder, "idrum.db");
        OpenStore().Dispose();
        using (var connection = new SqliteConnection($"Data Source={path};Pooling=false"))
        {
            connection.Open();
            using var raise = connection.CreateCommand();
            raise.CommandText = "PRAGMA user_version = 99";
            raise.ExecuteNonQuery();
        }
        SqliteConnection.ClearAllPools();
        Assert.Contains(
            "written by a newer Idrum",
            Assert.Throws<InvalidDataException>(() => Database.Open(path)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task Many_writers_at_once_lose_nothing()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        await store.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        await Task.WhenAll(
            Enumerable
                .Range(0, 60)
                .Select(i =>
                    Task.Run(() =>
                        store.AppendAsync(
                            jobId,
                            new NoteAdded("", "n" + i) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
                        )
                    )
                )
        );
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
            Assert.Equal(
                ["n" + i, $"{i + 2}"],
                new[] { reads.Find(jobId)!.State.Notes[^1].Text, $"{reads.Find(jobId)!.Version}" }
            );
        }
        var outcomes = await Task.WhenAll(
            Enumerable
                .Range(0, 40)
                .Select(i =>
                    Task.Run(async () => (await (i % 2 == 0 ? first : second).AppendAsync(jobId, Note(i))).Outcome)
                )
        );
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
        var result = await store.AppendAsync(
            jobId,
            new FindingAnswered("ghost", "yes") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
        );
        Assert.Equal((AppendOutcome.Refused, "findingId"), (result.Outcome, result.Errors[0].Pointer));
        Assert.Equal(1, OpenStore().Find(jobId)!.Version);
        Assert.Equal(
            AppendOutcome.NoJob,
            (await store.AppendAsync(Guid.NewGuid(), new NoteAdded("", "x") { Id = Guid.NewGuid() })).Outcome
        );
    }

    [Fact]
    public async Task A_photo_is_named_only_when_its_picture_is_stored()
    {
        using var store = OpenStore();
        var jobId = Guid.NewGuid();
        await store.AppendAsync(jobId, RandomWalk.Log(1, 0)[0]);
        var named = new PhotoAdded(new string('a', 64), "", "rear") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        var refused = await store.AppendAsync(jobId, named);
        Assert.Equal((AppendOutcome.Refused, "file"), (refused.Outcome, refused.Errors[0].Pointer));
        var file = Attachment.Of(AttachmentKind.Photo, [1, 2, 3]);
        // A refused act leaves nothing behind.
        var wrong = ((ICarriesAttachment)(named with { OperationId = "ghost" })).Carrying(file.Name);
        Assert.Equal(AppendOutcome.Refused, (await store.AppendAsync(jobId, wrong, file)).Outcome);
        Assert.Null(store.FindAttachment(file.Name));
        var right = ((ICarriesAttachment)named).Carrying(file.Name);
        Assert.Equal(AppendOutcome.Added, (await store.AppendAsync(jobId, right, file)).Outcome);
        Assert.Equal([1, 2, 3], store.FindAttachment(file.Name)!.Bytes);
        Assert.Equal(AppendOutcome.Repeated, (await store.AppendAsync(jobId, right, file)).Outcome);
        Assert.Null(store.Broken(jobId));
        // Another picture in its place is no picture of this act, and is said.
        using (var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "idrum.db")}"))
        {
            connection.Open();
            using var change = connection.CreateCommand();
            change.CommandText = $"UPDATE attachment SET bytes = x'040506', sha256 = '{Attachment.HashOf([4, 5, 6])}'";
            Assert.Equal(1, change.ExecuteNonQuery());
        }
        Assert.Equal("The photo of act 2 was changed.", store.Broken(jobId));
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
        var thief = JobArchive.Of(
            Guid.NewGuid(),
            [
                new JobOpened("J-other", ((JobOpened)log[0]).Machine) { Id = Guid.NewGuid(), At = log[0].At },
                .. log.Skip(1),
            ],
            []
        );
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
        Assert.Equal(
            "5",
            Ask(
                "SELECT count(*) FROM pragma_table_list WHERE name IN ('job', 'event', 'attachment', 'layout', 'shop_layout') AND strict = 1"
            )
        );
    }
}
