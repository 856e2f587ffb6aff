using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Money;
using Idrum.Web.Shop;

namespace Idrum.Web.Tests;

/// <summary>Parts, estimate, price and what the shop charges, on the pages.</summary>
public sealed class MoneyPageTests(TestHost host) : IClassFixture<TestHost>
{
    private static readonly (string, string)[] Money =
    [
        ("currency", "EUR"),
        ("ratePerHour", "72"),
        ("stepMinutes", "15"),
        ("tripCharge", "28"),
        ("tripMinutes", "40"),
        ("taxPercent", "20"),
        ("paper", "A4"),
        ("units", "mm"),
        ("signers", "M. Tannhof"),
    ];

    private async Task<HttpResponseMessage> ShopAsync(params (string Name, string Value)[] changed)
    {
        var token = await host.TokenAsync("/shop");
        var fields = Money
            .Where(m => changed.All(c => c.Name != m.Item1))
            .Concat(changed)
            .Append(("__RequestVerificationToken", token));
        return await host.Client.PostAsync(
            "/shop/money",
            new FormUrlEncodedContent(fields.Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2)))
        );
    }

    private async Task<HttpResponseMessage> VansAsync(params (string Name, string Value)[] fields) =>
        await host.Client.PostAsync(
            "/shop/vans",
            new FormUrlEncodedContent(
                fields
                    .Append(("__RequestVerificationToken", await host.TokenAsync("/shop")))
                    .Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))
            )
        );

    private JobState State(string number) => host.Store.Find(number)!.State;

    [Fact]
    public async Task What_the_van_holds_is_taken_once_and_is_gone_for_the_next_job()
    {
        const string page = "/jobs/J-0153/parts";
        Assert.Equal(HttpStatusCode.OK, (await VansAsync(("holds:van-2", ""))).StatusCode);
        var before = await host.Client.GetStringAsync(page);
        Assert.Contains("1 part is still to be had", before, StringComparison.Ordinal);
        Assert.Contains("Van 1 holds all of it", before, StringComparison.Ordinal);
        var id = Guid.NewGuid().ToString();
        foreach (var _ in new[] { 1, 2 })
        {
            // Sent twice, as by a bad link.
            Assert.Equal(
                HttpStatusCode.SeeOther,
                (
                    await host.PostFormAsync(
                        page,
                        ("kind", "article-bought"),
                        ("id", id),
                        ("articleId", "QD62-IDLER"),
                        ("quantity", "1"),
                        ("source", "van")
                    )
                ).StatusCode
            );
        }
        var line = Assert.Single(State("J-0153").Lines.Values);
        Assert.Equal(("van", 1, "QD62-IDLER"), (line.Source, line.Came, line.ArticleId));
        Assert.Contains("All parts are here", await host.Client.GetStringAsync(page), StringComparison.Ordinal);
        Assert.DoesNotContain("QD62-IDLER", await host.Client.GetStringAsync("/shop"), StringComparison.Ordinal);
        var none = await host.PostFormAsync(
            "/jobs/J-0149/parts",
            ("kind", "article-bought"),
            ("articleId", "QD62-IDLER"),
            ("quantity", "1"),
            ("source", "van")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, none.StatusCode);
        Assert.Contains("Van 1 holds none of it.", await none.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_order_comes_once_and_what_is_left_over_has_its_day_in_the_calendar()
    {
        const string page = "/jobs/J-0145/parts";
        Assert.Contains("On order, due", await host.Client.GetStringAsync(page), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/jobs/J-0145/returns.ics")).StatusCode);
        var line = Assert.Single(State("J-0145").Lines.Values).LineId;
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostFormAsync(
                    page,
                    ("kind", "order-settled"),
                    ("lineId", line),
                    ("outcome", "came"),
                    ("quantity", "5")
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await host.PostFormAsync(
                    page,
                    ("kind", "order-settled"),
                    ("lineId", line),
                    ("outcome", "came"),
                    ("quantity", "one")
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (
                await host.PostFormAsync(
                    page,
                    ("kind", "order-settled"),
                    ("lineId", line),
                    ("outcome", "wrong"),
                    ("quantity", "1")
                )
            ).StatusCode
        );
        var again = await host.PostFormAsync(
            page,
            ("kind", "order-settled"),
            ("lineId", line),
            ("outcome", "came"),
            ("quantity", "1")
        );
        Assert.Contains("received once", await again.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("1 part is still to be had", await host.Client.GetStringAsync(page), StringComparison.Ordinal);
        var calendar = await host.Client.GetStringAsync("/jobs/J-0145/returns.ics");
        Assert.Contains(
            "Left over: back to the supplier by",
            await host.Client.GetStringAsync("/"),
            StringComparison.Ordinal
        );
        Assert.Contains("last day to return 1 × Blower wheel", calendar, StringComparison.Ordinal);
        // A last day is a day, in the shop's zone, with a word in the morning.
        Assert.Contains(
            $"DTSTART;VALUE=DATE:{host.Shop.Terms.DayOf(State("J-0145").Lines.Values.Single().ReturnBy!.Value):yyyyMMdd}",
            calendar,
            StringComparison.Ordinal
        );
        Assert.Contains("BEGIN:VALARM", calendar, StringComparison.Ordinal);
        Assert.Contains("did not fit", calendar, StringComparison.Ordinal);
        var ordered = await host.PostFormAsync(
            page,
            ("kind", "cover-bought"),
            ("id", Guid.NewGuid().ToString()),
            ("source", "supplier")
        );
        Assert.Equal(HttpStatusCode.SeeOther, ordered.StatusCode);
        Assert.Equal(2, State("J-0145").Lines.Count);
    }

    [Fact]
    public async Task What_was_paid_goes_into_the_jobs_sums_and_a_number_that_nobody_knows_is_named()
    {
        const string page = "/jobs/J-0149/parts";
        await host.PostFormAsync(
            page,
            ("kind", "article-bought"),
            ("articleId", "QD62-BELT"),
            ("quantity", "2"),
            ("source", "supplier")
        );
        var line = State("J-0149").Lines.Values.Single(l => l.ArticleId == "QD62-BELT");
        Task<HttpResponseMessage> Came(string quantity, string paid) =>
            host.PostFormAsync(
                page,
                ("kind", "order-settled"),
                ("lineId", line.LineId),
                ("outcome", "came"),
                ("quantity", quantity),
                ("paidEach", paid),
                ("paidIn", "gold")
            );
        var bad = await Came("1", "-3");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, bad.StatusCode);
        var text = await bad.Content.ReadAsStringAsync();
        Assert.Contains("value=\"-3\"", text, StringComparison.Ordinal);
        Assert.Contains("field-wrong", text, StringComparison.Ordinal);
        // Nothing said: the list's price stays.
        Assert.Equal(HttpStatusCode.SeeOther, (await Came("1", "")).StatusCode);
        Assert.Equal(
            (line.Price, null),
            (State("J-0149").Lines[line.LineId].Price, State("J-0149").Lines[line.LineId].Paid)
        );
        Assert.Equal(HttpStatusCode.SeeOther, (await Came("1", "24,50")).StatusCode);
        var paid = State("J-0149").Lines[line.LineId];
        Assert.Equal((2, 24.5), (paid.Came, paid.Price));
        // In which currency is the shop's to say.
        Assert.Equal("EUR", paid.Paid!.Currency);
        // A number of old is moved to its article, one that nobody knows is named and kept.
        await VansAsync(("holds:van-1", "OT50/belt 2\nQX9/ghost 1"));
        var shop = await host.Client.GetStringAsync("/shop");
        Assert.Contains("OT50-BELT 2", shop, StringComparison.Ordinal);
        Assert.Contains("QX9/ghost is no number of a machine or list here", shop, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Times_are_those_of_the_shops_wall_and_an_unknown_zone_is_named()
    {
        var opened = State("J-0138").OpenedAt.ToUniversalTime();
        string At(string zone) =>
            TimeZoneInfo
                .ConvertTime(opened, TimeZoneInfo.FindSystemTimeZoneById(zone))
                .ToString("d MMM yyyy HH:mm", System.Globalization.CultureInfo.InvariantCulture);
        var seen = new HashSet<string>();
        foreach (var zone in new[] { "Europe/Vienna", "America/Los_Angeles", "UTC" })
        {
            Assert.Equal(HttpStatusCode.OK, (await ShopAsync(("timeZone", zone))).StatusCode);
            Assert.Contains(
                At(zone),
                await host.Client.GetStringAsync("/jobs/J-0138/report"),
                StringComparison.Ordinal
            );
            seen.Add(At(zone));
        }
        Assert.Equal(3, seen.Count);
        var bad = await ShopAsync(("timeZone", "Europe/Nowhere"));
        Assert.Contains("knows no time zone", await bad.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal("UTC", host.Shop.Terms.TimeZone);
    }

    [Fact]
    public async Task An_estimate_is_given_agreed_to_and_kept_and_the_currency_stays_while_it_is_open()
    {
        const string page = "/jobs/J-0148/estimate";
        Assert.Contains("The estimate, as reckoned", await host.Client.GetStringAsync(page), StringComparison.Ordinal);
        var bad = await host.PostFormAsync(
            page,
            ("kind", "estimate-given"),
            ("lines[0].kind", "labour"),
            ("lines[0].what", "Work"),
            ("lines[0].quantity", "-1"),
            ("lines[0].unit", "h"),
            ("lines[0].each", "lots")
        );
        var refused = await bad.Content.ReadAsStringAsync();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, bad.StatusCode);
        Assert.Contains("value=\"lots\" aria-invalid=\"true\"", refused, StringComparison.Ordinal);
        Assert.Contains("A number from 0 to 1000.", refused, StringComparison.Ordinal);
        Assert.Null(State("J-0148").Estimate);
        await host.PostFormAsync(
            page,
            ("kind", "estimate-given"),
            ("lines[0].kind", "labour"),
            ("lines[0].what", "Work"),
            ("lines[0].quantity", "1,5"),
            ("lines[0].unit", "h"),
            ("lines[0].each", "72"),
            ("lines[1].kind", "part"),
            ("lines[1].what", "=Belt"),
            ("lines[1].quantity", "1"),
            ("lines[1].unit", "piece"),
            ("lines[1].each", "19"),
            ("lines[2].kind", "other"),
            ("lines[2].what", ""),
            ("lines[2].quantity", "0"),
            ("lines[2].unit", "piece"),
            ("lines[2].each", "0")
        );
        var given = State("J-0148").Estimate!;
        Assert.Equal(152.4, given.Sum.Total);
        Assert.Equal(2, given.Sum.Lines.Count);
        Assert.True(given.Low < 152.4 && given.High > 152.4);
        await host.PostFormAsync(
            page,
            ("kind", "estimate-approved"),
            ("estimateId", given.Id.ToString("N")),
            ("name", "Frau Lärch")
        );
        Assert.Contains(
            "Agreed to by Frau L",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync(page)),
            StringComparison.Ordinal
        );
        var csv = await host.Client.GetStringAsync("/jobs/J-0148/sums.csv");
        Assert.Contains("J-0148,estimate,total,,1,,152.4,152.4,EUR", csv, StringComparison.Ordinal);
        Assert.Contains("'=Belt", csv, StringComparison.Ordinal);
        var currency = await ShopAsync(("currency", "CHF"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, currency.StatusCode);
        Assert.Contains(
            "J-0148: an estimate stands in EUR",
            await currency.Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
        Assert.Contains("EUR", await host.Client.GetStringAsync("/jobs/J-0149/parts"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_job_that_was_worked_is_priced_from_what_was_done_and_the_report_says_it()
    {
        const string page = "/jobs/J-0150/estimate";
        Assert.Contains(
            "The price, from what was done",
            await host.Client.GetStringAsync(page),
            StringComparison.Ordinal
        );
        await host.PostFormAsync(
            page,
            ("kind", "price-made"),
            ("lines[0].kind", "labour"),
            ("lines[0].what", "Work"),
            ("lines[0].quantity", "1"),
            ("lines[0].unit", "h"),
            ("lines[0].each", "72")
        );
        Assert.Equal(86.4, State("J-0150").Price!.Sum.Total);
        var report = await host.Client.GetStringAsync("/jobs/J-0150/report");
        Assert.Contains("<b>86.40</b>", report, StringComparison.Ordinal);
        Assert.Contains("/paper/a4.css", report, StringComparison.Ordinal);
        Assert.Equal("@page{size:a4}", await host.Client.GetStringAsync("/paper/a4.css"));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/paper/a9.css")).StatusCode);
    }

    [Fact]
    public async Task What_the_shop_charges_is_on_every_page_and_what_cannot_be_is_refused_with_what_was_typed()
    {
        foreach (
            var (field, value) in new[]
            {
                ("ratePerHour", "-3"),
                ("ratePerHour", "much"),
                ("taxPercent", "300"),
                ("currency", "euro"),
                ("stepMinutes", "0"),
                ("tripCharge", "-1"),
                ("paper", "A9"),
                ("holds:van-1", "belt"),
                ("holds:van-1", "a 1\na 2"),
                ("holds:van-1", "a -4"),
                ("name:van-1", "VAN 2"),
                ("drivers:van-2", "R. Ebnet, m. tannhof"),
                ("drivers:another", "nobody"),
            }
        )
        {
            var vans = field.Contains(':');
            if (field == "drivers:another")
            {
                // A driver without a van: nothing is made of it, and nothing else is changed.
                Assert.Equal(HttpStatusCode.OK, (await VansAsync((field, value))).StatusCode);
                Assert.Equal(2, host.Get<VanDesk>().Places().Count);
                continue;
            }
            var answer = vans ? await VansAsync((field, value)) : await ShopAsync((field, value));
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains("Not kept:", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        Assert.Contains("value=\"72\"", await host.Client.GetStringAsync("/shop"), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await ShopAsync(("ratePerHour", "90"))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await VansAsync(("holds:van-1", "QD62-REAR-FELT 4"))).StatusCode);
        Assert.Contains("QD62-REAR-FELT 4", await host.Client.GetStringAsync("/shop"), StringComparison.Ordinal);
        Assert.Contains(
            "value=\"90.00\"",
            await host.Client.GetStringAsync("/jobs/J-0149/estimate"),
            StringComparison.Ordinal
        );
        Assert.Equal(90, host.Shop.Catalog.Costs.RatePerHour);
        // It is still so after a restart.
        await host.RestartAsync();
        Assert.Equal(90, host.Shop.Catalog.Costs.RatePerHour);
        await ShopAsync();
    }

    [Fact]
    public async Task A_shop_that_reads_fahrenheit_types_and_reads_it_and_nothing_else_changes()
    {
        const string coat = "/jobs/J-0144/fit?part=front-felt&again=yes";
        Assert.Contains(
            ">20 °C</option>",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync(coat)),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await ShopAsync(("temperature", "K"))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await ShopAsync(("temperature", "F"))).StatusCode);
        var page = WebUtility.HtmlDecode(await host.Client.GetStringAsync(coat));
        Assert.Contains("<option value=\"20\" selected=\"selected\">68 °F</option>", page, StringComparison.Ordinal);
        Assert.DoesNotContain("°C", page, StringComparison.Ordinal);
        async Task<string> WarmthAsync(string degrees)
        {
            var token = await host.TokenAsync("/shop");
            return WebUtility.HtmlDecode(
                await (
                    await host.Client.PostAsync(
                        "/shop/warmth",
                        new FormUrlEncodedContent(
                            new Dictionary<string, string>
                            {
                                ["warmth"] = degrees,
                                ["__RequestVerificationToken"] = token,
                            }
                        )
                    )
                ).Content.ReadAsStringAsync()
            );
        }
        Assert.Contains(
            "name=\"warmth\" type=\"text\" inputmode=\"decimal\" maxlength=\"6\" value=\"50\"",
            await WarmthAsync("50"),
            StringComparison.Ordinal
        );
        // Ten degrees colder, twice as long: as it is in °C.
        Assert.Contains(
            "name=\"joinMinutes\" type=\"text\" inputmode=\"decimal\" value=\"24\"",
            WebUtility.HtmlDecode(await host.Client.GetStringAsync(coat)),
            StringComparison.Ordinal
        );
        Assert.Contains("°F", await WarmthAsync("400"), StringComparison.Ordinal);
        await WarmthAsync("68");
        Assert.Equal(HttpStatusCode.OK, (await ShopAsync(("temperature", "C"))).StatusCode);
    }

    [Fact]
    public async Task What_goes_into_the_van_stands_with_its_reason_before_anyone_drives()
    {
        var page = await host.Client.GetStringAsync("/jobs/J-0147/take");
        Assert.Contains("Finished in one visit in", page, StringComparison.Ordinal);
        Assert.Matches("4 × Roller", page);
        Assert.Contains("A second trip costs EUR", page, StringComparison.Ordinal);
        Assert.Contains("Two open wrenches", page, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Mending_or_a_new_one_is_only_said_where_the_price_of_a_new_one_is()
    {
        Assert.DoesNotContain(
            "cheaper",
            await host.Client.GetStringAsync("/jobs/J-0149/estimate"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "a year",
            await host.Client.GetStringAsync("/jobs/J-0149/estimate?new=650"),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "A price above 0",
            await host.Client.GetStringAsync("/jobs/J-0149/estimate?new=-4"),
            StringComparison.Ordinal
        );
    }
}
