using System.Net;
using System.Net.Http.Headers;
using Idrum.Web.Hosting;
using Idrum.Web.Work;
using SkiaSharp;

namespace Idrum.Web.Tests;

public sealed class PageTests(TestHost host) : IClassFixture<TestHost>
{
    private const string Nasty = "<script>alert(1)</script>'; DROP TABLE job; --\" onload=\"x";

    private static (string, string)[] Card(
        string number,
        string place = "Cellar",
        string layout = "ostrel-ot50",
        string age = "9"
    ) =>
        [
            ("kind", "opened"),
            ("id", Guid.NewGuid().ToString()),
            ("jobId", Guid.NewGuid().ToString()),
            ("number", number),
            ("machine.layoutId", layout),
            ("machine.place", place),
            ("machine.ageYears", age),
            ("machine.energy", "electric"),
            ("machine.connection", "plug"),
            ("machine.units", "mm"),
        ];

    [Fact]
    public async Task A_job_that_is_looked_at_has_its_package_made_ready_behind_it()
    {
        var desk = host.Get<JobDesk>();
        await host.Client.GetStringAsync("/jobs/J-0148/strip");
        for (var n = 0; n < 200 && desk.Open("J-0148")!.Package is null; n++)
        {
            await Task.Delay(100);
        }
        var ready = desk.Open("J-0148")!.Package;
        Assert.NotNull(ready);
        await host.Client.GetStringAsync("/jobs/J-0148/package");
        Assert.Same(ready, desk.Open("J-0148")!.Package);
        // Nothing is chosen there: nothing is made.
        await host.Client.GetStringAsync("/jobs/J-0147/find");
        await Task.Delay(1500);
        Assert.Null(desk.Open("J-0147")!.Package);
    }

