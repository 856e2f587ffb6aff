using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>A few recordings of the noise bench; the many are in <c>bench listening</c>.</summary>
public class SoundAnalysisTests
{
    [Theory]
    [InlineData("ostrel-ot50", "roller-flat", Mechanism.Roller, 10)]
    [InlineData("quenby-qd62", "idler-dry", Mechanism.Idler, 10)]
    [InlineData("marlune-ml45", "rear-felt-worn", Mechanism.Drum, 30)]
    [InlineData("quenby-qc30", "motor-bearings", Mechanism.Motor, 10)]
    public void The_part_that_sounds_is_named_first(string layoutId, string fault, Mechanism mechanism, double seconds)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var (right, runs) = (0, TestSize.Of(2, 5));
        for (var seed = 1; seed <= runs; seed++)
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
        Assert.True(right >= 0.8 * runs, $"{right} of {runs}");
    }

    /// <summary>Made by another hand than the noise bench: short bursts of noise, or a tone that is switched, in white noise
    /// as loud as they are; 44.1 and 22.05 kHz; a speed that walks by a hundredth.</summary>
    [Fact]
    public void Another_generator_is_heard_as_well()
    {
        var (right, all) = (0, 0);
        var wrong = new List<string>();
        foreach (var layout in TestSize.Every(3, TestShop.Shop.Layouts))
        {
            var sources = SoundSource.Of(layout, 60);
            foreach (
                var truth in sources.Where(s =>
                    s.Mechanism is Mechanism.Drum or Mechanism.Roller or Mechanism.Idler or Mechanism.Motor
                )
            )
            {
                var random = new Random(all + 31);
                var (rate, tone) = (random.Next(2) == 0 ? 44_100 : 22_050, random.Next(2) == 0);
                var samples = Bursts(random, truth.Hz * (0.95 + 0.1 * random.NextDouble()), rate, 20, tone);
                var heard = SoundAnalysis.Of(new(rate, samples), sources, new());
                all++;
                if (heard.Groups[0].Probability > heard.None && heard.Groups[0].Sources.Any(s => s.Id == truth.Id))
                {
                    right++;
                }
                else
                {
                    wrong.Add($"{layout.Id} {truth.Mechanism} as {heard.Groups[0].Mechanism} {heard.None:0.00}");
                }
            }
        }
        Assert.True(right >= 0.9 * all, $"{right} of {all}: {string.Join(", ", wrong)}");
    }

    private static float[] Bursts(Random random, double hz, int rate, double seconds, bool tone)
    {
        var burst = new double[(int)(rate * seconds)];
        var (turn, speed, since) = (random.NextDouble(), 1.0, 1e9);
        for (var i = 0; i < burst.Length; i++)
        {
            speed += 2e-5 * (random.NextDouble() - 0.5) - 1e-6 * (speed - 1);
            turn += hz * speed / rate;
            if (turn >= 1)
            {
                (turn, since) = (turn - 1, 0);
            }
            since += 1.0 / rate;
            var gate = Math.Exp(-since / 0.02);
            burst[i] = gate * (tone ? Math.Sin(2 * Math.PI * 1700 * i / rate) : random.NextDouble() - 0.5);
        }
        var loud = Math.Sqrt(burst.Average(b => b * b));
        return [.. burst.Select(b => (float)(0.03 * (b / loud + Math.Sqrt(12) * (random.NextDouble() - 0.5))))];
    }

    [Fact]
    public void By_hand_the_speed_is_free_and_no_single_part_is_named()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var recording = NoiseBench.Render(
            layout,
            new()
            {
                Faults = ["roller-flat"],
                Seconds = 20,
                Seed = 2,
                ByHand = true,
            }
        );
        var heard = SoundAnalysis.Of(recording, SoundSource.Of(layout, 60), new() { ByHand = true });
        if (heard.Groups is [var first, ..] && first.Probability > heard.None)
        {
            Assert.True(first.Sources.Count > 1, first.Mechanism.Word());
            Assert.Contains("By hand", first.SeparateBy, StringComparison.Ordinal);
        }
        Assert.DoesNotContain(heard.Groups, g => g.Mechanism == Mechanism.Motor);
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
        var lost = SoundAnalysis.Of(recording, sources, new() { LostSeconds = 1.6 });
        Assert.False(lost.Enough);
        Assert.Contains("1.6 s of it are lost", lost.Say, StringComparison.Ordinal);
        Assert.True(SoundAnalysis.Of(recording, sources, new() { LostSeconds = 0.5 }).Enough);
        var hours = SoundAnalysis.Of(new(8000, new float[8000 * 400]), sources, new());
        Assert.False(hours.Enough);
        Assert.Contains("listened to at once", hours.Say, StringComparison.Ordinal);
    }

    /// <summary>The device loses pieces of 16 ms here and there and puts silence of what was lost, known to 8 ms, before each tenth
    /// of a second that it hands on.</summary>
    [Theory]
    [InlineData("ostrel-ot50", "roller-flat", Mechanism.Roller)]
    [InlineData("quenby-qd62", "idler-dry", Mechanism.Idler)]
    public void What_was_lost_here_and_there_and_is_silence_now_leaves_the_rhythm(
        string layoutId,
        string fault,
        Mechanism mechanism
    )
    {
        const double share = 0.08;
        var layout = TestShop.Machine(layoutId).Layout;
        var (right, runs) = (0, TestSize.Of(4, 12));
        for (var seed = 1; seed <= runs; seed++)
        {
            var whole = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = [fault],
                    Seconds = 12,
                    Seed = seed,
                }
            );
            var (random, piece) = (new Random(seed), whole.Rate / 60);
            var (kept, chunk, lost, told) = (new List<float>(), new List<float>(), 0, 0);
            for (var at = 0; at + piece <= whole.Samples.Length; at += piece)
            {
                if (random.NextDouble() < share)
                {
                    lost += piece;
                    continue;
                }
                chunk.AddRange(whole.Samples[at..(at + piece)]);
                if (chunk.Count >= whole.Rate / 10)
                {
                    var known = Math.Max(told, lost + (int)((random.NextDouble() - 0.5) * 0.016 * whole.Rate));
                    kept.AddRange(new float[known - told]);
                    kept.AddRange(chunk);
                    (told, chunk) = (known, []);
                }
            }
            var heard = SoundAnalysis.Of(
                new(whole.Rate, [.. kept]),
                SoundSource.Of(layout, 60),
                new() { LostSeconds = (double)told / whole.Rate }
            );
            right +=
                heard.Enough && heard.Groups[0].Probability > heard.None && heard.Groups[0].Mechanism == mechanism
                    ? 1
                    : 0;
        }
        Assert.True(right >= 0.75 * runs, $"{right} of {runs}");
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
