using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Loads left of a felt: from its thickness now, what it was when new and the use since; the interval holds the truth as
/// often as it says.</summary>
public class LiningLeftTests
{
    private static readonly Idrum.Core.Shop.MachineKnowledge Machine = TestShop.Machine("marlune-ml45");
    private static readonly DateTimeOffset Noon = new(2026, 11, 1, 12, 0, 0, TimeSpan.Zero);
    private static readonly string Felt = Machine.Layout.PartsOfKind([PartKinds.FrontFelt]).First().Id;

    private static JobState Job(double? years, double? loads, params double[] thick) =>
        JobHistory
            .Of([
                new JobOpened(
                    "J-0900",
                    new()
                    {
                        LayoutId = Machine.Layout.Id,
                        AgeYears = years,
                        UsesPerWeek = loads,
                    }
                )
                {
                    Id = Guid.NewGuid(),
                    At = Noon.AddMinutes(-30),
                },
                .. thick.Select(
                    (t, i) =>
                        new GaugeRead("front-felt", Felt, "load", t) { Id = Guid.NewGuid(), At = Noon.AddMinutes(i) }
                ),
            ])
            .State;

    private static LiningLeft? Of(JobState state, params JobState[] earlier) =>
        LiningLeft.Of(GaugedSet.Of(state, Machine).Single(), state, earlier);

    [Fact]
    public void The_interval_holds_the_truth_as_often_as_it_says()
    {
        var random = new Random(8);
        double Gauss() => MathNet.Numerics.Distributions.Normal.Sample(random, 0, 1);
        var limit = Machine.Handbook.Gauging.Find("front-felt")!.LimitOf(Machine.Layout.FindPart(Felt)!)!;
        var (held, heldMetal, all) = (0, 0, 0);
        for (var n = 0; n < TestSize.Of(600, 2000); n++)
        {
            // What is true: how thick it was, how many loads it ran, what a load takes off.
            var (years, aWeek) = (random.Next(4, 15), random.Next(2, 12));
            var fresh = limit.New * (1 + 0.08 * Gauss());
            var loads = years * 52 * aWeek * Math.Exp(0.25 * Gauss());
            var rate = (fresh - limit.Worn) / loads * (0.35 + 0.5 * random.NextDouble());
            var now = fresh - rate * loads;
            var (toLimit, toMetal) = ((now - limit.Worn) / rate, now / rate);
            var read = Enumerable.Range(0, 3).Select(_ => Math.Round(now + 0.15 * Gauss(), 1)).ToArray();
            if (Of(Job(years, aWeek, read)) is not { } left)
            {
                continue;
            }
            all++;
            held += left.Limit.Low <= toLimit && toLimit <= left.Limit.High ? 1 : 0;
            heldMetal += left.Metal.Low <= toMetal && toMetal <= left.Metal.High ? 1 : 0;
            Assert.True(left.Metal.Loads >= left.Limit.Loads);
        }
        Assert.True(all > 500);
        Assert.InRange((double)held / all, 0.9, 0.985);
        Assert.InRange((double)heldMetal / all, 0.9, 0.985);
    }

    [Fact]
    public void It_wears_since_it_was_renewed_and_not_since_the_machine_was_built()
    {
        var now = Job(10, 10, 4.0, 4.1, 4.0);
        Assert.Contains("if it is as old as the machine", Of(now)!.Words);
        var renewed = JobHistory
            .Of([
                new JobOpened("J-0800", new() { LayoutId = Machine.Layout.Id })
                {
                    Id = Guid.NewGuid(),
                    At = Noon.AddDays(-364),
                },
                new PartFitted(Felt, FittedAs.Replaced, "", [], "") { Id = Guid.NewGuid(), At = Noon.AddDays(-364) },
            ])
            .State;
        var left = Of(now, renewed)!;
        Assert.Contains("since it was renewed in J-0800", left.Words);
        // A year at ten loads a week took off about a third: some five hundred loads more to the limit.
        var limit = Machine.Handbook.Gauging.Find("front-felt")!.LimitOf(Machine.Layout.FindPart(Felt)!)!;
        var expected = 520 * (4.03 - limit.Worn) / (limit.New - 4.03);
        Assert.InRange(left.Limit.Loads, expected * 0.95, expected * 1.05);
        Assert.True(Of(now)!.Limit.Loads > 8 * left.Limit.Loads);
        // How often it runs was not told: what is said is wider, and says so.
        var guessed = Of(Job(10, null, 4.0, 4.1, 4.0), renewed)!;
        Assert.Contains("at five loads a week", guessed.Words);
        Assert.True(guessed.Limit.High / guessed.Limit.Low > left.Limit.High / left.Limit.Low);
    }

    [Fact]
    public void Nothing_is_said_where_nothing_is_known_or_nothing_is_worn_off()
    {
        Assert.Null(Of(Job(null, 5, 4.0, 4.1)));
        Assert.Null(Of(Job(8, 5, 6.4, 6.5, 6.4)));
        var gone = Of(Job(8, 5, 0.4, 0.5, 0.4))!;
        Assert.Equal(0, gone.Limit.High);
        Assert.StartsWith("At its limit; some", gone.Words);
        // Another part than a lining has no such figure.
        var roller = JobHistory
            .Of([
                new JobOpened("J-1", new() { LayoutId = Machine.Layout.Id, AgeYears = 8 })
                {
                    Id = Guid.NewGuid(),
                    At = Noon,
                },
                new GaugeRead("roller", "rear-roller-left", "largest", 75.9) { Id = Guid.NewGuid(), At = Noon },
                new GaugeRead("roller", "rear-roller-left", "smallest", 75.0) { Id = Guid.NewGuid(), At = Noon },
            ])
            .State;
        Assert.Null(Of(roller));
    }
}
