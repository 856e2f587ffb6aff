using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>Reorder points held against years in which customers come at random: the level set is reached, and no more is kept than it
/// takes.</summary>
public class ReorderTests
{
    private static double Exponential(Random random, double rate) => -Math.Log(1 - random.NextDouble()) / rate;

    /// <summary>Share of those asked for that was here, with what is taken ordered again at once.</summary>
    private static (double Served, double OnShelf) Years(
        double perYear,
        double leadDays,
        int level,
        int years,
        Random random
    )
    {
        var (due, here, asked, served) = (new PriorityQueue<int, double>(), level, 0, 0);
        var (now, shelf) = (0.0, 0.0);
        while (now < years)
        {
            var next = now + Exponential(random, perYear);
            while (due.TryPeek(out _, out var at) && at <= next)
            {
                shelf += Math.Max(0, here) * (at - now);
                now = at;
                due.Dequeue();
                here++;
            }
            shelf += Math.Max(0, here) * (next - now);
            now = next;
            asked++;
            served += here > 0 ? 1 : 0;
            here--;
            due.Enqueue(1, now + leadDays / 365.25);
        }
        return ((double)served / asked, shelf / now);
    }

    [Theory]
    [InlineData(4, 5, 0.95)]
    [InlineData(24, 7, 0.95)]
    [InlineData(60, 14, 0.9)]
    [InlineData(2, 21, 0.98)]
    [InlineData(120, 3, 0.99)]
    public void The_level_is_reached_within_two_points_and_one_less_would_not_do(
        double perYear,
        double lead,
        double service
    )
    {
        var made = Reorder.Of(perYear, lead, service);
        var (served, _) = Years(perYear, lead, made.Level, 1000, new Random(17));
        Assert.InRange(served, made.Served - 0.02, made.Served + 0.02);
        Assert.True(made.Served >= service);
        Assert.True(served > service - 0.005, $"{served} of {service}");
        if (made.Level > 1)
        {
            Assert.True(Years(perYear, lead, made.Level - 1, 1000, new Random(18)).Served < service + 0.012);
        }
        Assert.Equal(made.Level - 1, made.Point);
    }

    [Fact]
    public void A_fixed_minimum_that_serves_all_as_well_keeps_more()
    {
        // Ten articles asked for from once to sixty times a year: one minimum for all, as high as the quickest needs.
        var rates = new double[] { 1, 2, 3, 5, 8, 12, 20, 30, 45, 60 };
        var levels = rates.Select(r => Reorder.Of(r, 7, 0.95).Level).ToList();
        var (own, fixed_) = (0.0, 0.0);
        foreach (var (rate, level) in rates.Zip(levels))
        {
            own += Years(rate, 7, level, 300, new Random(5)).OnShelf;
            var (served, shelf) = Years(rate, 7, levels.Max(), 300, new Random(5));
            fixed_ += shelf;
            Assert.True(served >= 0.94);
        }
        Assert.True(own < 0.75 * fixed_, $"{own} against {fixed_}");
    }

    [Fact]
    public void Few_counts_keep_no_less_than_many_and_many_come_to_the_known_rate()
    {
        foreach (var service in new[] { 0.9, 0.95, 0.99 })
        {
            var known = Reorder.Of(12, 10, service);
            Assert.True(Reorder.Counted(3, 0.25, 10, service).Level >= known.Level);
            Assert.Equal(known.Level, Reorder.Counted(12_000, 1000, 10, service).Level);
        }
    }

    [Theory]
    [InlineData(-1, 5, 0.9)]
    [InlineData(double.NaN, 5, 0.9)]
    [InlineData(5, -1, 0.9)]
    [InlineData(5, double.PositiveInfinity, 0.9)]
    [InlineData(5, 5, 1)]
    [InlineData(5, 5, 0)]
    [InlineData(5, 5, double.NaN)]
    public void What_is_no_rate_time_or_share_is_refused(double perYear, double lead, double service) =>
        Assert.Throws<ArgumentOutOfRangeException>(() => Reorder.Of(perYear, lead, service));

    [Fact]
    public void What_comes_in_pairs_is_kept_in_pairs()
    {
        var (when, aJob) = Reorder.OfJobs([2, 2, 2, 1, 2, 4, 2], 2, 3, 0.9);
        Assert.Equal(2, aJob);
        Assert.Equal(2 * Reorder.Counted(7, 2, 3, 0.9).Level, when.Level);
        Assert.Equal(when.Level - 1, when.Point);
        Assert.Equal((default, 1), Reorder.OfJobs([], 2, 3, 0.9));
    }

    [Fact]
    public void Nothing_asked_for_is_not_kept() => Assert.Equal(default, Reorder.Of(0, 5, 0.95));
}
