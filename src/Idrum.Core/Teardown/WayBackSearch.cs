using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>Whether every way back of a layout has an order, whatever was removed and in whatever order.</summary>
internal sealed class WayBackSearch
{
    private const int MostSearched = 20;
    private const int MostTried = 100_000;

    private readonly PrecedenceGraph graph;
    private readonly Func<bool> stop;
    private readonly IReadOnlyList<Bits> ways;
    private readonly Bits everything;
    private readonly Bits exempt;
    private int tried;

    private WayBackSearch(PrecedenceGraph graph, Func<bool> stop)
    {
        this.graph = graph;
        this.stop = stop;
        ways = [.. graph.Layout.Ways.Select(w => graph.SetOf(w.Options) - graph.Virtual)];
        everything = Bits.UpTo(graph.Count) - graph.Virtual;
        exempt = graph.SetOf(graph.Layout.NotMirrored.Select(p => p.Operation));
    }

    /// <summary>A set of removals after which the way back has no order, or null where every one has. The graph of all
    /// possible links is
    /// looked at first; only where it has a circle, the operations of the circle are searched, all sets of
    /// them.</summary>
    /// <param name="graph">The operations of one machine.</param>
    /// <param name="stop">Whether to stop; what was not searched by then is told as not proved.</param>
    internal static (OperationId Operation, string Message)? Fault(PrecedenceGraph graph, Func<bool> stop) =>
        new WayBackSearch(graph, stop).Fault();

    private (OperationId Operation, string Message)? Fault()
    {
        var operations = graph.Layout.Operations;
        var moves = operations
            .SelectMany((o, i) => o.Steps.Select(s => (Op: i, Ref: new StepRef(o.Id, s.Id), Step: s)))
            .Where(m => everything.Has(m.Op))
            .ToList();
        var at = moves.Select((m, k) => (m.Ref, k)).ToDictionary(p => p.Ref, p => p.k);
        var ofOperation = moves.Select((m, k) => (m.Op, k)).ToLookup(p => p.Op, p => p.k);
        var notMirrored = graph
            .Layout.NotMirrored.Select(p => (graph.IndexOf(p.Operation), graph.IndexOf(p.Through)))
            .ToHashSet();
        // Of all that could have been removed: which step waits for which.
        var waits = moves.Select(_ => new HashSet<int>()).ToArray();
        foreach (var i in everything)
        {
            var open = new Stack<int>([i]);
            var through = Bits.None;
            while (open.TryPop(out var op))
            {
                foreach (var m in graph.InTheWay[op].Aggregate(Bits.None, (s, g) => s | g) - through)
                {
                    through = through.With(m);
                    open.Push(m);
                }
            }
            foreach (var m in (through - Bits.Of(i) - graph.Virtual).ToList().Where(m => !notMirrored.Contains((i, m))))
            {
                foreach (var later in ofOperation[m])
                {
                    waits[later].UnionWith(ofOperation[i]);
                }
            }
        }
        for (var k = 0; k < moves.Count; k++)
        {
            waits[k].UnionWith(moves[k].Step.After.Where(at.ContainsKey).Select(key => at[key]));
            foreach (
                var later in moves[k]
                    .Step.Before.Where(at.ContainsKey)
                    .Select(key => at[key])
                    .Concat(
                        (graph.SetOf(moves[k].Step.StillOut) - graph.Virtual).ToList().SelectMany(m => ofOperation[m])
                    )
            )
            {
                waits[later].Add(k);
            }
        }
        // What a step that follows another at once waits for, the other waits for too.
        for (var grew = true; grew; )
        {
            grew = false;
            for (var k = 0; k < moves.Count; k++)
            {
                if (
                    moves[k].Step.DirectlyAfter is { Length: > 0 } leader
                    && at.TryGetValue(new(moves[k].Ref.Operation, leader), out var other)
                )
                {
                    waits[k].Add(other);
                    var before = waits[other].Count;
                    waits[other].UnionWith(waits[k].Where(m => m != other));
                    grew |= waits[other].Count > before;
                }
            }
        }
        foreach (var circle in Components(waits).Where(c => c.Count > 1 || waits[c[0]].Contains(c[0])))
        {
            var component = circle.Select(k => moves[k].Op).Distinct().Order().ToList();
            string Named(IEnumerable<int> set) => string.Join(", ", set.Select(i => $"'{graph.Node(i).Id}'"));
            if (component.Count > MostSearched)
            {
                return (
                    operations[component[0]].Id,
                    $"Not proved: {component.Count} operations may wait for one another on the way back; {MostSearched} at most are searched"
                );
            }
            List<int>? set;
            try
            {
                set = Search(component, Links(circle, moves.Select(m => m.Op).ToArray(), component, waits));
            }
            catch (TooMany)
            {
                return (
                    operations[component[0]].Id,
                    $"Not proved in time: too many removals of {Named(component)} would have to be tried"
                );
            }
            if (set is not null)
            {
                return (
                    graph.Node(set[0]).Id,
                    $"The way back has no order once these were removed: {Named(set)}; the steps {string.Join(", ", circle.Order().Select(k => $"'{moves[k].Ref}'"))} wait for one another"
                );
            }
        }
        return null;
    }

