using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Web.Tests;

/// <summary>Taps, recordings and the noise bench over the API: the bench's own recording goes round by the API alone.</summary>
public sealed class ListeningApiTests(TestHost host) : IClassFixture<TestHost>
{
    private Task<HttpResponseMessage> PostAsync(string call, object body) =>
        host.Client.PostAsJsonAsync("/api/v1/" + call, body);

    private static ByteArrayContent Wav(byte[] bytes) =>
        new(bytes) { Headers = { ContentType = new MediaTypeHeaderValue("audio/wav") } };

    [Fact]
    public async Task Taps_name_the_part_and_a_counted_drum_pins_the_speed()
    {
        var rates = await TestHost.JsonAsync(
            await host.Client.GetAsync("/api/v1/layouts/ostrel-ot50/rates?mainsHz=60")
        );
        var drum = rates
            .GetProperty("sources")
            .EnumerateArray()
            .Single(s => s.GetProperty("mechanism").GetString() == "drum")
            .GetProperty("hz")
            .GetDouble();
        // The machine runs a little slow: as often as the belt passes in one that runs fast.
        drum *= 0.955;
        var taps = Enumerable.Range(0, 20).Select(k => k / drum).ToArray();
        var loose = await TestHost.JsonAsync(
            await PostAsync(
                "listening/taps",
                new
                {
                    layoutId = "ostrel-ot50",
                    tapSeconds = taps,
                    mainsHz = 60,
                }
            )
        );
        Assert.Equal(drum, loose.GetProperty("hz").GetDouble(), 6);
        var group = loose.GetProperty("sources")[0];
        Assert.Contains("drum", group.GetProperty("partIds").EnumerateArray().Select(p => p.GetString()));
        Assert.True(group.GetProperty("partIds").GetArrayLength() > 1, "drum and belt pass are not told apart so");
        Assert.NotEqual("", group.GetProperty("separateBy").GetString());
        var counted = await TestHost.JsonAsync(
            await PostAsync(
                "listening/taps",
                new
                {
                    layoutId = "ostrel-ot50",
                    tapSeconds = taps,
                    drumRpm = drum * 60,
                    mainsHz = 60,
                }
            )
        );
        Assert.Equal("drum", counted.GetProperty("sources")[0].GetProperty("mechanism").GetString());
        Assert.Equal(1, counted.GetProperty("sources")[0].GetProperty("partIds").GetArrayLength());
        var slowed = await TestHost.JsonAsync(
            await PostAsync(
                "listening/taps",
                new
                {
                    layoutId = "ostrel-ot50",
                    tapSeconds = taps,
                    slowedBy = 4,
                }
            )
        );
        Assert.Equal(4 * drum, slowed.GetProperty("hz").GetDouble(), 6);
    }

    [Fact]
    public async Task A_recording_of_the_bench_is_heard_and_named()
    {
        var made = await PostAsync(
            "noise-bench",
            new
            {
                layoutId = "ostrel-ot50",
                faults = new[] { "roller-flat" },
                seconds = 10,
                seed = 3,
            }
        );
        Assert.Equal("audio/wav", made.Content.Headers.ContentType!.MediaType);
        var wav = await made.Content.ReadAsByteArrayAsync();
        var heard = await TestHost.JsonAsync(
            await host.Client.PostAsync("/api/v1/listening/recording?layoutId=ostrel-ot50&mainsHz=50", Wav(wav))
        );
        Assert.Equal(10, heard.GetProperty("seconds").GetDouble(), 2);
        Assert.Equal("roller", heard.GetProperty("sources")[0].GetProperty("mechanism").GetString());
        Assert.True(heard.GetProperty("none").GetDouble() < 0.1);
        Assert.True(heard.GetProperty("quality").GetProperty("enough").GetBoolean());
    }

