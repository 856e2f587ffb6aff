using System.Net;
using System.Text;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;
using SkiaSharp;

namespace Idrum.Web.Tests;

/// <summary>What stands at the door: names, origins, methods, sizes, shapes; and a run of requests nobody would
/// send.</summary>
public sealed class DoorTests(TestHost host) : IClassFixture<TestHost>
{
    private async Task<HttpStatusCode> StatusAsync(
        HttpMethod method,
        string path,
        params (string Name, string Value)[] headers
    )
    {
        using var request = new HttpRequestMessage(method, path);
        foreach (var (name, value) in headers)
        {
            request.Headers.TryAddWithoutValidation(name, value);
        }
        using var answer = await host.Client.SendAsync(request);
        Assert.True(answer.Headers.Contains("Content-Security-Policy"), path);
        return answer.StatusCode;
    }

    [Theory]
    [InlineData("elsewhere.example")]
    [InlineData("127.0.0.1.elsewhere.example:5080")]
    [InlineData("10.0.0.1")]
    public async Task Only_the_names_it_is_served_under_are_answered(string name)
    {
        Assert.Equal((HttpStatusCode)421, await StatusAsync(HttpMethod.Get, "/", ("Host", name)));
        Assert.Equal((HttpStatusCode)421, await StatusAsync(HttpMethod.Get, "/api/v1/jobs", ("Host", name)));
    }

    [Theory]
    [InlineData("Origin", "http://elsewhere.example")]
    [InlineData("Origin", "null")]
    [InlineData("Sec-Fetch-Site", "cross-site")]
    [InlineData("Sec-Fetch-Site", "same-site")]
    public async Task Writes_from_elsewhere_are_refused_before_anything_reads_them(string header, string value)
    {
        Assert.Equal(
            HttpStatusCode.Forbidden,
            await StatusAsync(HttpMethod.Post, "/jobs/J-0147/find", (header, value))
        );
        Assert.Equal(HttpStatusCode.Forbidden, await StatusAsync(HttpMethod.Post, "/api/v1/jobs", (header, value)));
    }

    [Theory]
    [InlineData("TRACE")]
    [InlineData("OPTIONS")]
    [InlineData("PROPFIND")]
    [InlineData("DELETE")]
    public async Task Other_methods_are_not_taken(string method)
    {
        Assert.Equal(HttpStatusCode.MethodNotAllowed, await StatusAsync(new(method), "/jobs/J-0147/find"));
        Assert.Equal(HttpStatusCode.MethodNotAllowed, await StatusAsync(new(method), "/"));
    }

    [Theory]
    [InlineData("/jobs/%20")]
    [InlineData("/jobs/%01/find")]
    [InlineData("/jobs/2026%2F117/find")]
    [InlineData("/api/v1/jobs/%20")]
    public async Task A_number_no_job_can_have_is_not_here(string path) =>
        Assert.Equal(HttpStatusCode.NotFound, await StatusAsync(HttpMethod.Get, path));

    [Theory]
    [InlineData("/machines/quenby-qd62?part=water-line", HttpStatusCode.OK)]
    [InlineData("/machines/quenby-qd62?part=%00", HttpStatusCode.OK)]
    public async Task A_part_this_machine_lacks_is_said_so(string path, HttpStatusCode status) =>
        Assert.Equal(status, await StatusAsync(HttpMethod.Get, path));

    [Theory]
    [InlineData("2026/117")]
    [InlineData("new")]
    [InlineData("..")]
    [InlineData("J 1")]
    [InlineData("jöb")]
    public void A_number_that_would_make_a_job_nobody_can_reach_is_refused_at_the_field(string number) =>
        Assert.False(JobNumber.Fits(number));