    /// <summary>A set that could be removed and has no way back, by those of it that lie within a component; or
    /// null.</summary>
    /// <remarks>What lies in other components goes back before all of it or after all of it, so that only what is open
    /// behind a group, or not,
    /// matters of it. Of the sets that hold the same of the component, those that open least are tried.</remarks>
    private List<int>? Search(List<int> component, int[] links)
    {
        var among = Bits.Of(component);
        for (var mask = 1; mask < 1 << component.Count; mask++)
        {
            if ((mask & 0xfff) == 0)
            {
                Look(0);
            }
            if (!Circular(mask, links))
            {
                continue;
            }
            var set = Bits.None;
            for (var b = 0; b < component.Count; b++)
            {
                set = (mask >> b & 1) == 1 ? set.With(component[b]) : set;
            }
            if (SetConstraints.TwoOfOneWay(set, Bits.None, ways) || !set.Covers(StillOutOf(set) & among))
            {
                continue;
            }
            // With nothing open behind it, it asks for most: where that has an order, every set does.
            if (graph.Virtual.IsEmpty && exempt.IsEmpty && HasOrder(set))
            {
                continue;
            }
            if (Support(set, everything - among) is { } fault)
            {
                return [.. set.ToList(), .. (fault - set).ToList()];
            }
        }
        return null;
    }

    /// <summary>A set that can be removed, holds the one given and beside it only what is usable, and has no way back;
    /// or null.</summary>
    private Bits? Support(Bits set, Bits usable)
    {
        Look(1);
        set |= StillOutOf(set);
        if (SetConstraints.TwoOfOneWay(set, Bits.None, ways))
        {
            return null;
        }
        var stuck = set - graph.Possible(set | graph.Virtual, Bits.None);
        if (stuck.IsEmpty)
        {
            return HasOrder(set) ? null : set;
        }
        // Whichever of them is done first rests on something that is not yet chosen: one of these must join.
        foreach (var i in Joining(stuck, set) & usable)
        {
            usable -= Bits.Of(i);
            var more = StillOutOf(Bits.Of(i)).With(i);
            if ((usable | set).With(i).Covers(more) && Support(set | more, usable) is { } fault)
            {
                return fault;
            }
        }
        return null;
    }

    /// <summary>Operations not chosen that stand in an open group of what is stuck, or behind what is passed through in
    /// one.</summary>
    private Bits Joining(Bits stuck, Bits set)
    {
        var have = graph.Possible(set | graph.Virtual, Bits.None);
        var (joining, seen) = (Bits.None, stuck);
        var open = new Stack<int>(stuck.ToList());
        while (open.TryPop(out var i))
        {
            foreach (var group in graph.InTheWay[i])
            {
                if (group.Meets(have))
                {
                    continue;
                }
                joining |= group - graph.Virtual - set;
                foreach (var v in (group & graph.Virtual) - seen)
                {
                    seen = seen.With(v);
                    open.Push(v);
                }
            }
        }
        return joining;
    }

