using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Tests;

namespace Idrum.Web.Tests;

/// <summary>Identification, layouts of the shop's own, and a machine that turns out to be another, over HTTP.</summary>
public sealed class LayoutPagesTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private static string Own(string id, Action<JsonObject>? change = null)
    {
        var file = JsonNode.Parse(TestShop.Content.Layouts["quenby-qc30.json"])!.AsObject();
        (file["id"], file["title"]) = (id, "Own " + id);
        change?.Invoke(file);
        return file.ToJsonString(new JsonSerializerOptions { WriteIndented = true });
    }

    private async Task<HttpResponseMessage> UploadAsync(string text)
    {
        using var form = new MultipartFormDataContent();
        var file = new StringContent(text);
        file.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        form.Add(file, "file", "layout.json");
        form.Add(new StringContent(await host.TokenAsync("/machines/file")), "__RequestVerificationToken");
        return await host.Client.PostAsync("/machines/file", form);
    }

    [Fact]
    public async Task Identify_ranks_all_layouts_and_none_and_asks_the_next_question()
    {
        var answer = await TestHost.JsonAsync(await host.PostJsonAsync("/api/v1/identify", """{"answers":{}}"""));
        var candidates = answer
            .GetProperty("candidates")
            .EnumerateArray()
            .ToDictionary(c => c.GetProperty("layoutId").GetString()!, c => c.GetProperty("probability").GetDouble());
        Assert.Equal(13, candidates.Count);
        Assert.Equal(1, candidates.Values.Sum(), 9);
        Assert.Contains("none", candidates.Keys);
        var next = answer.GetProperty("nextQuestion").GetProperty("featureId").GetString()!;
        Assert.NotNull(TestShop.Shop.Words.FindFact(next));
        var seen = TestShop
            .Shop.Words.Facts.Where(f => f.Seconds > 0)
            .ToDictionary(f => f.Id, f => TestShop.Shop.FindLayout("marlune-mf20")!.ValueOf(f.Id)!);
        var known = await TestHost.JsonAsync(await host.PostJsonAsync("/api/v1/identify", new { answers = seen }));
        Assert.Equal("marlune-mf20", known.GetProperty("candidates")[0].GetProperty("layoutId").GetString());
        Assert.Equal(JsonValueKind.Null, known.GetProperty("nextQuestion").ValueKind);
        foreach (
            var (body, field) in new[]
            {
                ("""{"answers":{"moon":"yes"}}""", "answers/moon"),
                ("""{"answers":{"hinged-top":"perhaps"}}""", "answers/hinged-top"),
                ("{\"tag\":\"" + new string('x', 61) + "\"}", "tag"),
            }
        )
        {
            var wrong = await host.PostJsonAsync("/api/v1/identify", body);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
            Assert.Contains(
                field,
                (await TestHost.JsonAsync(wrong)).GetProperty("errors").EnumerateObject().Select(e => e.Name)
            );
        }
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await host.PostJsonAsync(
                    "/api/v1/identify",
                    """{"answers":{"hinged-top":"cant-tell"},"tag":"QD62-7"}"""
                )
            ).StatusCode
        );
    }

    [Fact]
    public async Task The_question_page_takes_made_up_answers_for_none_at_all()
    {
        var page = await host.Client.GetStringAsync(
            "/identify?a=moon:yes&a=hinged-top:perhaps&a=hinged-top&tag=%3Cscript%3E&job=J-9999"
        );
        Assert.Contains("Question 1", page, StringComparison.Ordinal);
        Assert.DoesNotContain("<script>", page.Split("</head>")[1], StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task A_file_is_refused_at_its_line_tried_and_then_taken_with_versions()
    {
        var broken = Own("own", f => f["operations"]![3]!["minutes"] = new JsonArray(5, 2, 1));
        var refused = await UploadAsync(broken);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var page = WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync());
        var line =
            1
            + broken[
                ..broken.IndexOf(
                    "\"minutes\": [\n",
                    broken.IndexOf("\"door-plug\"", StringComparison.Ordinal),
                    StringComparison.Ordinal
                )
            ]
                .Count(c => c == '\n');
        Assert.Contains($"Line {line}.", page, StringComparison.Ordinal);
        Assert.Contains("\"own\"", page, StringComparison.Ordinal);
        Assert.Null(host.Shop.FindLayout("own"));
        var tried = await UploadAsync(Own("own"));
        Assert.Contains("Sound:", await tried.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Null(host.Shop.FindLayout("own"));
        Assert.Equal(HttpStatusCode.SeeOther, (await AcceptAsync(Own("own"), "")).StatusCode);
        Assert.NotNull(host.Shop.FindLayout("own"));
        // Another writes it meanwhile: told, nothing lost; over it only when that is said.
        var late = await AcceptAsync(Own("own", f => f["title"] = "Mine"), new string('0', 64));
        Assert.Equal(HttpStatusCode.Conflict, late.StatusCode);
        Assert.Contains("meanwhile", await late.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal("Own own", host.Shop.FindLayout("own")!.Title);
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (
                await AcceptAsync(Own("own", f => f["title"] = "Mine"), Variants.HashOf(host.Shop.FindLayout("own")!))
            ).StatusCode
        );
        Assert.Equal("Mine", host.Shop.FindLayout("own")!.Title);
        await host.RestartAsync();
        Assert.Equal("Mine", host.Shop.FindLayout("own")!.Title);
        // What Idrum came with is read-only.
        var shipped = await UploadAsync(Own("quenby-qd62"));
        Assert.Contains("read-only", await shipped.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Empty(host.Logged);
    }

    private Task<HttpResponseMessage> AcceptAsync(string text, string hash) =>
        host.PostFormAsync("/machines/file", ("text", text), ("base", hash), ("act", "accept"));

    [Fact]
    public async Task A_layout_in_use_is_not_deleted_and_its_job_keeps_it_when_it_is_changed()
    {
        await AcceptAsync(Own("own"), "");
        var job = Guid.NewGuid();
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(
                    $"/api/v1/jobs/{job}/events",
                    (JobEvent)
                        new JobOpened("J-own", new MachineCard { LayoutId = "own", Place = "Cellar" })
                        {
                            Id = Guid.NewGuid(),
                        }
                )
            ).StatusCode
        );
        var pinned = host.Store.Find(job)!.State.LayoutHash;
        await host.PostFormAsync("/machines/own", ("act", "delete"));
        Assert.NotNull(host.Shop.FindLayout("own"));
        Assert.Contains("J-own", await host.Client.GetStringAsync("/machines/own"), StringComparison.Ordinal);
        var hash = Variants.HashOf(host.Shop.FindLayout("own")!);
        var changed = await host.PostFormAsync(
            "/machines/own/edit",
            ("act", "facts"),
            ("hash", hash),
            ("fact.belt-switch", "yes")
        );
        Assert.Equal(HttpStatusCode.SeeOther, changed.StatusCode);
        Assert.Equal("yes", host.Shop.FindLayout("own")!.ValueOf("belt-switch"));
        Assert.Equal(
            (pinned, "no"),
            (
                host.Store.Find(job)!.State.LayoutHash,
                host.Shop.LayoutOf(host.Store.Find(job)!.State)!.ValueOf("belt-switch")
            )
        );
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await host.PostFormAsync(
                    "/machines/own/edit",
                    ("act", "facts"),
                    ("hash", hash),
                    ("fact.belt-switch", "no")
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostFormAsync(
                    "/machines/own/edit",
                    ("act", "step"),
                    ("step", "front-screws"),
                    ("hash", Variants.HashOf(host.Shop.FindLayout("own")!)),
                    ("count.front-corner", "-3")
                )
            ).StatusCode
        );
        // What Idrum came with can be neither changed nor deleted.
        var shipped = Variants.HashOf(host.Shop.FindLayout("quenby-qc30")!);
        await host.PostFormAsync("/machines/quenby-qc30", ("act", "delete"));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.Client.PostAsync(
                    "/machines/quenby-qc30/edit",
                    new FormUrlEncodedContent([
                        new("act", "facts"),
                        new("hash", shipped),
                        new("fact.gas", "yes"),
                        new("__RequestVerificationToken", await host.TokenAsync("/machines/new")),
                    ])
                )
            ).StatusCode
        );
        Assert.Equal(shipped, Variants.HashOf(host.Shop.FindLayout("quenby-qc30")!));
    }

    [Fact]
    public async Task A_machine_that_is_another_carries_over_what_fits_and_says_what_does_not()
    {
        // J-0153 is being stripped as a QD-62.
        var before = host.Store.Find("J-0153")!.State;
        var page = WebUtility.HtmlDecode(await host.Client.GetStringAsync("/jobs/J-0153/machine?to=quenby-qd68"));
        Assert.Contains("Carries over", page, StringComparison.Ordinal);
        var moved = await host.PostFormAsync(
            "/jobs/J-0153/machine?to=quenby-qd68",
            ("kind", "machine-corrected"),
            ("id", Guid.NewGuid().ToString()),
            ("next", "/jobs/J-0153/strip"),
            ("machine.layoutId", "quenby-qd68"),
            ("machine.place", before.Machine.Place),
            ("machine.tag", before.Machine.Tag),
            ("machine.ageYears", "9"),
            ("machine.usesPerWeek", "20"),
            ("machine.energy", "electric"),
            ("machine.connection", "plug"),
            ("machine.units", "mm"),
            ("machine.callBackOf", "")
        );
        Assert.True(
            moved.StatusCode == HttpStatusCode.SeeOther,
            WebUtility.HtmlDecode(await moved.Content.ReadAsStringAsync())
        );
        var after = host.Store.Find("J-0153")!.State;
        Assert.Equal("quenby-qd68", after.Machine.LayoutId);
        Assert.NotEmpty(after.Out);
        Assert.Subset(before.Out.ToHashSet(), after.Out.ToHashSet());
        foreach (var shown in new[] { "strip", "floor", "rebuild", "fit", "find", "report", "close", "machine" })
        {
            Assert.Equal(
                (shown, HttpStatusCode.OK),
                (shown, (await host.Client.GetAsync($"/jobs/J-0153/{shown}")).StatusCode)
            );
        }
        // And it goes out and comes in again as a file.
        var export = await host.Client.GetStringAsync("/api/v1/jobs/J-0153/export");
        var other = new TestHost { Demo = false };
        await other.InitializeAsync();
        try
        {
            var answer = await other.PostJsonAsync("/api/v1/jobs", export);
            Assert.True(answer.StatusCode == HttpStatusCode.Created, await answer.Content.ReadAsStringAsync());
            Assert.Equal(after.Canonical(), other.Store.Find("J-0153")!.State.Canonical());
        }
        finally
        {
            await other.DisposeAsync();
        }
        Assert.Empty(host.Logged);
    }
}
