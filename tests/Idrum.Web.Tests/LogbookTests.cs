using System.Net;
using System.Text.Json;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Storage;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

/// <summary>The logbook: whatever was said, seen or changed finds its job; what is looked for stands in the address; what a customer had
/// taken out is found no more.</summary>
public sealed class LogbookTests(TestHost host) : IClassFixture<TestHost>
{
    private LogbookStore Log => host.Get<LogbookStore>();

    private IEnumerable<string> Found(LogQuery query) => Log.Find(query, 1, 100).Jobs.Select(j => j.Number);

    [Theory]
    [InlineData("screams weekend", "J-0138")]
    [InlineData("half its thickness", "J-0138")]
    [InlineData("heart", "J-0141")]
    [InlineData("electrician", "J-0143")]
    [InlineData("roller flat", "J-0141")]
    public void A_job_is_found_by_what_was_said_noted_found_and_changed(string words, string number) =>
        Assert.Contains(number, Found(new() { Words = words }));

    [Fact]
    public async Task What_checks_were_worth_is_kept_with_a_closed_job_whatever_is_noted_later()
    {
        await using var own = new TestHost();
        await own.InitializeAsync();
        IReadOnlyList<Core.Logbook.CheckWorth> Kept() =>
            own.Get<LogbookStore>().Records(CancellationToken.None).Single(r => r.Number == "J-0138").Checks;
        var first = Kept();
        Assert.NotEmpty(first);
        var job = own.Store.Find("J-0138")!.JobId;
        await own.Store.AppendAsync(
            job,
            new NoteAdded("", "Called: still quiet") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
        );
        Assert.Equal(first, Kept());
        Assert.True(await own.Store.RemoveCustomerAsync(job, null, null) > 0);
        Assert.Equal(first, Kept());
        Assert.Contains("What a check was worth", await own.Client.GetStringAsync("/log/says"));
    }

    [Fact]
    public void Facts_narrow_down_and_all_must_hold()
    {
        var part = Found(new() { Part = "belt" }).ToList();
        Assert.Contains("J-0138", part);
        Assert.DoesNotContain("J-0143", part);
        Assert.Equal(
            ["J-0141"],
            Found(
                new()
                {
                    Part = "drum-roller",
                    Layout = "ostrel-ot50",
                    Fault = "roller-flat",
                    State = "closed",
                }
            )
        );
        Assert.Empty(
            Found(
                new()
                {
                    Part = "belt",
                    Layout = "ostrel-ot50",
                    Fault = "roller-flat",
                }
            )
        );
        Assert.Empty(Found(new() { Part = "no-such" }));
        Assert.All(Log.Find(new() { State = "open" }, 1, 100).Jobs, j => Assert.False(j.Closed));
        Assert.Empty(Found(new() { From = DateTimeOffset.UtcNow.AddDays(2) }));
        Assert.Equal(
            Log.Find(new(), 1, 100).Count,
            Log.Find(new() { Until = DateTimeOffset.UtcNow.AddDays(1) }, 1, 100).Count
        );
    }

    [Theory]
    [InlineData("\"")]
    [InlineData("NEAR(a b)")]
    [InlineData("body: x OR 1")]
    [InlineData("a* OR b*")]
    [InlineData("^roller")]
    [InlineData("{body} : roller")]
    [InlineData("-roller +belt")]
    [InlineData("'; DROP TABLE job; --")]
    [InlineData("\\ % _ * ( ) { } [ ] : ^ ~ ` \u0000 \ud83d")]
    [InlineData("AND OR NOT")]
    public async Task Signs_of_the_index_are_letters_like_others(string words)
    {
        Assert.Empty(host.Logged);
        var answer = await host.Client.GetAsync("/log?q=" + Uri.EscapeDataString(words.Replace("\ud83d", "")));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Log.Find(new() { Words = words }, 1, 10);
        Assert.NotEmpty(Found(new() { Words = "roller" }));
    }

    [Theory]
    [InlineData("/log?from=yesterday", "A day is written")]
    [InlineData("/log?from=2026-11-30&until=2026-11-01", "lies before the first")]
    [InlineData("/log?machine=nowhere", "No job fits")]
    [InlineData("/log?page=9999", "jobs")]
    public async Task What_cannot_be_is_said_at_its_field_and_nothing_breaks(string address, string said)
    {
        var answer = await host.Client.GetAsync(address);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Contains(said, await answer.Content.ReadAsStringAsync());
        Assert.Empty(host.Logged);
    }