    [Fact]
    public async Task A_run_down_and_a_long_recording_say_when()
    {
        var made = await PostAsync(
            "noise-bench",
            new
            {
                layoutId = "ostrel-ot50",
                faults = new[] { "roller-dry" },
                seconds = 18,
                seed = 4,
                opensAt = 12,
            }
        );
        var down = await TestHost.JsonAsync(
            await host.Client.PostAsync(
                "/api/v1/listening/recording?layoutId=ostrel-ot50&mainsHz=60&doorOpened=true",
                Wav(await made.Content.ReadAsByteArrayAsync())
            )
        );
        Assert.InRange(down.GetProperty("runDown").GetProperty("opensAt").GetDouble(), 11.4, 12.6);
        Assert.InRange(down.GetProperty("runDown").GetProperty("diesOver").GetDouble(), 1, 4);
        var layout = host.Shop.FindLayout("ostrel-ot50")!;
        Recording Of(double db) =>
            BandEnvelopes.Lowered(
                NoiseBench.Render(
                    layout,
                    new()
                    {
                        Faults = ["roller-dry"],
                        FaultDb = db,
                        Seconds = 30,
                        Seed = 8,
                    }
                )
            );
        var (still, dry) = (Of(-40), Of(3));
        var whole = WavFile.Write(
            new(
                still.Rate,
                [.. Enumerable.Repeat(still.Samples, 6).Concat(Enumerable.Repeat(dry.Samples, 6)).SelectMany(s => s)]
            )
        );
        var heard = await TestHost.JsonAsync(
            await host.Client.PostAsync("/api/v1/listening/recording?layoutId=ostrel-ot50&mainsHz=60", Wav(whole))
        );
        Assert.Equal(360, heard.GetProperty("seconds").GetDouble(), 0.5);
        Assert.Equal("roller", heard.GetProperty("sources")[0].GetProperty("mechanism").GetString());
        Assert.Equal(180, heard.GetProperty("course").GetProperty("beginsAt").GetDouble());
        Assert.Equal(12, heard.GetProperty("course").GetProperty("levelsDb").GetArrayLength());

        // With the job: kept is what tells, under the hash of what is kept.
        using var form = new MultipartFormDataContent
        {
            {
                new StringContent(
                    $$"""{"kind":"sound-recorded","id":"{{Guid.NewGuid()}}","soundId":"","sound":"chirp","spot":"","byHand":false,"calledAt":200}"""
                ),
                "act"
            },
            { new ByteArrayContent(whole), "file", "long.wav" },
        };
        using var kept = await host.Client.PostAsync($"/api/v1/jobs/{host.Store.Find("J-0150")!.JobId}/events", form);
        Assert.True(kept.StatusCode == HttpStatusCode.Created, await kept.Content.ReadAsStringAsync());
        var act = host.Store.Find("J-0150")!.State.Sounds[^1];
        Assert.Equal((60.0, 360.0), (act.Heard!.Course!.KeptFrom, act.Heard.Course.KeptTo));
        var stored = host.Store.FindAttachment(act.SoundId)!;
        Assert.Equal(act.Sha256, stored.Sha256);
        Assert.Equal(300, WavFile.Read(stored.Bytes).Recording!.Seconds, 0.1);
    }

