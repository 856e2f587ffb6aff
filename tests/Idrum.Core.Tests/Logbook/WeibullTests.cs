using Idrum.Core.Logbook;

namespace Idrum.Core.Tests;

/// <summary>A Weibull law fitted to lives of known law: its values against another way, its intervals by how often they hold the
/// truth.</summary>
public class WeibullTests
{
    private static List<Life> Draw(Random random, int count, double shape, double scale, double seenFor)
    {
        var lives = new List<Life>();
        for (var i = 0; i < count; i++)
        {
            // A part went in some time within the years looked at, and is seen until their end.
            var seen = seenFor * (0.15 + 0.85 * random.NextDouble());
            var life = scale * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / shape);
            lives.Add(life < seen ? new(life, true) : new(seen, false));
        }
        return lives;
    }

    /// <summary>Parts that were met running at some age; what failed before it was never met.</summary>
    private static List<Life> Met(Random random, int count, double shape, double scale)
    {
        var lives = new List<Life>();
        while (lives.Count < count)
        {
            var (met, watched) = (5 * random.NextDouble(), 1 + 4 * random.NextDouble());
            var life = scale * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / shape);
            if (life > met)
            {
                lives.Add(life < met + watched ? new(life, true, met) : new(met + watched, false, met));
            }
        }
        return lives;
    }

    [Fact]
    public void What_was_met_when_it_had_run_for_years_does_not_make_lives_look_longer()
    {
        var random = new Random(11);
        int fits = 0,
            held = 0;
        var (told, blind) = (0d, 0d);
        for (var run = 0; run < 400; run++)
        {
            var lives = Met(random, 150, 2, 6);
            var fit = Weibull.Fit(lives)!;
            fits++;
            held += fit.Shape.Low <= 2 && 2 <= fit.Shape.High ? 1 : 0;
            told += fit.Scale;
            blind += Weibull.Fit([.. lives.Select(l => l with { From = 0 })])!.Scale;
        }
        Assert.InRange((double)held / fits, 0.90, 0.98);
        Assert.InRange(told / fits, 5.85, 6.15);
        // Taken as if each had been there from the first day, it would be a good deal more.
        Assert.True(blind / fits > 6.6, $"{blind / fits}");
    }

    [Theory]
    [InlineData(2.2, 6.0, 10.0, 120)]
    [InlineData(1.0, 4.0, 6.0, 90)]
    [InlineData(3.5, 8.0, 9.0, 200)]
    public void Intervals_hold_the_truth_as_often_as_they_say(double shape, double scale, double seenFor, int parts)
    {
        var random = new Random(20261130);
        int fits = 0,
            shapes = 0,
            tenths = 0,
            halves = 0;
        var runs = TestSize.Of(200, 600);
        for (var run = 0; run < runs; run++)
        {
            if (Weibull.Fit(Draw(random, parts, shape, scale, seenFor)) is not { } fit)
            {
                continue;
            }
            fits++;
            double True(double share) => scale * Math.Pow(-Math.Log(1 - share), 1 / shape);
            shapes += fit.Shape.Low <= shape && shape <= fit.Shape.High ? 1 : 0;
            var (tenth, half) = (fit.Age(0.1), fit.Age(0.5));
            tenths += tenth.Low <= True(0.1) && True(0.1) <= tenth.High ? 1 : 0;
            halves += half.Low <= True(0.5) && True(0.5) <= half.High ? 1 : 0;
        }
        Assert.True(fits > 0.83 * runs, $"{fits} of {runs} runs had enough failures");
        foreach (var held in new[] { shapes, tenths, halves })
        {
            Assert.InRange((double)held / fits, 0.90, 0.98);
        }
    }

    [Fact]
    public void Its_best_is_the_highest_point_that_a_blind_search_finds()
    {
        var lives = Draw(new Random(7), 150, 2.4, 5, 9);
        var fit = Weibull.Fit(lives)!;
        double L(double k, double s) =>
            lives.Sum(l =>
                (l.Failed ? Math.Log(k / s) + (k - 1) * Math.Log(l.Years / s) : 0) - Math.Pow(l.Years / s, k)
            );
        var best = L(fit.Shape.Value, fit.Scale);
        for (var k = 0.5; k < 6; k += 0.02)
        {
            for (var s = 2.0; s < 12; s += 0.05)
            {
                Assert.True(L(k, s) <= best + 1e-9, $"k {k}, scale {s}");
            }
        }
        // And at the ends of its interval the best of the other parameter has fallen by half of 3.841.
        foreach (var k in new[] { fit.Shape.Low, fit.Shape.High })
        {
            var along = Enumerable.Range(0, 20000).Max(i => L(k, 2 + i * 0.0005));
            Assert.Equal(1.9207, best - along, 3);
        }
    }

    [Fact]
    public void Half_have_failed_at_the_age_it_names() =>
        Assert.Equal(
            0.5,
            Weibull.Fit(Draw(new Random(3), 300, 2, 6, 12)) is { } fit ? fit.Runs(fit.Age(0.5).Value) : 0,
            9
        );

    [Fact]
    public void Too_few_failures_give_no_curve_and_a_life_that_is_none_is_refused()
    {
        var few = Enumerable
            .Range(1, Weibull.LeastFailures - 1)
            .Select(i => new Life(i / 10.0, true))
            .Concat(Enumerable.Repeat(new Life(5, false), 100))
            .ToList();
        Assert.Null(Weibull.Fit(few));
        Assert.NotNull(Weibull.Fit([.. few, new Life(4, true)]));
        Assert.Null(Weibull.Fit([.. Enumerable.Repeat(new Life(4, true), 50)]));
        foreach (var years in new[] { 0, -1, double.NaN, double.PositiveInfinity })
        {
            Assert.Throws<ArgumentException>(() => Weibull.Fit([.. few, new Life(years, true)]));
        }
        Assert.Throws<ArgumentException>(() => Weibull.Fit([.. few, new Life(3, true, 3)]));
    }
}
