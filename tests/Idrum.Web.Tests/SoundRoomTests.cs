using System.Net;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Practice;
using Idrum.Storage;
using Idrum.Web.Attachments;
using Microsoft.Data.Sqlite;

namespace Idrum.Web.Tests;

/// <summary>Sounds take room: a spoken note is kept and played, the keeper drops a sound and keeps what was heard in it, and
/// a shop has a bound.</summary>
public sealed class SoundRoomTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private static readonly byte[] Thump = WavFile.Write(
        NoiseBench.Render(
            Core.Tests.TestShop.Machine("ostrel-ot50").Layout,
            new()
            {
                Faults = ["roller-flat"],
                Seed = 5,
                MainsHertz = 50,
                FaultDb = 6,
            }
        )
    );

    private async Task<HttpResponseMessage> SendAsync(string number, JobEvent act, byte[] file)
    {
        using var form = new MultipartFormDataContent
        {
            {
                new StringContent(
                    JsonSerializer.Serialize(
                        act with
                        {
                            Id = Guid.NewGuid(),
                            At = DateTimeOffset.UtcNow,
                        },
                        IdrumJson.Options
                    )
                ),
                "act"
            },
            { new ByteArrayContent(file), "file", "x.wav" },
        };
        return await host.Client.PostAsync($"/api/v1/jobs/{host.Store.Find(number)!.JobId}/events", form);
    }

    private async Task CloseAsync(string number) =>
        Assert.Equal(
            AppendOutcome.Added,
            (
                await host.Store.AppendAsync(
                    host.Store.Find(number)!.JobId,
                    new JobClosed("Looked at", "Not repaired today") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow }
                )
            ).Outcome
        );

    private long Bytes(string name)
    {
        using var connection = new SqliteConnection($"Data Source={host.DatabasePath}");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = "SELECT COUNT(*) FROM attachment WHERE name = $name";
        command.Parameters.AddWithValue("$name", name);
        return (long)command.ExecuteScalar()!;
    }

    [Fact]
    public async Task The_keeper_drops_a_sound_and_what_was_heard_stays_in_job_report_and_file()
    {
        await SendAsync("J-0150", new SoundRecorded("", "thump", "rear-left", false), Thump);
        var sound = Assert.Single(host.Store.Find("J-0150")!.State.Sounds);
        var said = await host.Client.GetStringAsync("/jobs/J-0150/report");
        Assert.Contains("One of the 2 drum rollers", said, StringComparison.OrdinalIgnoreCase);
        // No device can say that it was dropped: only the shop holds the file.
        using var forged = await host.PostJsonAsync(
            $"/api/v1/jobs/{host.Store.Find("J-0150")!.JobId}/events",
            new
            {
                kind = "sound-dropped",
                id = Guid.NewGuid(),
                soundId = sound.SoundId,
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, forged.StatusCode);
        // While the job is open it is taken back, not dropped.
        Assert.DoesNotContain("drop the sound", await host.Client.GetStringAsync("/jobs/J-0150/listen"));
        await CloseAsync("J-0150");
        Assert.Contains("drop the sound", await host.Client.GetStringAsync("/jobs/J-0150/listen"));
        using var dropped = await host.Client.PostAsync(
            "/jobs/J-0150/listen?handler=Drop",
            new FormUrlEncodedContent([
                new("sound", sound.SoundId),
                new("__RequestVerificationToken", await host.TokenAsync("/shop")),
            ])
        );
        Assert.Equal(HttpStatusCode.SeeOther, dropped.StatusCode);

        Assert.Equal(0, Bytes(sound.SoundId));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await host.Client.GetAsync($"/jobs/J-0150/files/{sound.SoundId}")).StatusCode
        );
        var page = await host.Client.GetStringAsync("/jobs/J-0150/listen");
        Assert.Contains("The sound was dropped", page);
        Assert.DoesNotContain($"files/{sound.SoundId}", page);
        Assert.Contains(
            "One of the 2 drum rollers",
            await host.Client.GetStringAsync("/jobs/J-0150/report"),
            StringComparison.OrdinalIgnoreCase
        );
        // The chain holds, before and after a restart, and a file of the job goes to another shop and back.
        var job = host.Store.Find("J-0150")!;
        Assert.Null(host.Store.Broken(job.JobId));
        await host.RestartAsync();
        Assert.Null(host.Store.Broken(job.JobId));
        var file = await host.Client.GetStringAsync("/api/v1/jobs/J-0150/export");
        await using var other = new TestHost { Demo = false };
        await other.InitializeAsync();
        using var taken = await other.PostJsonAsync("/api/v1/jobs", file);
        Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync());
        Assert.Equal(sound.Heard!.Named!.Name, other.Store.Find(job.JobId)!.State.Sounds.Single().Heard!.Named!.Name);
        // A file that lacks a sound nobody dropped is still refused.
        var lacks = file.Replace("sound-dropped", "note-added", StringComparison.Ordinal);
        await using var third = new TestHost { Demo = false };
        await third.InitializeAsync();
        using var refused = await third.PostJsonAsync("/api/v1/jobs", lacks);
        Assert.False(refused.IsSuccessStatusCode);
    }

    [Fact]
    public async Task A_sound_of_two_jobs_stays_for_the_other_one()
    {
        await SendAsync("J-0150", new SoundRecorded("", "thump", "", false), Thump);
        await SendAsync("J-0146", new SoundRecorded("", "thump", "", false), Thump);
        var name = host.Store.Find("J-0150")!.State.Sounds.Single().SoundId;
        await CloseAsync("J-0150");
        Assert.Equal(1, await host.Store.DropSoundsAsync(host.Store.Find("J-0150")!.JobId, [name], null, null));
        Assert.Equal(0, await host.Store.DropSoundsAsync(host.Store.Find("J-0150")!.JobId, [name], null, null));
        Assert.Equal(1, Bytes(name));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync($"/jobs/J-0150/files/{name}")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await host.Client.GetAsync($"/jobs/J-0146/files/{name}")).StatusCode);
    }

    [Fact]
    public async Task Sounds_of_jobs_long_closed_are_dropped_together_and_the_shop_has_a_bound()
    {
        await SendAsync("J-0150", new SoundRecorded("", "thump", "", false), Thump);
        await SendAsync("J-0146", new NoteSpoken("", ""), Thump);
        await CloseAsync("J-0150");
        async Task<string> ShopAsync(string act, string field, string value)
        {
            using var answer = await host.Client.PostAsync(
                $"/shop/{act}",
                new FormUrlEncodedContent([
                    new(field, value),
                    new("__RequestVerificationToken", await host.TokenAsync("/shop")),
                ])
            );
            return await answer.Content.ReadAsStringAsync();
        }
        Assert.Contains("No job closed so long ago", await ShopAsync("sounds-drop", "months", "12"));
        Assert.Contains("A whole number from 0", await ShopAsync("sounds-drop", "months", "-1"));
        Assert.Contains("from 50 to", await ShopAsync("sounds", "most", "3"));
        Assert.Contains("may take 50 MB", await ShopAsync("sounds", "most", "50"));
        Assert.True(host.Get<SoundRoom>().Taken > 0.2);
        // Sixty megabytes of another job's recordings.
        using (var connection = new SqliteConnection($"Data Source={host.DatabasePath}"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "INSERT INTO attachment (name, kind, sha256, bytes) VALUES ('x', 'recording', '', zeroblob(62914560))";
            command.ExecuteNonQuery();
        }
        using var full = await SendAsync("J-0147", new SoundRecorded("", "thump", "", false), Thump);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, full.StatusCode);
        Assert.Contains("of 50 MB", await full.Content.ReadAsStringAsync());
        Assert.Empty(host.Store.Find("J-0147")!.State.Sounds);
        Assert.Contains("1 recording of 1 job dropped", await ShopAsync("sounds-drop", "months", "0"));
        // The job that is open keeps what was spoken.
        Assert.Single(host.Store.Find("J-0146")!.State.Attachments, a => a.Value == AttachmentKind.Voice);
    }

    [Fact]
    public async Task A_spoken_note_stands_at_its_step_in_log_and_report_and_leaves_with_the_customer()
    {
        var number = "J-0148";
        var step = host.Store.Find(number)!.State.Out[^1];
        using var kept = await SendAsync(number, new NoteSpoken("", step) { Seconds = 999 }, Thump);
        Assert.Equal(HttpStatusCode.Created, kept.StatusCode);
        var note = Assert.Single(host.Store.Find(number)!.State.Spoken);
        // How long it is says the shop.
        Assert.InRange(note.Seconds!.Value, 5, 60);
        var report = await host.Client.GetStringAsync($"/jobs/{number}/report");
        Assert.Contains($"files/{note.SoundId}", report);
        Assert.Contains("Spoken note,", report);
        Assert.Empty(host.Store.Find(number)!.State.Sounds);
        using var nowhere = await SendAsync(number, new NoteSpoken("", "no-such-step"), Thump);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, nowhere.StatusCode);
        using var noSound = await SendAsync(number, new NoteSpoken("", step), [1, 2, 3]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, noSound.StatusCode);
        await CloseAsync(number);
        await host.Store.RemoveCustomerAsync(host.Store.Find(number)!.JobId, null, null);
        Assert.Equal(0, Bytes(note.SoundId));
        Assert.Empty(host.Store.Find(number)!.State.Spoken);
        Assert.Null(host.Store.Broken(host.Store.Find(number)!.JobId));
    }
}
