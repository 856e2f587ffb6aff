using System.Net;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Money;
using Idrum.Core.Teardown;
using Idrum.Core.Tests;
using Idrum.Core.Tests.Jobs;

namespace Idrum.Web.Tests;

public sealed class ApiTests(TestHost host) : IClassFixture<TestHost>
{
    private async Task<JsonElement> RefusedAsync(
        string path,
        string json,
        HttpStatusCode status = HttpStatusCode.UnprocessableEntity
    )
    {
        var answer = await host.PostJsonAsync(path, json);
        Assert.Equal(status, answer.StatusCode);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
        return await TestHost.JsonAsync(answer);
    }

    private static IEnumerable<string> Fields(JsonElement problem) =>
        problem.GetProperty("errors").EnumerateObject().Select(p => p.Name);

    [Fact]
    public async Task Layouts_are_listed_and_given_out_as_files_that_validate()
    {
        var list = JsonDocument.Parse(await host.Client.GetStringAsync("/api/v1/layouts")).RootElement;
        Assert.Equal(12, list.GetArrayLength());
        foreach (var id in list.EnumerateArray().Select(l => l.GetProperty("id").GetString()))
        {
            var file = TestShop.Content.Layouts[id + ".json"];
            var verdict = await TestHost.JsonAsync(await host.PostJsonAsync("/api/v1/layouts/validate", file));
            Assert.True(verdict.GetProperty("valid").GetBoolean());
            Assert.Equal(
                id,
                JsonDocument
                    .Parse(await host.Client.GetStringAsync($"/api/v1/layouts/{id}"))
                    .RootElement.GetProperty("id")
                    .GetString()
            );
        }
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/api/v1/layouts/ghost")).StatusCode);
    }