    [Fact]
    public async Task Every_page_answers_with_the_strict_headers()
    {
        foreach (
            var path in new[]
            {
                "/",
                "/jobs/new",
                "/jobs/import",
                "/machines",
                "/machines/learned",
                "/appointment",
                "/appointment?complaint=squeal&machine=quenby-qd62&age=9",
                "/machines/quenby-qd62?part=idler",
                "/jobs/J-0147/find",
                "/jobs/J-0147/complaint",
                "/jobs/J-0148/strip",
                "/jobs/J-0148/floor",
                "/jobs/J-0144/fit",
                "/jobs/J-0149/rebuild",
                "/jobs/J-0149/floor",
                "/jobs/J-0150/prove",
                "/jobs/J-0138/close",
                "/jobs/J-0138/report",
                "/jobs/J-0138/photos",
            }
        )
        {
            var answer = await host.Client.GetAsync(path);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            var csp = answer.Headers.GetValues("Content-Security-Policy").Single();
            Assert.DoesNotContain("unsafe", csp, StringComparison.Ordinal);
            Assert.DoesNotContain("http", csp, StringComparison.Ordinal);
            var html = await answer.Content.ReadAsStringAsync();
            Assert.DoesNotContain(" style=", html, StringComparison.Ordinal);
            Assert.DoesNotContain("https://", html, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Markup_and_sql_in_every_text_field_are_shown_as_text()
    {
        var opened = await host.PostFormAsync(
            "/jobs/new?machine=ostrel-ot50",
            [.. Card("J-nasty", Nasty), ("machine.tag", Nasty[..50])]
        );
        Assert.Equal(HttpStatusCode.SeeOther, opened.StatusCode);
        var page = "/jobs/J-nasty/complaint";
        await host.PostFormAsync(page, ("kind", "complaint-stated"), ("findings", "squeal"), ("words", Nasty));
        await host.PostFormAsync(page, ("kind", "note-added"), ("operationId", ""), ("text", Nasty));
        await host.PostFormAsync(
            page,
            ("kind", "targets-chosen"),
            ("targets", "belt"),
            ("faultId", ""),
            ("reason", Nasty)
        );
        var state = host.Store.Find("J-nasty")!.State;
        Assert.Equal((Nasty, Nasty, Nasty), (state.Words, state.Notes[0].Text, state.Found[0].Reason));
        foreach (var path in new[] { "/", page, "/jobs/J-nasty/find", "/jobs/J-nasty/strip", "/jobs/J-nasty/report" })
        {
            Assert.DoesNotContain("<script>alert", await host.Client.GetStringAsync(path), StringComparison.Ordinal);
        }
        Assert.Contains(host.Store.List(), j => j.Number == "J-nasty");
    }

    [Theory]
    [InlineData("", "ostrel-ot50", "9", "Fill this in.")]
    [InlineData("Cellar", "ghost", "9", "no such layout")]
    [InlineData("Cellar", "ostrel-ot50", "-3", "Must lie between")]
    [InlineData("Cellar", "ostrel-ot50", "very old", "A number is needed")]
    public async Task A_refused_card_comes_back_as_typed_with_the_reason(
        string place,
        string layout,
        string age,
        string words
    )
    {
        var answer = await host.PostFormAsync("/jobs/new?machine=ostrel-ot50", Card("J-refused", place, layout, age));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.Contains(words, html, StringComparison.Ordinal);
        Assert.Contains($"value=\"{age}\"", html, StringComparison.Ordinal);
        Assert.Null(host.Store.Find("J-refused"));
    }

    [Fact]
    public async Task Over_long_words_come_back_whole_and_are_not_stored()
    {
        var words = new string('w', 2500);
        var answer = await host.PostFormAsync("/jobs/J-0151/complaint", ("kind", "complaint-stated"), ("words", words));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.Contains(words, html, StringComparison.Ordinal);
        Assert.Contains("Too long: 2500", html, StringComparison.Ordinal);
        Assert.Equal("", host.Store.Find("J-0151")!.State.Words);
    }

    [Theory]
    [InlineData("nonsense")]
    [InlineData("")]
    [InlineData("operation-done")]
    [InlineData("station-entered")]
    [InlineData("machine-corrected")]
    public async Task An_act_without_its_fields_is_refused_and_never_a_500(string kind)
    {
        var before = host.Store.Find("J-0150")!.Version;
        var answer = await host.PostFormAsync(
            "/jobs/J-0150/prove",
            ("kind", kind),
            ("station", "moon"),
            ("operationId", "ghost")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Equal(before, host.Store.Find("J-0150")!.Version);
    }

    [Fact]
    public async Task The_same_form_sent_twice_is_one_act_and_changed_after_back_it_is_another()
    {
        var id = Guid.NewGuid().ToString();
        var before = host.Store.Find("J-0146")!.State.Notes.Count;
        Task<HttpResponseMessage> Send(string text) =>
            host.PostFormAsync(
                "/jobs/J-0146/find",
                ("kind", "note-added"),
                ("id", id),
                ("operationId", ""),
                ("text", text)
            );
        Assert.Equal(HttpStatusCode.SeeOther, (await Send("a")).StatusCode);
        Assert.Equal(HttpStatusCode.SeeOther, (await Send("a")).StatusCode);
        Assert.Equal(before + 1, host.Store.Find("J-0146")!.State.Notes.Count);
        Assert.Equal(HttpStatusCode.SeeOther, (await Send("b")).StatusCode);
        Assert.Equal(before + 2, host.Store.Find("J-0146")!.State.Notes.Count);
    }

    [Fact]
    public async Task A_form_without_its_token_is_refused_and_next_leads_nowhere_else()
    {
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await host.Client.PostAsync(
                    "/jobs/J-0147/find",
                    new FormUrlEncodedContent([KeyValuePair.Create("kind", "note-added")])
                )
            ).StatusCode
        );
        var answer = await host.PostFormAsync(
            "/jobs/J-0147/find",
            ("kind", "note-added"),
            ("operationId", ""),
            ("text", "x"),
            ("next", "//elsewhere.example/")
        );
        Assert.Equal("/jobs/J-0147/find", answer.Headers.Location?.ToString());
    }

    [Fact]
    public async Task A_field_of_a_form_cannot_send_the_act_to_another_job()
    {
        var other = host.Store.Find("J-0143")!.Version;
        var answer = await host.PostFormAsync(
            "/jobs/J-0147/find",
            ("kind", "note-added"),
            ("operationId", ""),
            ("text", "here"),
            ("number", "J-0143")
        );
        Assert.Equal(HttpStatusCode.SeeOther, answer.StatusCode);
        Assert.Equal(other, host.Store.Find("J-0143")!.Version);
        Assert.Contains(host.Store.Find("J-0147")!.State.Notes, n => n.Text == "here");
    }

    [Theory]
    [InlineData("/jobs/J-9999/find")]
    [InlineData("/jobs/J-9999/report")]
    [InlineData("/machines/ghost")]
    [InlineData("/nowhere")]
    [InlineData("/jobs/J-0147/photos/0000")]
    public async Task What_is_not_there_says_so(string path)
    {
        var answer = await host.Client.GetAsync(path);
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
    }

    [Fact]
    public async Task A_token_of_one_browser_is_of_no_use_to_another()
    {
        using var other = host.NewClient();
        await other.GetAsync("/jobs/J-0147/find");
        var form = new FormUrlEncodedContent(
            new Dictionary<string, string>
            {
                ["kind"] = "note-added",
                ["operationId"] = "",
                ["text"] = "forged",
                ["__RequestVerificationToken"] = await host.TokenAsync("/jobs/J-0147/find"),
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await other.PostAsync("/jobs/J-0147/find", form)).StatusCode);
    }

    [Fact]
    public async Task Every_form_of_a_page_has_an_id_of_its_own()
    {
        var html =
            await host.Client.GetStringAsync("/jobs/J-0147/find")
            + await host.Client.GetStringAsync("/jobs/J-0147/find");
        var ids = System
            .Text.RegularExpressions.Regex.Matches(html, "name=\"id\"[^>]* value=\"([^\"]+)\"")
            .Select(m => Guid.Parse(m.Groups[1].Value))
            .ToList();
        Assert.True(ids.Count > 4);
        Assert.Equal(ids.Count, ids.Distinct().Count());
    }

    [Fact]
    public async Task A_machine_corrected_to_another_layout_breaks_no_page()
    {
        await host.PostFormAsync("/jobs/new?machine=ostrel-ot50", Card("J-corrected"));
        var page = "/jobs/J-corrected/find";
        await host.PostFormAsync(page, ("kind", "finding-answered"), ("findingId", "belt"), ("outcome", "worn"));
        await host.PostFormAsync(
            page,
            ("kind", "targets-chosen"),
            ("targets", "blower"),
            ("faultId", ""),
            ("waysIn[blower-reach]", "rear-plate-off")
        );
        Assert.Equal("rear-plate-off", host.Store.Find("J-corrected")!.State.WaysIn["blower-reach"]);
        var corrected = Card("", layout: "quenby-qd62");
        corrected[0] = ("kind", "machine-corrected");
        corrected = [.. corrected.Where(f => f.Item1 != "jobId")];
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (await host.PostFormAsync("/jobs/J-corrected/complaint", corrected)).StatusCode
        );
        foreach (
            var station in new[]
            {
                "complaint",
                "find",
                "strip",
                "floor",
                "fit",
                "rebuild",
                "prove",
                "close",
                "report",
                "photos",
            }
        )
        {
            Assert.Equal(HttpStatusCode.OK, await host.ShownAsync("/jobs/J-corrected/" + station));
        }
    }

    private async Task<HttpResponseMessage> PhotoAsync(byte[] bytes, string id = "")
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await host.TokenAsync("/jobs/J-0145/photos")), "__RequestVerificationToken" },
            { new StringContent("photo-added"), "kind" },
            { new StringContent(""), "operationId" },
            { new StringContent("rear"), "caption" },
            { new StringContent(id), "id" },
        };
        var file = new ByteArrayContent(bytes);
        file.Headers.ContentType = new MediaTypeHeaderValue("image/jpeg");
        form.Add(file, "photo", "../../etc/passwd.jpg");
        return await host.Client.PostAsync("/jobs/J-0145/photos", form);
    }

    [Fact]
    public async Task A_photo_is_kept_and_shown_and_survives_the_export()
    {
        using var bitmap = new SKBitmap(3000, 1500);
        bitmap.Erase(SKColors.Teal);
        using var png = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        var id = Guid.NewGuid().ToString();
        // A link that drops after the photo is stored makes the phone send it again.
        Assert.Equal(HttpStatusCode.SeeOther, (await PhotoAsync(png.ToArray(), id)).StatusCode);
        Assert.Equal(HttpStatusCode.SeeOther, (await PhotoAsync(png.ToArray(), id)).StatusCode);
        var photo = host.Store.Find("J-0145")!.State.Photos.Single();
        var jpeg = await host.Client.GetByteArrayAsync($"/jobs/J-0145/files/{photo.PhotoId}");
        using var shown = SKBitmap.Decode(jpeg);
        Assert.Equal((1600, 800), (shown.Width, shown.Height));
        Assert.Contains(
            photo.PhotoId,
            await host.Client.GetStringAsync("/api/v1/jobs/J-0145/export"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task The_bench_shows_closed_jobs_a_page_at_a_time_and_a_row_without_its_acts_is_no_job()
    {
        var many = new TestHost();
        await many.InitializeAsync();
        try
        {
            using (var connection = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={many.DatabasePath}"))
            {
                connection.Open();
                using var columns = connection.CreateCommand();
                columns.CommandText =
                    "SELECT group_concat(name) FROM pragma_table_info('job') WHERE name NOT IN ('job_id', 'number', 'last_at')";
                var rest = (string)columns.ExecuteScalar()!;
                using var copy = connection.CreateCommand();
                copy.CommandText =
                    $"WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 70) INSERT INTO job (job_id, number, last_at, {rest}) SELECT printf('00000000-0000-4000-8000-%012d', i), printf('C-%03d', i), '2020-01-01T00:00:00.0000000+00:00', {rest} FROM job, n WHERE number = 'J-0138'";
                Assert.Equal(70, copy.ExecuteNonQuery());
            }
            int Copies(string page) => System.Text.RegularExpressions.Regex.Count(page, ">C-[0-9]{3}<");
            var seen = new List<int>();
            foreach (var page in new[] { "/", "/?closed=2", "/?closed=3", "/?closed=4", "/?closed=x", "/?closed=-1" })
            {
                var answer = await many.Client.GetAsync(page);
                Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
                seen.Add(Copies(await answer.Content.ReadAsStringAsync()));
            }
            Assert.Equal([27, 30, 13, 0, 27, 27], seen);
            Assert.Contains("/?closed=2", await many.Client.GetStringAsync("/"), StringComparison.Ordinal);
            Assert.DoesNotContain(
                "/?closed=4",
                await many.Client.GetStringAsync("/?closed=3"),
                StringComparison.Ordinal
            );
            Assert.Equal(HttpStatusCode.NotFound, (await many.Client.GetAsync("/jobs/C-001/report")).StatusCode);
            Assert.Empty(many.Logged);
        }
        finally
        {
            await many.DisposeAsync();
        }
    }

    [Fact]
    public async Task What_is_not_a_picture_or_too_large_is_refused()
    {
        var text = await PhotoAsync("GIF? no, just text."u8.ToArray());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, text.StatusCode);
        Assert.Contains("not a picture", await text.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        var large = await PhotoAsync(new byte[(10 << 20) + 1]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, large.StatusCode);
        Assert.Contains("10 MB is the most", await large.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Fonts_scripts_and_their_licences_are_served_from_here()
    {
        var licences = await host.Client.GetStringAsync("/licences.txt");
        Assert.Contains("Barlow Condensed", licences, StringComparison.Ordinal);
        Assert.Contains("htmx", licences, StringComparison.Ordinal);
        foreach (var path in new[] { "/app.css", "/htmx.js", "/alpine.js", "/app.js", "/fonts/atkinson-next.woff2" })
        {
            Assert.Equal(HttpStatusCode.OK, (await host.Client.GetAsync(path)).StatusCode);
        }
    }

    [Fact]
    public void Words_on_the_command_line_are_understood_or_named()
    {
        Assert.Equal(
            (7000, true),
            (IdrumOptions.Parse(["--port", "7000", "--demo"]).Port, IdrumOptions.Parse(["--demo"]).Demo)
        );
        Assert.Throws<ArgumentException>(() => IdrumOptions.Parse(["--port", "70000"]));
        Assert.Throws<ArgumentException>(() => IdrumOptions.Parse(["--wat"]));
    }

    [Fact]
    public void A_port_asked_for_by_name_and_taken_is_an_error_and_otherwise_the_next_is_taken()
    {
        var taken = host.Client.BaseAddress!.Port;
        Assert.Throws<IOException>(() => PortChoice.Choose(taken, _ => { }));
        using var blocker = new System.Net.Sockets.TcpListener(IPAddress.Loopback, IdrumOptions.DefaultPort);
        try
        {
            blocker.Start();
        }
        catch (System.Net.Sockets.SocketException)
        {
            // Something else holds it already, which serves as well.
        }
        var said = "";
        Assert.NotEqual(IdrumOptions.DefaultPort, PortChoice.Choose(null, s => said = s));
        Assert.Contains("is taken", said, StringComparison.Ordinal);
    }
}
