using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Logbook;

/// <summary>What the log says of a made-up shop, held against the laws it was made by.</summary>
public class ShopYearsTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 30, 8, 0, 0, TimeSpan.Zero);
    private static readonly ShopYears Years = new(4, 8, 60);

    private static readonly Lazy<List<JobHistory>> Made = new(() =>
        [
            .. Years
                .Jobs(TestShop.Shop, ["ostrel-ot50", "quenby-qd62", "ostrel-ot56"], Now)
                .Select(j => JobHistory.Of(j.Log)),
        ]
    );

    private static readonly Lazy<ShopFigures> Said = new(() =>
        ShopFigures.Of(
            [
                .. Made.Value.Select(h =>
                    JobRecord.Of(
                        h,
                        TestShop.Shop.LayoutOf(h.State),
                        TestShop.Shop,
                        CheckWorth.Of(h, TestShop.Shop.For(TestShop.Shop.LayoutOf(h.State)!))
                    )!
                ),
            ],
            [.. Made.Value.Select(h => LessonOfJob.Of(h, TestShop.Shop.Catalog)!)],
            TestShop.Shop.FindLayout,
            Now
        )
    );

    [Fact]
    public void Years_are_made_the_same_again_and_every_job_is_closed()
    {
        Assert.True(Made.Value.Count > 200, $"{Made.Value.Count} jobs");
        Assert.All(Made.Value, h => Assert.NotNull(h.State.Closed));
        var again = Years.Jobs(TestShop.Shop, ["ostrel-ot50", "quenby-qd62", "ostrel-ot56"], Now).Take(5).ToList();
        Assert.Equal(
            Made.Value.Take(5).Select(h => h.State.Canonical()),
            again.Select(j => JobHistory.Of(j.Log).State.Canonical())
        );
    }

    [Fact]
    public void Minutes_of_steps_are_found_to_be_what_they_were_made()
    {
        Assert.Equal(Made.Value.Count, Said.Value.Jobs);
        foreach (var layout in Said.Value.Pace)
        {
            Assert.InRange(layout.Value!.Value.Value, ShopYears.Pace * 0.95, ShopYears.Pace * 1.05);
            Assert.True(layout.Value.Value.Low < layout.Value.Value.High);
        }
        var held = Said
            .Value.Steps.Where(s => s.Ratio.Of >= 20)
            .Count(s => s.Ratio.Value is { } v && v.Low <= ShopYears.Pace && ShopYears.Pace <= v.High * 1.02);
        Assert.True(held >= 0.8 * Said.Value.Steps.Count(s => s.Ratio.Of >= 20));
    }

    [Fact]
    public void Checks_are_counted_and_those_that_are_asked_most_have_an_interval()
    {
        var asked = Made.Value.Sum(h =>
            h.Effective.OfType<FindingAnswered>().Count(a => a.Outcome is not ("" or "unknown"))
        );
        Assert.InRange(Said.Value.Checks.Sum(c => c.Changed.Of), 1, asked);
        Assert.All(Said.Value.Checks.Where(c => c.Changed.Of >= 3), c =>
            Assert.True(c.Minutes.Value!.Value.Low <= c.Minutes.Value.Value.High)
        );
        Assert.Contains(Said.Value.Checks, c => c.Changed.Count > 0);
    }

    [Fact]
    public void Lives_of_parts_are_found_to_be_what_they_were_made()
    {
        var fitted = Said.Value.Lives.Where(l => l.Fit is not null).ToList();
        Assert.NotEmpty(fitted);
        int held = 0,
            asked = 0;
        foreach (var (lives, fit) in fitted)
        {
            var laws = new[] { "ostrel-ot50", "quenby-qd62", "ostrel-ot56" }
                .SelectMany(l => TestShop.Shop.FindLayout(l)!.Parts)
                .Where(p => p.Wears && p.Kind == lives.Kind)
                .Select(ShopYears.TruthOf)
                .Distinct()
                .ToList();
            if (laws is not [var (shape, scale)])
            {
                continue;
            }
            asked++;
            var half = fit!.Age(0.5);
            var truth = scale * Math.Pow(Math.Log(2), 1 / shape);
            held += half.Low <= truth && truth <= half.High ? 1 : 0;
            Assert.InRange(half.Value, truth * 0.7, truth * 1.4);
        }
        Assert.True(asked > 0 && held >= asked - 1, $"{held} of {asked}");
    }

    [Fact]
    public void What_comes_back_and_what_it_costs_are_told_as_they_were_made()
    {
        var said = Said.Value;
        var twins = Made.Value.Count(h => h.State.Closed!.CallBackCause == "twin");
        Assert.Equal(twins, said.BackBecause.SingleOrDefault(f => f.What == "twin")?.Count ?? 0);
        Assert.True(said.CameBack.Count >= Made.Value.Count(h => h.State.Machine.CallBackOf.Length > 0));
        // What follows soon on the same machine by chance counts too, so it is more than was made, and not much.
        Assert.InRange(said.CameBack.Value!.Value.Value, ShopYears.ComesBack * 0.5, 0.25);
        Assert.InRange((double)said.Charged.Of / said.Jobs, ShopYears.Told - 0.12, ShopYears.Told + 0.08);
        Assert.InRange(said.Charged.Value!.Value.Value, 1, 1.12);
        Assert.Equal(0, said.ForNothing.Where(f => f.Of == 0).Sum(f => f.Count));
        Assert.Contains(said.ForNothing, f => f.Count > 0);
        Assert.DoesNotContain(said.Faults, f => f.Share.Count > f.Share.Of);
    }

    [Fact]
    public void Nothing_closed_says_nothing_and_breaks_nothing()
    {
        var none = ShopFigures.Of([], [], TestShop.Shop.FindLayout, Now);
        Assert.Equal(0, none.Jobs);
        Assert.Null(none.FirstVisit.Value);
        Assert.Empty(none.Lives);
        Assert.Null(none.Span);
    }

    [Fact]
    public void A_share_has_the_interval_of_the_exact_binomial()
    {
        // Clopper–Pearson for 3 of 20, from tables.
        var share = Figure.Share("", 3, 20).Value!.Value;
        Assert.Equal(0.15, share.Value, 9);
        Assert.Equal(0.0321, share.Low, 4);
        Assert.Equal(0.3789, share.High, 4);
        Assert.Equal(0, Figure.Share("", 0, 20).Value!.Value.Low);
        Assert.Equal(1, Figure.Share("", 20, 20).Value!.Value.High);
        Assert.Null(Figure.Ratio("", [1.1, 1.2]).Value);
    }
}