    [Fact]
    public async Task A_broken_layout_is_judged_with_pointers_and_no_json_is_a_400()
    {
        var verdict = await TestHost.JsonAsync(
            await host.PostJsonAsync("/api/v1/layouts/validate", """{"format":"idrum-layout","version":1,"id":"X"}""")
        );
        Assert.False(verdict.GetProperty("valid").GetBoolean());
        Assert.All(verdict.GetProperty("errors").EnumerateArray(), e =>
            Assert.StartsWith("/", e.GetProperty("pointer").GetString(), StringComparison.Ordinal)
        );
        await RefusedAsync("/api/v1/layouts/validate", "{ not json", HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task An_order_of_steps_that_leaves_out_what_prudence_wants_first_is_scheduled_and_what_bars_the_way_is_named()
    {
        var random = new Random(19);
        var answers = new Dictionary<HttpStatusCode, int>();
        foreach (var layout in host.Shop.Layouts)
        {
            var graph = new TeardownPlanner(layout).Graph;
            string[] all = [.. layout.Operations.Select(o => o.Id).Where(o => !graph.Absent.Has(graph.IndexOf(o)))];
            for (var n = 0; n < 5; n++)
            {
                // What nothing bars, in any order; the last asked for without what bars it, now and then.
                var order = new List<string>();
                foreach (var wanted in Enumerable.Repeat(0, 3).SelectMany(_ => random.GetItems(all, all.Length)))
                {
                    var barred =
                        graph
                            .Missing(
                                graph.InTheWay[graph.IndexOf(wanted)],
                                graph.SetOf(order.Select(o => (OperationId)o))
                            )
                            .Count > 0;
                    if (!order.Contains(wanted) && (!barred || order.Count > 9 && random.Next(4) == 0))
                    {
                        order.Add(wanted);
                        if (barred || order.Count > 4 + n * 3)
                        {
                            break;
                        }
                    }
                }
                using var answer = await host.PostJsonAsync(
                    "/api/v1/schedule",
                    new { layoutId = layout.Id, operations = order }
                );
                var said = await answer.Content.ReadAsStringAsync();
                Assert.True(
                    answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.UnprocessableEntity,
                    $"{layout.Id} {string.Join(' ', order)}: {answer.StatusCode} {said}"
                );
                answers[answer.StatusCode] = answers.GetValueOrDefault(answer.StatusCode) + 1;
                if (answer.StatusCode == HttpStatusCode.OK)
                {
                    // What came off goes back, all of it and nothing else.
                    var back = JsonSerializer
                        .Deserialize<JsonElement>(said)
                        .GetProperty("items")
                        .EnumerateArray()
                        .Select(i => i.TryGetProperty("operationId", out var id) ? id.GetString() : null)
                        .OfType<string>()
                        .Distinct();
                    Assert.Equal(order.Order(), back.Order());
                }
                else
                {
                    Assert.Contains("operations", said, StringComparison.Ordinal);
                }
            }
        }
        Assert.True(answers.Count == 2 && answers.Values.Min() > 3, string.Join(", ", answers));
        Assert.Empty(host.Logged);
    }

    [Fact]
    public async Task A_schedule_fills_the_wait_of_the_glue_and_says_what_is_wrong_in_a_question()
    {
        var answer = await TestHost.JsonAsync(
            await host.PostJsonAsync(
                "/api/v1/schedule",
                """{"layoutId":"ostrel-ot50","targets":["front-felt","belt"],"bonds":[{"profileId":"contact-cement","celsius":10}]}"""
            )
        );
        static string? Of(JsonElement item, string name) =>
            item.TryGetProperty(name, out var value) ? value.GetString() : null;
        static (double From, double To) Time(JsonElement item) =>
            (item.GetProperty("startMinute").GetDouble(), item.GetProperty("endMinute").GetDouble());
        var items = answer.GetProperty("items").EnumerateArray().ToList();
        var (from, to) = Time(items.Single(i => Of(i, "wait") == "open"));
        // Twelve minutes at 20 °C are twenty-four at 10 °C.
        Assert.InRange(to - from, 24, 60);
        var acts = items.Where(i => Of(i, "wait") is null).ToList();
        Assert.Contains(acts, i => Time(i).From >= from - 0.01 && Time(i).To <= to + 0.01);
        Assert.Contains(acts, i => Of(i, "operationId") == "front-off" && Of(i, "stepId") is null);
        Assert.True(answer.GetProperty("proof").GetProperty("optimal").GetBoolean());
        Assert.True(answer.GetProperty("minutes").GetDouble() >= acts.Sum(i => Time(i).To - Time(i).From) - 0.1);
        var seal = await TestHost.JsonAsync(
            await host.PostJsonAsync(
                "/api/v1/schedule",
                """{"layoutId":"ostrel-ot50","targets":["front-felt"],"bonds":[{"profileId":"seal"}]}"""
            )
        );
        Assert.DoesNotContain(seal.GetProperty("items").EnumerateArray(), i =>
            Of(i, "wait") == "open" && Time(i).To - Time(i).From > 10
        );
        foreach (
            var (json, field) in new[]
            {
                ("""{"layoutId":"ostrel-ot50","targets":["nose"]}""", "targets/0"),
                (
                    """{"layoutId":"ostrel-ot50","targets":["belt"],"bonds":[{"profileId":"spit"}]}""",
                    "bonds/0/profileId"
                ),
                (
                    """{"layoutId":"ostrel-ot50","targets":["belt"],"bonds":[{"profileId":"seal","celsius":-60}]}""",
                    "bonds/0/celsius"
                ),
                ("""{"layoutId":"ostrel-ot50","targets":["belt"],"persons":5}""", "persons"),
            }
        )
        {
            var problem = await RefusedAsync("/api/v1/schedule", json, HttpStatusCode.UnprocessableEntity);
            Assert.True(problem.GetProperty("errors").TryGetProperty(field, out _), $"{field}: {problem}");
        }
    }

    [Fact]
    public async Task A_teardown_plan_has_the_agreed_shape_and_its_proof()
    {
        var plan = await TestHost.JsonAsync(
            await host.PostJsonAsync(
                "/api/v1/teardown",
                """{"layoutId":"quenby-qd62","targets":["idler"],"done":[],"waysIn":{}}"""
            )
        );
        foreach (var claim in new[] { "set", "order", "refit" })
        {
            var proof = plan.GetProperty("proof").GetProperty(claim);
            Assert.True(proof.GetProperty("optimal").GetBoolean());
            Assert.Equal(0, proof.GetProperty("gap").GetDouble());
        }
        Assert.Equal(
            plan.GetProperty("minutes").GetDouble(),
            plan.GetProperty("proof").GetProperty("set").GetProperty("bound").GetDouble()
        );
        Assert.Equal(
            plan.GetProperty("toolChanges").GetInt32(),
            plan.GetProperty("proof").GetProperty("order").GetProperty("bound").GetInt32()
        );
        var step = plan.GetProperty("removal")[0];
        Assert.Equal("pull-out", step.GetProperty("operationId").GetString());
        Assert.True(step.GetProperty("minutes").GetDouble() > 0);
        Assert.Equal(JsonValueKind.Array, step.GetProperty("tools").ValueKind);
        Assert.Equal(plan.GetProperty("removal").GetArrayLength(), plan.GetProperty("refit").GetArrayLength());
        Assert.Equal(JsonValueKind.Number, plan.GetProperty("toolChanges").ValueKind);
    }

    [Fact]
    public async Task A_layout_in_the_question_itself_is_planned_on_or_refused_with_its_pointers()
    {
        var own = TestShop.Content.Layouts["ostrel-ot50.json"];
        Assert.Equal(
            HttpStatusCode.OK,
            (await host.PostJsonAsync("/api/v1/teardown", $$"""{"layout":{{own}},"targets":["belt"]}""")).StatusCode
        );
        var problem = await RefusedAsync("/api/v1/teardown", """{"layout":{"id":"x"},"targets":["belt"]}""");
        Assert.All(Fields(problem), f => Assert.StartsWith("/layout", f, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("""{"layoutId":"ghost","targets":["belt"]}""", "layoutId")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":[]}""", "targets")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":["ghost"]}""", "targets/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":[null]}""", "targets/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":["belt"],"done":["ghost"]}""", "done/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":["belt"],"done":["front-off","front-off"]}""", "done/1")]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":["belt"],"stuck":["ghost"]}""", "stuck/0")]
    [InlineData(
        """{"layoutId":"ostrel-ot50","targets":["belt"],"done":["screen-out"],"absent":["screen-out"]}""",
        "absent/0"
    )]
    [InlineData("""{"layoutId":"ostrel-ot50","targets":["belt"],"stuck":["front-off"]}""", "waysIn")]
    [InlineData(
        """{"layoutId":"ostrel-ot50","targets":["idler"],"waysIn":{"idler-reach":"roof"}}""",
        "waysIn/idler-reach"
    )]
    public async Task A_wrong_teardown_question_names_its_field(string json, string field) =>
        Assert.Contains(field, Fields(await RefusedAsync("/api/v1/teardown", json)));

