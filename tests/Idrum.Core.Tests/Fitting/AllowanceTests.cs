using Idrum.Core.Basics;
using Idrum.Core.Fitting;

namespace Idrum.Core.Tests.Fitting;

/// <summary>A search ends by the clock it is given; without one by work, always at the same place.</summary>
public class AllowanceTests
{
    [Fact]
    public void By_a_clock_it_is_over_when_that_says_so_however_little_was_done()
    {
        var clock = new SetClock();
        var allowance = new Allowance(clock, TimeSpan.FromSeconds(2));
        allowance.Spend(1_000_000_000);
        Assert.False(allowance.Over);
        clock.Seconds = 2.1;
        Assert.True(allowance.Over);
    }

    [Fact]
    public void Without_one_work_is_counted_and_without_an_end_nothing()
    {
        var (second, endless) = (
            new Allowance(null, TimeSpan.FromSeconds(1)),
            new Allowance(null, Timeout.InfiniteTimeSpan)
        );
        for (var i = 0; i < 2; i++)
        {
            Assert.False(second.Over);
            second.Spend((int)(0.6 * Allowance.WorkPerSecond));
            endless.Spend(int.MaxValue);
        }
        Assert.True(second.Over);
        Assert.False(endless.Over);
    }

    [Fact]
    public void A_hard_visit_that_is_cut_short_ends_alike_every_time()
    {
        var cut = 0;
        for (var seed = 0; seed < 40; seed++)
        {
            var problem = ScheduleOracle.Visit(13, 2, 2, new Random(seed));
            var (one, two) = (
                ScheduleSearch.Solve(problem, limit: TimeSpan.FromMilliseconds(3)),
                ScheduleSearch.Solve(problem, limit: TimeSpan.FromMilliseconds(3))
            );
            Assert.Equal((one.Seconds, one.Bound, one.Optimal), (two.Seconds, two.Bound, two.Optimal));
            cut += one.Optimal ? 0 : 1;
        }
        Assert.True(cut > 0, "none was hard enough");
    }

    private sealed class SetClock : TimeProvider
    {
        internal double Seconds { get; set; }

        public override long TimestampFrequency => 1_000_000;

        public override long GetTimestamp() => (long)(Seconds * TimestampFrequency);
    }
}