    [Fact]
    public async Task What_is_looked_for_is_what_is_exported()
    {
        var csv = await host.Client.GetStringAsync("/log.csv?machine=quenby-qd62&state=closed");
        var rows = csv.Split("\n", StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(1 + Log.Find(new() { Layout = "quenby-qd62", State = "closed" }, 1, 1).Count, rows.Length);
        Assert.StartsWith("Job,Opened,Last,State,Place", rows[0]);
        using var json = JsonDocument.Parse(await host.Client.GetStringAsync("/log.json?q=heart"));
        Assert.Equal("J-0141", json.RootElement.GetProperty("jobs")[0].GetProperty("job").GetString());
        Assert.Equal(HttpStatusCode.BadRequest, (await host.Client.GetAsync("/log.csv?from=x")).StatusCode);
        var sheet = await host.Client.GetByteArrayAsync("/log.csv?sheet=semicolon");
        Assert.Equal([0xEF, 0xBB, 0xBF], sheet[..3]);
    }

    [Fact]
    public async Task A_machines_life_shows_its_jobs_and_what_is_in_it_since_when()
    {
        var life = await host.Client.GetStringAsync("/log/machine?tag=QD62-4471");
        Assert.Contains(">J-0138<", life);
        Assert.Contains("It came back", life);
        Assert.Contains("Belt", life);
        Assert.Contains("before the shop met it", life);
        var none = await host.Client.GetAsync("/log/machine?tag=" + Uri.EscapeDataString("NO/SUCH \"tag\""));
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
        Assert.Contains("No job on this tag yet", await none.Content.ReadAsStringAsync());
        var labels = await host.Client.GetStringAsync("/log/labels?tag=QD62-4471");
        Assert.Contains("Code of QD62-4471", labels);
        Assert.DoesNotContain("Obergrat", labels);
    }
}

/// <summary>What changes the shop: each test has one of its own.</summary>
public sealed class LogbookChangeTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private LogbookStore Log => host.Get<LogbookStore>();

    private IEnumerable<string> Found(LogQuery query) => Log.Find(query, 1, 100).Jobs.Select(j => j.Number);

    [Fact]
    public async Task What_a_customer_had_taken_out_is_not_in_the_index_either()
    {
        Assert.Contains("J-0141", Found(new() { Words = "village" }));
        await host.Store.RemoveCustomerAsync(host.Store.Find("J-0141")!.JobId, null, null);
        Assert.DoesNotContain("J-0141", Found(new() { Words = "village" }));
        Assert.Contains("J-0141", Found(new() { Words = "J-0141" }));
        // Not in the pages of the file: neither beside its number in the text, nor in its row, nor in its acts.
        SqliteConnection.ClearAllPools();
        var file = System.Text.Encoding.Latin1.GetString(ReadShared(host.DatabasePath));
        Assert.Contains("J-0141", file);
        Assert.DoesNotContain("J-0141\nVillage", file);
        Assert.DoesNotContain("J-0141Village", file);
    }

    private static byte[] ReadShared(string path)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete);
        using var memory = new MemoryStream();
        file.CopyTo(memory);
        return memory.ToArray();
    }

    [Fact]
    public async Task Index_and_facts_follow_every_act_and_its_taking_back()
    {
        var job = host.Store.Find("J-0150")!;
        Assert.DoesNotContain("J-0150", Found(new() { Words = "wasp" }));
        var note = new NoteAdded("", "A wasp nest behind the grille.")
        {
            Id = Guid.NewGuid(),
            At = DateTimeOffset.UtcNow,
        };
        Assert.Equal(AppendOutcome.Added, (await host.Store.AppendAsync(job.JobId, note)).Outcome);
        Assert.Contains("J-0150", Found(new() { Words = "wasp nest" }));
        var undone = new Undone(note.Id) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
        Assert.Equal(AppendOutcome.Added, (await host.Store.AppendAsync(job.JobId, undone)).Outcome);
        Assert.DoesNotContain("J-0150", Found(new() { Words = "wasp" }));
    }

    [Fact]
    public async Task A_past_can_be_made_and_what_it_says_is_shown()
    {
        var now = DateTimeOffset.UtcNow;
        foreach (var (id, acts) in new ShopYears(5, 3, 12).Jobs(host.Shop, ["quenby-qd62"], now))
        {
            Assert.Empty(await host.Store.ImportAsync(JobArchive.Of(id, acts, []), JobHistory.Of(acts)));
        }
        Assert.NotNull(host.Store.Find(ShopYears.First));
        var says = await host.Client.GetStringAsync("/log/says");
        Assert.Contains("Minutes taken, over minutes planned", says);
        Assert.Contains("How long parts live", says);
        Assert.Contains("Charged, over what was told", says);
        Assert.Contains(Log.Values("person"), p => p.Value == "R. Ilmer");
        Assert.Equal(Log.Records().Count, host.Store.List().Count(j => j.Closed));
    }
}
