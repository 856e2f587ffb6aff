using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>A few recordings of the noise bench; the many are in <c>bench listening</c>.</summary>
public class SoundAnalysisTests
{
    [Theory]
    [InlineData("ostrel-ot50", "roller-flat", "roller", 10)]
    [InlineData("quenby-qd62", "idler-dry", "idler", 10)]
    [InlineData("marlune-ml45", "rear-felt-worn", "drum", 30)]
    [InlineData("quenby-qc30", "motor-bearings", "motor", 10)]
    public void The_part_that_sounds_is_named_first(string layoutId, string fault, string mechanism, double seconds)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var right = 0;
        for (var seed = 1; seed <= 5; seed++)
        {
            var recording = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = [fault],
                    Seconds = seconds,
                    Seed = seed,
                }
            );
            var heard = SoundAnalysis.Of(recording, SoundSource.Of(layout, 60), new());
            right += heard.Groups[0].Sources.Any(s => s.Mechanism == mechanism) && heard.None < 0.5 ? 1 : 0;
            Assert.All(heard.Groups, g => Assert.InRange(g.Probability, 0, 1));
        }
        Assert.True(right >= 4, $"{right} of 5");
    }

    [Fact]
    public void A_sound_machine_is_left_alone_and_the_same_seed_sounds_alike()
    {
        var layout = TestShop.Machine("ostrel-or70").Layout;
        for (var seed = 1; seed <= 6; seed++)
        {
            var order = new NoiseOrder { Seed = seed, Load = seed % 2 };
            var recording = NoiseBench.Render(layout, order);
            Assert.True(SoundAnalysis.Of(recording, SoundSource.Of(layout, 60), new()).None > 0.5);
            Assert.Equal(recording.Samples, NoiseBench.Render(layout, order).Samples);
        }
    }

    [Fact]
    public void The_fault_is_as_loud_against_the_rest_as_was_asked()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        NoiseOrder Order(double db) =>
            new()
            {
                Faults = ["drum-lip"],
                Seed = 4,
                FaultDb = db,
            };
        var sources = SoundSource.Of(layout, 60);
        Assert.True(
            SoundAnalysis.Of(NoiseBench.Render(layout, Order(10)), sources, new()).None
                < SoundAnalysis.Of(NoiseBench.Render(layout, Order(-25)), sources, new()).None
        );
    }

    [Fact]
    public void What_is_too_short_too_quiet_or_cut_off_says_what_to_record_instead()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var sources = SoundSource.Of(layout, 60);
        var recording = NoiseBench.Render(layout, new() { Faults = ["roller-flat"], Seed = 1 });
        SoundAnalysis With(Func<float, float> change, int count) =>
            SoundAnalysis.Of(new(recording.Rate, [.. recording.Samples.Take(count).Select(change)]), sources, new());
        var all = recording.Samples.Length;
        foreach (
            var (heard, words) in new[]
            {
                (With(s => s, 2 * recording.Rate), "too short"),
                (With(s => s * 1e-4f, all), "too quiet"),
                (With(_ => 0, all), "too quiet"),
                (With(s => Math.Clamp(s * 400, -1, 1), all), "cut off"),
            }
        )
        {
            Assert.False(heard.Enough);
            Assert.Empty(heard.Groups);
            Assert.Contains(words, heard.Say, StringComparison.Ordinal);
        }
        Assert.True(With(s => s, all).Enough);
    }

    [Fact]
    public void It_stops_when_it_is_told_to()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        var recording = new Recording(16_000, [.. Enumerable.Range(0, 160_000).Select(i => (i % 97 - 48) / 99f)]);
        Assert.ThrowsAny<OperationCanceledException>(() =>
            SoundAnalysis.Of(recording, SoundSource.Of(layout, 60), new(), stop.Token)
        );
        Assert.ThrowsAny<OperationCanceledException>(() =>
            NoiseBench.Render(layout, new() { Faults = ["drum-lip"] }, stop.Token)
        );
    }
}
