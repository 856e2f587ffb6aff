using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>A sound laid round the turn: against levels made by another hand, and against the noise bench.</summary>
public class OnceRoundTests
{
    [Theory]
    [InlineData(0.85, 30, new[] { 0.0 })]
    [InlineData(6.2, 10, new[] { 0.0 })]
    [InlineData(0.85, 30, new[] { 0.0, 0.37 })]
    [InlineData(0.85, 40, new[] { 0.0, 1 / 3.0, 2 / 3.0 })]
    public void Knocks_stand_where_they_are_in_the_turn(double hz, double seconds, double[] places)
    {
        for (var seed = 1; seed <= TestSize.Of(6, 20); seed++)
        {
            var (times, levels, truth) = Made(new Random(seed), hz, seconds, places);
            // The rate is known to four in a thousand only.
            var round = OnceRound.Of(times, levels, hz * (1 + 0.004 * Math.Sin(seed)), [1])[0]!;
            Assert.Equal(places.Length, round.Peaks.Count);
            // Any of them may be the loudest.
            Assert.Contains(places, first =>
                places
                    .Select(p => (p - first + 1) % 1)
                    .Order()
                    .Zip(round.Peaks)
                    .All(p => Apart(p.First, p.Second) <= 1.5 / OnceRound.Places)
            );
            Assert.All(round.Moments, m => Assert.True(truth.Min(t => Math.Abs(t - m)) < 0.06 / hz, $"{m}"));
            Assert.InRange(round.Moments.Count, round.Turns - 2, round.Turns + 1);
            Assert.InRange(round.Levels.Average(), 0.999, 1.001);
        }

        static double Apart(double a, double b) => Math.Min(Math.Abs(a - b), 1 - Math.Abs(a - b));
    }

    [Fact]
    public void A_sound_without_rhythm_stands_out_nowhere()
    {
        var (wrong, runs) = (0, TestSize.Of(75, 300));
        for (var seed = 0; seed < runs; seed++)
        {
            var (times, levels, _) = Made(new Random(seed), 1, 30, []);
            foreach (var round in OnceRound.Of(times, levels, 0.8 + 0.02 * (seed % 300), [1, 0.2]))
            {
                wrong += round is { Peaks.Count: > 0 } ? 1 : 0;
            }
        }
        Assert.True(wrong <= 0.02 * 2 * runs, $"{wrong} of {2 * runs}");
    }

    [Fact]
    public void Too_few_turns_say_nothing()
    {
        var (times, levels, _) = Made(new Random(1), 0.85, 5, [0]);
        Assert.Null(OnceRound.Of(times, levels, 0.85, [1])[0]);
        Assert.Null(OnceRound.Of([], [], 0.85, [1])[0]);
        Assert.Null(OnceRound.Of(times, levels, 0, [1])[0]);
    }

    [Fact]
    public void A_roller_with_a_flat_knocks_once_in_its_own_turn_and_not_in_that_of_the_drum()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var sources = SoundSource.Of(layout, 60);
        var (roller, drum) = (
            sources.First(s => s.Mechanism == Mechanism.Roller),
            sources.First(s => s.Mechanism == Mechanism.Drum)
        );
        var (own, others, runs) = (0, 0, TestSize.Of(3, 6));
        for (var seed = 1; seed <= runs; seed++)
        {
            var recording = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = ["roller-flat"],
                    Seconds = 20,
                    Seed = seed,
                }
            );
            var heard = SoundAnalysis.Of(recording, sources, new());
            var trace = SoundTrace.Of(recording, roller, heard.SpeedScale);
            var rounds = OnceRound.Of(
                trace.Seconds,
                trace.Levels,
                roller.Hz * heard.SpeedScale,
                [1, drum.Hz / roller.Hz]
            );
            own += rounds[0]!.Peaks.Count == 1 ? 1 : 0;
            others += rounds[1]!.Peaks.Count == 1 ? 1 : 0;
        }
        Assert.True(own >= runs - 1, $"{own} of {runs} in the roller's turn");
        Assert.True(others <= 1, $"{others} of {runs} in the drum's");
    }

    /// <summary>Levels with bumps at places of a turn whose speed wanders by a hundredth, in a spread of its own height.</summary>
    private static (double[] Times, double[] Levels, List<double> Truth) Made(
        Random random,
        double hz,
        double seconds,
        double[] places
    )
    {
        var n = (int)(250 * seconds);
        var (times, levels, truth) = (new double[n], new double[n], new List<double>());
        var (turn, bend) = (random.NextDouble(), random.NextDouble() * 6);
        for (var i = 0; i < n; i++)
        {
            times[i] = i / 250.0;
            var before = turn;
            turn += hz / 250 * (1 + 0.006 * Math.Sin(2 * Math.PI * times[i] / seconds + bend));
            var bump = 0.0;
            foreach (var place in places)
            {
                var from = turn - place - Math.Round(turn - place);
                bump += 3 * Math.Exp(-from * from / (2 * 0.02 * 0.02));
                if (Math.Floor(turn - place) > Math.Floor(before - place))
                {
                    truth.Add(times[i]);
                }
            }
            // The root of a power of a few degrees of freedom spreads so.
            levels[i] =
                (0.4 + bump) * Math.Sqrt(-Math.Log(1 - random.NextDouble()) - Math.Log(1 - random.NextDouble()));
        }
        return (times, levels, truth);
    }
}
