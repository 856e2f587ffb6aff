using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>The AND/OR graph of a layout's removal operations: an operation may be done when of each of its groups at least one
/// operation has been done. After Homem de Mello and Sanderson, "AND/OR graph representation of assembly plans", IEEE Trans. Robotics and Automation 6(2), 1990.</summary>
public sealed class PrecedenceGraph
{
    private readonly Dictionary<string, int> index;

    /// <summary>Builds the graph.</summary>
    /// <param name="layout">A layout with unique ids and no dangling ones, its conditions decided.</param>
    /// <exception cref="ArgumentException">More than <see cref="Layout.MostOperations"/> operations.</exception>
    public PrecedenceGraph(Layout layout)
    {
        if (layout.Operations.Count > Layout.MostOperations)
        {
            throw new ArgumentException($"A layout may have {Layout.MostOperations} operations at most.", nameof(layout));
        }
        Layout = layout;
        index = layout.Operations.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        InTheWay = [.. layout.Operations.Select(o => o.Needs.Select(SetOf).ToArray())];
        Needs = [.. layout.Operations.Select((o, i) => InTheWay[i].Concat(o.First.Select(SetOf)).ToArray())];
        SetNeeds = [.. layout.Operations.Select((o, i) => Needs[i].Concat(o.Steps.SelectMany(s => s.StillOut).Where(index.ContainsKey)
            .Select(id => Bits.Of(index[id])).Where(b => !b.Has(i))).Distinct().ToArray())];
        Cost = [.. layout.Operations.Select(o => (long)Math.Round(100 * o.TypicalMinutes))];
        ToolIds = [.. layout.Operations.SelectMany(o => o.Tools.Concat(o.Steps.SelectMany(s => s.Tools))).SelectMany(t => t.Any).Distinct().Order(StringComparer.Ordinal)];
        Tools = [.. layout.Operations.Select(o => Choices(o.Tools))];
        Reachable = Orderable(Bits.UpTo(layout.Operations.Count), Bits.None);
    }

    /// <summary>The layout it was made of.</summary>
    public Layout Layout { get; }

    /// <summary>For each operation the groups physically in its way: what the way back mirrors.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> InTheWay { get; }

    /// <summary>For each operation the groups of alternatives that come before it: what is in the way and what prudence wants first.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> Needs { get; }

    /// <summary>The same with what its refit steps want to be out still: what joins the plan with it.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> SetNeeds { get; }

    /// <summary>Typical minutes out plus in, in hundredths, so that sums compare exactly.</summary>
    public IReadOnlyList<long> Cost { get; }

    /// <summary>Tools in the order of the bits of <see cref="Tools"/>.</summary>
    public IReadOnlyList<string> ToolIds { get; }

    /// <summary>For each operation the sets of tools that would do, one bit a tool; the usual one first.</summary>
    public IReadOnlyList<ulong[]> Tools { get; }

    /// <summary>Operations that can ever be done.</summary>
    public Bits Reachable { get; }

    /// <summary>Place of an operation, or -1.</summary>
    public int IndexOf(string operationId) => index.GetValueOrDefault(operationId, -1);

    /// <summary>Set of operation ids; unknown ids are passed over.</summary>
    public Bits SetOf(IEnumerable<string> operationIds) => Bits.Of(operationIds.Select(IndexOf).Where(i => i >= 0));

    /// <summary>Bits of tool ids; unknown ones are passed over.</summary>
    public ulong ToolMask(IEnumerable<string> tools)
    {
        var mask = 0UL;
        foreach (var id in tools)
        {
            for (var t = 0; t < ToolIds.Count; t++)
            {
                mask |= ToolIds[t] == id ? 1UL << t : 0;
            }
        }
        return mask;
    }

    /// <summary>Sets of tools that would do for a step: every choice among the alternatives, the usual one first; 64 at most.</summary>
    public ulong[] Choices(IReadOnlyList<ToolUse> tools)
    {
        IEnumerable<ulong> sets = [0UL];
        foreach (var use in tools)
        {
            sets = sets.SelectMany(s => use.Any.Select(t => s | ToolMask([t])));
        }
        return [.. sets.Take(64).Distinct()];
    }

    /// <summary>Places of the operations after any one of which the part can be replaced.</summary>
    public IEnumerable<int> FreeingOperations(string partId) =>
        Layout.Operations.Select((o, i) => (o, i)).Where(p => p.o.Frees.Contains(partId) || p.o.TakesOff.Contains(partId)).Select(p => p.i);

    /// <summary>The part of a set that can be done in some order, starting from what is done, with all that joins the plan.</summary>
    public Bits Orderable(Bits set, Bits done) => Orderable(set, done, SetNeeds);

    /// <summary>The part of a set that a repairer can do in some order, starting from what is done.</summary>
    public Bits Doable(Bits set, Bits done) => Orderable(set, done, Needs);

    private static Bits Orderable(Bits set, Bits done, IReadOnlyList<IReadOnlyList<Bits>> needs)
    {
        var placed = Bits.None;
        for (var grew = true; grew;)
        {
            grew = false;
            foreach (var i in set - placed)
            {
                if (Served(needs[i], placed | done))
                {
                    placed = placed.With(i);
                    grew = true;
                }
            }
        }
        return placed;
    }

    /// <summary>Whether operation <paramref name="i"/> may be done when these are done.</summary>
    public bool Allowed(int i, Bits done) => Served(Needs[i], done);

    /// <summary>Minutes, in hundredths, of a set.</summary>
    public long CostOf(Bits set)
    {
        var sum = 0L;
        foreach (var i in set)
        {
            sum += Cost[i];
        }
        return sum;
    }

    private static bool Served(IReadOnlyList<Bits> groups, Bits done)
    {
        foreach (var group in groups)
        {
            if (!group.Meets(done))
            {
                return false;
            }
        }
        return true;
    }
}
