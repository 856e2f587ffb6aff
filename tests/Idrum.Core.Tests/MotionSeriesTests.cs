using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

public class MotionSeriesTests
{
    [Fact]
    public void What_strikes_is_felt_through_the_cabinet_and_a_sound_machine_is_left_alone()
    {
        var (right, all, falsely) = (0, 0, 0);
        var wrong = new List<string>();
        foreach (var layout in TestSize.Every(4, TestShop.Shop.Layouts))
        {
            var sources = SoundSource.Of(layout, 60);
            foreach (var fault in NoiseBench.FeltOf(layout))
            {
                var series = NoiseBench.Shake(
                    layout,
                    new()
                    {
                        Faults = [fault],
                        Seconds = 30,
                        Seed = all,
                    }
                );
                Assert.Empty(series.Check());
                var felt = SoundAnalysis.Felt(series, sources, new());
                var mechanism = NoiseBench.MechanismOf(fault);
                all++;
                if (
                    felt.Groups is [var first, ..]
                    && first.Probability > felt.None
                    && first.Sources.Any(s => s.Mechanism == mechanism)
                )
                {
                    right++;
                }
                else
                {
                    wrong.Add($"{layout.Id} {fault} as {felt.Groups[0].Mechanism}, none {felt.None:0.00}");
                }
            }
            for (var seed = 0; seed < 4; seed++)
            {
                var still = SoundAnalysis.Felt(
                    NoiseBench.Shake(layout, new() { Seconds = 30, Seed = 500 + seed }),
                    sources,
                    new()
                );
                falsely += still.None < 0.5 ? 1 : 0;
            }
        }
        Assert.True(right >= 0.9 * all, $"{right} of {all}: {string.Join("; ", wrong)}");
        Assert.True(falsely <= TestSize.Of(1, 2), $"{falsely} sound machines");
    }

    [Fact]
    public void What_cannot_be_gone_by_is_said()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var good = NoiseBench.Shake(layout, new() { Faults = ["drum-lip"], Seconds = 20 });
        Assert.Contains(good with { X = [1, 2] } is var few ? few.Check() : [], e => e.Pointer == "x");
        Assert.Contains((good with { Z = [.. good.Z.Select(_ => double.NaN)] }).Check(), e => e.Pointer == "z");
        Assert.Contains((good with { Seconds = [.. good.Seconds.Reverse()] }).Check(), e => e.Pointer == "seconds");
        var none = good.X.Select(_ => 0.0).ToList();
        Assert.Contains("Nothing moves", (good with { X = none, Y = none, Z = none }).Say, StringComparison.Ordinal);
        // Two readings a second for two minutes: nothing of the machine can be told by it.
        var slow = Enumerable.Range(0, 340).Select(k => k / 2.0).ToList();
        var rocked = SoundAnalysis.Felt(
            new(slow, [.. slow.Select(s => s % 3)], [.. slow.Select(s => s % 5)], [.. slow.Select(_ => 9.8)]),
            SoundSource.Of(layout, 60),
            new()
        );
        Assert.False(rocked.Enough);
        Assert.Contains("a second are too few", rocked.Say, StringComparison.Ordinal);
        var hours = Enumerable.Range(0, 400).Select(k => (double)k).ToList();
        Assert.Contains(new MotionSeries(hours, hours, hours, hours).Check(), e =>
            e.Message.Contains("3 minutes", StringComparison.Ordinal)
        );
        var brief = NoiseBench.Shake(layout, new() { Faults = ["drum-lip"], Seconds = 3 });
        Assert.False(SoundAnalysis.Felt(brief, SoundSource.Of(layout, 60), new()).Enough);
        Assert.Throws<ArgumentException>(() => NoiseBench.Shake(layout, new() { Faults = ["motor-start"] }));
    }
}
