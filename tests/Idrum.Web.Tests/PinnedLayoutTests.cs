using System.Net;
using System.Text.Json.Nodes;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Web.Tests;

/// <summary>A job keeps its machine: what happens to layouts later never breaks or alters it.</summary>
public sealed class PinnedLayoutTests : IAsyncLifetime
{
    private static readonly string[] Pages =
    [
        "complaint",
        "find",
        "strip",
        "fit",
        "rebuild",
        "prove",
        "close",
        "report",
        "floor",
        "variant",
    ];

    private readonly TestHost host = new() { Demo = false };
    private readonly string content = Directory.CreateTempSubdirectory("idrum-content").FullName;

    public async Task InitializeAsync()
    {
        foreach (
            var file in Directory.GetFiles(
                Path.Combine(AppContext.BaseDirectory, "content"),
                "*.json",
                SearchOption.AllDirectories
            )
        )
        {
            if (Path.GetFileName(file) == "ostrel-ot56.json")
            {
                // A shipped variant of the layout that is changed here: shipped files are changed together.
                continue;
            }
            var to = Path.Combine(
                content,
                Path.GetRelativePath(Path.Combine(AppContext.BaseDirectory, "content"), file)
            );
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }
        host.ContentFolder = content;
        await host.InitializeAsync();
    }

    public async Task DisposeAsync()
    {
        await host.DisposeAsync();
        Directory.Delete(content, true);
    }

    private string LayoutFile => Path.Combine(content, "layouts", "ostrel-ot50.json");

