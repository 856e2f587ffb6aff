using Idrum.Core.Jobs.Work;
using Idrum.Core.Supply;

namespace Idrum.Core.Teardown;

/// <summary>Finds a cheapest set of operations that reaches all goals and has an order: branch and bound over "this one
/// is in" and "this one is out".</summary>
/// <remarks>The problem is the delete relaxation of planning: groups are facts, operations are actions that achieve
/// every group they
/// stand in. The bound of a branch is the landmark cut (Helmert and Domshlak, "Landmarks, critical paths and
/// abstractions", ICAPS
/// 2009): cuts of operations of which at least one must be in any solution, each paid for once, summed over disjoint
/// shares of the costs.
/// It branches on the dearest operation of the last cut, included first.</remarks>
internal sealed class CheapestSet
{
    /// <param name="Set">Operations to do, without those done and those passed through.</param>
    /// <param name="Cost">Their cost, hundredths of a minute.</param>
    /// <param name="LowerBound">No set costs less.</param>
    /// <param name="Optimal">Whether this one is cheapest.</param>
    internal sealed record Result(Bits Set, long Cost, long LowerBound, bool Optimal);

    private const long Never = long.MaxValue / 4;

    private readonly PrecedenceGraph graph;
    private readonly int[][] needsOf;
    private readonly int[][] achievers;
    private readonly int[][] achieves;
    private readonly int[][] users;
    private readonly int[] support;
    private readonly int goalAction;
    private readonly int facts;
    private readonly Bits done;
    private readonly Func<bool> stop;
    private Bits best;
    private long bestCost = Never;
    private long openBound = Never;
    private bool stopped;

    private CheapestSet(PrecedenceGraph graph, IReadOnlyList<Bits> goals, Bits done, Func<bool> stop)
    {
        this.graph = graph;
        this.done = done;
        this.stop = stop;
        // Facts are the different groups not yet served; the goals are the needs of one more action that costs nothing.
        var ids = new Dictionary<Bits, int>();
        int[] Facts(IEnumerable<Bits> groups) =>
            [
                .. groups
                    .Where(g => !g.Meets(done))
                    .Select(g => ids.TryGetValue(g, out var f) ? f : ids[g] = ids.Count)
                    .Distinct(),
            ];
        goalAction = graph.Cost.Count;
        needsOf = [.. graph.OrderedNeeds.Select(n => Facts(n)), Facts(goals)];
        facts = ids.Count;
        achievers = new int[facts][];
        support = new int[facts];
        var achieved = Enumerable.Range(0, goalAction).Select(_ => new List<int>()).ToArray();
        foreach (var (group, f) in ids)
        {
            achievers[f] = [.. (group & graph.Reachable).ToList()];
            foreach (var a in achievers[f])
            {
                achieved[a].Add(f);
            }
        }
        achieves = [.. achieved.Select(a => a.ToArray())];
        var used = Enumerable.Range(0, facts).Select(_ => new List<int>()).ToArray();
        for (var a = 0; a <= goalAction; a++)
        {
            foreach (var f in needsOf[a])
            {
                used[f].Add(a);
            }
        }
        users = [.. used.Select(u => u.ToArray())];
    }

    /// <param name="graph">The operations.</param>
    /// <param name="goals">Groups of which one each must be done.</param>
    /// <param name="done">Already done, with what is passed through by it; free.</param>
    /// <param name="usable">May be used.</param>
    /// <param name="stop">Whether to stop and report the bound reached.</param>
    /// <returns>A cheapest set, passed-through ones among it, or null where the goals cannot be reached.</returns>
    internal static Result? Find(
        PrecedenceGraph graph,
        IReadOnlyList<Bits> goals,
        Bits done,
        Bits usable,
        Func<bool> stop
    )
    {
        if (goals.All(g => g.Meets(done)))
        {
            return new(Bits.None, 0, 0, true);
        }
        var search = new CheapestSet(graph, goals, done, stop);
        if (search.Greedy(Bits.None, usable) is not { } first)
        {
            return null;
        }
        search.Offer(first);
        search.Branch(Bits.None, usable);
        var bound = search.stopped ? Math.Min(search.openBound, search.bestCost) : search.bestCost;
        return new(search.best, search.bestCost, bound, bound == search.bestCost);
    }

    private void Offer(Bits set)
    {
        var cost = graph.CostOf(set);
        if (cost < bestCost)
        {
            (best, bestCost) = (set, cost);
        }
    }

    /// <summary>Explores all sets that hold <paramref name="chosen"/> and otherwise only <paramref
    /// name="usable"/>.</summary>
    private void Branch(Bits chosen, Bits usable)
    {
        var paid = graph.CostOf(chosen);
        var cut = Landmarks(chosen, usable, bestCost - paid, out var rest);
        if (rest >= Never || paid + rest >= bestCost)
        {
            return;
        }
        if (stop())
        {
            stopped = true;
            openBound = Math.Min(openBound, paid + rest);
            return;
        }
        if (Greedy(chosen, usable) is { } found)
        {
            Offer(found);
        }
        if (paid + rest >= bestCost || cut.Count == 0)
        {
            return;
        }
        // All but one of a cut may be tried in turn; what was tried is out for those after it.
        foreach (var pick in cut.OrderByDescending(i => graph.Cost[i]))
        {
            Branch(chosen.With(pick), usable);
            usable -= Bits.Of(pick);
            if (stopped)
            {
                // What this level has not looked at is bounded by its own bound.
                openBound = Math.Min(openBound, paid + rest);
                return;
            }
        }
    }

