using Idrum.Core.Gauging;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Tests.Gauging;

/// <summary>What is stated of uncertainty against truths that are known: intervals cover as stated, a verdict of seven in
/// ten is right seven times in ten.</summary>
public class GaugeMathTests
{
    private static readonly GaugingBook Book = TestShop.Shop.Handbook.Gauging;

    private static Instrument Tool(string id) => Book.Instruments.Single(i => i.Id == id);

    // A tool with its own lasting error, a hand with its own spread, and the step it shows.
    private static Func<double, double> Reader(Instrument tool, Random random)
    {
        var off = (2 * random.NextDouble() - 1) * tool.Error;
        // Hands differ about the usual one as eight degrees of freedom say.
        var spread =
            tool.Repeat * Math.Sqrt(Instrument.RepeatFreedom / ChiSquared.Sample(random, Instrument.RepeatFreedom));
        return truth =>
            Math.Round((truth + off + Normal.Sample(random, 0, spread)) / tool.Resolution) * tool.Resolution;
    }

    [Theory]
    [InlineData("calliper", 3)]
    [InlineData("ruler", 3)]
    [InlineData("scale", 3)]
    [InlineData("watch", 1)]
    [InlineData("feeler", 2)]
    public void The_interval_of_a_mean_covers_the_truth_as_often_as_it_says(string instrument, int readings)
    {
        var (random, tool) = (new Random(41), Tool(instrument));
        const int Runs = 2000;
        var covered = 0;
        for (var run = 0; run < Runs; run++)
        {
            var truth = 20 + random.NextDouble() * 10;
            var read = Reader(tool, random);
            var mean = GaugeMath.Mean([.. Enumerable.Range(0, readings).Select(_ => read(truth))], tool);
            covered += Math.Abs(mean.Value - truth) <= GaugeMath.Half95(mean) ? 1 : 0;
        }
        Assert.InRange(covered / (double)Runs, 0.90, 0.985);
    }

    [Theory]
    [InlineData("watch")]
    [InlineData("anemometer")]
    [InlineData("calliper")]
    [InlineData("fine-calliper")]
    public void A_verdict_of_seven_in_ten_is_right_seven_times_in_ten(string instrument)
    {
        var (random, tool) = (new Random(7), Tool(instrument));
        var width = 4 * Math.Sqrt(GaugeMath.Varying(tool) / 3 + GaugeMath.Lasting(tool));
        var (said, right) = (new double[10], new int[10]);
        var cases = new int[10];
        for (var run = 0; run < 40_000; run++)
        {
            var limit = 8 + random.NextDouble();
            var truth = limit + (2 * random.NextDouble() - 1) * width;
            var read = Reader(tool, random);
            var mean = GaugeMath.Mean([read(truth), read(truth), read(truth)], tool);
            var p = GaugeMath.Below(mean, limit);
            var tenth = Math.Min(9, (int)(p * 10));
            said[tenth] += p;
            cases[tenth]++;
            right[tenth] += truth < limit ? 1 : 0;
        }
        for (var tenth = 0; tenth < 10; tenth++)
        {
            Assert.True(cases[tenth] >= 600, $"{tenth}: {cases[tenth]}");
            Assert.InRange(right[tenth] / (double)cases[tenth] - said[tenth] / cases[tenth], -0.04, 0.04);
        }
    }