    private async Task<Guid> OpenAsync(string number, params JobEvent[] more)
    {
        var job = Guid.NewGuid();
        foreach (
            var e in more.Prepend(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), ""))
                .Prepend(new JobOpened(number, new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }))
        )
        {
            var answer = await host.PostJsonAsync($"/api/v1/jobs/{job}/events", e with { Id = Guid.NewGuid() });
            Assert.True(answer.StatusCode == HttpStatusCode.Created, await answer.Content.ReadAsStringAsync());
        }
        return job;
    }

    private async Task AssertPagesAsync(string number)
    {
        foreach (var page in Pages)
        {
            Assert.Equal((page, HttpStatusCode.OK), (page, await host.ShownAsync($"/jobs/{number}/{page}")));
        }
    }

    [Fact]
    public async Task A_layout_that_is_gone_breaks_no_job_and_the_export_carries_it_into_a_shop_that_never_had_it()
    {
        await OpenAsync("J-1");
        File.Delete(LayoutFile);
        await host.RestartAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/machines/ostrel-ot50")).StatusCode);
        await AssertPagesAsync("J-1");
        var export = await host.Client.GetStringAsync("/api/v1/jobs/J-1/export");
        Assert.Equal("ostrel-ot50", (string)JsonNode.Parse(export)!["layout"]!["id"]!);
        var other = new TestHost { Demo = false, ContentFolder = content };
        await other.InitializeAsync();
        try
        {
            var answer = await other.PostJsonAsync("/api/v1/jobs", export);
            Assert.True(answer.StatusCode == HttpStatusCode.Created, await answer.Content.ReadAsStringAsync());
            await other.RestartAsync();
            Assert.Equal(HttpStatusCode.OK, (await other.Client.GetAsync("/jobs/J-1/strip")).StatusCode);
            Assert.Empty(other.Logged);
        }
        finally
        {
            await other.DisposeAsync();
        }
        Assert.Empty(host.Logged);
    }

    [Fact]
    public async Task A_changed_layout_alters_no_old_job_until_it_is_moved_by_an_act_that_says_what_changes()
    {
        var job = await OpenAsync("J-1");
        var old = host.Store.Find(job)!.State.LayoutHash;
        Assert.Equal(64, old.Length);
        await File.WriteAllTextAsync(
            LayoutFile,
            (await File.ReadAllTextAsync(LayoutFile)).Replace(
                "\"price\": 19",
                "\"price\": 21",
                StringComparison.Ordinal
            )
        );
        await host.RestartAsync();
        Assert.Equal(old, host.Store.Find(job)!.State.LayoutHash);
        await AssertPagesAsync("J-1");
        var page = WebUtility.HtmlDecode(await host.Client.GetStringAsync("/jobs/J-1/variant"));
        Assert.Contains("Belt: price 19 → 21.", page, StringComparison.Ordinal);
        var newer = page.Split("name=\"hash\" value=\"")[1].Split('"')[0];
        Assert.NotEqual(old, newer);
        var moved = await host.PostFormAsync(
            "/jobs/J-1/variant",
            ("kind", "layout-pinned"),
            ("hash", newer),
            ("id", Guid.NewGuid().ToString())
        );
        Assert.Equal(HttpStatusCode.SeeOther, moved.StatusCode);
        Assert.Equal(newer, host.Store.Find(job)!.State.LayoutHash);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostFormAsync(
                    "/jobs/J-1/variant",
                    ("kind", "layout-pinned"),
                    ("hash", new string('0', 64)),
                    ("id", Guid.NewGuid().ToString())
                )
            ).StatusCode
        );
    }

    [Fact]
    public async Task A_job_from_before_layouts_were_kept_is_pinned_and_an_operation_refitted_puts_back_all_its_steps()
    {
        const string At = "2026-10-01T08:00:00Z";
        string Event(string kind, string fields) =>
            $$"""{"kind":"{{kind}}","id":"{{Guid.NewGuid()}}","at":"{{At}}"{{fields}}}""";
        string Done(string id, string counts) =>
            Event("operation-done", $$""","operationId":"{{id}}","counts":{{counts}}""");
        string Back(string id, string counts, string plugs, string checks) =>
            Event(
                "operation-refitted",
                $$""","operationId":"{{id}}","counts":{{counts}},"plugs":{{plugs}},"checks":{{checks}}"""
            );
        string[] events =
        [
            Event("opened", ""","number":"J-old","machine":{"layoutId":"ostrel-ot50","place":"Cellar"}"""),
            Event("targets-chosen", ""","targets":["front-felt"],"faultId":"","waysIn":{},"reason":"" """),
            Event("safety-signed", ""","items":["unplug","dead","cool","gloves","edges","vent"],"signedBy":"A" """),
        ];
        var safety = new HashSet<string>();
        foreach (
            var item in Core.Tests.TestShop.Shop.Handbook.SafetyOf(
                Core.Tests.TestShop.Machine("ostrel-ot50").Layout,
                "plug",
                "electric"
            )
        )
        {
            safety.Add($"\"{item.Id}\"");
        }
        events[2] = Event("safety-signed", $$""","items":[{{string.Join(',', safety)}}],"signedBy":"A" """);
        events =
        [
            .. events,
            Done("screen-out", "{}"),
            Done("deck-screws", """{"deck":2}"""),
            Done("top-up", "{}"),
            Done("door-plug", "{}"),
            Done("drum-hook", "{}"),
            // Both side screws were counted at once, as the format had it then.
            Done("front-screws", """{"front-side":2}"""),
            Done("front-off", "{}"),
            Back("front-off", "{}", "[]", """["felt-even","turn-panel"]"""),
            Back("drum-hook", "{}", "[]", """["hook-out"]"""),
        ];
        var answer = await host.PostJsonAsync(
            "/api/v1/jobs",
            $$"""{"format":"idrum-job","version":1,"jobId":"{{Guid.NewGuid()}}","events":[{{string.Join(',', events)}}],"photos":[]}"""
        );
        Assert.True(answer.StatusCode == HttpStatusCode.Created, await answer.Content.ReadAsStringAsync());
        var state = host.Store.Find("J-old")!.State;
        Assert.DoesNotContain<OperationId>("front-off", state.Out);
        Assert.Empty(state.StepsIn);
        Assert.Equal(64, state.LayoutHash.Length);
        await AssertPagesAsync("J-old");
        Assert.DoesNotContain(
            "came out at",
            await host.Client.GetStringAsync("/jobs/J-old/rebuild"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task What_differs_becomes_the_shops_own_layout_with_versions_and_is_there_after_a_restart()
    {
        await OpenAsync("J-1", new ProblemNoted("deck-screws", "extra-screw", "deck", 1, ""));
        foreach (var title in new[] { "Hostel", "Hostel, again" })
        {
            var answer = await host.PostFormAsync("/jobs/J-1/variant", ("id", "hostel-ot50"), ("title", title));
            Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        }
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await host.PostFormAsync("/jobs/J-1/variant", ("id", "quenby-qd62"), ("title", "No"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await host.PostFormAsync("/jobs/J-1/variant", ("id", "Not an id"), ("title", "No"))).StatusCode
        );
        await host.RestartAsync();
        Assert.Contains(
            "Hostel, again",
            await host.Client.GetStringAsync("/machines/hostel-ot50"),
            StringComparison.Ordinal
        );
        var file = await host.Client.GetStringAsync("/api/v1/layouts/hostel-ot50");
        Assert.Equal(
            3,
            JsonNode.Parse(file)!["operations"]!.AsArray().Single(o => (string)o!["id"]! == "deck-screws")![
                "fasteners"
            ]![0]!["count"]!.GetValue<int>()
        );
        var valid = await TestHost.JsonAsync(await host.PostJsonAsync("/api/v1/layouts/validate", file));
        Assert.True(valid.GetProperty("valid").GetBoolean(), valid.ToString());
        // The file of the variant alone is small, and valid as well.
        var variant = await host.Client.GetStringAsync("/jobs/J-1/variant?file=1");
        Assert.True(variant.Length < file.Length / 5);
        Assert.True(
            (await TestHost.JsonAsync(await host.PostJsonAsync("/api/v1/layouts/validate", variant)))
                .GetProperty("valid")
                .GetBoolean()
        );
    }

    [Fact]
    public async Task A_bad_file_in_the_data_folder_is_set_aside_with_its_message_and_the_shop_starts()
    {
        Directory.CreateDirectory(Path.Combine(host.DataFolder, "layouts"));
        await File.WriteAllTextAsync(
            Path.Combine(host.DataFolder, "layouts", "bad.json"),
            "{\"format\":\"idrum-layout\",\"version\":1}"
        );
        await File.WriteAllBytesAsync(
            Path.Combine(host.DataFolder, "layouts", "broken.json"),
            [0x7b, 0xff, 0xfe, 0x00]
        );
        await File.WriteAllTextAsync(
            Path.Combine(host.DataFolder, "layouts", "own.json"),
            """{"format":"idrum-layout","version":2,"id":"own","title":"Our own","extends":{"id":"quenby-qd62"}}"""
        );
        await host.RestartAsync();
        var page = await host.Client.GetStringAsync("/machines");
        Assert.Contains("bad.json", page, StringComparison.Ordinal);
        Assert.Contains("is of format 1", page, StringComparison.Ordinal);
        Assert.Contains("broken.json", page, StringComparison.Ordinal);
        Assert.Contains("Our own", page, StringComparison.Ordinal);
        Assert.Contains("Ostrel OT-50", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_changed_parent_is_offered_on_the_machines_pages_and_taken_over_with_one_act()
    {
        var own = Path.Combine(host.DataFolder, "layouts");
        Directory.CreateDirectory(own);
        string Variant(string id, string hash) =>
            new JsonObject
            {
                ["format"] = "idrum-layout",
                ["version"] = 2,
                ["id"] = id,
                ["title"] = "Of the hostel",
                ["extends"] = new JsonObject { ["id"] = "ostrel-ot50", ["hash"] = hash },
                ["drive"] = new JsonObject { ["turnOnlyForward"] = false },
            }.ToJsonString();
        await File.WriteAllTextAsync(Path.Combine(own, "hostel.json"), Variant("hostel", new string('0', 64)));
        await host.RestartAsync();
        Assert.Contains(
            "Take it with the parent as it is now",
            await host.Client.GetStringAsync("/machines"),
            StringComparison.Ordinal
        );
        var answer = await host.PostFormAsync("/machines", ("file", "hostel.json"));
        Assert.True(answer.StatusCode == HttpStatusCode.SeeOther, await answer.Content.ReadAsStringAsync());
        Assert.DoesNotContain(
            "has changed",
            await host.Client.GetStringAsync("/machines/hostel"),
            StringComparison.Ordinal
        );
        // A job pins both; then the parent's file changes and the shop starts again.
        await OpenAsync("V-1");
        await File.WriteAllTextAsync(
            LayoutFile,
            (await File.ReadAllTextAsync(LayoutFile)).Replace(
                "\"price\": 17",
                "\"price\": 23",
                StringComparison.Ordinal
            )
        );
        await host.RestartAsync();
        Assert.Contains(
            "which this was made from, has changed",
            await host.Client.GetStringAsync("/machines/hostel"),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.SeeOther, (await host.PostFormAsync("/machines/hostel")).StatusCode);
        var page = await host.Client.GetStringAsync("/machines/hostel");
        Assert.DoesNotContain("has changed", page, StringComparison.Ordinal);
        var file = JsonNode.Parse(await host.Client.GetStringAsync("/api/v1/layouts/hostel"))!;
        Assert.Contains(file["parts"]!.AsArray(), p => (double?)p!["price"] == 23);
        Assert.Null(file["drive"]!["turnOnlyForward"]);
    }
}