    /// <summary>The landmark cut bound of what is still to be paid, and a cut of which one operation must be
    /// added.</summary>
    private List<int> Landmarks(Bits chosen, Bits usable, long enough, out long bound)
    {
        var n = goalAction + 1;
        var cost = new long[n];
        for (var i = 0; i < goalAction; i++)
        {
            cost[i] =
                chosen.Has(i) ? 0
                : usable.Has(i) ? graph.Cost[i]
                : Never;
        }
        bound = 0;
        List<int> smallest = [];
        var value = new long[n];
        var factValue = new long[facts];
        while (true)
        {
            Reach(cost, value, factValue);
            if (value[goalAction] >= Never)
            {
                bound = Never;
                return [];
            }
            if (value[goalAction] == 0)
            {
                return smallest;
            }
            var cut = Cut(cost, factValue);
            var least = cut.Min(i => cost[i]);
            bound += least;
            foreach (var i in cut)
            {
                cost[i] -= least;
            }
            if (smallest.Count == 0 || cut.Count < smallest.Count)
            {
                smallest = cut;
            }
            if (bound >= enough)
            {
                return smallest;
            }
        }
    }

    /// <summary>Cost of each action by its dearest need, each need by its cheapest achiever (Dijkstra over
    /// facts).</summary>
    private void Reach(long[] cost, long[] value, long[] factValue)
    {
        Array.Fill(factValue, Never);
        Array.Fill(value, Never);
        var waiting = new int[value.Length];
        var queue = new PriorityQueue<int, long>();
        for (var i = 0; i < value.Length; i++)
        {
            waiting[i] = needsOf[i].Length;
            if (waiting[i] == 0 && cost[i] < Never)
            {
                queue.Enqueue(i, cost[i]);
            }
        }
        while (queue.TryDequeue(out var action, out var at))
        {
            if (value[action] <= at)
            {
                continue;
            }
            value[action] = at;
            if (action == goalAction)
            {
                return;
            }
            foreach (var f in achieves[action])
            {
                if (factValue[f] <= at)
                {
                    continue;
                }
                factValue[f] = at;
                support[f] = action;
                foreach (var user in users[f])
                {
                    if (--waiting[user] == 0 && cost[user] < Never)
                    {
                        queue.Enqueue(user, at + cost[user]);
                    }
                }
            }
        }
    }

    /// <summary>Actions that cross from what is reached without paying into the zone from which the goal is reached for
    /// nothing.</summary>
    private List<int> Cut(long[] cost, long[] factValue)
    {
        // Each action is hung on its dearest need; the goal zone are the facts from which free actions lead to the
        // goal.
        var zone = new bool[facts];
        var open = new Stack<int>();
        void Into(int action)
        {
            var need = Dearest(action, factValue);
            if (need >= 0 && !zone[need])
            {
                zone[need] = true;
                open.Push(need);
            }
        }
        Into(goalAction);
        while (open.TryPop(out var f))
        {
            foreach (var a in achievers[f])
            {
                if (cost[a] == 0)
                {
                    Into(a);
                }
            }
        }
        // Forward from nothing, over actions whose dearest need is reached and lies outside the zone.
        var reached = new bool[facts];
        var seen = new bool[goalAction];
        var cut = new List<int>();
        var ready = new Stack<int>();
        void Visit(int action)
        {
            if (seen[action] || cost[action] >= Never)
            {
                return;
            }
            seen[action] = true;
            var crosses = false;
            foreach (var f in achieves[action])
            {
                crosses |= zone[f];
            }
            if (crosses)
            {
                cut.Add(action);
            }
            foreach (var f in achieves[action])
            {
                if (!zone[f] && !reached[f])
                {
                    reached[f] = true;
                    ready.Push(f);
                }
            }
        }
        for (var a = 0; a < goalAction; a++)
        {
            if (needsOf[a].Length == 0)
            {
                Visit(a);
            }
        }
        while (ready.TryPop(out var f))
        {
            foreach (var user in users[f])
            {
                if (user != goalAction && Dearest(user, factValue) == f)
                {
                    Visit(user);
                }
            }
        }
        return cut;
    }

    private int Dearest(int action, long[] factValue)
    {
        var pick = -1;
        foreach (var f in needsOf[action])
        {
            if (pick < 0 || factValue[f] > factValue[pick])
            {
                pick = f;
            }
        }
        return pick;
    }

    /// <summary>A solution that holds the chosen: each open group by what reaches it cheapest, then what is not needed
    /// is left out, the dearest first.</summary>
    private Bits? Greedy(Bits chosen, Bits usable)
    {
        var cost = new long[goalAction + 1];
        for (var i = 0; i < goalAction; i++)
        {
            cost[i] =
                chosen.Has(i) ? 0
                : usable.Has(i) ? graph.Cost[i]
                : Never;
        }
        var value = new long[goalAction + 1];
        var factValue = new long[facts];
        var set = Bits.None;
        Reach(cost, value, factValue);
        if (value[goalAction] >= Never)
        {
            return null;
        }
        var todo = new Queue<int>([goalAction]);
        while (todo.TryDequeue(out var action))
        {
            foreach (var f in needsOf[action])
            {
                // What reached it first: following these can run in no circle.
                var pick = support[f];
                if (!set.Has(pick))
                {
                    set = set.With(pick);
                    todo.Enqueue(pick);
                }
            }
        }
        foreach (var i in set.ToList().OrderByDescending(i => graph.Cost[i]))
        {
            var less = set - Bits.Of(i);
            if (Solves(less))
            {
                set = graph.Orderable(less, done);
            }
        }
        return set;
    }

    private bool Solves(Bits set)
    {
        var have = graph.Orderable(set, done);
        foreach (var f in needsOf[goalAction])
        {
            if (!achievers[f].Any(have.Has))
            {
                return false;
            }
        }
        return true;
    }
}
