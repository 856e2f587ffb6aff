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

    [Fact]
    public void Even_taps_are_no_surer_than_their_clock()
    {
        var rhythm = TapRhythm.Of([.. Enumerable.Range(0, 9).Select(k => 0.5 * k)])!;
        Assert.Equal(2, rhythm.Hz, 6);
        Assert.InRange(rhythm.Error, 1e-5, 1e-3);
        var groups = SourceMatch.Of(
            SoundSource.Of(TestShop.Shop.Layouts[0], 50, null),
            rhythm.Hz,
            rhythm.Error,
            SourceMatch.SpeedTolerance
        );
        Assert.All(groups.Groups, g => Assert.True(double.IsFinite(g.Probability)));
        Assert.True(double.IsFinite(groups.None));
    }

    [Fact]
    public void Who_stops_and_begins_anew_is_heard_by_the_longer_run_and_at_once()
    {
        var random = new Random(3);
        var first = Taps(random, 2, 8, 0.02, 0, 0);
        List<double> taps = [.. first, .. Taps(random, 2.5, 20, 0.02, 0.1, 0).Select(s => s + 100_000)];
        var rhythm = TapRhythm.Of(taps)!;
        Assert.InRange(rhythm.Hz / 2.5, 0.985, 1.015);
        Assert.True(rhythm.Left >= 8);
    }

    [Fact]
    public void Six_hundred_taps_sharpen_the_rate()
    {
        var random = new Random(4);
        var rhythm = TapRhythm.Of(Taps(random, 1.7, 600, 0.03, 0.1, 0))!;
        Assert.InRange(rhythm.Hz, rhythm.Low, rhythm.High);
        Assert.InRange(rhythm.Hz / 1.7, 0.9995, 1.0005);
        Assert.True(rhythm.Error < 1e-3);
    }
}
