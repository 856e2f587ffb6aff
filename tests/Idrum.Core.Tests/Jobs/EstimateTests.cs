using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What it will cost, who agreed, what it cost.</summary>
public class EstimateTests : JobStory
{
    private static readonly ShopTerms Terms = new()
    {
        RatePerHour = 60,
        StepMinutes = 15,
        TripCharge = 25,
        TaxPercent = 20,
    };

    private Estimates.Draft Reckon(params (string Article, int Count)[] van) =>
        Estimates.Of(
            State,
            Machine,
            PartsAdvice.Of(State, Machine, TestShop.Shop.Supplier, 72, van.ToDictionary(v => v.Article, v => v.Count)),
            Terms,
            0
        );

    private static EstimateGiven Given(double total, double high) =>
        new(new("EUR", [new("labour", "Work", 1, "h", total)], 0), total * 0.8, high, "");

    [Fact]
    public void Sums_are_rounded_to_the_cent_line_by_line_and_the_tax_on_the_whole()
    {
        var sum = new Sum(
            "EUR",
            [
                new("labour", "Work", 1.25, "h", 71.99),
                new("part", "Roller", 3, "piece", 12.335),
                new("travel", "Trip", 1, "trip", 0),
            ],
            7.7
        );
        // 89.9875 and 37.005 go up, as bookkeepers do it.
        Assert.Equal([89.99, 37.01, 0], sum.Lines.Select(l => l.Amount));
        Assert.Equal(127.00, sum.Net);
        Assert.Equal(9.78, sum.Tax);
        Assert.Equal(136.78, sum.Total);
        Assert.Equal(0, Sum.Cents(0.004));
        Assert.Equal(1.01, Sum.Cents(1.005));
    }

    [Theory]
    [InlineData(0, 0)]
    [InlineData(1, 0.25)]
    [InlineData(15, 0.25)]
    [InlineData(16, 0.5)]
    [InlineData(59.9, 1)]
    [InlineData(-5, 0)]
    public void Work_is_charged_in_steps_begun(double minutes, double hours) =>
        Assert.Equal(hours, Terms.HoursCharged(minutes), 9);

    [Fact]
    public void No_work_is_nought_hours_and_not_less()
    {
        Assert.False(double.IsNegative(Terms.HoursCharged(0)));
        Assert.Equal(0, Terms.HoursCharged(0));
    }

    [Fact]
    public void An_estimate_holds_work_parts_glue_and_one_trip_where_the_van_has_them_and_two_where_they_are_ordered()
    {
        OpenFor("front-felt", "belt");
        var here = Reckon(("OT50-FRONT-FELT", 1), ("OT50-BELT", 1));
        Assert.Equal(1, here.Sum.Lines.Single(l => l.Kind == "travel").Quantity);
        Assert.Contains(here.Sum.Lines, l => l is { Kind: "part", Each: 28 });
        Assert.Contains(here.Sum.Lines, l => l.What.Contains("cement", StringComparison.OrdinalIgnoreCase));
        var labour = here.Sum.Lines.Single(l => l.Kind == "labour");
        // Stripping to a felt on an OT-50, gluing it and closing is an hour's work, not a quarter and not three.
        Assert.InRange(labour.Quantity, 0.75, 2.5);
        Assert.Equal(60, labour.Each);
        Assert.True(here.LowShare < 1 && here.HighShare > 1);
        Assert.Equal(2, Reckon().Sum.Lines.Single(l => l.Kind == "travel").Quantity);
    }

    [Fact]
    public void Nine_jobs_in_ten_end_between_the_two_ends()
    {
        OpenFor("front-felt", "belt");
        var plan = JobPlan.Of(State, Machine)!;
        Spread[] steps = [.. plan.Removal.Select(o => o.Minutes), .. plan.Refit.Select(m => m.Step.Minutes)];
        var labour = LabourSpread.Of(steps, 30);
        var random = new Random(5);
        var within = 0;
        for (var n = 0; n < 4000; n++)
        {
            // Each step anywhere in its triangle, and one pair of hands from quick to slow for all of them.
            var minutes = (30 + steps.Sum(s => Triangle(s, random.NextDouble()))) * (0.7 + 0.6 * random.NextDouble());
            within += minutes >= labour.Low && minutes <= labour.High ? 1 : 0;
        }
        Assert.InRange(within / 4000.0, 0.88, 0.97);
    }

