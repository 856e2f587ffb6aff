using System.Numerics;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>The order of putting back: the mirror of removal, except where the layout states a trap (a refit that must come
/// before another although removal says otherwise).</summary>
public static class RefitOrder
{
    /// <summary>For each operation of a set, the operations that must be back before it.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="removed">Places of the operations that were done, in the order they were done.</param>
    /// <returns>Place → bit set of places that must be refitted first.</returns>
    internal static Dictionary<int, ulong> Constraints(Layout layout, IReadOnlyList<int> removed)
    {
        var graph = new PrecedenceGraph(layout);
        var result = removed.ToDictionary(i => i, _ => 0UL);
        var earlier = 0UL;
        foreach (var j in removed)
        {
            foreach (var group in graph.Needs[j])
            {
                for (var rest = group & earlier; rest != 0; rest &= rest - 1)
                {
                    result[BitOperations.TrailingZeroCount(rest)] |= 1UL << j;
                }
            }
            earlier |= 1UL << j;
        }
        foreach (var i in removed)
        {
            foreach (var j in layout.Operations[i].Refit.Before.Select(graph.IndexOf).Where(result.ContainsKey))
            {
                result[i] &= ~(1UL << j);
                result[j] |= 1UL << i;
            }
        }
        return result;
    }

    /// <summary>Orders the refit with the fewest tool changes.</summary>
    internal static ToolOrder.Result Find(Layout layout, IReadOnlyList<ulong> tools, IReadOnlyList<int> removed)
    {
        var first = Constraints(layout, removed);
        var set = removed.Aggregate(0UL, (m, i) => m | 1UL << i);
        // Ties go to the plain mirror: the step taken out last comes first.
        var mirrored = removed.Reverse().ToList();
        var place = mirrored.Select((op, k) => (op, k)).ToDictionary(p => p.op, p => p.k);
        ulong Fold(ulong mask)
        {
            var m = 0UL;
            for (; mask != 0; mask &= mask - 1)
            {
                m |= 1UL << place[BitOperations.TrailingZeroCount(mask)];
            }
            return m;
        }
        var before = mirrored.Select(i => Fold(first[i])).ToArray();
        var result = ToolOrder.Find(Fold(set), [.. mirrored.Select(i => tools[i])], (k, placed) => (before[k] & ~placed) == 0);
        return result with { Order = [.. result.Order.Select(k => mirrored[k])] };
    }

    /// <summary>A circle in the refit order of these operations, or an empty list.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="operations">Places, in any order.</param>
    internal static IReadOnlyList<int> FindCycle(Layout layout, IReadOnlyList<int> operations)
    {
        var graph = new PrecedenceGraph(layout);
        var order = new List<int>();
        var placed = 0UL;
        while (operations.FirstOrDefault(i => (placed >> i & 1) == 0 && graph.Allowed(i, placed), -1) is var next and >= 0)
        {
            order.Add(next);
            placed |= 1UL << next;
        }
        var first = Constraints(layout, order);
        var back = 0UL;
        while (order.FirstOrDefault(i => (back >> i & 1) == 0 && (first[i] & ~back) == 0, -1) is var next and >= 0)
        {
            back |= 1UL << next;
        }
        return [.. order.Where(i => (back >> i & 1) == 0)];
    }
}
