using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>What kind of noise a recording holds: on machines and seeds of its own, and on sounds made otherwise.</summary>
public class SoundCharacterTests
{
    private static SoundAnalysis Heard(Recording sound, string layout = "quenby-qc30") =>
        SoundAnalysis.Of(sound, SoundSource.Of(TestShop.Machine(layout).Layout, 50), new());

    [Theory]
    [InlineData("roller-dry", "chirp")]
    [InlineData("roller-seized", "squeal")]
    [InlineData("idler-loose", "rattle")]
    [InlineData("roller-flat", "thump")]
    [InlineData("track-debris", "thump double-knock")]
    [InlineData("rear-felt-worn", "grind")]
    [InlineData("motor-start", "hum")]
    // A motor hums in a sound machine, too.
    [InlineData("", "quiet rumble hum")]
    public void A_fault_of_the_bench_is_of_its_kind_in_nine_of_ten(string fault, string kinds)
    {
        var wrong = new List<string>();
        var runs = TestSize.Of(4, 10);
        for (var run = 0; run < runs; run++)
        {
            var layout = run % 2 == 0 ? "ostrel-ot50" : "marlune-ml45";
            var sound = NoiseBench.Render(
                TestShop.Machine(layout).Layout,
                new()
                {
                    Faults = fault.Length == 0 ? [] : [fault],
                    Seconds = 8,
                    Seed = 7_001 + 13 * run,
                    MainsHertz = 50,
                    FaultDb = 3,
                }
            );
            var character = Heard(sound, layout).Character;
            Assert.Equal(1, character.Values.Sum(), 9);
            if (character.MaxBy(c => c.Value).Key is var kind && !kinds.Split(' ').Contains(kind))
            {
                wrong.Add(kind);
            }
        }
        Assert.True(wrong.Count <= runs / 10, $"of {runs}: {string.Join(", ", wrong)}");
    }

    // Made without the bench: a tone, a tone switched on and off, strikes, swelling noise, in white noise.
    private static Recording Made(Func<double, Random, double> sound)
    {
        var random = new Random(5);
        const int Rate = 22_050;
        return new(
            Rate,
            [
                .. Enumerable
                    .Range(0, 8 * Rate)
                    .Select(i => (float)(0.1 * sound((double)i / Rate, random) + 0.02 * (random.NextDouble() - 0.5))),
            ]
        );
    }

    [Fact]
    public void Sounds_made_otherwise_are_of_their_kind_and_a_steady_squeal_says_what_tells_instead()
    {
        string Kind(Func<double, Random, double> sound) => Heard(Made(sound)).Character.MaxBy(c => c.Value).Key;
        double Tone(double t, double hz) => Math.Sin(2 * Math.PI * hz * t);
        var squeal = Heard(Made((t, _) => Tone(t, 2630)));
        Assert.Equal("squeal", squeal.Character.MaxBy(c => c.Value).Key);
        Assert.Equal(SoundAnalysis.SteadySqueal, squeal.Say);
        Assert.Equal("chirp", Kind((t, _) => t * 3 % 1 < 0.25 ? Tone(t, 1900) : 0));
        Assert.Equal("thump", Kind((t, _) => Math.Exp(-30 * (t * 1.7 % 1)) * Tone(t, 180)));
        Assert.Equal("grind", Kind((t, r) => (1 + Math.Cos(2 * Math.PI * 0.8 * t)) * (r.NextDouble() - 0.5)));
        Assert.Equal("hum", Kind((t, _) => Tone(t, 100) + 0.5 * Tone(t, 200)));
        Assert.Equal("quiet", Kind((_, r) => r.NextDouble() - 0.5));
        // Too short to be heard: no kind is made up.
        Assert.Empty(Heard(new(22_050, new float[22_050])).Character);
    }
}
