using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>Whether parts can be reached is asked of the graph; a whole plan must say the same.</summary>
public class ReachTests
{
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void What_the_graph_calls_reachable_has_a_plan_and_nothing_else_has(string layoutId)
    {
        var planner = TestShop.Machine(layoutId).Planner;
        var random = new Random(layoutId.Length);
        var parts = planner.Graph.Layout.Parts.Select(p => p.Id).ToArray();
        for (var n = 0; n < 25; n++)
        {
            PartId[] targets = [.. random.GetItems(parts, random.Next(1, 4)).Distinct()];
            var ways = planner
                .Graph.Layout.Ways.Where(_ => random.Next(2) == 0)
                .ToDictionary(w => w.Id, w => w.Options[random.Next(w.Options.Count)]);
            Assert.Equal(planner.Plan(new(targets, [], ways)) is not null, planner.CanReach(targets, ways));
        }
    }

    [Fact]
    public void On_small_random_files_too()
    {
        var (can, cannot) = (0, 0);
        for (var seed = 0; seed < 300; seed++)
        {
            var random = new Random(seed);
            var layout = RandomFile
                .Make(random, TestShop.Shop.Layouts[0])
                .For(new Dictionary<string, string>(), new Dictionary<string, string>());
            var planner = new TeardownPlanner(layout);
            // A way that is chosen keeps the others shut: of random files some parts cannot be reached then.
            foreach (var part in layout.Parts)
            {
                var ways = layout.Ways.ToDictionary(w => w.Id, w => w.Options[random.Next(w.Options.Count)]);
                var may = planner.CanReach([part.Id], ways);
                Assert.Equal(planner.Plan(new([part.Id], [], ways)) is not null, may);
                (can, cannot) = may ? (can + 1, cannot) : (can, cannot + 1);
            }
        }
        Assert.True(can > 100 && cannot > 5, $"{can} can be reached, {cannot} cannot");
    }
}
