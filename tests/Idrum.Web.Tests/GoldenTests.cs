using System.Net;
using System.Text.Json.Nodes;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;
using Idrum.Storage;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

/// <summary>Files of earlier versions, as those wrote them: read for ever.</summary>
public sealed class GoldenTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-golden").FullName;

    private static string Golden(string name) =>
        File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "golden", name));

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    [Fact]
    public void A_shop_from_before_files_were_one_thing_comes_over_whole()
    {
        var path = Path.Combine(folder, "idrum.db");
        using (var connection = new SqliteConnection($"Data Source={path}"))
        {
            connection.Open();
            using var make = connection.CreateCommand();
            make.CommandText = Golden("shop-0007.sql");
            make.ExecuteNonQuery();
        }
        using var store = new JobStore(Database.Open(path), new(TestShop.Shop), TimeProvider.System);
        Assert.Equal(["J-0138", "J-0147"], store.List().Select(j => j.Number).Order());
        var job = store.Find("J-0138")!;
        Assert.Null(store.Broken(job.JobId));
        var photo = Assert.Single(job.State.Photos);
        Assert.Null(photo.Sha256);
        var file = store.FindAttachment(photo.PhotoId)!;
        Assert.Equal((0xff, 0xd8, 0xff), (file.Bytes[0], file.Bytes[1], file.Bytes[2]));
        // It was copied before it was changed, as it stood then.
        var copy = Assert.Single(Directory.GetFiles(Path.Combine(folder, "before-update")));
        Assert.StartsWith("0007-", Path.GetFileName(copy));
        using (var old = new SqliteConnection($"Data Source={copy};Mode=ReadOnly"))
        {
            old.Open();
            using var tables = old.CreateCommand();
            tables.CommandText =
                "SELECT (SELECT COUNT(*) FROM job), (SELECT COUNT(*) FROM sqlite_master WHERE name IN ('job_text', 'attachment')), (SELECT COUNT(*) FROM photo)";
            using var row = tables.ExecuteReader();
            row.Read();
            Assert.Equal((2L, 0L), (row.GetInt64(0), row.GetInt64(1)));
            Assert.True(row.GetInt64(2) > 0);
        }
        // Opened again there is nothing to bring up to date, and nothing is copied.
        Database.Open(path);
        Assert.Single(Directory.GetFiles(Path.Combine(folder, "before-update")));
        // What the logbook holds is made from the log.
        Assert.Contains(new LogbookStore(Database.Open(path), TimeProvider.System).Find(new(), 1, 9).Jobs, j =>
            j.Number == "J-0138"
        );
        // An older Idrum declines what this one has brought up to date.
        using var now = new SqliteConnection($"Data Source={path}");
        now.Open();
        using var reader = now.CreateCommand();
        reader.CommandText = "PRAGMA user_version";
        Assert.Equal(7L, reader.ExecuteScalar());
    }

    [Fact]
    public void A_shop_that_cannot_be_brought_up_to_date_is_left_as_it_was()
    {
        var path = Path.Combine(folder, "idrum.db");
        using (var connection = new SqliteConnection($"Data Source={path}"))
        {
            connection.Open();
            using var make = connection.CreateCommand();
            // Somebody made a table of that name by hand: a later step of the update cannot be taken.
            make.CommandText = Golden("shop-0007.sql") + "; CREATE TABLE exercise (x TEXT);";
            make.ExecuteNonQuery();
        }
        SqliteConnection.ClearAllPools();
        var fault = Assert.Throws<InvalidOperationException>(() => Database.Open(path));
        Assert.Contains("Nothing was changed", fault.Message);
        SqliteConnection.ClearAllPools();
        using var now = new SqliteConnection($"Data Source={path}");
        now.Open();
        using var left = now.CreateCommand();
        left.CommandText =
            "SELECT (SELECT COUNT(*) FROM sqlite_master WHERE name IN ('attachment', 'job_text', 'drill_card')), (SELECT COUNT(*) FROM photo), (SELECT COUNT(*) FROM job)";
        using var row = left.ExecuteReader();
        row.Read();
        Assert.Equal(0, row.GetInt64(0));
        Assert.True(row.GetInt64(1) > 0);
        Assert.Equal(2, row.GetInt64(2));
    }

    /// <summary>One a release (packaging/released): the shop as that version backed it up, and beside it what it said of its jobs.</summary>
    public static TheoryData<string> Releases() =>
        [
            .. Directory
                .GetFiles(Path.Combine(AppContext.BaseDirectory, "golden"), "shop-*.idrum")
                .Select(f => Path.GetFileNameWithoutExtension(f)),
        ];

    [Theory]
    [MemberData(nameof(Releases))]
    public async Task A_shop_of_a_release_comes_back_and_says_of_each_job_what_it_said_then(string release)
    {
        await using var host = new TestHost { Demo = false };
        ShopRestore.Restore(
            Path.Combine(AppContext.BaseDirectory, "golden", release + ".idrum"),
            host.DataFolder,
            DateTimeOffset.UtcNow
        );
        await host.InitializeAsync();
        var told = JsonNode.Parse(Golden(release + ".json"))!;
        // The first release told of its jobs only.
        var facts = (told as JsonArray ?? told["jobs"])!.AsArray();
        foreach (var layout in (told as JsonObject)?["layouts"]?.AsArray() ?? [])
        {
            Assert.Contains(host.Get<LayoutStore>().Own(), o => o.LayoutId == (string?)layout);
            Assert.NotNull(host.Shop.FindLayout((string)layout!));
            using var page = await host.Client.GetAsync($"/machines/{layout}/edit");
            Assert.Equal(HttpStatusCode.OK, page.StatusCode);
        }
        Assert.Equal(facts.Count, host.Store.List().Count);
        foreach (var fact in facts)
        {
            var number = (string)fact!["number"]!;
            var file = JsonNode.Parse(await host.Client.GetStringAsync($"/api/v1/jobs/{number}/export"))!;
            Assert.Equal(
                ((int)fact["acts"]!, (string?)fact["lastHash"]!, (int)fact["attachments"]!),
                (
                    file["events"]!.AsArray().Count,
                    (string?)file["chain"]!["hashes"]!.AsArray()[^1],
                    file["attachments"]?.AsArray().Count ?? 0
                )
            );
            var listed = host.Store.List().Single(j => j.Number == number);
            Assert.Equal((int)fact["stepsOut"]!, listed.StepsOut);
            Assert.Null(host.Store.Broken(host.Store.Find(number)!.JobId));
            // No page of it is a fault: of its own station, what is printed, and what is kept with it.
            foreach (var page in (string[])["", "/report", "/photos", "/listen", "/parts"])
            {
                using var answer = await host.Client.GetAsync($"/jobs/{number}{page}");
                Assert.True((int)answer.StatusCode < 400, $"{number}{page}: {answer.StatusCode}");
            }
        }
        Assert.Empty(host.Logged);
    }

    [Fact]
    public async Task A_job_file_of_version_1_comes_in_and_leaves_as_version_2_with_the_same_acts_and_bytes()
    {
        var old = Golden("job-1.json");
        await using var host = new TestHost { Demo = false };
        await host.InitializeAsync();
        Assert.Equal(HttpStatusCode.Created, (await host.PostJsonAsync("/api/v1/jobs", old)).StatusCode);
        var (before, after) = (
            JsonNode.Parse(old)!,
            JsonNode.Parse(await host.Client.GetStringAsync("/api/v1/jobs/J-0138/export"))!
        );
        Assert.Equal(2, (int)after["version"]!);
        var (was, now) = (before["chain"]!["hashes"]!.AsArray(), after["chain"]!["hashes"]!.AsArray());
        // That it came in as a file is the one act more, and it stands after all that the file says.
        Assert.Equal(was.Count + 1, now.Count);
        Assert.Equal(was.Select(h => (string?)h), now.Take(was.Count).Select(h => (string?)h));
        Assert.Equal("imported", (string?)after["events"]!.AsArray()[^1]!["kind"]);
        Assert.Equal(was.Count, (int)after["events"]!.AsArray()[^1]!["acts"]!);
        Assert.Contains(
            "the names and times of",
            await host.Client.GetStringAsync("/jobs/J-0138/report"),
            StringComparison.Ordinal
        );
        Assert.Equal((string?)before["photos"]![0]!["jpeg"], (string?)after["attachments"]![0]!["bytes"]);
        // As version 2 it is the same job.
        await using var other = new TestHost { Demo = false };
        await other.InitializeAsync();
        Assert.Equal(
            HttpStatusCode.Created,
            (await other.PostJsonAsync("/api/v1/jobs", after.ToJsonString())).StatusCode
        );
        // Without its picture, or with another kind, it is not taken, and nothing of it stays.
        foreach (
            var (pointer, spoil) in new (string, Action<JsonNode>)[]
            {
                ("/attachments", a => a["attachments"]!.AsArray().Clear()),
                ("/attachments/0/kind", a => a["attachments"]![0]!["kind"] = "recording"),
                ("/attachments/0", a => a["attachments"]![0]!["bytes"] = "AAAA"),
            }
        )
        {
            var spoilt = after.DeepClone();
            spoil(spoilt);
            await using var third = new TestHost { Demo = false };
            await third.InitializeAsync();
            var answer = await third.PostJsonAsync("/api/v1/jobs", spoilt.ToJsonString());
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains($"\"{pointer}\"", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            Assert.Empty(third.Store.List());
        }
    }
}