    [Fact]
    public async Task A_diagnosis_knows_what_was_put_right_and_what_is_not_on_the_machine()
    {
        async Task<JsonElement> Ask(string more) =>
            await TestHost.JsonAsync(
                await host.PostJsonAsync(
                    "/api/v1/diagnosis",
                    $$"""{"layoutId":"ostrel-ot50","findings":{"rattle":"yes"}{{more}}}"""
                )
            );
        static double P(JsonElement d, string fault) =>
            d.GetProperty("causes")
                .EnumerateArray()
                .Single(c => c.GetProperty("faultId").GetString() == fault)
                .GetProperty("probability")
                .GetDouble();
        Assert.True(P(await Ask(""), "not-firm") > 0.05);
        Assert.Equal(0, P(await Ask(""","putRight":["not-firm"],"heardAgain":true"""), "not-firm"));
        static double Minutes(JsonElement d) =>
            d.GetProperty("checks")
                .EnumerateArray()
                .Single(c => c.GetProperty("checkId").GetString() == "belt-look")
                .GetProperty("teardownMinutes")
                .GetDouble();
        Assert.True(Minutes(await Ask(""","absent":["deck-screws"]""")) < Minutes(await Ask("")));
    }

    [Fact]
    public async Task A_diagnosis_has_causes_checks_and_advice()
    {
        var d = await TestHost.JsonAsync(
            await host.PostJsonAsync(
                "/api/v1/diagnosis",
                """{"layoutId":"quenby-qd62","findings":{"nothing-runs":"yes","drum-hand":"free"}}"""
            )
        );
        Assert.Equal("belt-broken", d.GetProperty("causes")[0].GetProperty("faultId").GetString());
        Assert.Contains(d.GetProperty("causes")[0].GetProperty("because").EnumerateArray(), b =>
            b.GetProperty("findingId").GetString() == "drum-hand" && b.GetProperty("decibans").GetDouble() > 0
        );
        Assert.Contains(d.GetProperty("advice").GetProperty("kind").GetString(), new[] { "check", "repair", "refer" });
        var check = d.GetProperty("checks")[0];
        Assert.Equal(JsonValueKind.Number, check.GetProperty("teardownMinutes").ValueKind);
        Assert.Equal(JsonValueKind.Number, check.GetProperty("expectedCost").ValueKind);
    }

