using System.Net;
using System.Text.RegularExpressions;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>A shop that came back without its last acts asks its devices for them; what they send goes to the job it was
/// made for, whatever number that has by now.</summary>
public sealed partial class AskedTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    [GeneratedRegex("""data-ask="(\w{32}) ([^"]+)"[^>]*>""")]
    private static partial Regex Ask();

    [Fact]
    public async Task A_restored_shop_asks_since_its_backup_and_one_that_lost_nothing_does_not()
    {
        var page = await host.Client.GetStringAsync("/");
        Assert.DoesNotMatch(Ask(), page);
        var made = new DateTimeOffset(2026, 11, 29, 8, 0, 0, TimeSpan.Zero);
        var file = Path.Combine(Directory.CreateTempSubdirectory("idrum-asked").FullName, "shop.zip");
        BackupFormat.Make(host.DataFolder, file, "", made);
        var folder = Directory.CreateTempSubdirectory("idrum-asked").FullName;
        ShopRestore.Restore(file, folder, made.AddDays(1));
        Assert.Empty(Directory.GetFiles(folder, "idrum.db-*"));
        await using var back = new TestHost { With = o => o with { DataFolder = folder } };
        await back.InitializeAsync();
        var asked = Ask().Match(await back.Client.GetStringAsync("/"));
        Assert.True(asked.Success);
        Assert.Equal(
            made,
            DateTimeOffset.Parse(asked.Groups[2].Value, System.Globalization.CultureInfo.InvariantCulture)
        );
        // One question, however often a page is shown.
        Assert.Equal(asked.Value[..50], Ask().Match(await back.Client.GetStringAsync("/jobs/J-0147/find")).Value[..50]);
    }

    [Fact]
    public async Task A_shop_that_ends_does_not_wait_for_pages_that_only_listen()
    {
        using var listens = host.NewClient();
        using var line = await listens.GetAsync(
            new Uri("/jobs/J-0147/live", UriKind.Relative),
            HttpCompletionOption.ResponseHeadersRead
        );
        using var reader = new StreamReader(await line.Content.ReadAsStreamAsync());
        Assert.StartsWith("data:", await reader.ReadLineAsync());
        var begun = System.Diagnostics.Stopwatch.StartNew();
        await host.RestartAsync();
        // The host waits half a minute for what does not end.
        Assert.InRange(begun.Elapsed.TotalSeconds, 0, 20);
    }

    [Fact]
    public async Task An_act_goes_to_the_job_it_was_made_for_and_to_none_other()
    {
        async Task<HttpResponseMessage> NoteAsync(string number, Guid job, string text) =>
            await host.Client.PostAsync(
                $"/jobs/{number}/floor",
                new FormUrlEncodedContent([
                    new("kind", "note-added"),
                    new("operationId", ""),
                    new("text", text),
                    new("jobId", job.ToString()),
                    new("__RequestVerificationToken", await host.TokenAsync("/shop")),
                ])
            );
        var (one, other) = (host.Store.Find("J-0147")!, host.Store.Find("J-0148")!);
        // Its number is another job's by now.
        using var moved = await NoteAsync("J-0147", other.JobId, "written in J-0148");
        Assert.Equal(HttpStatusCode.SeeOther, moved.StatusCode);
        Assert.DoesNotContain(host.Store.Find("J-0147")!.State.Notes, n => n.Text == "written in J-0148");
        Assert.Contains(host.Store.Find("J-0148")!.State.Notes, n => n.Text == "written in J-0148");
        // Its job is gone.
        using var gone = await NoteAsync("J-0147", Guid.NewGuid(), "of a job that is gone");
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
        Assert.Equal(one.Version, host.Store.Find("J-0147")!.Version);
    }
}
