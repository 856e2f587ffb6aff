using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace Idrum.Web.Tests;

/// <summary>The belt drive and gauging over the API: names as they are fixed, and bad input said at its field.</summary>
public sealed class GaugingApiTests(TestHost host) : IClassFixture<TestHost>
{
    private Task<HttpResponseMessage> PostAsync(string call, object body) =>
        host.Client.PostAsJsonAsync("/api/v1/" + call, body);

    private async Task<JsonElement> OkAsync(string call, object body)
    {
        var response = await PostAsync(call, body);
        Assert.True(response.StatusCode == HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
        return await TestHost.JsonAsync(response);
    }

    private async Task<IReadOnlyList<string>> WrongAsync(string call, object body, int status = 422)
    {
        var response = await PostAsync(call, body);
        Assert.Equal(status, (int)response.StatusCode);
        return [.. (await TestHost.JsonAsync(response)).GetProperty("errors").EnumerateObject().Select(e => e.Name)];
    }

    [Fact]
    public async Task Find_offers_the_meter_first_where_it_takes_no_longer_and_beside_the_look_where_it_does()
    {
        var job = Guid.NewGuid();
        foreach (
            var e in new object[]
            {
                new
                {
                    kind = "opened",
                    id = Guid.NewGuid(),
                    number = "J-METER",
                    machine = new { layoutId = "quenby-qd62", place = "Flat 2" },
                },
                new
                {
                    kind = "complaint-stated",
                    id = Guid.NewGuid(),
                    findings = new[] { "nothing-runs" },
                    words = "",
                },
            }
        )
        {
            Assert.Equal(HttpStatusCode.Created, (await PostAsync($"jobs/{job}/events", e)).StatusCode);
        }
        async Task<(int Measure, int Answer, bool Main)> PlacesAsync(string check)
        {
            var page = await host.Client.GetStringAsync($"/jobs/J-METER/find?check={check}");
            var measure = page.IndexOf("Measure it:", StringComparison.Ordinal);
            var link = page.LastIndexOf("<a class=\"", measure, StringComparison.Ordinal);
            return (
                measure,
                page.IndexOf("data-kind=\"finding-answered\"", StringComparison.Ordinal),
                page.AsSpan(link, 40).Contains("button main", StringComparison.Ordinal)
            );
        }
        var outlet = await PlacesAsync("supply");
        Assert.True(outlet.Main && outlet.Measure < outlet.Answer);
        var lift = await PlacesAsync("rear-lift");
        Assert.True(!lift.Main && lift.Measure > lift.Answer);
    }

    [Fact]
    public async Task A_drive_is_asked_with_its_own_belt_another_and_each_course()
    {
        var own = await OkAsync("drive", new { layoutId = "ostrel-or70" });
        Assert.True(own.GetProperty("runs").GetBoolean());
        Assert.True(own.GetProperty("beltSwitchClosed").GetBoolean());
        Assert.True(own.GetProperty("slipMargin").GetDouble() > 1);
        Assert.InRange(own.GetProperty("drumRpm").GetDouble(), 40, 62);
        Assert.InRange(own.GetProperty("wrapDeg").GetProperty("drum").GetDouble(), 180, 300);
        Assert.True(own.GetProperty("staticTensionN").GetDouble() > 5);
        var sixty = await OkAsync("drive", new { layoutId = "ostrel-or70", mainsHz = 60 });
        Assert.True(sixty.GetProperty("drumRpm").GetDouble() > own.GetProperty("drumRpm").GetDouble());
        var loose = await OkAsync("drive", new { layoutId = "ostrel-or70", beltLengthMm = 2150 });
        Assert.False(loose.GetProperty("runs").GetBoolean());
        Assert.NotEqual("", loose.GetProperty("why").GetString());
        Assert.False(loose.GetProperty("beltSwitchClosed").GetBoolean());
        var weak = await OkAsync(
            "drive",
            new
            {
                layoutId = "ostrel-or70",
                springFactor = 0.5,
                loadKg = 0,
            }
        );
        Assert.True(weak.GetProperty("staticTensionN").GetDouble() < own.GetProperty("staticTensionN").GetDouble());
        var courses = await TestHost.JsonAsync(await host.Client.GetAsync("/api/v1/drive/ostrel-or70/courses"));
        var ids = courses
            .GetProperty("courses")
            .EnumerateArray()
            .Select(c => (c.GetProperty("id").GetString()!, c.GetProperty("runs").GetBoolean()))
            .ToList();
        Assert.Equal(["right"], ids.Where(c => c.Item2).Select(c => c.Item1));
        foreach (var (id, runs) in ids)
        {
            var answer = await OkAsync("drive", new { layoutId = "ostrel-or70", course = id });
            Assert.Equal(runs, answer.GetProperty("runs").GetBoolean());
        }
    }

    [Theory]
    [InlineData("""{"layoutId":"nowhere"}""", "layoutId", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","beltLengthMm":2.07}""", "beltLengthMm", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","beltLengthMm":-1}""", "beltLengthMm", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","beltRibs":0}""", "beltRibs", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","springFactor":-1}""", "springFactor", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","loadKg":1e9}""", "loadKg", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","course":"backwards"}""", "course", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","mainsHz":55}""", "mainsHz", 422)]
    [InlineData("""{"layoutId":"ostrel-or70","beltRibs":"five"}""", "beltRibs", 400)]
    [InlineData("""{}""", "layoutId", 400)]
    public async Task A_drive_that_cannot_be_is_said_at_its_field(string body, string field, int status)
    {
        var response = await host.PostJsonAsync("/api/v1/drive", body);
        Assert.Equal(status, (int)response.StatusCode);
        Assert.Contains(field, await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_roller_is_judged_with_values_verdict_limit_and_what_it_speaks_for()
    {
        var answer = await OkAsync(
            "gauging/roller",
            new
            {
                layoutId = "ostrel-ot50",
                partId = "roller-left",
                readings = new object[]
                {
                    new
                    {
                        at = "largest",
                        value = 79.9,
                        unit = "mm",
                    },
                    new
                    {
                        at = "smallest",
                        value = 78.9,
                        unit = "mm",
                    },
                },
            }
        );
        Assert.Equal("replace", answer.GetProperty("verdict").GetString());
        Assert.True(answer.GetProperty("probability").GetDouble() > 0.9);
        Assert.Equal(0.5, answer.GetProperty("limit").GetProperty("worn").GetDouble());
        var value = answer.GetProperty("values")[0];
        Assert.Equal(1, value.GetProperty("value").GetDouble(), 6);
        Assert.True(value.GetProperty("u").GetDouble() > 0);
        Assert.Equal("roller-left", answer.GetProperty("speaksFor")[0].GetProperty("partId").GetString());
        Assert.Equal(0, answer.GetProperty("outliers").GetArrayLength());
        var wear = await OkAsync(
            "gauging/front-felt",
            new
            {
                layoutId = "marlune-ml45",
                readings = new[] { new { value = 2.9 }, new { value = 3.0 } },
                earlier = new { value = 4.9, hours = 800 },
            }
        );
        Assert.InRange(wear.GetProperty("hoursLeft").GetDouble(), 300, 480);
        Assert.True(wear.GetProperty("hoursLeftLow").GetDouble() < wear.GetProperty("hoursLeft").GetDouble());
    }

    [Fact]
    public async Task Each_protocol_that_a_machine_lists_says_what_lacks_and_is_never_a_fault_of_the_house()
    {
        foreach (var layout in new[] { "ostrel-ot50", "marlune-mf20", "quenby-qc36", "ostrel-or78" })
        {
            var list = await TestHost.JsonAsync(await host.Client.GetAsync($"/api/v1/gauging?layoutId={layout}"));
            Assert.True(list.GetArrayLength() > 8);
            foreach (var protocol in list.EnumerateArray())
            {
                var id = protocol.GetProperty("id").GetString();
                var part = protocol
                    .GetProperty("parts")
                    .EnumerateArray()
                    .Select(p => p.GetProperty("partId").GetString())
                    .FirstOrDefault();
                var places = protocol
                    .GetProperty("positions")
                    .EnumerateArray()
                    .Select(p => p.GetProperty("id").GetString())
                    .ToList();
                foreach (
                    var readings in new object[]
                    {
                        Array.Empty<object>(),
                        places.Select(at => new { at, value = 0.0 }),
                        places.Select(at => new { at, value = -5.0 }),
                        places.Select(at => new { at, value = 1e300 }),
                        places.Select(at => new
                        {
                            at,
                            value = 3.0,
                            unit = "parsec",
                        }),
                        Enumerable.Range(0, 65).Select(_ => new { at = places[0], value = 1.0 }),
                        new object?[] { null },
                        places.Select(at => new
                        {
                            at,
                            value = 1.0,
                            drumDeg = 1e9,
                        }),
                        places.Select(at => new { at, open = true }),
                        places.Select(at => new { at }),
                    }
                )
                {
                    var response = await PostAsync(
                        $"gauging/{id}",
                        new
                        {
                            layoutId = layout,
                            partId = part,
                            readings,
                        }
                    );
                    Assert.True((int)response.StatusCode is 200 or 400 or 422, $"{layout} {id}: {response.StatusCode}");
                    Assert.DoesNotContain("NaN", await response.Content.ReadAsStringAsync(), StringComparison.Ordinal);
                }
            }
        }
    }

    [Fact]
    public async Task What_is_wrong_with_a_question_is_said_at_its_field()
    {
        object One(double value, string? unit = null, string? at = null) =>
            new
            {
                value,
                unit,
                at,
            };
        Assert.Equal(
            ["readings/0/value"],
            await WrongAsync(
                "gauging/roller",
                new
                {
                    layoutId = "ostrel-ot50",
                    partId = "roller-left",
                    readings = new[] { One(3, "mm") },
                }
            )
        );
        Assert.Equal(
            ["readings/1/unit"],
            await WrongAsync(
                "gauging/roller",
                new
                {
                    layoutId = "ostrel-ot50",
                    partId = "roller-left",
                    readings = new[] { One(80), One(80, "kg") },
                }
            )
        );
        Assert.Equal(
            ["partId"],
            await WrongAsync(
                "gauging/roller",
                new
                {
                    layoutId = "ostrel-ot50",
                    partId = "chimney",
                    readings = new[] { One(80) },
                }
            )
        );
        Assert.Equal(
            ["partId"],
            await WrongAsync("gauging/roller", new { layoutId = "ostrel-ot50", readings = new[] { One(80) } })
        );
        Assert.Equal(
            ["layoutId"],
            await WrongAsync("gauging/roller", new { layoutId = "none", readings = new[] { One(80) } })
        );
        Assert.Equal(
            ["protocol"],
            await WrongAsync("gauging/phrenology", new { layoutId = "ostrel-ot50", readings = new[] { One(80) } }, 404)
        );
        Assert.Equal(
            ["instrument"],
            await WrongAsync(
                "gauging/roller",
                new
                {
                    layoutId = "ostrel-ot50",
                    partId = "roller-left",
                    readings = new[] { One(80) },
                    instrument = "thumb",
                }
            )
        );
        Assert.Equal(
            ["limit"],
            await WrongAsync(
                "gauging/front-felt",
                new
                {
                    layoutId = "marlune-ml45",
                    readings = new[] { One(3) },
                    limit = 9,
                }
            )
        );
        Assert.Equal(
            ["earlier"],
            await WrongAsync(
                "gauging/front-felt",
                new
                {
                    layoutId = "marlune-ml45",
                    readings = new[] { One(3) },
                    earlier = new { value = 4, hours = 0 },
                }
            )
        );
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/api/v1/gauging?layoutId=none")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await host.Client.GetAsync("/api/v1/gauging")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/api/v1/drive/none/courses")).StatusCode);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task An_outlet_read_dead_hands_the_machine_over_and_one_taken_back_does_not(bool restarted)
    {
        await using var own = new TestHost();
        await own.InitializeAsync();
        var job = Guid.NewGuid();
        async Task DoAsync(Core.Jobs.Log.JobEvent act)
        {
            var e = act with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow };
            Assert.Empty((await own.Store.AppendAsync(job, e)).Errors);
        }
        await DoAsync(new Core.Jobs.Log.JobOpened("J-4777", new() { LayoutId = "ostrel-ot50", Place = "Cellar" }));
        await DoAsync(new Core.Jobs.Log.ComplaintStated(["nothing-runs"], "Dead"));
        foreach (var (at, volts) in new[] { ("leg-1", 0.0), ("leg-2", 118), ("across", 2) })
        {
            await DoAsync(new Core.Jobs.Log.GaugeRead("outlet", "", at, volts, "V"));
        }
        if (restarted)
        {
            await own.RestartAsync();
        }
        Assert.Contains("Hand over to an electrician", await own.Client.GetStringAsync("/jobs/J-4777/find"));
        foreach (var reading in own.Store.Find(job)!.State.Gauged.Select(g => g.Id).ToList())
        {
            await DoAsync(new Core.Jobs.Log.Undone(reading));
        }
        Assert.DoesNotContain("Hand over to an electrician", await own.Client.GetStringAsync("/jobs/J-4777/find"));
    }

