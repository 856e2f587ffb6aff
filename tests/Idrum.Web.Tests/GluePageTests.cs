using System.Globalization;
using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>Glue on the pages: the rest of the visit, what the tubes say, the heat run that comes later.</summary>
public sealed class GluePageTests(TestHost host) : IClassFixture<TestHost>
{
    // A felt that was coated just now, and a belt still to be changed.
    private const string Fit = "/jobs/J-0144/fit";

    private async Task<HttpResponseMessage> ShopAsync(string act, params (string Name, string Value)[] fields)
    {
        var token = await host.TokenAsync("/shop");
        return await host.Client.PostAsync(
            "/shop/" + act,
            new FormUrlEncodedContent(
                fields
                    .Append(("__RequestVerificationToken", token))
                    .Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))
            )
        );
    }

    private static (string, string)[] Label(string earliest, string latest, string cure = "60") =>
        [
            ("adhesive", "contact-cement"),
            ("earliest", earliest),
            ("latest", latest),
            ("press", "2"),
            ("handling", "10"),
            ("cure", cure),
            ("celsius", "20"),
        ];

    [Fact]
    public async Task While_a_felt_waits_the_page_names_one_act_for_now_and_the_barred_heat_run_goes_into_the_calendar()
    {
        var page = await host.Client.GetStringAsync(Fit);
        Assert.Contains("The rest of this visit", page, StringComparison.Ordinal);
        Assert.Contains("Tell the customer: between", page, StringComparison.Ordinal);
        Assert.Contains(
            "?part=belt",
            page[page.IndexOf("Meanwhile:", StringComparison.Ordinal)..],
            StringComparison.Ordinal
        );
        Assert.Contains("class=\"window\"", page, StringComparison.Ordinal);
        Assert.Contains("A helper is here", page, StringComparison.Ordinal);
        Assert.Contains("By two.", await host.Client.GetStringAsync(Fit + "?persons=2"), StringComparison.Ordinal);
        await CalendarAsync();
    }

    [Fact]
    public async Task A_label_typed_once_wins_and_one_that_cannot_be_is_refused_at_its_field_with_what_was_typed()
    {
        var refused = await ShopAsync("label", Label("20", "10"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        var page = await refused.Content.ReadAsStringAsync();
        Assert.Contains(
            "Join before, min: The latest join (10 min) lies before the earliest (20 min).",
            page,
            StringComparison.Ordinal
        );
        Assert.Contains("value=\"10\" aria-invalid=\"true\"", page, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await ShopAsync("label", Label("soon", "10"))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await ShopAsync("label", Label("5", "10", "-3"))).StatusCode);
        foreach (var none in new[] { "200", "NaN", "Infinity", "1e400", "" })
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await ShopAsync("warmth", ("warmth", none))).StatusCode);
        }
        Assert.Equal(HttpStatusCode.OK, (await host.Client.GetAsync("/shop")).StatusCode);
        Assert.Contains(
            "name=\"joinMinutes\" type=\"text\" inputmode=\"decimal\" value=\"12\"",
            await host.Client.GetStringAsync(Fit + "?part=front-felt&again=yes"),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.OK, (await ShopAsync("label", Label("7", "14"))).StatusCode);
        Assert.Contains(
            "name=\"joinMinutes\" type=\"text\" inputmode=\"decimal\" value=\"7\"",
            await host.Client.GetStringAsync(Fit + "?part=front-felt&again=yes"),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.OK, (await ShopAsync("warmth", ("warmth", "10"))).StatusCode);
        Assert.Contains(
            "name=\"joinMinutes\" type=\"text\" inputmode=\"decimal\" value=\"14\"",
            await host.Client.GetStringAsync(Fit + "?part=front-felt&again=yes"),
            StringComparison.Ordinal
        );
        await ShopAsync("label", ("adhesive", "contact-cement"), ("forget", "yes"));
        await ShopAsync("warmth", ("warmth", "20"));
        Assert.Contains(
            "value=\"12\"",
            await host.Client.GetStringAsync(Fit + "?part=front-felt&again=yes"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_job_taken_along_in_the_middle_of_gluing_holds_the_second_coat()
    {
        var package = await host.Client.GetStringAsync("/jobs/J-0144/package");
        var view = package[package.IndexOf("data-key=\"fit:front-felt:coat\"", StringComparison.Ordinal)..];
        Assert.Contains(
            "data-kind=\"glue-coated\"",
            view[..view.IndexOf("</template>", StringComparison.Ordinal)],
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData("J-0144")]
    [InlineData("J-0148")]
    [InlineData("J-0149")]
    public async Task The_forms_of_a_package_carry_no_id_and_no_token_the_phone_gives_both(string number)
    {
        var views = (await host.Client.GetStringAsync($"/jobs/{number}/package")).Split("<template data-key=")[1..];
        Assert.Contains(views, v => v.Contains("<form", StringComparison.Ordinal));
        Assert.All(views, v =>
            Assert.False(
                v.Contains("__RequestVerificationToken", StringComparison.Ordinal)
                    || v.Contains("name=\"id\"", StringComparison.Ordinal)
                    || v.Contains("name=\"knew\"", StringComparison.Ordinal),
                v[..60]
            )
        );
    }

    [Fact]
    public async Task Taken_along_a_motor_says_how_long_its_wheel_is_tried_and_which_small_parts_come_over()
    {
        var job = Guid.NewGuid();
        async Task DoAsync(JobEvent act) =>
            Assert.Equal(
                AppendOutcome.Added,
                (
                    await host.Store.AppendAsync(job, act with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow })
                ).Outcome
            );
        await DoAsync(new JobOpened("J-4001", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }));
        await DoAsync(new TargetsChosen(["motor"], "", new Dictionary<string, OperationId>(), "test"));
        var state = host.Store.Find("J-4001")!.State;
        await DoAsync(
            new SafetySigned([.. JobSafety.Of(state, host.Shop.MachineOf(state)).Select(i => i.Id)], "A. Hand")
        );
        var package = await host.Client.GetStringAsync("/jobs/J-4001/package");
        var view = package[package.IndexOf("data-key=\"fit:motor:done\"", StringComparison.Ordinal)..];
        view = view[..view.IndexOf("</template>", StringComparison.Ordinal)];
        Assert.Matches(@"Try for \d+ min, then take the unit", view);
        Assert.DoesNotContain("name=\"unitPrice\"", view, StringComparison.Ordinal);
        Assert.Contains("class=\"stack\"", view, StringComparison.Ordinal);
        Assert.Contains("left-hand nut<small>goes on again", view, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_wheel_that_sits_is_tried_for_the_minutes_that_pay_and_an_absurd_price_is_named()
    {
        const string motor = "/jobs/J-0149/fit?part=motor";
        Assert.Contains(
            "The blower wheel will not come off?",
            await host.Client.GetStringAsync(motor),
            StringComparison.Ordinal
        );
        var page = await host.Client.GetStringAsync(motor + "&motorPrice=118&unitPrice=150&ratePerHour=60");
        Assert.Matches(@"Try for \d+ min, then take the unit", page);
        Assert.Contains(
            "Take the unit at once",
            await host.Client.GetStringAsync(motor + "&motorPrice=118&unitPrice=118&ratePerHour=60"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Must lie between",
            await host.Client.GetStringAsync(motor + "&motorPrice=-4&unitPrice=150&ratePerHour=60"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "A number is needed here.",
            await host.Client.GetStringAsync(motor + "&motorPrice=118&unitPrice=&ratePerHour=60"),
            StringComparison.Ordinal
        );
        Assert.DoesNotContain(
            "will not come off",
            await host.Client.GetStringAsync(Fit + "?part=belt"),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_machine_left_open_says_what_it_waits_for_where_its_screws_lie_and_where_to_go_on()
    {
        // A blower is on order for it.
        Assert.Contains(
            "/jobs/J-0145/left",
            await host.Client.GetStringAsync("/jobs/J-0145/fit"),
            StringComparison.Ordinal
        );
        var sheet = await host.Client.GetStringAsync("/jobs/J-0145/left");
        var state = host.Store.Find("J-0145")!.State;
        Assert.Contains("do not plug in", sheet, StringComparison.Ordinal);
        Assert.Contains("on order, due", sheet, StringComparison.Ordinal);
        Assert.All(state.Removals.SelectMany(r => r.Trays.Values).Distinct(), tray =>
            Assert.Matches($"<td data-is=\"tray\">[A-Z, ]*{tray}", sheet)
        );
        Assert.Contains("Fit: Blower wheel", sheet, StringComparison.Ordinal);
        Assert.Contains("signed anew", sheet, StringComparison.Ordinal);
        // Being closed, it goes on closing: what is back in does not come out again.
        var closing = await host.Client.GetStringAsync("/jobs/J-0149/left");
        Assert.Contains(
            "<p>Rebuild: ",
            closing[closing.IndexOf("Go on at", StringComparison.Ordinal)..],
            StringComparison.Ordinal
        );
        Assert.Contains(
            "Nothing is open",
            await host.Client.GetStringAsync("/jobs/J-0146/left"),
            StringComparison.Ordinal
        );
    }

    private async Task CalendarAsync()
    {
        const string felt = "/jobs/J-0144/fit?part=front-felt";
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/jobs/J-0144/heat-run.ics")).StatusCode);
        var early = await host.PostFormAsync(felt, ("kind", "glue-joined"), ("partId", "front-felt"), ("reason", ""));
        Assert.Contains("Too early", await early.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        await host.PostFormAsync(
            felt,
            ("kind", "glue-joined"),
            ("partId", "front-felt"),
            ("reason", "The label says five.")
        );
        var cured = host.Store.Find("J-0144")!.State.CuredAt!.Value;
        var calendar = await host.Client.GetAsync("/jobs/J-0144/heat-run.ics");
        Assert.Equal("text/calendar", calendar.Content.Headers.ContentType!.MediaType);
        var text = await calendar.Content.ReadAsStringAsync();
        Assert.Contains("BEGIN:VEVENT", text, StringComparison.Ordinal);
        Assert.Contains(
            string.Create(CultureInfo.InvariantCulture, $"DTSTART:{cured.UtcDateTime:yyyyMMdd'T'HHmmss}Z"),
            text,
            StringComparison.Ordinal
        );
        // Slipped, there is nothing to be heated yet; the felt is joined again.
        await host.PostFormAsync(felt, ("kind", "glue-slipped"), ("partId", "front-felt"));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/jobs/J-0144/heat-run.ics")).StatusCode);
        Assert.Contains(
            "set it again when it is tackier",
            await host.Client.GetStringAsync(felt),
            StringComparison.Ordinal
        );
    }
}
