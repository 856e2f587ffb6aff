using System.Numerics;

namespace Idrum.Core.Teardown;

/// <summary>Finds the cheapest sets of operations that reach all targets: A* over partial sets.</summary>
/// <remarks>A state is a set of chosen operations; a step adds one alternative of the first group that is not yet served.
/// The bound of a state is the largest, over its open groups, of the cheapest derivation of that group with everything
/// chosen free of charge (the max-cost relaxation of an AND/OR graph), which never overestimates; so the first finished
/// state taken from the queue is optimal.</remarks>
internal static class CheapestSet
{
    internal sealed record Result(IReadOnlyList<ulong> Sets, long Cost, long LowerBound, bool Optimal, int States);

    private const long Never = long.MaxValue / 4;

    /// <param name="graph">The operations.</param>
    /// <param name="goals">Groups of which one each must be done.</param>
    /// <param name="done">Already done; free.</param>
    /// <param name="banned">May not be used.</param>
    /// <param name="maxStates">Where to stop and report the bound reached.</param>
    /// <returns>All cheapest sets (16 at most) without what is done, or null where the goals cannot be reached.</returns>
    internal static Result? Find(PrecedenceGraph graph, IReadOnlyList<ulong> goals, ulong done, ulong banned, int maxStates)
    {
        var usable = graph.ReachableMask & ~banned & ~done;
        var queue = new PriorityQueue<ulong, (long, int)>();
        var seen = new HashSet<ulong> { 0 };
        var derive = new long[graph.CostCentiminutes.Count];
        if (Bound(graph, goals, 0, done, usable, derive) >= Never)
        {
            return null;
        }
        queue.Enqueue(0, (Bound(graph, goals, 0, done, usable, derive), 0));
        List<ulong> best = [];
        var bestCost = Never;
        var states = 0;
        while (queue.TryDequeue(out var chosen, out var priority))
        {
            if (priority.Item1 > bestCost)
            {
                break;
            }
            if (++states > maxStates)
            {
                var (set, cost) = Greedy(graph, goals, done, usable, derive);
                return best.Count > 0
                    ? new(best, bestCost, bestCost, true, states)
                    : new([set], cost, Math.Min(cost, priority.Item1), cost == priority.Item1, states);
            }
            var open = OpenGroup(graph, goals, chosen, done, usable);
            if (open == 0)
            {
                bestCost = priority.Item1;
                best.Add(chosen);
                if (best.Count == 16)
                {
                    break;
                }
                continue;
            }
            for (var rest = open; rest != 0; rest &= rest - 1)
            {
                var next = chosen | rest & (~rest + 1);
                if (seen.Add(next))
                {
                    var bound = Bound(graph, goals, next, done, usable, derive);
                    if (bound < Never)
                    {
                        var f = Cost(graph, next) + bound;
                        queue.Enqueue(next, (f, -BitOperations.PopCount(next)));
                    }
                }
            }
        }
        return best.Count == 0 ? null : new(best, bestCost, bestCost, true, states);
    }

    internal static long Cost(PrecedenceGraph graph, ulong set)
    {
        var sum = 0L;
        for (; set != 0; set &= set - 1)
        {
            sum += graph.CostCentiminutes[BitOperations.TrailingZeroCount(set)];
        }
        return sum;
    }

    /// <summary>Alternatives of one group not yet served, or 0 where the set is finished and has an order.</summary>
    private static ulong OpenGroup(PrecedenceGraph graph, IReadOnlyList<ulong> goals, ulong chosen, ulong done, ulong usable)
    {
        var have = chosen | done;
        var narrowest = 0UL;
        void Offer(ulong group)
        {
            if ((group & have) == 0)
            {
                var options = group & usable;
                if (narrowest == 0 || BitOperations.PopCount(options) < BitOperations.PopCount(narrowest))
                {
                    narrowest = options;
                }
            }
        }
        foreach (var goal in goals)
        {
            Offer(goal);
        }
        for (var rest = chosen; rest != 0; rest &= rest - 1)
        {
            foreach (var group in graph.Needs[BitOperations.TrailingZeroCount(rest)])
            {
                Offer(group);
            }
        }
        if (narrowest != 0)
        {
            return narrowest;
        }
        // Served but in a circle (one waits for the other): something from outside must open it.
        var stuck = chosen & ~graph.Orderable(chosen, done);
        var openers = 0UL;
        for (var rest = stuck; rest != 0; rest &= rest - 1)
        {
            foreach (var group in graph.Needs[BitOperations.TrailingZeroCount(rest)])
            {
                if ((group & (have & ~stuck)) == 0)
                {
                    openers |= group & usable & ~chosen;
                }
            }
        }
        return openers;
    }

    private static long Bound(PrecedenceGraph graph, IReadOnlyList<ulong> goals, ulong chosen, ulong done, ulong usable, long[] derive)
    {
        Derive(graph, chosen, done, usable, derive);
        var bound = 0L;
        foreach (var goal in goals)
        {
            bound = Math.Max(bound, Cheapest(goal, derive));
        }
        for (var rest = chosen; rest != 0; rest &= rest - 1)
        {
            foreach (var group in graph.Needs[BitOperations.TrailingZeroCount(rest)])
            {
                bound = Math.Max(bound, Cheapest(group, derive));
            }
        }
        return bound;
    }

    /// <summary>Fixpoint of: cost of an operation plus the dearest of its groups, each by its cheapest alternative.</summary>
    private static void Derive(PrecedenceGraph graph, ulong chosen, ulong done, ulong usable, long[] derive)
    {
        var have = chosen | done;
        for (var i = 0; i < derive.Length; i++)
        {
            derive[i] = (have >> i & 1) == 1 ? 0 : Never;
        }
        for (var changed = true; changed;)
        {
            changed = false;
            for (var rest = usable & ~have; rest != 0; rest &= rest - 1)
            {
                var i = BitOperations.TrailingZeroCount(rest);
                var dearest = 0L;
                foreach (var group in graph.Needs[i])
                {
                    dearest = Math.Max(dearest, Cheapest(group, derive));
                }
                if (dearest < Never && graph.CostCentiminutes[i] + dearest < derive[i])
                {
                    derive[i] = graph.CostCentiminutes[i] + dearest;
                    changed = true;
                }
            }
        }
    }

    private static long Cheapest(ulong group, long[] derive)
    {
        var min = Never;
        for (; group != 0; group &= group - 1)
        {
            min = Math.Min(min, derive[BitOperations.TrailingZeroCount(group)]);
        }
        return min;
    }

    private static (ulong Set, long Cost) Greedy(PrecedenceGraph graph, IReadOnlyList<ulong> goals, ulong done, ulong usable, long[] derive)
    {
        var chosen = 0UL;
        for (ulong open; (open = OpenGroup(graph, goals, chosen, done, usable)) != 0;)
        {
            Derive(graph, chosen, done, usable, derive);
            var pick = -1;
            for (var rest = open; rest != 0; rest &= rest - 1)
            {
                var i = BitOperations.TrailingZeroCount(rest);
                if (pick < 0 || derive[i] < derive[pick])
                {
                    pick = i;
                }
            }
            chosen |= 1UL << pick;
        }
        return (chosen, Cost(graph, chosen));
    }
}
