using Idrum.Core.Drive;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>By hand, belt on and belt off.</summary>
public class HeardPairTests
{
    [Fact]
    public void What_is_gone_with_the_belt_is_driven_by_it_and_what_stays_lies_with_the_drum()
    {
        var (right, wrong, all) = (0, new List<string>(), 0);
        foreach (var layout in TestSize.Every(12, TestShop.Shop.Layouts))
        {
            foreach (
                var fault in NoiseBench
                    .FaultsOf(layout)
                    .Where((f, k) => NoiseBench.MechanismOf(f) is not Mechanism.Mains && (TestSize.Long || k % 2 == 0))
            )
            {
                var driven = NoiseBench.MechanismOf(fault) is Mechanism.Idler or Mechanism.Motor or Mechanism.BeltPass;
                var pair = Of(layout, fault, all + 1);
                all++;
                right += pair.Outcome == (driven ? "silent" : "sounds") ? 1 : 0;
                if (pair.Outcome == (driven ? "sounds" : "silent"))
                {
                    wrong.Add($"{layout.Id} {fault} {pair.QuieterDb:0.0}");
                }
            }
        }
        Assert.True(right >= 0.8 * all, $"{right} of {all}; wrong {string.Join(", ", wrong)}");
        Assert.True(wrong.Count <= Math.Max(TestSize.Long ? 0 : 1, 0.03 * all), string.Join(", ", wrong));
    }

    [Fact]
    public void One_of_the_two_says_what_is_to_be_recorded_next()
    {
        var whole = Of(TestShop.Machine("marlune-ml49").Layout, "idler-dry", 3);
        Assert.Contains("slip the belt off", (whole with { Off = null }).Words, StringComparison.Ordinal);
        Assert.Contains("now the belt on", (whole with { On = null }).Words, StringComparison.Ordinal);
        Assert.Equal("", (whole with { Off = null }).Outcome);
        // Too quiet to be listened to with the belt off: it is gone.
        var still = whole.Off! with { Heard = whole.Off.Heard! with { Enough = false, BandDb = null, LevelDb = -80 } };
        Assert.Equal("silent", (whole with { Off = still }).Outcome);
        var bad = whole.On! with { Heard = whole.On.Heard! with { Enough = false, Say = "Too short." } };
        Assert.Equal("", (whole with { On = bad }).Outcome);
    }

    private const double Seconds = 12;

    private static double Rms(float[] samples) => Math.Sqrt(samples.Average(s => (double)s * s));

    private static HeardPair Of(Core.Machines.Layout layout, string fault, int seed)
    {
        SoundRecorded Made(bool off)
        {
            var random = new Random(seed + 1000);
            var sound = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = [fault],
                    Seed = seed,
                    ByHand = true,
                    BeltOff = off,
                    // Nothing else runs.
                    FaultDb = 8,
                    Seconds = Seconds,
                }
            );
            // The second time hand and phone are a little otherwise, and something else stirs in the room.
            var gain = off ? (float)Math.Pow(10, 2 * (random.NextDouble() - 0.5) / 20) : 1;
            var other = NoiseBench.Render(
                layout,
                new()
                {
                    Seed = 2 * seed + (off ? 1 : 0) + 5000,
                    ByHand = true,
                    Seconds = Seconds,
                }
            );
            var share = 0.4 * Rms(sound.Samples) / Rms(other.Samples);
            var heard = SoundAnalysis.Of(
                new(sound.Rate, [.. sound.Samples.Zip(other.Samples, (s, o) => (float)(gain * (s + share * o)))]),
                SoundSource.Of(layout, 60),
                new() { ByHand = true }
            );
            return new("x", "thump", "", true) { Belt = off ? "off" : "on", Heard = HeardInSound.Of(heard) };
        }
        return new(Made(false), Made(true));
    }
}