    [Fact]
    public void Readings_leave_as_a_table_and_no_cell_is_a_formula()
    {
        var state = Core
            .Jobs.Log.JobHistory.Of([
                new Core.Jobs.Log.GaugeRead("roller", "roller-left", "largest", 79.9, "mm") { Id = Guid.NewGuid() },
                new Core.Jobs.Log.ReadingTaken("=1+1", 3, "mm") { Id = Guid.NewGuid() },
            ])
            .State;
        var rows = Idrum.Web.Shop.ShopExport.Readings(state).ToList();
        Assert.Equal(
            ("roller", "roller-left", 79.9, "mm"),
            (rows[0].Protocol, rows[0].Part, rows[0].Value, rows[0].Unit)
        );
        Assert.Equal("'=1+1", rows[1].Protocol);
    }

    [Theory]
    [InlineData("5/16", 0.3125)]
    [InlineData("1 3/8", 1.375)]
    [InlineData("2,5", 2.5)]
    [InlineData("-4", -4.0)]
    [InlineData("1/0", null)]
    [InlineData("1 2 3/4", null)]
    [InlineData("3/", null)]
    [InlineData("a/b", null)]
    public void Numbers_are_read_as_people_type_them(string typed, double? value) =>
        Assert.Equal(value, Idrum.Web.Forms.TypedNumber.Read(typed));
}