    [Fact]
    public async Task A_shop_whose_jobs_taught_it_still_runs_nothing_that_smells_burnt()
    {
        Assert.NotNull(host.Shop.Learned);
        foreach (var layout in host.Shop.Layouts)
        {
            var d = await TestHost.JsonAsync(
                await host.PostJsonAsync(
                    "/api/v1/diagnosis",
                    new { layoutId = layout.Id, findings = new { burning = "yes" } }
                )
            );
            string[] before = ["smell", "chute", "blower-torch", "drum-hand"];
            Assert.Contains(d.GetProperty("advice").GetProperty("id").GetString(), before);
            Assert.DoesNotContain(d.GetProperty("checks").EnumerateArray(), c =>
                host.Shop.Catalog.FindFinding(c.GetProperty("checkId").GetString()!)!.Runs
            );
        }
    }

    [Theory]
    [InlineData("""{"layoutId":"ghost"}""", "layoutId")]
    [InlineData("""{"layoutId":"ostrel-ot50","findings":{"ghost":"yes"}}""", "findings/ghost")]
    [InlineData("""{"layoutId":"ostrel-ot50","findings":{"squeal":"maybe"}}""", "findings/squeal")]
    [InlineData("""{"layoutId":"ostrel-ot50","findings":{"squeal":null}}""", "findings/squeal")]
    [InlineData("""{"layoutId":"ostrel-ot50","done":["ghost"]}""", "done/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","absent":["ghost"]}""", "absent/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","done":["deck-screws"],"absent":["deck-screws"]}""", "absent/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","putRight":["no-supply"]}""", "putRight/0")]
    [InlineData("""{"layoutId":"ostrel-ot50","wear":-4}""", "wear")]
    public async Task A_wrong_diagnosis_question_names_its_field(string json, string field) =>
        Assert.Contains(field, Fields(await RefusedAsync("/api/v1/diagnosis", json)));

    [Theory]
    [InlineData("")]
    [InlineData("null")]
    [InlineData("[]")]
    [InlineData("{")]
    [InlineData("""{"layoutId":5}""")]
    [InlineData("""{"targets":"belt"}""")]
    [InlineData("""{"kind":"exploded","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12"}""")]
    [InlineData("""{"kind":"note-added","id":"zzz"}""")]
    public async Task Nonsense_is_never_a_500(string json)
    {
        foreach (
            var path in new[] { "teardown", "diagnosis", "jobs", "layouts/validate", $"jobs/{Guid.NewGuid()}/events" }
        )
        {
            var answer = await host.PostJsonAsync("/api/v1/" + path, json);
            Assert.InRange((int)answer.StatusCode, 200, 499);
        }
    }

    [Fact]
    public async Task A_whole_job_goes_out_and_into_an_empty_shop_with_the_identical_state()
    {
        var other = new TestHost();
        await other.InitializeAsync();
        try
        {
            var log = RandomWalk.Log(4242, 60);
            var archive = JsonSerializer.Serialize(JobArchive.Of(Guid.NewGuid(), log, []), IdrumJson.Options);
            Assert.Equal(HttpStatusCode.Created, (await host.PostJsonAsync("/api/v1/jobs", archive)).StatusCode);
            var exported = await host.Client.GetStringAsync("/api/v1/jobs/J-4242/export");
            Assert.Equal(HttpStatusCode.Created, (await other.PostJsonAsync("/api/v1/jobs", exported)).StatusCode);
            Assert.Equal(host.Store.Find("J-4242")!.State.Canonical(), other.Store.Find("J-4242")!.State.Canonical());
            Assert.Equal(HttpStatusCode.Created, (await other.PostJsonAsync("/api/v1/jobs", exported)).StatusCode);
            var half = exported[..(exported.Length / 2)];
            await RefusedAsync("/api/v1/jobs", half);
        }
        finally
        {
            await other.DisposeAsync();
        }
    }

    [Fact]
    public async Task An_event_sent_twice_is_acknowledged_twice_and_stored_once()
    {
        var job = host.Store.Find("J-0147")!;
        var note = new NoteAdded("", "through the API") { Id = Guid.NewGuid() };
        var path = $"/api/v1/jobs/{job.JobId}/events";
        Assert.Equal(HttpStatusCode.Created, (await host.PostJsonAsync(path, (JobEvent)note)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await host.PostJsonAsync(path, (JobEvent)note)).StatusCode);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await host.PostJsonAsync(path, (JobEvent)(note with { Text = "other" }))).StatusCode
        );
        Assert.Single(host.Store.Find("J-0147")!.State.Notes, n => n.Text == "through the API");
    }

    [Fact]
    public async Task OpenApi_describes_every_call()
    {
        var paths = JsonDocument
            .Parse(await host.Client.GetStringAsync("/openapi/v1.json"))
            .RootElement.GetProperty("paths")
            .EnumerateObject()
            .Select(p => p.Name)
            .ToList();
        Assert.Superset(
            new HashSet<string>
            {
                "/api/v1/layouts",
                "/api/v1/layouts/{id}",
                "/api/v1/layouts/validate",
                "/api/v1/teardown",
                "/api/v1/diagnosis",
                "/api/v1/jobs",
                "/api/v1/jobs/{number}",
                "/api/v1/jobs/{number}/export",
                "/api/v1/jobs/{jobId}/events",
            },
            paths.ToHashSet()
        );
    }

    [Fact]
    public async Task A_plain_form_cannot_reach_the_api() =>
        Assert.Equal(
            HttpStatusCode.UnsupportedMediaType,
            (await host.Client.PostAsync("/api/v1/jobs", new FormUrlEncodedContent([]))).StatusCode
        );

    [Theory]
    [InlineData("/api/v1/teardown", """{"layoutId":"ostrel-ot50","targets":["belt"],"wayIn":{}}""", "wayIn", "waysIn")]
    [InlineData("/api/v1/teardown", """{"layoutId":"ostrel-ot50","target":["belt"]}""", "target", "targets")]
    [InlineData("/api/v1/listening/taps", """{"layoutId":"ostrel-ot50","taps":[1]}""", "taps", "tapSeconds")]
    public async Task A_misspelt_field_is_refused_with_the_near_word(
        string path,
        string json,
        string field,
        string near
    )
    {
        var problem = await RefusedAsync(path, json);
        Assert.Equal([field], Fields(problem));
        Assert.Contains(near, problem.ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_act_with_a_misspelt_field_is_refused_and_not_stored_without_it()
    {
        var problem = await RefusedAsync(
            $"/api/v1/jobs/{host.Store.Find("J-0147")!.JobId}/events",
            """{"kind":"note-added","id":"7d8a8f3e-4b1e-4a7c-9a53-0c1b0a7e6f11","operationId":"","tekst":"x","text":"y"}"""
        );
        Assert.Equal(["tekst"], Fields(problem));
    }

    [Fact]
    public async Task What_answers_get_answers_head_alike_without_a_body()
    {
        foreach (var path in new[] { "/api/v1/layouts", "/api/v1/layouts/ostrel-ot50", "/health", "/machines" })
        {
            using var request = new HttpRequestMessage(HttpMethod.Head, path);
            var answer = await host.Client.SendAsync(request);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            Assert.Empty(await answer.Content.ReadAsByteArrayAsync());
        }
    }
}