    [Fact]
    public async Task Opening_goes_on_after_a_number_of_twenty_digits()
    {
        var card = new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" };
        var long_ = new JobOpened("J-20261125080000123456", card) { Id = Guid.NewGuid() };
        Assert.Equal(
            HttpStatusCode.Created,
            (await host.PostJsonAsync($"/api/v1/jobs/{Guid.NewGuid()}/events", (JobEvent)long_)).StatusCode
        );
        Assert.Contains(
            "value=\"J-0154\"",
            await host.Client.GetStringAsync("/jobs/new?machine=ostrel-ot50"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_next_that_no_header_can_hold_leads_to_the_page_itself_and_the_act_is_stored_once()
    {
        var before = host.Store.Find("J-0146")!.Version;
        var answer = await host.PostFormAsync(
            "/jobs/J-0146/find",
            ("kind", "note-added"),
            ("operationId", ""),
            ("text", "once"),
            ("next", "/jobs/é")
        );
        Assert.Equal(
            (HttpStatusCode.SeeOther, "/jobs/J-0146/find"),
            (answer.StatusCode, answer.Headers.Location?.ToString())
        );
        Assert.Equal(before + 1, host.Store.Find("J-0146")!.Version);
    }

    [Fact]
    public async Task Bodies_are_bounded_by_what_they_hold()
    {
        var path = $"/api/v1/jobs/{host.Store.Find("J-0147")!.JobId}/events";
        async Task<HttpStatusCode> Post(string to, int length) =>
            (
                await host.Client.PostAsync(
                    to,
                    new StringContent("\"" + new string('x', length) + "\"", Encoding.UTF8, "application/json")
                )
            ).StatusCode;
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, await Post(path, 65 << 10));
        Assert.Equal(HttpStatusCode.BadRequest, await Post(path, 60 << 10));
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, await Post("/api/v1/layouts/validate", 2 << 20));
        var huge = new ProblemNoted("front-off", "other", new string('f', 5000), 1, "x") { Id = Guid.NewGuid() };
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await host.PostJsonAsync(path, (JobEvent)huge)).StatusCode);
        var facts = new MachineCorrected(
            host.Store.Find("J-0147")!.State.Machine with
            {
                Facts = [.. Enumerable.Repeat("steam", 500)],
            }
        )
        {
            Id = Guid.NewGuid(),
        };
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await host.PostJsonAsync(path, (JobEvent)facts)).StatusCode);
    }

    [Fact]
    public async Task Both_clocks_are_kept_a_wrong_one_keeps_its_distances_and_the_day_after_tomorrow_is_refused()
    {
        // A phone two hours behind, which did two acts ten minutes apart without a link and sends them now.
        var phone = DateTimeOffset.UtcNow.AddHours(-2);
        foreach (var (label, ago) in new[] { ("first", 10.0), ("second", 0.0) })
        {
            var answer = await host.PostFormAsync(
                "/jobs/J-0151/complaint",
                ("kind", "timer-started"),
                ("timerId", label),
                ("label", label),
                ("minutes", "30"),
                ("madeAt", phone.AddMinutes(-ago).ToString("O")),
                ("sentAt", phone.ToString("O"))
            );
            Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        }
        var timers = host.Store.Find("J-0151")!.State.Timers;
        Assert.Equal(10, (timers[^1].StartedAt - timers[^2].StartedAt).TotalMinutes, 1);
        Assert.InRange((DateTimeOffset.UtcNow - timers[^1].StartedAt).TotalMinutes, -0.5, 1);
        var stored = host.Store.Find("J-0151")!.Log[^1];
        Assert.InRange((stored.Arrived!.Value - stored.At).TotalMinutes, 119, 121);
        var later = new NoteAdded("", "x") { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow.AddHours(50) };
        var refused = await host.PostJsonAsync(
            $"/api/v1/jobs/{host.Store.Find("J-0151")!.JobId}/events",
            (JobEvent)later
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var never = new TimerStarted("t", "x", 10)
        {
            Id = Guid.NewGuid(),
            At = new(9999, 12, 31, 23, 59, 0, TimeSpan.Zero),
        };
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostJsonAsync($"/api/v1/jobs/{host.Store.Find("J-0151")!.JobId}/events", (JobEvent)never)
            ).StatusCode
        );
    }

    [Fact]
    public async Task A_repeated_act_is_recognised_whatever_the_order_of_its_keys()
    {
        var path = $"/api/v1/jobs/{host.Store.Find("J-0145")!.JobId}/events";
        var id = Guid.NewGuid();
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(path, $$"""{"kind":"note-added","id":"{{id}}","operationId":"","text":"a"}""")
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await host.PostJsonAsync(path, $$"""{"text":"a","id":"{{id}}","operationId":"","kind":"note-added"}""")
            ).StatusCode
        );
    }

    [Fact]
    public async Task An_act_is_refused_only_where_a_later_one_touched_the_same_thing()
    {
        var job = host.Store.Find("J-0147")!;
        var path = $"/api/v1/jobs/{job.JobId}/events";
        var knew = job.Log[^1].Id;
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(
                    path,
                    (JobEvent)new FindingAnswered("level", "firm") { Id = Guid.NewGuid(), Knew = knew }
                )
            ).StatusCode
        );
        // The other device did not see that answer: another question is free, the same one is not.
        Assert.Equal(
            HttpStatusCode.Created,
            (
                await host.PostJsonAsync(
                    path,
                    (JobEvent)new FindingAnswered("chute", "clean") { Id = Guid.NewGuid(), Knew = knew }
                )
            ).StatusCode
        );
        var refused = await host.PostJsonAsync(
            path,
            (JobEvent)new FindingAnswered("level", "rocks") { Id = Guid.NewGuid(), Knew = knew }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
    }

    [Fact]
    public async Task What_is_of_the_shop_is_not_kept_by_others_and_cookies_are_secure_where_the_line_is()
    {
        foreach (
            var path in new[]
            {
                "/",
                "/jobs/J-0148/find",
                "/jobs/J-0148/report",
                "/api/v1/jobs",
                "/api/v1/jobs/J-0148/export",
                "/token",
                "/jobs/none",
            }
        )
        {
            var answer = await host.Client.GetAsync(path);
            Assert.True(answer.Headers.CacheControl?.NoStore, path);
            Assert.Contains(
                "microphone=(self)",
                answer.Headers.GetValues("Permissions-Policy").Single(),
                StringComparison.Ordinal
            );
            Assert.Equal("same-origin", answer.Headers.GetValues("Cross-Origin-Resource-Policy").Single());
        }
        // The shop alone says that a job came in as a file.
        var job = host.Store.Find("J-0146")!.JobId;
        var forged = await host.PostJsonAsync(
            $"/api/v1/jobs/{job}/events",
            (JobEvent)new JobImported(3, true) { Id = Guid.NewGuid() }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, forged.StatusCode);
    }

    [Fact]
    public async Task A_photo_taken_back_is_not_served_and_an_export_with_photos_imports_again()
    {
        using var bitmap = new SKBitmap(40, 30);
        bitmap.Erase(SKColors.Teal);
        using var png = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await host.TokenAsync("/jobs/J-0146/photos")), "__RequestVerificationToken" },
            { new StringContent("photo-added"), "kind" },
            { new StringContent(""), "operationId" },
            { new StringContent("tag"), "caption" },
            { new StringContent(Guid.NewGuid().ToString()), "id" },
            { new ByteArrayContent(png.ToArray()), "photo", "x.png" },
        };
        Assert.Equal(HttpStatusCode.SeeOther, (await host.Client.PostAsync("/jobs/J-0146/photos", form)).StatusCode);
        var added = (PhotoAdded)host.Store.Find("J-0146")!.Log[^1];
        var url = $"/jobs/J-0146/files/{added.PhotoId}";
        Assert.Equal(HttpStatusCode.OK, (await host.Client.GetAsync(url)).StatusCode);
        var exported = await host.Client.GetStringAsync("/api/v1/jobs/J-0146/export");
        await host.PostFormAsync("/jobs/J-0146/find", ("kind", "undone"), ("eventId", added.Id.ToString()));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync(url)).StatusCode);
        var other = new TestHost { Demo = false };
        await other.InitializeAsync();
        try
        {
            Assert.Equal(HttpStatusCode.Created, (await other.PostJsonAsync("/api/v1/jobs", exported)).StatusCode);
            Assert.Equal(HttpStatusCode.OK, (await other.Client.GetAsync(url)).StatusCode);
            // Its own export is the same job and comes in once more.
            Assert.Equal(
                HttpStatusCode.Created,
                (
                    await other.PostJsonAsync(
                        "/api/v1/jobs",
                        await other.Client.GetStringAsync("/api/v1/jobs/J-0146/export")
                    )
                ).StatusCode
            );
        }
        finally
        {
            await other.DisposeAsync();
        }
    }

    [Fact]
    public async Task An_import_of_five_thousand_notes_is_folded_as_it_goes()
    {
        async Task<(TimeSpan Took, HttpStatusCode Status)> ImportAsync(string number, int acts)
        {
            var log = Notes(number, acts);
            var watch = System.Diagnostics.Stopwatch.StartNew();
            var answer = await host.PostJsonAsync("/api/v1/jobs", JobArchive.Of(Guid.NewGuid(), log, []));
            return (watch.Elapsed, answer.StatusCode);
        }
        // Five times as many take about five times as long; folding each anew would take twenty-five times.
        await ImportAsync("J-warm", 200);
        var (few, many) = (await ImportAsync("J-few", 1000), await ImportAsync("J-long", JobRules.MaxEvents));
        Assert.Equal((HttpStatusCode.Created, HttpStatusCode.Created), (few.Status, many.Status));
        Assert.True(
            many.Took < 18 * few.Took + TimeSpan.FromSeconds(2),
            $"{few.Took.TotalSeconds:0.00} s for 1,000, {many.Took.TotalSeconds:0.00} s for 5,000"
        );
        // Append and import agree on how much a job holds.
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostJsonAsync(
                    $"/api/v1/jobs/{host.Store.Find("J-long")!.JobId}/events",
                    (JobEvent)new NoteAdded("", "one more") { Id = Guid.NewGuid() }
                )
            ).StatusCode
        );
    }

    private static List<JobEvent> Notes(string number, int acts)
    {
        List<JobEvent> log =
        [
            new JobOpened(number, new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" })
            {
                Id = Guid.NewGuid(),
                At = DateTimeOffset.UnixEpoch.AddYears(50),
            },
        ];
        while (log.Count < acts)
        {
            log.Add(new NoteAdded("", "n" + log.Count) { Id = Guid.NewGuid(), At = log[0].At.AddSeconds(log.Count) });
        }
        return log;
    }

    [Fact]
    public async Task A_call_back_shows_the_earlier_job_both_ways_and_a_tag_all_its_jobs()
    {
        Assert.Contains(
            "this is the call-back of it",
            await host.Client.GetStringAsync("/jobs/J-0146/complaint"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "came back from this one",
            await host.Client.GetStringAsync("/jobs/J-0141/complaint"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "/jobs/J-0149",
            await host.Client.GetStringAsync("/jobs/J-0143/complaint"),
            StringComparison.Ordinal
        );
    }
}

/// <summary>The run changes jobs, so it has a shop of its own.</summary>
public sealed class FuzzTests(TestHost host) : IClassFixture<TestHost>
{
    // The other tests of the suite run beside it; the two seconds are held in `./idrum bench fuzz`, where nothing does.
    private const double MostSeconds = 15;

    [Fact]
    public async Task Mutated_requests_meet_no_fault()
    {
        var fuzzer = new RequestFuzzer(host.Client.BaseAddress!, 5, TestShop.Content.Layouts, MostSeconds);
        var report = await fuzzer.RunAsync(TestSize.Of(700, 3000));
        // What the application tells of itself was found: a page, a form or a call that is built next is asked for too.
        Assert.True(
            fuzzer.Learned is { Pages.Count: > 60, Forms.Count: > 25, Calls.Count: > 20 },
            $"{fuzzer.Learned.Pages.Count} pages, {fuzzer.Learned.Forms.Count} forms, {fuzzer.Learned.Calls.Count} calls"
        );
        Assert.True(report.Faults.Count == 0, string.Join('\n', report.Faults.Take(12).Concat(host.Logged.Take(4))));
        Assert.True(host.Logged.IsEmpty, string.Join('\n', host.Logged.Take(4)));
        // It would be no test if nothing got through.
        Assert.True(
            report.ByStatus[200] > 90
                && report.ByStatus[422] > 40
                && report.ByStatus.GetValueOrDefault(303) >= TestSize.Of(0, 6),
            string.Join(' ', report.ByStatus)
        );
    }
}
