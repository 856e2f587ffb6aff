using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Jobs;

public class JobWalkTests
{
    private static JobScript Script(string layoutId, params PartId[] targets) =>
        new()
        {
            Number = "J-1",
            Machine = new()
            {
                LayoutId = layoutId,
                Place = "Cellar",
                Facts =
                [
                    .. TestShop
                        .Shop.FindLayout(layoutId)!
                        .Facts.Where(f => f is { Varies: true, Id: "steam" or "earth-clip" })
                        .Select(f => f.Id),
                ],
            },
            Complaints = ["squeal"],
            FaultId = "roller-dry",
            Targets = targets,
            By = "A. Hand",
            Until = Station.Prove,
            Acts = 99,
            Close = true,
            HoursAgo = 30,
        };

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Every_wear_part_can_be_got_at_changed_put_back_and_proved_with_nothing_left_over(string layoutId)
    {
        foreach (var part in TestShop.Shop.FindLayout(layoutId)!.Parts.Where(p => p.Wears))
        {
            var state = Logs.Fold(
                JobWalk.Events(
                    Script(layoutId, part.Id),
                    TestShop.Shop,
                    DateTimeOffset.UnixEpoch.AddYears(55),
                    new Random(3)
                )
            );
            Assert.NotNull(state.Closed);
            Assert.Equal("", state.Closed.Reason);
            Assert.Empty(OpenItems.Of(state, TestShop.Shop.MachineOf(state)));
            Assert.Empty(state.Out);
            Assert.Equal("replaced", state.Fitted[part.Id].Action);
            Assert.Equal(
                state.Removals.SelectMany(r => r.Out).Sum(c => c.Value),
                state.Removals.SelectMany(r => r.In!).Sum(c => c.Value)
            );
        }
    }

    [Fact]
    public void Events_run_forward_in_time_and_never_beyond_the_present()
    {
        var now = DateTimeOffset.UnixEpoch.AddYears(55);
        var events = JobWalk.Events(
            Script("quenby-qd62", "motor") with
            {
                HoursAgo = 1,
            },
            TestShop.Shop,
            now,
            new Random(3)
        );
        Assert.Equal(events.OrderBy(e => e.At).Select(e => e.Id), events.Select(e => e.Id));
        Assert.All(events, e => Assert.True(e.At <= now));
    }

    [Fact]
    public void Parts_show_how_they_stand_along_the_way()
    {
        var script = Script("ostrel-ot50", "belt") with { Until = Station.Rebuild, Acts = 1, Close = false };
        var state = Logs.Fold(
            JobWalk.Events(script, TestShop.Shop, DateTimeOffset.UnixEpoch.AddYears(55), new Random(3))
        );
        var parts = PartStates.Of(state, TestShop.Shop.MachineOf(state).Layout);
        Assert.Equal(PartCondition.New, parts["belt"]);
        Assert.Equal(PartCondition.Out, parts["front-panel"]);
        Assert.Equal(PartCondition.Loose, parts["top"]);
        Assert.False(parts.ContainsKey("motor"));
    }

    [Fact]
    public void A_script_that_breaks_a_rule_says_which() =>
        Assert.Contains(
            "targets",
            Assert
                .Throws<InvalidOperationException>(() =>
                    JobWalk.Events(Script("ostrel-ot50", "ghost"), TestShop.Shop, Logs.Now, new Random(1))
                )
                .Message,
            StringComparison.Ordinal
        );
}
