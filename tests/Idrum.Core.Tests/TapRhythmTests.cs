using Idrum.Core.Listening;

namespace Idrum.Core.Tests;

public class TapRhythmTests
{
    /// <summary>A finger beside a machine: beats with jitter, some missed, some made twice, the first ones late.</summary>
    private static List<double> Taps(Random random, double hz, int count, double jitter, double missed, double twice)
    {
        double Normal() =>
            Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        var taps = new List<double>();
        var start = random.NextDouble() * 3;
        for (var beat = 0; taps.Count < count; beat++)
        {
            if (random.NextDouble() < missed)
            {
                continue;
            }
            taps.Add(start + beat / hz + jitter * Normal());
            if (random.NextDouble() < twice)
            {
                taps.Add(taps[^1] + 0.04 + 0.08 * random.NextDouble());
            }
        }
        taps.Sort();
        return taps;
    }

    [Theory]
    [InlineData(0.5, 1.0)]
    [InlineData(1.0, 4.0)]
    [InlineData(3.5, 4.0)]
    public void Twenty_taps_give_the_rate_within_its_interval(double slowest, double quickest)
    {
        var random = new Random(22);
        var (close, covered, runs) = (0, 0, TestSize.Of(300, 1000));
        for (var run = 0; run < runs; run++)
        {
            var hz = slowest + (quickest - slowest) * random.NextDouble();
            var rhythm = TapRhythm.Of(Taps(random, hz, 20, 0.03, 0.1, 0.05))!;
            close += Math.Abs(rhythm.Hz / hz - 1) < 0.015 ? 1 : 0;
            covered += rhythm.Low <= hz && hz <= rhythm.High ? 1 : 0;
        }
        Assert.True(close >= 0.95 * runs, $"{close} of {runs} within 1.5 %");
        Assert.InRange((double)covered / runs, 0.90, 0.98);
    }

    [Fact]
    public void Half_and_twice_the_rate_are_told_by_what_they_would_leave_untapped()
    {
        var random = new Random(5);
        for (var run = 0; run < 200; run++)
        {
            var hz = 0.6 + 2 * random.NextDouble();
            Assert.InRange(TapRhythm.Of(Taps(random, hz, 12, 0.02, 0.2, 0))!.Hz / hz, 0.9, 1.1);
        }
    }

    [Fact]
    public void A_slowed_playback_gives_the_rate_of_the_sound_itself()
    {
        var taps = Enumerable.Range(0, 12).Select(k => 0.5 * k).ToList();
        Assert.Equal(2, TapRhythm.Of(taps)!.Hz, 6);
        Assert.Equal(8, TapRhythm.Of(taps, 4)!.Hz, 6);
    }

    [Fact]
    public void Too_few_taps_say_nothing_and_uneven_ones_say_so()
    {
        Assert.Null(TapRhythm.Of([0, 0.5, 1, 1.5, 2]));
        Assert.Null(TapRhythm.Of([1, 1, 1, 1, 1, 1, 1, 1]));
        var random = new Random(3);
        var uneven = Enumerable.Range(0, 14).Select(_ => random.NextDouble() * 9).Order().ToList();
        Assert.True(TapRhythm.Of(uneven) is null or { Say.Length: > 0 });
        Assert.Contains(
            "quicker",
            TapRhythm.Of([.. Enumerable.Range(0, 20).Select(k => 0.14 * k)])!.Say,
            StringComparison.Ordinal
        );
        Assert.Throws<ArgumentException>(() => TapRhythm.Of([0, 1, double.NaN, 3, 4, 5, 6]));
        Assert.Throws<ArgumentException>(() => TapRhythm.Of([0, 1, 0.5, 3, 4, 5, 6]));
    }
}