    [Fact]
    public void Hours_left_cover_as_stated_and_what_does_not_wear_has_none()
    {
        var (random, tool) = (new Random(3), Tool("calliper"));
        const int Runs = 2000;
        int covered = 0,
            told = 0;
        for (var run = 0; run < Runs; run++)
        {
            var rate = -(0.5 + random.NextDouble()) / 1000;
            var (then, hours) = (5.5, 1500.0);
            var now = then + rate * hours;
            double[] Read(double truth)
            {
                var read = Reader(tool, random);
                return [read(truth), read(truth), read(truth)];
            }
            var (a, b) = (GaugeMath.Mean(Read(then), tool), GaugeMath.Mean(Read(now), tool));
            if (GaugeMath.Left(b, a, hours, 2) is not { } left)
            {
                continue;
            }
            told++;
            var truth = (2 - now) / rate;
            Assert.InRange(left.Hours, left.Low, left.High);
            covered += truth >= left.Low && truth <= left.High ? 1 : 0;
        }
        Assert.True(told > Runs * 0.95);
        Assert.InRange(covered / (double)told, 0.90, 0.985);
        // Grown, or alike: it does not wear towards its limit.
        Assert.Null(GaugeMath.Left(new(5.6, "mm", 0.05), new(5.5, "mm", 0.05), 1000, 2));
        Assert.Null(GaugeMath.Left(new(5.5, "mm", 0.05), new(5.5, "mm", 0.05), 1000, 2));
        // Hardly a step: no end is stated that is not known.
        var loose = GaugeMath.Left(new(5.45, "mm", 0.05), new(5.5, "mm", 0.05), 1000, 2)!.Value;
        Assert.True(double.IsPositiveInfinity(loose.High));
        Assert.True(loose.Low > 5000);
    }

    [Fact]
    public void What_can_be_told_of_a_rim_is_found_in_sixteen_readings()
    {
        var (random, tool) = (new Random(19), Tool("feeler"));
        const int Runs = 1000;
        var covered = new int[4];
        for (var run = 0; run < Runs; run++)
        {
            double Amount(double most) => most * (0.5 + random.NextDouble() / 2);
            var (sag, shift) = (Amount(2), Amount(1.5));
            var (eccentric, at) = (Amount(1.5), random.NextDouble() * 2 * Math.PI);
            var (oval, oat) = (Amount(1), random.NextDouble() * 2 * Math.PI);
            var readings = new List<(double, double, double)>();
            foreach (var drum in new[] { 0.0, 135 })
            {
                for (var k = 0; k < 8; k++)
                {
                    var clock = k * Math.PI / 4;
                    var on = clock - drum * Math.PI / 180;
                    var gap =
                        6
                        + sag * Math.Cos(clock)
                        + shift * Math.Sin(clock)
                        + eccentric * Math.Cos(on - at)
                        + oval * Math.Cos(2 * on - oat)
                        + Normal.Sample(random, 0, tool.Repeat);
                    readings.Add((k * 45, drum, Math.Round(gap / tool.Resolution) * tool.Resolution));
                }
            }
            var fit = RimGap.Of(readings, tool)!;
            Assert.True(fit.Told);
            foreach (
                var (i, measured, truth) in new[]
                {
                    (0, fit.Sag, sag),
                    (1, fit.Shift, shift),
                    (2, fit.Eccentric, eccentric),
                    (3, fit.Oval, oval),
                }
            )
            {
                covered[i] += Math.Abs(measured.Value - truth) <= GaugeMath.Half95(measured) ? 1 : 0;
            }
        }
        Assert.All(covered, c => Assert.InRange(c / (double)Runs, 0.90, 0.98));
    }

    [Fact]
    public void With_one_drum_angle_what_sags_and_what_is_off_its_axis_are_one_figure_and_too_few_places_are_none()
    {
        var tool = Tool("feeler");
        List<(double, double, double)> Round(double drum, int n, Func<double, double> gap) =>
            [.. Enumerable.Range(0, n).Select(k => (k * 360.0 / n, drum, gap(k * 2 * Math.PI / n)))];
        var one = RimGap.Of(Round(0, 8, c => 5 + Math.Cos(c) + 0.5 * Math.Cos(c)), tool)!;
        Assert.False(one.Told);
        Assert.Equal(1.5, one.Sag.Value, 6);
        Assert.Null(RimGap.Of(Round(0, 6, c => 5 + Math.Cos(c)), tool));
        Assert.Null(RimGap.Of([.. Enumerable.Repeat((90.0, 0.0, 5.0), 12)], tool));
        // The same angle said twice, or once round more, is one.
        Assert.False(RimGap.Of([.. Round(0, 8, c => 5), .. Round(360, 8, c => 5)], tool)!.Told);
        Assert.Equal(45, RimGap.ClockDeg("1:30"));
        Assert.Equal(0, RimGap.ClockDeg("12:00"));
        Assert.Null(RimGap.ClockDeg("13:00"));
        Assert.Null(RimGap.ClockDeg("top"));
    }
}
