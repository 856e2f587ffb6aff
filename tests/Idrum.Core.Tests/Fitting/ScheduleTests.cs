using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Tests.Fitting;

/// <summary>Chores and waits put in time.</summary>
public class ScheduleTests
{
    private static readonly TimeSpan Long = TimeSpan.FromSeconds(5);

    [Theory]
    [InlineData(1, 100)]
    [InlineData(2, 40)]
    public void Random_visits_are_over_when_the_general_solver_says_and_every_lag_is_kept(int persons, int visits)
    {
        visits = TestSize.Of(visits * 2 / 5, visits);
        var (ways, none) = (0, 0);
        for (var seed = 0; seed < visits; seed++)
        {
            var random = new Random(seed * 31 + persons);
            var problem = ScheduleOracle.Visit(
                random.Next(4, persons == 1 ? 26 : 12),
                random.Next(0, persons == 1 ? 5 : 3),
                persons,
                random
            );
            var schedule = ScheduleSearch.Solve(problem, limit: Long);
            var (proved, seconds) = ScheduleOracle.Solve(problem, 5);
            if (!proved)
            {
                continue;
            }
            Assert.True(schedule.Optimal, $"seed {seed}: not proved");
            if (seconds is null)
            {
                none++;
                Assert.False(schedule.Found, $"seed {seed}: the solver finds no way");
                continue;
            }
            ways++;
            Assert.True(schedule.Found, $"seed {seed}: the solver finds {seconds}");
            Assert.Empty(ScheduleOracle.Faults(problem, schedule));
            Assert.True(seconds == schedule.Seconds, $"seed {seed}: {schedule.Seconds} planned, {seconds} found");
        }
        Assert.True(ways > visits / 2 && none > 0, $"{ways} with a way, {none} without");
    }

    [Fact]
    public void A_wait_is_filled_and_its_window_met()
    {
        // Coat, wait 12 to 25 minutes, join; a roller of ten minutes and a blower of nine can be done meanwhile.
        var problem = new ScheduleProblem(
            [new("coat", 180), new("join", 180), new("roller", 600), new("blower", 540), new("panel", 240)],
            [new("coat", "join", 720, 1500), new("join", "panel"), new("roller", "panel"), new("blower", "panel")]
        );
        var schedule = ScheduleSearch.Solve(problem);
        Assert.True(schedule.Optimal);
        Assert.Equal(180 + 600 + 540 + 180 + 240, schedule.Seconds);
        Assert.Empty(ScheduleOracle.Faults(problem, schedule));
        Assert.Equal("coat", schedule.Items[0].Id);
    }

    [Fact]
    public void Where_a_window_cannot_be_met_the_lag_that_breaks_is_named()
    {
        var problem = new ScheduleProblem(
            [new("coat", 60), new("long", 3000), new("join", 60), new("other", 60)],
            [new("coat", "long"), new("long", "join"), new("coat", "join", 600, 1500), new("coat", "other", 0, 9000)]
        );
        var schedule = ScheduleSearch.Solve(problem);
        Assert.False(schedule.Found);
        Assert.True(schedule.Optimal);
        Assert.Equal(("coat", "join"), (schedule.Broken!.From, schedule.Broken.To));
    }

    [Fact]
    public void A_gain_of_less_than_a_minute_does_not_change_what_is_shown()
    {
        var problem = new ScheduleProblem([new("a", 300), new("b", 300), new("c", 300, Tail: 40)], []);
        Assert.Equal(900, ScheduleSearch.Solve(problem).Seconds);
        var kept = ScheduleSearch.Solve(problem, ["a", "b", "c"]);
        Assert.Equal(["a", "b", "c"], kept.Items.Select(i => i.Id));
        Assert.Equal((940, 900, false), (kept.Seconds, kept.Bound, kept.Optimal));
        var gains = problem with { Chores = [.. problem.Chores.Select(c => c.Id == "c" ? c with { Tail = 400 } : c)] };
        Assert.Equal("c", ScheduleSearch.Solve(gains, ["a", "b", "c"]).Items[0].Id);
    }

    [Fact]
    public void Whoever_is_a_third_slower_or_faster_misses_no_window_when_it_is_planned_for_the_slow_one()
    {
        var planned = 0;
        for (var seed = 0; seed < 40; seed++)
        {
            var random = new Random(seed);
            var problem = ScheduleOracle.Visit(random.Next(6, 16), random.Next(1, 4), 1, random);
            if (!ScheduleSearch.Solve(problem.AtPace(1.3), limit: Long).Found)
            {
                continue;
            }
            planned++;
            Assert.Empty(Worked.MissedAt(problem, random));
        }
        Assert.True(planned > 15, $"{planned}");
    }

    [Theory]
    [InlineData(70_176)]
    [InlineData(70_296)]
    [InlineData(70_386)]
    public void Who_coats_quicker_than_thought_misses_no_window_for_it(int seed)
    {
        // Visits in which the best order for a slow hand leaves a quick one with two windows in each other's way.
        var random = new Random(seed);
        var problem = ScheduleOracle.Visit(random.Next(8, 26), random.Next(1, 5), 1, random);
        Assert.Empty(Worked.MissedAt(problem, random));
    }

    [Theory]
    [InlineData("/lags/0/max", 600, 500)]
    [InlineData("/lags/0/min", -1, null)]
    public void Impossible_waits_are_named(string pointer, int min, int? max)
    {
        var problem = new ScheduleProblem([new("a", 1), new("b", 1)], [new("a", "b", min, max)]);
        Assert.Contains(problem.Check(), e => e.Pointer == pointer);
        Assert.Throws<ArgumentException>(() => ScheduleSearch.Solve(problem));
    }

    [Fact]
    public void It_stops_when_its_caller_leaves()
    {
        using var source = new CancellationTokenSource();
        source.Cancel();
        var hard = ScheduleOracle.Visit(25, 4, 2, new Random(3));
        var problem = hard with { Lags = [.. hard.Lags.Where(l => l.Max is null)] };
        var tight = problem with { Chores = [.. problem.Chores.Select((c, i) => c with { Tail = i * 13 })] };
        Assert.ThrowsAny<OperationCanceledException>(() =>
            ScheduleSearch.Solve(tight, limit: Long, cancellation: source.Token)
        );
    }
}
