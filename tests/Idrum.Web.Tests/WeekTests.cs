using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Tests;

/// <summary>The week: from the telephone to the job and its end; calendars out and in; what is wrong is said and nothing is lost.</summary>
public sealed class WeekTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    private WeekStore Week => host.Get<WeekStore>();

    private DateOnly Today => host.Shop.Terms.DayOf(DateTimeOffset.UtcNow);

    private static string Iso(DateOnly day) => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private Task<HttpResponseMessage> KeepAsync(params (string, string)[] fields) =>
        host.PostFormAsync(
            "/week/appointment",
            [
                ("day", Iso(Today.AddDays(5))),
                ("place", "Dairy Hinterau"),
                ("travel", "15"),
                ("usual", "70"),
                ("high", "120"),
                ("low", "40"),
                .. fields,
            ]
        );

    internal static async Task<string> ReadAsync(TestHost host, string calendar)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(await host.TokenAsync("/week")), "__RequestVerificationToken" },
            { new StringContent("read"), "do" },
            { new ByteArrayContent(Encoding.UTF8.GetBytes(calendar)), "calendar", "a.ics" },
        };
        return WebUtility.HtmlDecode(await (await host.Client.PostAsync("/week", form)).Content.ReadAsStringAsync());
    }

    private Task<string> ReadAsync(string calendar) => ReadAsync(host, calendar);

    private static string Event(string uid, string start, params string[] more) =>
        string.Join(
            "\r\n",
            ["BEGIN:VEVENT", $"UID:{uid}", $"DTSTART{start}", "SUMMARY:Mill Obertal", .. more, "END:VEVENT"]
        );

    internal static string Calendar(params string[] events) =>
        string.Join("\r\n", ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//y//EN", .. events, "END:VCALENDAR", ""]);

    [Theory]
    [InlineData("{0}{\"a\":1}")]
    [InlineData("<script>alert(1)</script>")]
    public async Task What_was_typed_stands_in_what_is_wrong_with_it_as_words(string typed)
    {
        using var answer = await host.PostFormAsync("/week/appointment", ("job", typed), ("day", "2026-12-01"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await answer.Content.ReadAsStringAsync();
        Assert.Contains("There is no job", page);
        Assert.DoesNotContain("<script>alert", page);
        Assert.Contains("</main>", page);
        Assert.Empty(host.Logged);
    }

    [Theory]
    [InlineData("burning", "do not start it again before somebody was there")]
    [InlineData("hums", "Do not press start again")]
    [InlineData("squeal", "")]
    public async Task Whoever_calls_of_what_may_burn_is_told_to_leave_it_off_until_somebody_is_there(
        string complaint,
        string told
    )
    {
        Assert.Equal(HttpStatusCode.SeeOther, (await KeepAsync(("complaint", complaint))).StatusCode);
        foreach (
            var page in new[]
            {
                $"/appointment?complaint={complaint}&machine=ostrel-ot50",
                $"/week/appointment?complaint={complaint}",
                $"/week/day?on={Iso(Today.AddDays(5))}",
            }
        )
        {
            var said = await host.Client.GetStringAsync(page);
            Assert.Equal(told.Length > 0, said.Contains("Tell ", StringComparison.Ordinal));
            Assert.Contains(told, said, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task What_was_said_on_the_telephone_is_in_the_job_opened_of_it()
    {
        var asked = await host.Client.GetStringAsync("/appointment?complaint=thump&machine=ostrel-ot50&age=9");
        var usual = Regex.Match(asked, "name=\"usual\" value=\"([0-9]+)\"").Groups[1].Value;
        var form = await host.Client.GetStringAsync(
            $"/week/appointment?complaint=thump&machine=ostrel-ot50&age=9&usual={usual}&high=200"
        );
        Assert.Contains($"name=\"usual\" type=\"text\" inputmode=\"numeric\" value=\"{usual}\"", form);
        var kept = await KeepAsync(
            ("complaint", "thump"),
            ("machine", "ostrel-ot50"),
            ("age", "9"),
            ("words", "Thumps since Sunday."),
            ("telephone", "0555 0199"),
            ("address", "Hinterau 4"),
            ("from", "09:30"),
            ("until", "10:30")
        );
        Assert.Equal(HttpStatusCode.SeeOther, kept.StatusCode);
        var booking = Assert.Single(Week.Between(Today.AddDays(5), Today.AddDays(5)));
        Assert.Equal((9 * 60 + 30, "thump"), (booking.From, booking.Complaints.Single()));
        var day = WebUtility.HtmlDecode(await host.Client.GetStringAsync($"/week/day?on={Iso(Today.AddDays(5))}"));
        Assert.Contains("9:30", day);
        Assert.Contains("tel:05550199", day);
        Assert.Contains("Thumps since Sunday.", day);
        var open = await host.Client.GetStringAsync($"/jobs/new?booking={booking.Id}");
        foreach (var there in new[] { "Dairy Hinterau", "0555 0199", "Hinterau 4", "value=\"9\"", "ostrel-ot50" })
        {
            Assert.Contains(there, open);
        }
        var opened = await host.PostFormAsync(
            $"/jobs/new?booking={booking.Id}",
            ("kind", "opened"),
            ("booking", booking.Id.ToString()),
            ("number", "W-1"),
            ("machine.layoutId", "ostrel-ot50"),
            ("machine.place", "Dairy Hinterau"),
            ("machine.telephone", "0555 0199"),
            ("machine.address", "Hinterau 4"),
            ("machine.energy", "electric"),
            ("machine.connection", "plug"),
            ("machine.units", "mm")
        );
        Assert.Equal(HttpStatusCode.SeeOther, opened.StatusCode);
        Assert.Equal("W-1", Week.Find(booking.Id)!.JobNumber);
        var complaint = await host.Client.GetStringAsync("/jobs/W-1/complaint");
        Assert.Matches("value=\"thump\" checked", complaint);
        Assert.Contains("Thumps since Sunday.", complaint);
        // Of one appointment one job is opened.
        Assert.DoesNotContain(
            "For the appointment",
            await host.Client.GetStringAsync($"/jobs/new?booking={booking.Id}")
        );
    }

    [Fact]
    public async Task A_visit_whose_job_is_closed_is_over_on_the_bench_as_on_the_list()
    {
        Assert.Contains("Today: 3 visits", await host.Client.GetStringAsync("/"));
        var first = Week.Between(Today, Today)[0];
        Week.Keep([first with { JobNumber = "J-0138" }]);
        Assert.Contains("Was there", await host.Client.GetStringAsync("/week/day"));
        Assert.Contains("Today: 2 visits", await host.Client.GetStringAsync("/"));
    }

    [Theory]
    [InlineData("/week", "is still being worked out", "Not in any van, for appointments without one")]
    [InlineData("/week/day", "What to load is still being worked out", "in one of the vans")]
    public async Task The_list_waits_for_no_advice_and_has_it_when_it_is_asked_again(
        string page,
        string waiting,
        string ready
    )
    {
        Week.Keep([
            new Booking
            {
                Id = Guid.NewGuid(),
                Day = Today,
                Place = "Dairy Hinterau",
                LayoutId = "ostrel-ot50",
                Complaints = ["no-tumble"],
            },
        ]);
        using var done = new ManualResetEventSlim();
        var gate = host.Get<WorkGate>();
        var busy = Enumerable
            .Range(0, 4)
            .Select(_ =>
                gate.RunAsync(
                    _ =>
                    {
                        done.Wait(CancellationToken.None);
                        return 0;
                    },
                    CancellationToken.None
                )
            )
            .ToList();
        await Task.Delay(300);
        // What it does not wait for ends only further down.
        var first = await host.Client.GetStringAsync(page).WaitAsync(TimeSpan.FromMinutes(1));
        Assert.Contains(waiting, first);
        Assert.DoesNotContain("The van has what these days want", first);
        done.Set();
        await Task.WhenAll(busy);
        var next = "";
        for (var i = 0; i < 40 && (next.Length == 0 || next.Contains(waiting)); i++)
        {
            next = await host.Client.GetStringAsync(page);
        }
        Assert.DoesNotContain(waiting, next);
        Assert.Contains(ready, next);
    }

    [Fact]
    public async Task Two_at_once_are_told_with_how_often_the_second_begins_too_late()
    {
        await KeepAsync(("from", "9:00"), ("until", "9:30"), ("place", "First"));
        await KeepAsync(("from", "9:00"), ("until", "9:30"), ("place", "Second"));
        var form = await host.Client.GetStringAsync($"/week/appointment?day={Iso(Today.AddDays(5))}");
        Assert.Contains("That day already", form);
        var day = WebUtility.HtmlDecode(await host.Client.GetStringAsync($"/week/day?on={Iso(Today.AddDays(5))}"));
        Assert.Contains("of such days: call, or go there sooner", day);
        var second = Week.Between(Today.AddDays(5), Today.AddDays(5))[1];
        await host.PostFormAsync(
            "/week/day",
            ("do", "up"),
            ("booking", second.Id.ToString()),
            ("on", Iso(Today.AddDays(5)))
        );
        Assert.Equal(second.Id, Week.Between(Today.AddDays(5), Today.AddDays(5))[0].Id);
    }

    [Fact]
    public async Task The_calendar_goes_out_by_its_secret_only_and_without_who_the_customer_is()
    {
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/calendar/.ics")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync("/calendar/x.ics")).StatusCode);
        async Task<string> AddressAsync(params (string, string)[] more)
        {
            var page = await (
                await host.PostFormAsync("/week", [("do", "address"), .. more])
            ).Content.ReadAsStringAsync();
            return Regex.Match(page, "/calendar/[0-9a-f]+\\.ics").Value;
        }
        var address = await AddressAsync();
        var bare = await host.Client.GetStringAsync(address);
        Assert.Contains("BEGIN:VEVENT", bare);
        foreach (var hidden in new[] { "Bakery", "Talmitte", "0555", "belt smells", "Lärche", "Sonnhalde" })
        {
            Assert.DoesNotContain(hidden, bare);
        }
        var named = await AddressAsync(("names", "yes"));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync(address)).StatusCode);
        Assert.Contains("Bakery Talmitte", await host.Client.GetStringAsync(named));
        await host.PostFormAsync("/week", ("do", "revoke"));
        Assert.Equal(HttpStatusCode.NotFound, (await host.Client.GetAsync(named)).StatusCode);
    }

    [Fact]
    public async Task Its_own_calendar_changes_nothing_and_one_that_was_moved_moves_its_appointment()
    {
        var before = Week.Between(Today, Today.AddDays(30));
        var own = await host.Client.GetStringAsync("/week.ics");
        // What comes due is in it too and comes in as all-day entries: only appointments are asked about here.
        var only = Regex.Replace(own, "BEGIN:VEVENT(?:(?!END:VEVENT)[\\s\\S])*UID:J-[\\s\\S]*?END:VEVENT\r\n", "");
        Assert.Contains("Nothing in it was new", await ReadAsync(only));
        Assert.Equal(
            before.Select(b => (b.Id, b.Day, b.From, b.Place, b.JobNumber)),
            Week.Between(Today, Today.AddDays(30)).Select(b => (b.Id, b.Day, b.From, b.Place, b.JobNumber))
        );
        var first = before[0];
        var moved = Today.AddDays(2).ToString("yyyyMMdd", CultureInfo.InvariantCulture);
        var said = await ReadAsync(Calendar(Event(first.Uid, $":{moved}T140000", "SEQUENCE:3")));
        Assert.Contains("0 new, 1 changed, 0 called off", said);
        var now = Week.Find(first.Id)!;
        Assert.Equal((Today.AddDays(2), 14 * 60, first.JobNumber), (now.Day, now.From, now.JobNumber));
        Assert.Equal(first.Until - first.From, now.Until - now.From);
        // An older one does not undo it.
        Assert.Contains(
            "older than what is here",
            await ReadAsync(Calendar(Event(first.Uid, $":{moved}T150000", "SEQUENCE:1")))
        );
        Assert.Contains(
            "1 called off",
            await ReadAsync(Calendar(Event(first.Uid, $":{moved}T140000", "SEQUENCE:4", "STATUS:CANCELLED")))
        );
    }

    [Fact]
    public async Task A_calendar_of_another_zone_comes_in_by_the_shops_clock_and_goes_as_one()
    {
        var money = host.Get<Shop.MoneyDesk>();
        Assert.Empty(money.Keep(money.Terms with { TimeZone = "Europe/Vienna" }));
        var day = Today.AddDays(9);
        var on = day.ToString("yyyyMMdd", CultureInfo.InvariantCulture);
        var next = day.AddDays(1).ToString("yyyyMMdd", CultureInfo.InvariantCulture);
        var page = await ReadAsync(
            Calendar(
                Event("a@x", $";TZID=America/New_York:{on}T080000"),
                Event("b@x", $";VALUE=DATE:{on}"),
                Event("c@x", $":{on}T083000"),
                Event("d@x", $":{next}T230000Z", "RRULE:FREQ=WEEKLY;COUNT=3"),
                Event("e@x", ":20010101T100000"),
                Event("", $":{on}T100000")
            )
        );
        Assert.True(page.Contains("6 new, 0 changed"), Regex.Match(page, "side-offer[\\s\\S]{0,900}").Value);
        Assert.Contains("too long ago", page);
        Assert.Contains("no name (UID)", page);
        var there = Week.Between(day, day.AddDays(20)).Where(b => b.Uid.Contains("@x")).ToList();
        Assert.Equal(14 * 60, there.Single(b => b.Uid == "a@x").From);
        Assert.Null(there.Single(b => b.Uid == "b@x").From);
        Assert.Equal(8 * 60 + 30, there.Single(b => b.Uid == "c@x").From);
        // Eleven at night in London's winter is midnight here, the day after.
        Assert.Equal(
            [day.AddDays(2), day.AddDays(9), day.AddDays(16)],
            there.Where(b => b.Uid.StartsWith("d@x", StringComparison.Ordinal)).Select(b => b.Day)
        );
        var batch = Regex.Match(page, "name=\"batch\" value=\"([^\"]+)\"").Groups[1].Value;
        await host.PostFormAsync("/week", ("do", "takeback"), ("batch", batch));
        Assert.DoesNotContain(Week.Between(day, day.AddDays(20)), b => b.Uid.Contains("@x"));
        var again = await host.PostFormAsync("/week", ("do", "takeback"), ("batch", batch));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, again.StatusCode);
    }

    [Fact]
    public async Task What_came_due_and_was_seen_to_is_told_no_more_and_a_customer_taken_out_is_not_in_the_week()
    {
        var closed = host.Store.Find("J-0138")!.State;
        var ask = host.Shop.Terms.DayOf(closed.Closed!.Happened).AddDays(7);
        var page = await host.Client.GetStringAsync($"/week?from={Iso(ask)}");
        Assert.Contains("J-0138</a> Ask: still quiet?", page);
        await host.PostFormAsync(
            "/week",
            ("do", "seen"),
            ("job", "J-0138"),
            ("kind", "still-quiet"),
            ("day", Iso(ask))
        );
        Assert.DoesNotContain(
            "J-0138</a> Ask: still quiet?",
            await host.Client.GetStringAsync($"/week?from={Iso(ask)}")
        );
        await KeepAsync(("job", "J-0138"), ("place", "Secret lodge"), ("telephone", "0555 0777"));
        await host.Store.RemoveCustomerAsync(host.Store.Find("J-0138")!.JobId, null, null);
        Assert.Empty(Week.OfJob("J-0138"));
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        using var file = new FileStream(
            host.DatabasePath,
            FileMode.Open,
            FileAccess.Read,
            FileShare.ReadWrite | FileShare.Delete
        );
        using var memory = new MemoryStream();
        await file.CopyToAsync(memory);
        Assert.DoesNotContain("Secret lodge", Encoding.Latin1.GetString(memory.ToArray()));
    }
}

/// <summary>What cannot be is said and changes nothing: one shop does for all of it.</summary>
public sealed class WeekInputTests(TestHost host) : IClassFixture<TestHost>
{
    private WeekStore Week => host.Get<WeekStore>();

    private DateOnly Today => host.Shop.Terms.DayOf(DateTimeOffset.UtcNow);

    [Theory]
    [InlineData("day", "soon", "A day is needed.")]
    [InlineData("day", "1999-01-01", "A day")]
    [InlineData("from", "25:00", "A time of day")]
    [InlineData("until", "8 o'clock", "A time of day")]
    [InlineData("travel", "-1", "0 to 600 minutes")]
    [InlineData("usual", "NaN", "5 to 1,440")]
    [InlineData("high", "1e9", "5 to 1,440")]
    [InlineData("place", "", "")]
    [InlineData("telephone", "call me", "A telephone number")]
    [InlineData("age", "old", "A number of years")]
    [InlineData("machine", "no-such", "no such layout")]
    [InlineData("complaint", "no-such", "no complaint")]
    [InlineData("job", "J-9999", "There is no job")]
    public async Task What_cannot_be_is_said_and_what_was_typed_stays(string field, string value, string said)
    {
        var fields = new Dictionary<string, string>
        {
            ["day"] = Today.AddDays(5).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
            ["place"] = "Dairy Hinterau",
            ["words"] = "Kept words",
            [field] = value,
        };
        var answer = await host.PostFormAsync("/week/appointment", [.. fields.Select(f => (f.Key, f.Value))]);
        var page = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains(said, page);
        Assert.Contains("Kept words", page);
        Assert.Empty(Week.Between(Today.AddDays(5), Today.AddDays(5)));
    }

    [Theory]
    [InlineData("", "Choose the calendar")]
    [InlineData("hello", "no calendar file")]
    [InlineData("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:nonsense\r\nUID:q\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", "")]
    [InlineData("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:q\r\nRRULE:FREQ=SECONDLY\r\nEND:VEVENT\r\n", "")]
    [InlineData(
        "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:q\r\nDTSTART:20200101T080000\r\nRRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n",
        "another rule than days or weeks"
    )]
    [InlineData(
        "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:q\r\nDTSTART:19000101T080000\r\nRRULE:FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=30\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n",
        "another rule than days or weeks"
    )]
    public async Task A_file_that_is_no_calendar_changes_nothing(string text, string said)
    {
        var before = Week.From(Today).Count;
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var page = await WeekTests.ReadAsync(host, text);
        Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), watch.Elapsed.ToString());
        Assert.True(page.Contains(said), page[..Math.Min(page.Length, 1500)] + string.Join('\n', host.Logged));
        Assert.DoesNotContain("Something broke", page);
        Assert.Equal(before, Week.From(Today).Count);
    }

    [Fact]
    public async Task A_calendar_that_is_too_large_says_how_large()
    {
        var page = await WeekTests.ReadAsync(host, WeekTests.Calendar(new string('x', 10 << 20)));
        Assert.Contains("10.0 MB; 1 MB are read", page);
    }
}
