using System.Numerics;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

/// <summary>The planner against an exhaustive search that shares no code with it: every set of operations that can be
/// reached at all is walked once from the whole machine, and for every target and every pair the cheapest is
/// kept.</summary>
public class PlannerAgainstSearchTests
{
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Every_target_and_every_pair_costs_what_exhaustive_search_finds(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var planner = TestShop.Machine(layoutId).Planner;
        var targets = layout.Parts.Where(p => layout.Operations.Any(o => Frees(o, p.Id))).Select(p => p.Id).ToList();
        var cheapest = Exhaustive(layout, targets, out var visited);
        Assert.True(visited > 300, $"only {visited} states");
        for (var a = 0; a < targets.Count; a++)
        {
            for (var b = a; b < targets.Count; b++)
            {
                PartId[] wanted = a == b ? [targets[a]] : [targets[a], targets[b]];
                var plan = planner.Plan(new(wanted, [], new Dictionary<string, OperationId>()))!;
                Assert.True(plan.Proof.Set.Optimal && plan.Proof.Order.Optimal && plan.Proof.Refit.Optimal);
                Assert.Equal(cheapest[a, b], (long)Math.Round(plan.Minutes * 100));
                Assert.Equal((plan.Minutes, 0), (plan.Proof.Set.Bound, plan.Proof.Set.Gap));
                AssertFeasible(layout, plan.Removal, wanted);
            }
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Every_single_target_has_the_fewest_tool_changes_of_all_orders(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var checkedPlans = 0;
        foreach (var part in layout.Parts.Where(p => layout.Operations.Any(o => Frees(o, p.Id))))
        {
            var plan = TestShop
                .Machine(layoutId)
                .Planner.Plan(new([part.Id], [], new Dictionary<string, OperationId>()))!;
            var budget = TestSize.Of(15_000, 60_000);
            var fewest = FewestChanges(layout, [.. plan.Removal], [], [], 0, int.MaxValue, ref budget);
            if (budget > 0)
            {
                Assert.Equal(fewest, plan.ToolChanges);
                checkedPlans++;
            }
        }
        Assert.True(checkedPlans >= 4, $"only {checkedPlans} plans are small enough");
    }

    [Fact]
    public void From_any_present_state_the_rest_costs_what_the_search_finds()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var planner = TestShop.Machine("ostrel-ot50").Planner;
        var random = new Random(7);
        for (var round = 0; round < 40; round++)
        {
            var done = RandomPrefix(layout, random);
            var target = layout
                .Parts.Where(p => layout.Operations.Any(o => Frees(o, p.Id)))
                .OrderBy(_ => random.Next())
                .First()
                .Id;
            var plan = planner.Plan(new([target], done, new Dictionary<string, OperationId>()))!;
            Assert.Equal(ExhaustiveFrom(layout, done, target), (long)Math.Round(plan.Minutes * 100));
            Assert.DoesNotContain(plan.Removal, o => done.Contains(o.Id));
            Assert.Equal(
                done.Concat(plan.Removal.Select(o => o.Id)).Sum(id => layout.FindOperation(id)!.Steps.Count),
                plan.Refit.Count
            );
        }
    }

    /// <summary>What comes before it: what is in the way, what prudence wants first.</summary>
    private static IEnumerable<IReadOnlyList<OperationId>> Before(Operation o) => o.Needs.Concat(o.First);

    /// <summary>What joins the plan with it: beside that, what a step of its way back wants to be out still.</summary>
    private static IEnumerable<IReadOnlyList<OperationId>> Needs(Operation o) =>
        Before(o).Concat(o.Steps.SelectMany(s => s.StillOut).Select(id => (IReadOnlyList<OperationId>)[id]));

    private static List<HashSet<string>> Choices(IReadOnlyList<ToolUse> uses) =>
        uses.Aggregate(new List<HashSet<string>> { new() }, (sets, use) =>
            [.. sets.SelectMany(set => use.Any.Select(t => new HashSet<string>(set) { t }))]
        );

    private static bool Frees(Operation o, PartId part) => o.Frees.Contains(part) || o.TakesOff.Contains(part);

    private static void AssertFeasible(Layout layout, IReadOnlyList<Operation> order, IEnumerable<PartId> targets)
    {
        var done = new HashSet<OperationId>();
        foreach (var o in order)
        {
            Assert.All(Before(layout.FindOperation(o.Id)!), g =>
                Assert.Contains(g, m => done.Contains(m) || WayBackTests.Passed(layout, m, done))
            );
            done.Add(o.Id);
        }
        Assert.All(targets, t => Assert.Contains(order, o => Frees(o, t)));
    }

    /// <summary>Walks every reachable set of operations, breadth first, and keeps for every pair of targets the least
    /// cost.</summary>
    private static long[,] Exhaustive(Layout layout, List<PartId> targets, out int visited)
    {
        var ops = layout.Operations;
        var place = ops.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        // What is not on this machine is a step of no minutes that comes as soon as it may: it stands behind the
        // others.
        var all = ops.Concat(layout.Passed).ToList();
        place = all.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        var needs = all.Select(
                (o, i) =>
                    (i < ops.Count ? Needs(o) : o.Needs)
                        .Select(g => g.Aggregate(0L, (m, id) => m | 1L << place[id]))
                        .ToArray()
            )
            .ToArray();
        long Come(long set)
        {
            for (var i = ops.Count; i < all.Count; i++)
            {
                if ((set >> i & 1) == 0 && needs[i].All(g => (g & set) != 0))
                {
                    return Come(set | 1L << i);
                }
            }
            return set;
        }
        var frees = targets
            .Select(t => ops.Select((o, i) => Frees(o, t) ? 1L << i : 0).Aggregate(0L, (m, x) => m | x))
            .ToArray();
        var cost = ops.Select(o => (long)Math.Round(100 * (o.Minutes.Typical + o.Steps.Sum(s => s.Minutes.Typical))))
            .ToArray();
        var best = new long[targets.Count, targets.Count];
        for (var a = 0; a < targets.Count; a++)
        {
            for (var b = 0; b < targets.Count; b++)
            {
                best[a, b] = long.MaxValue;
            }
        }
        var level = new HashSet<long> { Come(0) };
        visited = 0;
        while (level.Count > 0)
        {
            var next = new HashSet<long>();
            foreach (var set in level)
            {
                visited++;
                var sum = 0L;
                for (var i = 0; i < cost.Length; i++)
                {
                    sum += (set >> i & 1) == 1 ? cost[i] : 0;
                }
                var reached = Enumerable.Range(0, frees.Length).Where(t => (frees[t] & set) != 0).ToList();
                foreach (var a in reached)
                {
                    foreach (var b in reached)
                    {
                        best[a, b] = Math.Min(best[a, b], sum);
                    }
                }
                for (var i = 0; i < ops.Count; i++)
                {
                    if ((set >> i & 1) == 0 && needs[i].All(g => (g & set) != 0))
                    {
                        next.Add(Come(set | 1L << i));
                    }
                }
            }
            level = next;
        }
        return best;
    }

    private static long ExhaustiveFrom(Layout layout, IReadOnlyCollection<OperationId> done, PartId target)
    {
        var queue = new PriorityQueue<OperationId[], long>();
        queue.Enqueue([.. done], 0);
        var seen = new HashSet<string>();
        while (queue.TryDequeue(out var state, out var sum))
        {
            if (!seen.Add(string.Join(' ', state.Order())))
            {
                continue;
            }
            if (state.Any(id => Frees(layout.FindOperation(id)!, target)))
            {
                return sum;
            }
            foreach (
                var o in layout.Operations.Where(o =>
                    !state.Contains(o.Id)
                    && Needs(o).All(g => g.Any(m => state.Contains(m) || WayBackTests.Passed(layout, m, state)))
                )
            )
            {
                queue.Enqueue(
                    [.. state, o.Id],
                    sum + (long)Math.Round(100 * (o.Minutes.Typical + o.Steps.Sum(s => s.Minutes.Typical)))
                );
            }
        }
        return -1;
    }

    private static List<OperationId> RandomPrefix(Layout layout, Random random)
    {
        var done = new List<OperationId>();
        for (var n = random.Next(0, 9); n > 0; n--)
        {
            var open = layout
                .Operations.Where(o =>
                    !done.Contains(o.Id)
                    && Before(o).All(g => g.Any(m => done.Contains(m) || WayBackTests.Passed(layout, m, done)))
                )
                .ToList();
            done.Add(open[random.Next(open.Count)].Id);
        }
        return done;
    }

    private static int FewestChanges(
        Layout layout,
        List<Operation> rest,
        HashSet<OperationId> placed,
        HashSet<string> hand,
        int sofar,
        int best,
        ref int budget
    )
    {
        if (rest.Count == 0 || sofar >= best || --budget < 0)
        {
            return Math.Min(best, sofar);
        }
        foreach (var o in rest.ToList())
        {
            if (Before(o).All(g => g.Any(m => placed.Contains(m) || WayBackTests.Passed(layout, m, placed))))
            {
                foreach (var tools in Choices(o.Tools))
                {
                    best = FewestChanges(
                        layout,
                        [.. rest.Where(x => x != o)],
                        [.. placed, o.Id],
                        tools.Count > 0 ? tools : hand,
                        sofar + tools.Count(t => !hand.Contains(t)),
                        best,
                        ref budget
                    );
                }
            }
        }
        return best;
    }
}
