using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

/// <summary>A customer asks that his data goes: it is nowhere in the shop's folder any more, and the log still
/// holds.</summary>
public class CustomerTests : IAsyncLifetime
{
    private const string Name = "Quillfeather";
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public async Task DisposeAsync() => await host.DisposeAsync();

    private async Task<StoredJob> ClosedAsync(bool close = true)
    {
        var id = Guid.NewGuid();
        var number = host.Store.NextNumber();
        async Task DoAsync(JobEvent e, Attachment? file = null) =>
            Assert.Equal(
                AppendOutcome.Added,
                (
                    await host.Store.AppendAsync(id, e with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }, file)
                ).Outcome
            );
        await DoAsync(
            new JobOpened(
                number,
                new()
                {
                    LayoutId = "ostrel-ot50",
                    Place = $"{Name}, Mill Lane 3, 555 0100",
                    Tag = "T-77",
                }
            )
        );
        await DoAsync(new ComplaintStated(["squeal"], $"{Name} says it squeals"));
        await DoAsync(new NoteAdded("", $"Key at {Name}'s neighbour"));
        var photo = Attachment.Of(AttachmentKind.Photo, "a picture of a cellar"u8.ToArray());
        await DoAsync(new PhotoAdded(photo.Name, "", $"Cellar of {Name}") { Sha256 = photo.Sha256 }, photo);
        await DoAsync(new ReadingTaken("Gap at the top", 1.5, "mm"));
        if (close)
        {
            await DoAsync(new JobClosed($"{Name} was told to listen", $"{Name} wants no repair"));
        }
        return host.Store.Find(id)!;
    }

    private async Task<HttpResponseMessage> RemoveAsync(string number, string typed) =>
        await host.Client.PostAsync(
            $"/jobs/{number}/customer?handler=Remove",
            new FormUrlEncodedContent([
                new("typed", typed),
                new("__RequestVerificationToken", await host.TokenAsync("/shop")),
            ])
        );

    [Fact]
    public async Task It_goes_from_acts_row_photos_and_file_and_the_chain_holds()
    {
        var job = await ClosedAsync();
        var number = job.State.Number;
        var photo = job.State.Photos.Single().PhotoId;
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await RemoveAsync(number, "J-9999")).StatusCode);
        Assert.Equal(HttpStatusCode.SeeOther, (await RemoveAsync(number, number)).StatusCode);
        var now = host.Store.Find(job.JobId)!;
        Assert.True(now.State.CustomerRemoved);
        Assert.Null(host.Store.Broken(job.JobId));
        // What was done stays.
        Assert.Equal(("Gap at the top", 1.5), (now.State.Readings.Single().What, now.State.Readings.Single().Value));
        Assert.Equal("T-77", now.State.Machine.Tag);
        // What was written to the customer at the end is the customer's too.
        Assert.Equal(
            (CustomerRemoved.Word, CustomerRemoved.Word),
            (now.State.Closed!.Summary, now.State.Closed.Reason)
        );
        Assert.Empty(now.State.Photos);
        Assert.Null(host.Store.FindAttachment(photo));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync($"/jobs/{number}/files/{photo}")).StatusCode);
        foreach (var page in new[] { "/?closed=1", $"/jobs/{number}/report", $"/api/v1/jobs/{number}/export" })
        {
            Assert.DoesNotContain(Name, await host.Client.GetStringAsync(page), StringComparison.Ordinal);
        }
        // Nor in free pages or the journal of the database.
        foreach (var file in Directory.GetFiles(host.DataFolder, "idrum.db*"))
        {
            await using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
            using var bytes = new MemoryStream();
            await stream.CopyToAsync(bytes);
            Assert.Equal(-1, bytes.ToArray().AsSpan().IndexOf(System.Text.Encoding.UTF8.GetBytes(Name)));
        }
        // A second time there is nothing to take out, and no act more.
        Assert.Equal(0, await host.Store.RemoveCustomerAsync(job.JobId, null, null));
        Assert.Equal(now.Version, host.Store.Find(job.JobId)!.Version);
    }

    [Fact]
    public async Task What_a_revoked_phone_left_of_the_job_goes_too()
    {
        var job = await ClosedAsync();
        var left = host.Get<LeftStore>();
        foreach (var number in new[] { job.State.Number, "J-0148" })
        {
            left.Add(
                new(
                    Guid.NewGuid().ToString(),
                    Guid.NewGuid(),
                    "Phone",
                    "Berta",
                    number,
                    "a note",
                    "",
                    DateTimeOffset.UtcNow,
                    Name,
                    "",
                    0
                ),
                null
            );
        }
        await host.Store.RemoveCustomerAsync(job.JobId, null, null);
        Assert.Equal("J-0148", Assert.Single(left.List()).Job);
    }

    [Fact]
    public async Task After_it_a_change_by_hand_still_shows_and_what_a_phone_sends_again_is_known()
    {
        var job = await ClosedAsync();
        await host.Store.RemoveCustomerAsync(job.JobId, "Berta", "Desk");
        var note = job.Log.OfType<NoteAdded>().First();
        Assert.Equal(AppendOutcome.Repeated, (await host.Store.AppendAsync(job.JobId, note)).Outcome);
        var photo = job.Log.OfType<PhotoAdded>().Single();
        Assert.Equal(AppendOutcome.Repeated, (await host.Store.AppendAsync(job.JobId, photo)).Outcome);
        Assert.Equal(
            AppendOutcome.IdTaken,
            (
                await host.Store.AppendAsync(job.JobId, new ReadingTaken("x", 1, "mm") { Id = note.Id, At = note.At })
            ).Outcome
        );
        using (
            var connection = new SqliteConnection(
                $"Data Source={Path.Combine(host.DataFolder, "idrum.db")};Pooling=False"
            )
        )
        {
            connection.Open();
            using var change = connection.CreateCommand();
            change.CommandText =
                $"UPDATE event SET body = replace(body, 'removed at', 'nothing at') WHERE event_id = '{note.Id}'";
            Assert.Equal(1, change.ExecuteNonQuery());
        }
        Assert.Equal("Act 3 was changed.", host.Store.Broken(job.JobId));
    }

    [Fact]
    public async Task An_open_job_keeps_its_address_and_a_file_of_the_cleared_one_comes_in_elsewhere()
    {
        var open = await ClosedAsync(close: false);
        var refused = await RemoveAsync(open.State.Number, open.State.Number);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("Close it first", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains(Name, host.Store.Find(open.JobId)!.State.Machine.Place, StringComparison.Ordinal);
        var job = await ClosedAsync();
        await host.Store.RemoveCustomerAsync(job.JobId, null, null);
        var file = await host.Client.GetStringAsync($"/api/v1/jobs/{job.State.Number}/export");
        await using var other = new TestHost();
        await other.InitializeAsync();
        var text = file.Replace($"\"{job.State.Number}\"", "\"J-7777\"", StringComparison.Ordinal);
        var chain = System.Text.Json.Nodes.JsonNode.Parse(text)!.AsObject();
        chain.Remove("chain");
        using var body = new StringContent(chain.ToJsonString(), System.Text.Encoding.UTF8, "application/json");
        var taken = await other.Client.PostAsync("/api/v1/jobs", body);
        Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync());
        Assert.True(other.Store.Find("J-7777")!.State.CustomerRemoved);
    }
}
