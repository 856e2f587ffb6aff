using System.Numerics;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>The AND/OR graph of a layout's removal operations as bit sets: an operation may be done when of each of its
/// groups at least one operation has been done. After Homem de Mello and Sanderson, "AND/OR graph representation of
/// assembly plans", IEEE Trans. Robotics and Automation 6(2), 1990.</summary>
public sealed class PrecedenceGraph
{
    /// <summary>Most operations a layout may have; one bit each.</summary>
    public const int MaxOperations = 64;

    private readonly Dictionary<string, int> index;

    /// <summary>Builds the graph.</summary>
    /// <param name="layout">A layout with unique ids and no dangling ones.</param>
    /// <exception cref="ArgumentException">More than <see cref="MaxOperations"/> operations.</exception>
    public PrecedenceGraph(Layout layout)
    {
        if (layout.Operations.Count > MaxOperations)
        {
            throw new ArgumentException($"A layout may have {MaxOperations} operations at most.", nameof(layout));
        }
        Layout = layout;
        index = layout.Operations.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        Needs = [.. layout.Operations.Select(o => o.Needs.Select(MaskOf).ToArray())];
        CostCentiminutes = [.. layout.Operations.Select(o => (long)Math.Round(100 * (o.Minutes.Out.Typical + o.Minutes.In.Typical)))];
        Tools = ToolMasks(layout);
        var all = layout.Operations.Count == 64 ? ulong.MaxValue : (1UL << layout.Operations.Count) - 1;
        var reachable = Orderable(all, 0);
        Reachable = [.. Enumerable.Range(0, layout.Operations.Count).Select(i => (reachable >> i & 1) == 1)];
        ReachableMask = reachable;
    }

    /// <summary>Most different tools of a layout: sets of tools are bit sets.</summary>
    public const int MostTools = 64;

    /// <summary>The layout it was made of.</summary>
    public Layout Layout { get; }

    /// <summary>For each operation its groups, each a bit set of alternatives.</summary>
    public IReadOnlyList<IReadOnlyList<ulong>> Needs { get; }

    /// <summary>Typical minutes out plus in, in hundredths, so that sums compare exactly.</summary>
    public IReadOnlyList<long> CostCentiminutes { get; }

    /// <summary>For each operation the tools it takes, one bit a tool.</summary>
    public IReadOnlyList<ulong> Tools { get; }

    /// <summary>Whether an operation can ever be done.</summary>
    public IReadOnlyList<bool> Reachable { get; }

    /// <summary>The same as a bit set.</summary>
    public ulong ReachableMask { get; }

    /// <summary>Place of an operation, or -1.</summary>
    public int IndexOf(string operationId) => index.GetValueOrDefault(operationId, -1);

    /// <summary>Bit set of operation ids; unknown ids are passed over.</summary>
    public ulong MaskOf(IEnumerable<string> operationIds)
    {
        var mask = 0UL;
        foreach (var id in operationIds)
        {
            if (index.TryGetValue(id, out var i))
            {
                mask |= 1UL << i;
            }
        }
        return mask;
    }

    /// <summary>Places of the operations after any one of which the part can be replaced.</summary>
    public IEnumerable<int> FreeingOperations(string partId) =>
        Layout.Operations.Select((o, i) => (o, i)).Where(p => p.o.Frees.Contains(partId) || p.o.TakesOff.Contains(partId)).Select(p => p.i);

    /// <summary>The part of a set that can be done in some order, starting from what is done.</summary>
    /// <param name="set">Operations that may be done.</param>
    /// <param name="done">Operations already done.</param>
    /// <returns>The largest subset of <paramref name="set"/> that has an order.</returns>
    public ulong Orderable(ulong set, ulong done)
    {
        var placed = 0UL;
        for (var grew = true; grew;)
        {
            grew = false;
            for (var rest = set & ~placed; rest != 0; rest &= rest - 1)
            {
                var i = BitOperations.TrailingZeroCount(rest);
                if (Allowed(i, placed | done))
                {
                    placed |= 1UL << i;
                    grew = true;
                }
            }
        }
        return placed;
    }

    /// <summary>Whether operation <paramref name="i"/> may be done when these are done.</summary>
    public bool Allowed(int i, ulong done)
    {
        foreach (var group in Needs[i])
        {
            if ((group & done) == 0)
            {
                return false;
            }
        }
        return true;
    }

    private static ulong[] ToolMasks(Layout layout)
    {
        var names = layout.Operations.SelectMany(o => o.Tools).Distinct().Order(StringComparer.Ordinal).ToList();
        return [.. layout.Operations.Select(o => o.Tools.Aggregate(0UL, (m, t) => m | 1UL << names.IndexOf(t)))];
    }
}
