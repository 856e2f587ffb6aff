namespace Idrum.Core.Teardown;

/// <summary>Whether every way back of a layout has an order, whatever was removed and in whatever order.</summary>
internal static class WayBackSearch
{
    private const int MostSearched = 20;
    private const int MostTried = 100_000;

    /// <summary>A set of removals after which the way back has no order, or null where every one has. The graph of all possible links is
    /// looked at first; only where it has a circle, the operations of the circle are searched, all sets of them.</summary>
    internal static (string Operation, string Message)? Fault(PrecedenceGraph graph, CancellationToken cancellation)
    {
        var operations = graph.Layout.Operations;
        var moves = operations.SelectMany((o, i) => o.Steps.Select(s => (Op: i, Key: o.Id + "/" + s.Id, Step: s))).ToList();
        var at = moves.Select((m, k) => (m.Key, k)).ToDictionary(p => p.Key, p => p.k);
        var ofOperation = moves.Select((m, k) => (m.Op, k)).ToLookup(p => p.Op, p => p.k);
        var exempt = graph.Layout.NotMirrored.Select(p => (graph.IndexOf(p.Operation), graph.IndexOf(p.Through))).ToHashSet();
        // Of all that could have been removed: which step waits for which.
        var waits = new HashSet<int>[moves.Count];
        for (var k = 0; k < moves.Count; k++)
        {
            waits[k] = [];
        }
        for (var i = 0; i < operations.Count; i++)
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
            foreach (var m in (through - Bits.Of(i)).ToList().Where(m => !exempt.Contains((i, m))))
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
            foreach (var later in moves[k].Step.Before.Where(at.ContainsKey).Select(key => at[key])
                .Concat(graph.SetOf(moves[k].Step.StillOut).ToList().SelectMany(m => ofOperation[m])))
            {
                waits[later].Add(k);
            }
        }
        foreach (var circle in Components(waits).Where(c => c.Count > 1 || waits[c[0]].Contains(c[0])))
        {
            var component = circle.Select(k => moves[k].Op).Distinct().Order().ToList();
            if (component.Count > MostSearched)
            {
                return (operations[component[0]].Id, $"Not proved: {component.Count} operations may wait for one another on the way back; {MostSearched} at most are searched");
            }
            List<int>? set;
            try
            {
                set = Search(graph, component, Links(circle, moves.Select(m => m.Op).ToArray(), component, waits), cancellation);
            }
            catch (TooMany)
            {
                return (operations[component[0]].Id, $"Not proved: more than {MostTried} removals of {string.Join(", ", component.Select(i => $"'{operations[i].Id}'"))} would have to be tried");
            }
            if (set is not null)
            {
                return (operations[set[0]].Id, $"The way back has no order once these were removed: {string.Join(", ", set.Select(i => $"'{operations[i].Id}'"))}; the steps {string.Join(", ", circle.Order().Select(k => $"'{moves[k].Key}'"))} wait for one another");
            }
        }
        return null;
    }

    /// <summary>A set within the component that could be removed and has no way back, or null.</summary>
    private static List<int>? Search(PrecedenceGraph graph, List<int> component, int[] links, CancellationToken cancellation)
    {
        var outside = Bits.UpTo(graph.Layout.Operations.Count) - Bits.Of(component);
        var among = Bits.Of(component);
        var stillOut = graph.Layout.Operations.Select(o => graph.SetOf(o.Steps.SelectMany(s => s.StillOut))).ToArray();
        var tried = 0;
        var ways = graph.Layout.Ways.Select(w => graph.SetOf(w.Options)).ToList();
        for (var mask = 1; mask < 1 << component.Count; mask++)
        {
            if ((mask & 0xfff) == 0)
            {
                cancellation.ThrowIfCancellationRequested();
            }
            if (!Circular(mask, links))
            {
                continue;
            }
            var set = new List<int>();
            for (var b = 0; b < component.Count; b++)
            {
                if ((mask >> b & 1) == 1)
                {
                    set.Add(component[b]);
                }
            }
            var bits = Bits.Of(set);
            if (ways.Any(w => (w & bits).Count > 1) || !set.TrueForAll(i => bits.Covers(stillOut[i] & among)) || graph.Doable(bits, outside) != bits)
            {
                continue;
            }
            foreach (var opened in Openings(graph, set, outside))
            {
                if (++tried > MostTried)
                {
                    throw new TooMany();
                }
                if (!Possible(new(graph, [.. opened.ToList(), .. set])))
                {
                    return [.. set, .. opened.ToList()];
                }
            }
        }
        return null;
    }

    /// <summary>For each operation of a component those of it that some step of it may wait for, one bit each; itself where two of its own
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

    /// <summary>Whether some of a set may wait for one another: what waits for nothing of it is struck, as long as there is such.</summary>
    private static bool Circular(int mask, int[] links)
    {
        for (var struck = true; struck && mask != 0;)
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

    /// <summary>The smallest sets of operations outside that must have been done for the set to be done: which ones depends on who is done
    /// first and on which alternative was taken.</summary>
    private static List<Bits> Openings(PrecedenceGraph graph, List<int> set, Bits usable)
    {
        var found = new List<Bits>();
        var seen = new HashSet<(Bits, Bits)>();
        void Go(Bits placed, Bits outside)
        {
            // What asks for nothing more is done at once.
            for (var grew = true; grew;)
            {
                grew = false;
                foreach (var i in set.Where(i => !placed.Has(i) && graph.Needs[i].All(g => g.Meets(placed | outside))))
                {
                    placed = placed.With(i);
                    grew = true;
                }
            }
            if (!seen.Add((placed, outside)) || seen.Count > MostTried || found.Any(outside.Covers))
            {
                return;
            }
            if (placed.Count == set.Count)
            {
                found.RemoveAll(f => f.Covers(outside));
                found.Add(outside);
                return;
            }
            foreach (var i in set.Where(i => !placed.Has(i)))
            {
                foreach (var more in Served([.. graph.Needs[i].Where(g => !g.Meets(placed | outside))], 0, outside))
                {
                    Go(placed, more);
                }
            }
        }
        IEnumerable<Bits> Served(Bits[] groups, int from, Bits outside)
        {
            if (from == groups.Length)
            {
                yield return outside;
                yield break;
            }
            foreach (var m in groups[from].Meets(outside) ? [-1] : (groups[from] & usable).ToList())
            {
                foreach (var rest in Served(groups, from + 1, m < 0 ? outside : outside.With(m)))
                {
                    yield return rest;
                }
            }
        }
        Go(Bits.None, Bits.None);
        return found;
    }

    /// <summary>More removals would have to be tried than a file is given time for.</summary>
    private sealed class TooMany : Exception;

    private static bool Possible(RefitProblem problem)
    {
        if (!problem.Monotone)
        {
            return problem.Order(0, () => false) is not null;
        }
        var placed = Bits.None;
        for (var grew = true; grew;)
        {
            grew = false;
            foreach (var k in Bits.UpTo(problem.Count) - placed)
            {
                if (placed.Covers(problem.Before(k)))
                {
                    placed = placed.With(k);
                    grew = true;
                }
            }
        }
        return placed.Count == problem.Count;
    }

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
                    }
                    while (w != top.Node);
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
