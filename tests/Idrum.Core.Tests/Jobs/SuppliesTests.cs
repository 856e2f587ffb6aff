using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Parts of a job, from the order to what goes back.</summary>
public class SuppliesTests : JobStory
{
    private static readonly PartId[] Rollers =
    [
        "front-roller-left",
        "front-roller-right",
        "rear-roller-left",
        "rear-roller-right",
    ];

    private string Buy(string article, int count, string source = "supplier")
    {
        var found = TestShop.Shop.Supplier.For(Machine.Layout, "").First(a => a.Id == article);
        Do(
            new PartsBought(found.Id, found.Name, found.Covers, count, found.Price, source, source == "van" ? 0 : 2, 21)
        );
        return History.Log[^1].Id.ToString("N");
    }

    private Supplies.Row Row(string item) => Supplies.Rows(State, Machine.Layout).First(r => r.Item.Id == item);

    private PartsAdvice Advice(params (string Article, int Count)[] van) =>
        PartsAdvice.Of(State, Machine, TestShop.Shop.Supplier, 72, van.ToDictionary(v => v.Article, v => v.Count));

    private void Fit(string part) => Do(new PartFitted(part, "replaced", "", [], ""));

    [Fact]
    public void Three_rollers_came_and_the_fourth_waits_for_days_with_the_machine_open()
    {
        Open("quenby-qd62", "squeal", Rollers);
        Assert.Equal(4, Advice().Short);
        Strip();
        var line = Buy("QD62-ROLLER", 4);
        Assert.Equal(
            (4, 0, 0, 4, 0),
            (
                Row("front-roller-left").Needed,
                Row("front-roller-left").Fitted,
                Row("front-roller-left").Here,
                Row("front-roller-left").Coming,
                Row("front-roller-left").Short
            )
        );
        Do(new OrderSettled(line, "came", 3), 2000);
        Assert.Contains(Errors(new OrderSettled(line, "came", 2)), e => e.Pointer == "quantity");
        foreach (var part in Rollers[..3])
        {
            Fit(part);
        }
        // The fourth is not here, whatever is tapped.
        Assert.Contains(Errors(new PartFitted(Rollers[3], "replaced", "", [], "")), e =>
            e.Pointer == "action" && e.Message.Contains("is here", StringComparison.Ordinal)
        );
        Do(new OrderSettled(line, "missing", 1));
        Assert.Equal(1, Advice().Short);
        Assert.NotEmpty(State.Out);
        Assert.DoesNotContain(Rollers[3], State.Orders.Keys);
        // Days later one comes by another way, and the work goes on at the same roller.
        At = At.AddDays(4);
        Do(
            new PartsBought(
                "QD62-ROLLER",
                "Roller",
                new Dictionary<PartId, int> { ["front-roller-left"] = 1 },
                1,
                16,
                "supplier",
                2,
                21
            )
            {
                For = [Rollers[3]],
            }
        );
        var next = History.Log[^1].Id.ToString("N");
        Assert.Equal(1, Row("front-roller-left").Coming);
        // It is the fourth that waits, whatever place the list names it by: on the bench and on the sheet.
        Assert.Equal([Rollers[3]], State.Orders.Keys);
        Assert.NotNull(JobSummary.Of(State, Machine.Layout).PartDueAt);
        Do(new OrderSettled(next, "came", 1));
        Fit(Rollers[3]);
        Assert.Equal(
            (4, 4, 0, 0, 0),
            (
                Row("front-roller-left").Needed,
                Row("front-roller-left").Fitted,
                Row("front-roller-left").Here,
                Row("front-roller-left").Coming,
                Row("front-roller-left").Short
            )
        );
        Assert.Contains(Errors(new OrderSettled(next, "came", 1)), e =>
            e.Message.Contains("received once", StringComparison.Ordinal)
        );
        Assert.Contains(Errors(new PartsReturned(next, 1)), e =>
            e.Message.Contains("fitted does not go back", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_kit_of_which_one_part_is_used_is_opened_and_what_was_not_used_at_all_goes_back_in_time()
    {
        Open("quenby-qd62", "squeal", "front-roller-left");
        Strip();
        var kit = Buy("QD62-K2", 1);
        var belt = Buy("QD62-BELT", 2);
        Do(new OrderSettled(kit, "came", 1), 60);
        Do(new OrderSettled(belt, "came", 1));
        Do(new OrderSettled(belt, "wrong", 1));
        Fit("front-roller-left");
        var left = Supplies.Left(State, Machine.Layout).ToDictionary(r => r.Line.LineId);
        Assert.Equal((1, 0), (left[kit].Used, left[kit].Over));
        Assert.Equal((0, 2), (left[belt].Used, left[belt].Over));
        Assert.Equal(left[belt].Line.CameAt!.Value.AddDays(21), left[belt].Line.ReturnBy);
        Assert.NotEmpty(Errors(new PartsReturned(kit, 1)));
        Do(new PartsReturned(belt, 2));
        Assert.Equal(0, Supplies.Left(State, Machine.Layout).First(r => r.Line.LineId == belt).Over);
        Assert.NotEmpty(Errors(new PartsReturned(belt, 1)));
        Assert.NotEmpty(Errors(new PartsReturned("none", 1)));
    }

    [Fact]
    public void Four_rollers_from_four_sources_are_in_and_what_each_is_from_tells_who_pays()
    {
        Open("quenby-qd62", "squeal", Rollers);
        Strip();
        var supplier = TestShop.Shop.Supplier;
        var van = StockPlace.Only with { Holds = new Dictionary<string, int> { ["QD62-ROLLER"] = 1 } };
        Part At(int n) => Machine.Layout.FindPart(Rollers[n])!;
        string Usual(int n, bool holds) => Supplies.UsualSource(State, Machine.Layout, At(n), holds);
        void FitFrom(int n, string source) =>
            Do(new PartFitted(Rollers[n], FittedAs.Replaced, "", [], "") { Source = source });
        // Nothing was bought: it is in the van, or in the hand.
        Assert.Equal((PartSource.Van, PartSource.Had), (Usual(0, true), Usual(0, false)));
        // Neither order nor van has one for it yet, so it cannot be said to be from there.
        foreach (var source in new[] { PartSource.Order, PartSource.Van })
        {
            var wrong = Assert.Single(
                Errors(new PartFitted(Rollers[0], FittedAs.Replaced, "", [], "") { Source = source })
            );
            Assert.Equal("source", wrong.Pointer);
        }
        var ordered = Buy("QD62-ROLLER", 1);
        // What is on order is not here yet.
        Assert.Equal((PartSource.Van, PartSource.Had), (Usual(0, true), Usual(0, false)));
        Assert.NotEmpty(
            Errors(new PartFitted(Rollers[0], FittedAs.Replaced, "", [], "") { Source = PartSource.Order })
        );
        Do(new OrderSettled(ordered, "came", 1));
        Assert.Equal(PartSource.Order, Usual(0, true));
        FitFrom(0, PartSource.Order);
        // As many as came are in.
        Assert.Equal(PartSource.Van, Usual(1, true));
        Assert.NotEmpty(
            Errors(new PartFitted(Rollers[1], FittedAs.Replaced, "", [], "") { Source = PartSource.Order })
        );
        Do(Purchase.OutOfVan(State, Machine.Layout, At(1), supplier, van)!);
        FitFrom(1, PartSource.Van);
        Assert.Null(Purchase.OutOfVan(State, Machine.Layout, At(2), supplier, StockPlace.Only));
        FitFrom(2, PartSource.Had);
        FitFrom(3, PartSource.Customer);
        var row = Row(Rollers[0]);
        Assert.Equal((4, 4, 0, 0, 0), (row.Needed, row.Fitted, row.Here, row.Coming, row.Short));
        Assert.Empty(Supplies.LeftOver(State, Machine.Layout));
        Assert.Equal(0, Advice().Short);
        // Three are paid for: the customer's own is not.
        var price = Estimates.PriceOf(State, Machine, new ShopTerms(), 60, 1);
        var roller = supplier.For(Machine.Layout, "").First(a => a.Id == "QD62-ROLLER").Price;
        Assert.Equal(3 * roller, price.Lines.Where(l => l.Kind == "part").Sum(l => l.Quantity * l.Each), 6);
        Assert.Contains("the customer's own", History.Log[^1].Words(Machine), StringComparison.Ordinal);
    }

    [Fact]
    public void The_old_one_that_goes_back_in_is_no_new_one()
    {
        Open("quenby-qd62", "squeal", "belt");
        Strip();
        Do(new PartFitted("belt", FittedAs.Replaced, "", [], "") { Source = PartSource.Old });
        Assert.Equal(FittedAs.Cleaned, State.Fitted["belt"].Action);
        Assert.Equal(0, Advice().Short);
        Assert.DoesNotContain(Estimates.PriceOf(State, Machine, new ShopTerms(), 60, 1).Lines, l => l.Kind == "part");
        Assert.NotEmpty(Errors(new PartFitted("belt", FittedAs.Replaced, "", [], "") { Source = "the moon" }));
    }

    [Fact]
    public void A_kit_with_fibre_washers_makes_the_spring_washer_needless_and_the_large_one_still_comes_over()
    {
        OpenFor("roller-left");
        var part = Machine.Layout.FindPart("roller-left")!;
        var articles = TestShop.Shop.Supplier.For(Machine.Layout, "");
        Assert.Equal(
            part.Transfer,
            Supplies.Transfer(part, Supplies.CameFor(State, Machine.Layout, part, articles)).Stays
        );
        var kit = Buy("OT50-K1", 1);
        Assert.Equal(
            part.Transfer,
            Supplies.Transfer(part, Supplies.CameFor(State, Machine.Layout, part, articles)).Stays
        );
        Do(new OrderSettled(kit, "came", 1));
        var (stays, falls) = Supplies.Transfer(part, Supplies.CameFor(State, Machine.Layout, part, articles));
        Assert.Equal(["large washer"], stays);
        Assert.Equal(["spring washer", "retainer ring"], falls.Select(f => f.Small));
        Assert.Contains("fibre washers", falls[0].Why, StringComparison.Ordinal);
    }

    [Fact]
    public void The_van_is_offered_where_it_holds_all_and_the_cheapest_kit_where_it_does_not()
    {
        Open("quenby-qd62", "squeal", [.. Rollers, "belt", "idler"]);
        Assert.Null(Advice(("QD62-ROLLER", 3), ("QD62-BELT", 1)).FromVan);
        Assert.NotNull(Advice(("QD62-ROLLER", 4), ("QD62-BELT", 1), ("QD62-IDLER", 2)).FromVan);
        var advice = Advice();
        // One wear set is cheaper than six singles, and the singles stand beside it.
        Assert.Equal(["QD62-K3"], advice.Order!.Bought.Select(b => b.Id));
        Assert.True(advice.Singles!.Total > advice.Order.Total);
        var taken = Buy("QD62-ROLLER", 3, "van");
        Assert.Equal(3, Row("front-roller-left").Here);
        Assert.Equal(1, Row("front-roller-left").Short);
        Assert.Null(State.Lines[taken].Due);
        Assert.Null(State.Lines[taken].ReturnBy);
    }

    [Fact]
    public void What_a_repairer_has_of_his_own_is_fitted_without_a_line()
    {
        Open("quenby-qd62", "squeal", "belt");
        Strip();
        Fit("belt");
        Assert.Equal((1, 1, 0), (Row("belt").Needed, Row("belt").Fitted, Row("belt").Short));
        Assert.Equal(0, Advice().Short);
    }

    [Fact]
    public void Absurd_orders_are_named_at_their_field_and_change_nothing()
    {
        Open("quenby-qd62", "squeal", "belt");
        var cover = new Dictionary<PartId, int> { ["belt"] = 1 };
        foreach (
            var (act, field) in new (JobEvent, string)[]
            {
                (new PartsBought("a", "Belt", cover, 0, 22, "supplier", 2, 21), "quantity"),
                (new PartsBought("a", "Belt", cover, 1, -1, "supplier", 2, 21), "price"),
                (new PartsBought("a", "Belt", cover, 1, double.NaN, "supplier", 2, 21), "price"),
                (new PartsBought("a", "Belt", cover, 1, 22, "moon", 2, 21), "source"),
                (new PartsBought("a", "Belt", cover, 1, 22, "supplier", -2, 21), "dueInDays"),
                (new PartsBought("a", "", cover, 1, 22, "supplier", 2, 21), "name"),
                (
                    new PartsBought(
                        "a",
                        "Belt",
                        new Dictionary<PartId, int> { ["ghost"] = 1 },
                        1,
                        22,
                        "supplier",
                        2,
                        21
                    ),
                    "covers"
                ),
                (new OrderSettled("none", "came", 1), "lineId"),
            }
        )
        {
            Assert.Contains(Errors(act), e => e.Pointer == field);
        }
        Assert.Empty(State.Lines);
    }

    [Fact]
    public void A_log_with_lines_estimate_and_price_is_read_again_as_it_was_written()
    {
        Open("quenby-qd62", "squeal", "belt");
        Buy("QD62-BELT", 1, "van");
        Do(new EstimateGiven(new("EUR", [new("labour", "Work", 1, "h", 72)], 20), 80, 120, ""));
        Do(new EstimateApproved(State.Estimate!.Id.ToString("N"), "Frau Muster"));
        Do(new PriceMade(new("EUR", [new("labour", "Work", 1, "h", 72)], 20), ""));
        var again = JobHistory.Of(
            History.Log.Select(e =>
                System.Text.Json.JsonSerializer.Deserialize<JobEvent>(
                    System.Text.Json.JsonSerializer.Serialize(e, IdrumJson.Options),
                    IdrumJson.Options
                )!
            )
        );
        Assert.True(again.State.SameAs(State));
    }
}