    [Fact]
    public async Task What_a_phone_on_the_cabinet_feels_is_named_and_a_series_with_holes_is_refused()
    {
        var made = await PostAsync(
            "noise-bench",
            new
            {
                layoutId = "ostrel-ot50",
                faults = new[] { "roller-flat" },
                seconds = 30,
                seed = 3,
                kind = "motion",
            }
        );
        var series = await made.Content.ReadAsStringAsync();
        async Task<HttpResponseMessage> FeelAsync(string body) =>
            await host.Client.PostAsync(
                "/api/v1/listening/motion?layoutId=ostrel-ot50",
                new StringContent(body, System.Text.Encoding.UTF8, "application/json")
            );
        var felt = await TestHost.JsonAsync(await FeelAsync(series));
        Assert.Contains(felt.GetProperty("sources").EnumerateArray(), s =>
            s.GetProperty("mechanism").GetString() == "roller" && s.GetProperty("probability").GetDouble() > 0.7
        );
        var holes = await FeelAsync("""{"seconds":[0,1,2],"x":[0,0],"y":[0,0,0],"z":[1,1,1]}""");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, holes.StatusCode);
        Assert.Contains("2 readings for 3 times", await holes.Content.ReadAsStringAsync());
        var few = await TestHost.JsonAsync(
            await FeelAsync("""{"seconds":[0,1,2],"x":[0,0,1],"y":[0,0,0],"z":[1,1,1]}""")
        );
        Assert.False(few.GetProperty("quality").GetProperty("enough").GetBoolean());
    }

    [Fact]
    public async Task Four_levels_tell_side_and_end_and_three_do_not()
    {
        var told = await TestHost.JsonAsync(
            await PostAsync(
                "listening/spots",
                new
                {
                    layoutId = "ostrel-ot50",
                    levelsDb = new
                    {
                        doorLeft = -40,
                        doorRight = -41.5,
                        rearLeft = -34.5,
                        rearRight = -39,
                    },
                }
            )
        );
        Assert.Equal("left", told.GetProperty("side").GetString());
        Assert.Equal("rear", told.GetProperty("end").GetString());
        Assert.True(told.GetProperty("probability").GetDouble() > 0.7);
        var few = await PostAsync(
            "listening/spots",
            new { layoutId = "ostrel-ot50", levelsDb = new { doorLeft = -40 } }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, few.StatusCode);
        Assert.Contains("levelsDb/rearRight", await few.Content.ReadAsStringAsync());
    }

    [Theory]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":[0,1,2]}""", 422, "tapSeconds")]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":[0,1,0.5,3,4,5,6]}""", 422, "tapSeconds")]
    [InlineData("""{"layoutId":"ostrel-ot5","tapSeconds":[0,1,2,3,4,5,6]}""", 422, "layoutId")]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":[0,1,2,3,4,5,6],"slowedBy":0}""", 422, "slowedBy")]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":[0,1,2,3,4,5,6],"byHand":true}""", 422, "drumRpm")]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":[0,1,2,3,4,5,6],"mainsHz":55}""", 422, "mainsHz")]
    [InlineData("""{"layoutId":"ostrel-ot50","tapSeconds":["a"]}""", 400, "tapSeconds")]
    public async Task Taps_that_cannot_be_gone_by_are_said_at_their_field(string body, int status, string field)
    {
        var answer = await host.Client.PostAsync(
            "/api/v1/listening/taps",
            new StringContent(body, System.Text.Encoding.UTF8, "application/json")
        );
        Assert.Equal(status, (int)answer.StatusCode);
        Assert.Contains(field, await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Recordings_and_orders_that_cannot_be_are_refused_in_a_sentence()
    {
        async Task SaysAsync(string query, HttpContent body, HttpStatusCode status, string words)
        {
            var answer = await host.Client.PostAsync("/api/v1/listening/recording" + query, body);
            Assert.Equal(status, answer.StatusCode);
            Assert.Contains(words, await answer.Content.ReadAsStringAsync());
        }
        const string Here = "?layoutId=ostrel-ot50";
        await SaysAsync(Here, Wav([]), HttpStatusCode.BadRequest, "empty");
        await SaysAsync(Here, Wav([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13]), HttpStatusCode.BadRequest, "no WAV");
        await SaysAsync("?layoutId=nowhere", Wav([1]), HttpStatusCode.UnprocessableEntity, "layoutId");
        await SaysAsync(Here + "&drumRpm=many", Wav([1]), HttpStatusCode.UnprocessableEntity, "drumRpm");
        await SaysAsync(Here, JsonContent.Create(new { }), HttpStatusCode.UnsupportedMediaType, "Wrong kind");
        foreach (
            var (order, field) in new (object, string)[]
            {
                (new { layoutId = "ostrel-ot50", faults = new[] { "no-supply" } }, "faults/0"),
                (new { layoutId = "ostrel-ot50", seconds = 4000 }, "seconds"),
                (new { layoutId = "ostrel-ot50", load = 2 }, "load"),
            }
        )
        {
            var answer = await PostAsync("noise-bench", order);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(field, await answer.Content.ReadAsStringAsync());
        }
    }
}