    /// <summary>With everything that its refit steps want to be out still, and theirs.</summary>
    private Bits StillOutOf(Bits set)
    {
        var open = new Stack<int>(set.ToList());
        while (open.TryPop(out var i))
        {
            foreach (var m in graph.StillOut[i] - set)
            {
                set = set.With(m);
                open.Push(m);
            }
        }
        return set;
    }

    private bool HasOrder(Bits set)
    {
        Look(1);
        return new RefitProblem(graph, set.ToList()).HasOrder(() =>
        {
            Look(1);
            return false;
        });
    }

    /// <summary>Counts what was tried.</summary>
    private void Look(int more)
    {
        tried += more;
        if (tried > MostTried || stop())
        {
            throw new TooMany();
        }
    }

    /// <summary>For each operation of a component those of it that some step of it may wait for, one bit each; itself
    /// where two of its own
    /// steps stand in the circle.</summary>
    private static int[] Links(List<int> circle, int[] operationOf, List<int> component, HashSet<int>[] waits)
    {
        var links = new int[component.Count];
        foreach (var k in circle)
        {
            var at = component.IndexOf(operationOf[k]);
            foreach (var other in waits[k].Where(circle.Contains))
            {
                links[at] |= 1 << component.IndexOf(operationOf[other]);
            }
        }
        return links;
    }

    /// <summary>Whether some of a set may wait for one another: what waits for nothing of it is struck, as long as
    /// there is such.</summary>
    private static bool Circular(int mask, int[] links)
    {
        for (var struck = true; struck && mask != 0; )
        {
            struck = false;
            for (var i = 0; i < links.Length; i++)
            {
                if ((mask >> i & 1) == 1 && (links[i] & mask) == 0)
                {
                    mask &= ~(1 << i);
                    struck = true;
                }
            }
        }
        return mask != 0;
    }

    /// <summary>More removals would have to be tried than a file is given time for.</summary>
    private sealed class TooMany : Exception;

    /// <summary>Strongly connected components (Tarjan, 1972), without recursion.</summary>
    private static List<List<int>> Components(HashSet<int>[] next)
    {
        var n = next.Length;
        var (index, low, on) = (new int[n], new int[n], new bool[n]);
        Array.Fill(index, -1);
        var (stack, found, counter) = (new Stack<int>(), new List<List<int>>(), 0);
        var work = new Stack<(int Node, IEnumerator<int> Ahead)>();
        for (var root = 0; root < n; root++)
        {
            if (index[root] >= 0)
            {
                continue;
            }
            Enter(root);
            while (work.TryPeek(out var top))
            {
                if (top.Ahead.MoveNext())
                {
                    var w = top.Ahead.Current;
                    if (index[w] < 0)
                    {
                        Enter(w);
                    }
                    else if (on[w])
                    {
                        low[top.Node] = Math.Min(low[top.Node], index[w]);
                    }
                    continue;
                }
                work.Pop();
                if (work.TryPeek(out var parent))
                {
                    low[parent.Node] = Math.Min(low[parent.Node], low[top.Node]);
                }
                if (low[top.Node] == index[top.Node])
                {
                    var component = new List<int>();
                    int w;
                    do
                    {
                        w = stack.Pop();
                        on[w] = false;
                        component.Add(w);
                    } while (w != top.Node);
                    found.Add(component);
                }
            }
        }
        return found;

        void Enter(int v)
        {
            index[v] = low[v] = counter++;
            stack.Push(v);
            on[v] = true;
            work.Push((v, ((IEnumerable<int>)next[v]).GetEnumerator()));
        }
    }
}
