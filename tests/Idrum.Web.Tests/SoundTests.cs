using System.Net;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Web.Tests;

/// <summary>A recording through the house: sent, listened to, believed, kept, carried to another shop, and taken out with
/// the customer's data.</summary>
public sealed class SoundTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private static byte[] Noise(string layoutId, int seed, params FaultId[] faults) =>
        WavFile.Write(
            NoiseBench.Render(
                Core.Tests.TestShop.Machine(layoutId).Layout,
                new()
                {
                    Faults = faults,
                    Seed = seed,
                    MainsHertz = 50,
                    FaultDb = 6,
                }
            )
        );

    private async Task<HttpResponseMessage> SendAsync(string number, SoundRecorded act, byte[] file)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(JsonSerializer.Serialize<JobEvent>(act, IdrumJson.Options)), "act" },
            { new ByteArrayContent(file), "file", "x.wav" },
        };
        return await host.Client.PostAsync($"/api/v1/jobs/{host.Store.Find(number)!.JobId}/events", form);
    }

    private static SoundRecorded Act(string sound = "thump") =>
        new("", sound, "rear-left", false) { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };

    [Fact]
    public async Task A_recording_is_heard_by_the_shop_and_not_by_its_sender()
    {
        // What the sender says was heard is not heard.
        var forged = Act() with { Heard = new(10, -20, 1, 0, true, "", [new("motor", "Motor", ["motor"], 25, 1)]) };
        var wav = Noise("ostrel-ot50", 5, "roller-flat");
        Assert.Equal(HttpStatusCode.Created, (await SendAsync("J-0150", forged, wav)).StatusCode);
        var sound = Assert.Single(host.Store.Find("J-0150")!.State.Sounds);
        Assert.Equal("roller", sound.Heard!.Named!.Mechanism);
        var served = await host.Client.GetAsync($"/jobs/J-0150/files/{sound.SoundId}");
        Assert.Equal("audio/wav", served.Content.Headers.ContentType!.MediaType);
        var kept = await served.Content.ReadAsByteArrayAsync();
        Assert.Equal(sound.SoundId, Attachment.HashOf(kept));
        Assert.True(kept.Length < wav.Length, "kept at some 16 kHz");
        // The same again is the same; what Idrum kept itself stays byte for byte.
        Assert.Equal(HttpStatusCode.OK, (await SendAsync("J-0150", forged, wav)).StatusCode);
        Assert.Equal(kept, Attachments.SoundFile.Read(kept).Stored);
        var page = await host.Client.GetStringAsync("/jobs/J-0150/listen");
        Assert.Contains("One of the 2 drum rollers", page);
        Assert.Contains("recorded", (await host.Client.GetStringAsync("/jobs/J-0150/find")).ToLowerInvariant());
    }

    [Theory]
    [InlineData("J-0147", "quenby-qd62", true)]
    // Its belt lies behind the front that carries the drum: by hand with the belt off is no check there.
    [InlineData("J-0146", "ostrel-ot50", false)]
    public async Task By_hand_belt_on_and_off_tells_find_where_it_asks(string job, string layout, bool asks)
    {
        byte[] Turned(bool off) =>
            WavFile.Write(
                NoiseBench.Render(
                    Core.Tests.TestShop.Machine(layout).Layout,
                    new()
                    {
                        Faults = ["idler-dry"],
                        Seed = 4,
                        ByHand = true,
                        BeltOff = off,
                        Seconds = 12,
                        FaultDb = 10,
                    }
                )
            );
        SoundRecorded ByHand(string belt) => Act("chirp") with { ByHand = true, Belt = belt };
        var refused = await SendAsync(job, ByHand("off") with { ByHand = false }, Turned(true));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        await SendAsync(job, ByHand("on"), Turned(false));
        Assert.Contains("now slip the belt off", await host.Client.GetStringAsync($"/jobs/{job}/listen"));
        await SendAsync(job, ByHand("off"), Turned(true));
        var page = await host.Client.GetStringAsync($"/jobs/{job}/listen");
        Assert.Contains("Gone with the belt off", page);
        Assert.Equal(asks, page.Contains("Tell Find: silent with the belt off", StringComparison.Ordinal));
        Assert.Equal(!asks, page.Contains("Find does not ask it as this machine stands", StringComparison.Ordinal));
        // By itself it is no answer: what is told is told by who stands there.
        Assert.DoesNotContain("hand-belt-off", host.Store.Find(job)!.State.Answers.Keys);
    }

    [Fact]
    public async Task It_goes_with_the_job_to_another_shop_and_leaves_with_the_customers_data()
    {
        await SendAsync("J-0138", Act(), Noise("ostrel-ot50", 5, "roller-flat"));
        await SendAsync("J-0150", Act(), Noise("ostrel-ot50", 5, "roller-flat"));
        var before = host.Store.Find("J-0150")!;
        var file = await host.Client.GetStringAsync("/api/v1/jobs/J-0150/export");
        await using var other = new TestHost();
        await other.InitializeAsync();
        using var body = new StringContent(file, System.Text.Encoding.UTF8, "application/json");
        var taken = await other.Client.PostAsync("/api/v1/jobs", body);
        var there = other.Store.Find(before.JobId)
            ?? throw new InvalidOperationException(await taken.Content.ReadAsStringAsync());
        Assert.Equal(
            JsonSerializer.Serialize(before.State.Sounds, IdrumJson.Options),
            JsonSerializer.Serialize(there.State.Sounds, IdrumJson.Options)
        );
        Assert.Equal(
            host.Store.FindAttachment(before.State.Sounds[0].SoundId)!.Bytes,
            other.Store.FindAttachment(before.State.Sounds[0].SoundId)!.Bytes
        );
        var without = Assert.IsType<NoteAdded>(before.State.Sounds[0].WithoutCustomer());
        Assert.Equal((before.State.Sounds[0].Id, before.State.Sounds[0].At), (without.Id, without.At));
    }

    [Fact]
    public async Task What_a_phone_felt_is_believed_carried_to_another_shop_byte_for_byte_and_given_out_as_a_table()
    {
        var felt = Act() with { Felt = true };
        var series = NoiseBench.Shake(
            Core.Tests.TestShop.Machine("ostrel-ot50").Layout,
            new()
            {
                Faults = ["roller-flat"],
                Seed = 3,
                Seconds = 30,
                MainsHertz = 50,
                FaultDb = 6,
            }
        );
        Assert.Equal(HttpStatusCode.Created, (await SendAsync("J-0150", felt, MotionFile.Write(series))).StatusCode);
        var kept = Assert.Single(host.Store.Find("J-0150")!.State.Sounds);
        Assert.Equal("roller", kept.Heard!.Named!.Mechanism);
        var path = $"/jobs/J-0150/files/{kept.SoundId}";
        Assert.Equal(kept.SoundId, Attachment.HashOf(await host.Client.GetByteArrayAsync(path)));
        var table = await host.Client.GetByteArrayAsync(path + "?as=csv");
        Assert.Equal(series.Seconds, MotionFile.Read(table).Series!.Seconds);
        Assert.Contains("Felt", await host.Client.GetStringAsync("/jobs/J-0150/find"));
        var file = await host.Client.GetStringAsync("/api/v1/jobs/J-0150/export");
        await using var other = new TestHost();
        await other.InitializeAsync();
        using var body = new StringContent(file, System.Text.Encoding.UTF8, "application/json");
        var taken = await other.Client.PostAsync("/api/v1/jobs", body);
        Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync());
        Assert.Equal(host.Store.FindAttachment(kept.SoundId)!.Bytes, other.Store.FindAttachment(kept.SoundId)!.Bytes);
        // Squeals are not felt, a recording is no series, and by hand nothing shakes.
        foreach (
            var (act, bytes, words) in new[]
            {
                (felt with { Id = Guid.NewGuid(), Sound = "chirp" }, MotionFile.Write(series), "sound"),
                (felt with { Id = Guid.NewGuid() }, Noise("ostrel-ot50", 5), "series of motion"),
                (felt with { Id = Guid.NewGuid(), ByHand = true }, MotionFile.Write(series), "byHand"),
            }
        )
        {
            var refused = await SendAsync("J-0150", act, bytes);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
            Assert.Contains(words, await refused.Content.ReadAsStringAsync(), StringComparison.OrdinalIgnoreCase);
        }
        Assert.Single(host.Store.Find("J-0150")!.State.Sounds);
    }

    [Fact]
    public async Task What_is_no_recording_or_no_spot_is_refused_and_nothing_is_kept()
    {
        var version = host.Store.Find("J-0150")!.Version;
        var wav = Noise("ostrel-ot50", 5);
        foreach (
            var (answer, words) in new[]
            {
                (await SendAsync("J-0150", Act(), "no sound"u8.ToArray()), "no WAV"),
                (await SendAsync("J-0150", Act("song"), wav), "Say what you hear"),
                (await SendAsync("J-0150", Act() with { Spot = "roof" }, wav), "four spots"),
                (await SendAsync("J-0150", Act(), new byte[61 << 20]), "60 MB"),
            }
        )
        {
            Assert.Contains(words, await answer.Content.ReadAsStringAsync());
            Assert.False(answer.IsSuccessStatusCode);
        }
        Assert.Equal(version, host.Store.Find("J-0150")!.Version);
    }

    [Fact]
    public void What_the_analyser_names_speaks_as_often_as_it_was_right_and_never_beyond_its_cap()
    {
        string[] all = ["belt-pass", "drum", "roller", "idler", "motor", "none"];
        foreach (var sounds in all)
        {
            Assert.Equal(1, all.Sum(named => HeardSound.Says(sounds, named)), 9);
            Assert.Equal(sounds, all.MaxBy(named => HeardSound.Says(sounds, named)));
        }
        var model = Core.Tests.TestShop.Machine("ostrel-ot50").Diagnostician;
        double Sure(string sound, string mechanism, string fault) =>
            model
                .Diagnose(
                    QuestionOfJob.Of(
                        JobState.Empty with
                        {
                            Sounds =
                            [
                                Act(sound) with
                                {
                                    Heard = new(10, -30, 1, 0, true, "", [new(mechanism, "", [], 5, 1)]),
                                },
                            ],
                        },
                        Core.Tests.TestShop.Machine("ostrel-ot50"),
                        new Dictionary<string, string> { ["thump"] = "yes" }
                    ),
                    CancellationToken.None
                )
                .Causes.Single(c => c.Fault.Id == fault)
                .Probability;
        Assert.True(Sure("thump", "roller", "roller-flat") > Sure("thump", "drum", "roller-flat"));
        Assert.True(Sure("thump", "drum", "drum-lip") > Sure("thump", "roller", "drum-lip"));
        Assert.True(Sure("double", "drum", "track-debris") > Sure("thump", "drum", "track-debris"));
        Assert.Null(HeardSound.Of(Act() with { Heard = new(1, -80, 1, 1, false, "too short", []) }));
    }
}
