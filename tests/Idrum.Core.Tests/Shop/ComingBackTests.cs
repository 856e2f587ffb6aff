using Idrum.Core.Money;

namespace Idrum.Core.Tests.Shop;

/// <summary>What to change while it is open, and whether to mend at all: against lives drawn at random.</summary>
public class ComingBackTests
{
    /// <summary>A life of a part that wears out: mean given, drawn by inverting the law; shape 3, whose mean is 0.893
    /// of its scale.</summary>
    private static double Life(double mean, Random random) =>
        mean / 0.8930 * Math.Cbrt(-Math.Log(1 - random.NextDouble()));

    [Theory]
    [InlineData(9, 8, 5)]
    [InlineData(9, 3, 5)]
    [InlineData(12, 10, 10)]
    [InlineData(7, 6, 2.5)]
    public void The_chance_is_the_share_of_those_that_lived_so_long_and_then_fail(double life, double age, double loads)
    {
        var random = new Random(3);
        var (lived, failed) = (0, 0);
        for (var n = 0; n < 400_000; n++)
        {
            var years = Life(life, random) * 5 / loads;
            lived += years > age ? 1 : 0;
            failed += years > age && years <= age + 2 ? 1 : 0;
        }
        Assert.InRange(
            ComingBack.Fails(life, age, loads),
            failed / (double)lived - 0.012,
            failed / (double)lived + 0.012
        );
    }

    [Theory]
    [InlineData(8, 8, 9)]
    [InlineData(9, 2, 5)]
    [InlineData(12, 20, 5)]
    [InlineData(7, 0, 5)]
    public void A_part_that_was_changed_whenever_it_failed_fails_as_often_as_drawn_lives_say(
        double life,
        double machine,
        double loads
    )
    {
        var random = new Random(4);
        var failed = 0;
        const int Machines = 200_000;
        for (var n = 0; n < Machines; n++)
        {
            var at = Life(life, random) * 5 / loads;
            while (at <= machine)
            {
                at += Life(life, random) * 5 / loads;
            }
            failed += at <= machine + 2 ? 1 : 0;
        }
        Assert.InRange(
            ComingBack.FailsInMachine(life, machine, loads),
            failed / (double)Machines - 0.012,
            failed / (double)Machines + 0.012
        );
    }

    [Fact]
    public void A_cheap_old_part_in_reach_is_changed_and_a_dear_young_one_is_left()
    {
        var terms = new ShopTerms();
        var belt = ComingBack.Of(19, 2, 35, ComingBack.Fails(9, 12, 5), terms);
        Assert.True(belt.Change);
        Assert.False(ComingBack.Of(118, 20, 60, ComingBack.Fails(14, 4, 5), terms).Change);
        // The older, the harder used, the dearer the way there: the more it pays.
        Assert.True(
            ComingBack.Fails(9, 12, 20) > ComingBack.Fails(9, 12, 5)
                && ComingBack.Fails(9, 12, 5) > ComingBack.Fails(9, 4, 5)
        );
        Assert.InRange(ComingBack.Fails(9, 0, 5), 0, 0.05);
    }

    [Fact]
    public void Years_left_are_quarters_of_lives_drawn_at_random_and_a_verdict_needs_ranges_that_do_not_meet()
    {
        var random = new Random(8);
        var left = Enumerable
            .Range(0, 200_000)
            .Select(_ => Life(15, random))
            .Where(l => l > 10)
            .Select(l => l - 10)
            .Order()
            .ToArray();
        var both = RepairOrReplace.Of(80, 120, 600, 10, 5);
        Assert.InRange(both.YearsLeft.From, left[left.Length / 4] * 0.95, left[left.Length / 4] * 1.05);
        Assert.InRange(both.YearsLeft.To, left[left.Length * 3 / 4] * 0.95, left[left.Length * 3 / 4] * 1.05);
        Assert.Contains("Mending", RepairOrReplace.Of(60, 80, 900, 3, 5).Words, StringComparison.Ordinal);
        Assert.Contains(
            "new one is cheaper",
            RepairOrReplace.Of(600, 700, 300, 20, 10).Words,
            StringComparison.Ordinal
        );
        Assert.Contains("the ranges meet", RepairOrReplace.Of(100, 200, 500, 12, 5).Words, StringComparison.Ordinal);
    }
}
