namespace Idrum.Core.Teardown;

/// <summary>Which operations of a chosen set may come next on the way out, the set numbered from 0.</summary>
internal sealed class RemovalOrder
{
    private readonly List<int> set;
    private readonly Bits[][] groups;
    private readonly Bits[][] passed;
    private readonly Bits all;

    /// <param name="graph">The operations.</param>
    /// <param name="chosen">Operations to do; nothing that is passed through among them.</param>
    /// <param name="have">What is done, with what is passed through by it.</param>
    internal RemovalOrder(PrecedenceGraph graph, Bits chosen, Bits have)
    {
        set = chosen.ToList();
        all = Bits.UpTo(set.Count);
        var gates = (graph.Virtual - have).ToList();
        var place = set.Concat(gates).Select((i, k) => (i, k)).ToDictionary(p => p.i, p => p.k);
        Bits[] Local(IEnumerable<Bits> of) =>
            [
                .. of.Where(g => !g.Meets(have))
                    .Select(g => Bits.Of(g.ToList().Where(place.ContainsKey).Select(i => place[i]))),
            ];
        groups = [.. set.Select(i => Local(graph.Needs[i]))];
        passed = [.. gates.Select(i => Local(graph.InTheWay[i]))];
    }

    /// <summary>The operations by their numbers.</summary>
    internal IReadOnlyList<int> Set => set;

    /// <summary>Those that may come now.</summary>
    internal Bits Allowed(Bits placed)
    {
        var open = placed;
        for (var grew = passed.Length > 0; grew; )
        {
            grew = false;
            for (var v = 0; v < passed.Length; v++)
            {
                if (!open.Has(set.Count + v) && Served(passed[v], open))
                {
                    open = open.With(set.Count + v);
                    grew = true;
                }
            }
        }
        var may = Bits.None;
        foreach (var k in all - placed)
        {
            may = Served(groups[k], open) ? may.With(k) : may;
        }
        return may;
    }

    private static bool Served(Bits[] groups, Bits done)
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