    private static double Triangle(Spread s, double u)
    {
        var (wide, peak) = (s.High - s.Low, s.Typical - s.Low);
        return wide <= 0 ? s.Typical
            : u < peak / wide ? s.Low + Math.Sqrt(u * wide * peak)
            : s.High - Math.Sqrt((1 - u) * wide * (s.High - s.Typical));
    }

    [Fact]
    public void An_estimate_is_agreed_to_by_name_and_changed_only_by_a_new_one()
    {
        OpenFor("belt");
        Assert.Contains(Errors(new EstimateApproved("x", "Frau Muster")), e => e.Pointer == "estimateId");
        Do(Given(100, 120));
        var first = State.Estimate!.Id.ToString("N");
        Assert.Contains(Errors(new EstimateApproved(first, " ")), e => e.Pointer == "name");
        Do(new EstimateApproved(first, "Frau Muster"));
        Assert.Contains(Errors(new EstimateApproved(first, "Herr Muster")), e =>
            e.Message.Contains("already", StringComparison.Ordinal)
        );
        Do(Given(150, 180));
        Assert.Null(State.Approval);
        Assert.Contains(Errors(new EstimateApproved(first, "Frau Muster")), e =>
            e.Message.Contains("newer", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_price_above_what_was_agreed_to_needs_to_say_who_agreed_to_more()
    {
        OpenFor("belt");
        Do(Given(100, 120));
        Do(new EstimateApproved(State.Estimate!.Id.ToString("N"), "Frau Muster"));
        PriceMade price = new(new("EUR", [new("labour", "Work", 1, "h", 121)], 0), "");
        Assert.Contains(Errors(price), e => e.Pointer == "reason");
        Assert.Contains(Errors(price with { Sum = price.Sum with { Currency = "CHF" }, Reason = "so" }), e =>
            e.Pointer == "currency"
        );
        Do(price with { Reason = "Frau Muster agreed on the telephone: second roller." });
        Assert.Equal(121, State.Price!.Sum.Total);
    }

    [Fact]
    public void The_price_counts_what_was_used_the_days_driven_and_not_what_goes_back()
    {
        Open("quenby-qd62", "squeal", "belt");
        Strip();
        Do(
            new PartsBought("QD62-BELT", "Belt", new Dictionary<PartId, int> { ["belt"] = 1 }, 2, 22, "supplier", 2, 21)
        );
        var line = History.Log[^1].Id.ToString("N");
        At = At.AddDays(2);
        Do(new OrderSettled(line, "came", 2));
        Do(new PartFitted("belt", "replaced", "", [], ""));
        var sum = Estimates.PriceOf(State, Machine, Terms, 64, Estimates.Trips(History.Effective, Terms));
        Assert.Equal(1.25, sum.Lines[0].Quantity);
        Assert.Equal(1, sum.Lines.Single(l => l.Kind == "part").Quantity);
        Assert.Equal(2, sum.Lines.Single(l => l.Kind == "travel").Quantity);
    }

    [Fact]
    public void Rollers_put_in_without_an_order_are_one_line_of_so_many_and_a_felt_being_glued_is_paid_for()
    {
        OpenFor("roller-left", "roller-right", "front-felt");
        Strip();
        Do(new PartFitted("roller-left", "replaced", "", [], ""));
        Do(new PartFitted("roller-right", "replaced", "", [], ""));
        Do(new GlueCoated("front-felt", "contact", 12, 240));
        var lines = Estimates.PriceOf(State, Machine, Terms, 60, 1).Lines.Where(l => l.Kind == "part").ToList();
        Assert.Equal(
            [("Drum roller", 2.0, 12.0), ("Front felt ring", 1, 28)],
            lines.Select(l => (l.What, l.Quantity, l.Each)).OrderBy(l => l.What)
        );
        Assert.Equal(0, Supplies.Rows(State, Machine.Layout).Sum(r => r.Short));
    }

    [Theory]
    [InlineData(-1, 10, "lines[0].quantity")]
    [InlineData(1, -10, "lines[0].each")]
    [InlineData(1, 1e7, "lines[0].each")]
    [InlineData(double.NaN, 1, "lines[0].quantity")]
    public void Absurd_lines_are_named(double quantity, double each, string field)
    {
        OpenFor("belt");
        Assert.Contains(
            Errors(new EstimateGiven(new("EUR", [new("part", "Belt", quantity, "piece", each)], 20), 0, 1e6, "")),
            e => e.Pointer == field
        );
        Assert.Contains(
            Errors(new EstimateGiven(new("Euro", [new("part", "Belt", 1, "piece", 1)], 20), 0, 10, "")),
            e => e.Pointer == "currency"
        );
        Assert.Contains(
            Errors(new EstimateGiven(new("EUR", [new("part", "Belt", 1, "piece", 100)], 20), 0, 10, "")),
            e => e.Pointer == "high"
        );
        Assert.Contains(Errors(new EstimateGiven(new("EUR", [], 20), 0, 10, "")), e => e.Pointer == "lines");
    }

    [Fact]
    public void Terms_that_cannot_be_are_named_at_their_field()
    {
        Assert.Empty(new ShopTerms().Check());
        var fields = (
            new ShopTerms() with
            {
                Currency = "euro",
                RatePerHour = 0,
                StepMinutes = 0,
                TripCharge = -1,
                TripMinutes = 9999,
                TaxPercent = 120,
                Paper = "A3",
                Units = "cubit",
                Signers = [""],
                Places = [StockPlace.Only with { Holds = new Dictionary<string, int> { ["x"] = 1000 } }],
            }
        )
            .Check()
            .Select(e => e.Pointer)
            .ToHashSet();
        Assert.Equal(
            [
                "currency",
                "holds",
                "paper",
                "ratePerHour",
                "signers",
                "stepMinutes",
                "taxPercent",
                "tripCharge",
                "tripMinutes",
                "units",
            ],
            fields.Order()
        );
    }

    /// <summary>A day is a day on the shop's wall: over midnight of UTC, over both changes of the clocks, at new
    /// year.</summary>
    [Theory]
    [InlineData("Europe/Vienna", "2026-03-28T23:30:00Z", "2026-03-29T01:30:00Z", 1)]
    [InlineData("UTC", "2026-03-28T23:30:00Z", "2026-03-29T01:30:00Z", 2)]
    [InlineData("America/Los_Angeles", "2026-07-01T16:00:00Z", "2026-07-02T02:00:00Z", 1)]
    [InlineData("Europe/Vienna", "2026-10-24T22:30:00Z", "2026-10-25T22:30:00Z", 1)]
    [InlineData("Europe/Vienna", "2026-12-31T22:30:00Z", "2026-12-31T23:30:00Z", 2)]
    [InlineData("no/such", "2026-12-31T22:30:00Z", "2026-12-31T23:30:00Z", 1)]
    public void A_trip_is_a_day_of_the_shop(string zone, string first, string second, int trips)
    {
        SafetySigned Signed(string at) =>
            new([], "x") { At = DateTimeOffset.Parse(at, System.Globalization.CultureInfo.InvariantCulture) };
        var terms = new ShopTerms { TimeZone = zone };
        Assert.Equal(trips, Estimates.Trips([Signed(first), Signed(second)], terms));
        Assert.Equal(zone == "no/such", terms.Check().Any(e => e.Pointer == "timeZone"));
    }
}
