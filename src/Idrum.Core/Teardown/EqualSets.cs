namespace Idrum.Core.Teardown;

/// <summary>All sets of operations that cost as little as the cheapest one and hold nothing that is not needed, so that
/// the order with the
/// fewest tool changes can be looked for over all of them.</summary>
/// <remarks>Branching over one open group at a time: one of its members is in, the members tried before it are out. A
/// branch is left where what
/// it must still pay exceeds what the cheapest set leaves; the bound is the dearest of its open groups, each by its
/// cheapest member.</remarks>
internal sealed class EqualSets(
    PrecedenceGraph graph,
    Bits done,
    long cost,
    int most,
    IReadOnlyList<Bits> ways,
    Func<bool> stop
)
{
    private const int MostTries = 3000;
    private readonly List<Bits> found = [];
    private int tries;
    private bool complete = true;

    /// <param name="graph">The operations.</param>
    /// <param name="goals">Groups of which one each must be done.</param>
    /// <param name="done">Already done; free.</param>
    /// <param name="usable">May be used.</param>
    /// <param name="cheapest">A cheapest set.</param>
    /// <param name="most">At most so many.</param>
    /// <param name="ways">Options of which not two may be taken.</param>
    /// <param name="stop">Whether to stop.</param>
    /// <returns>The sets, the cheapest one given first, and whether these are all.</returns>
    internal static (IReadOnlyList<Bits> Sets, bool Complete) Find(
        PrecedenceGraph graph,
        IReadOnlyList<Bits> goals,
        Bits done,
        Bits usable,
        Bits cheapest,
        int most,
        IReadOnlyList<Bits> ways,
        Func<bool> stop
    )
    {
        var search = new EqualSets(graph, done, graph.CostOf(cheapest), most, ways, stop);
        search.Try(Bits.None, [.. goals], usable);
        return ([cheapest, .. search.found.Where(s => s != cheapest)], search.complete);
    }

    private void Try(Bits chosen, List<Bits> open, Bits usable)
    {
        if (++tries > MostTries || found.Count >= most || stop())
        {
            complete = false;
            return;
        }
        // What is forced is taken.
        var paid = graph.CostOf(chosen);
        var several = new List<Bits>();
        var least = 0L;
        for (var k = 0; k < open.Count; k++)
        {
            if (open[k].Meets(chosen | done))
            {
                continue;
            }
            var options = open[k] & usable;
            var (count, only, cheapest) = (0, -1, long.MaxValue);
            foreach (var i in options)
            {
                (count, only, cheapest) = (count + 1, i, Math.Min(cheapest, graph.Cost[i]));
            }
            if (count == 0)
            {
                return;
            }
            if (count > 1)
            {
                several.Add(options);
                least = Math.Max(least, cheapest);
                continue;
            }
            chosen = chosen.With(only);
            paid += graph.Cost[only];
            open.AddRange(graph.SetNeeds[only]);
        }
        if (paid > cost || SetConstraints.TwoOfOneWay(chosen, done, ways))
        {
            return;
        }
        if (several.Find(g => !g.Meets(chosen | done)) is { IsEmpty: false } group)
        {
            if (paid + least > cost && several.TrueForAll(g => !g.Meets(chosen | done)))
            {
                return;
            }
            foreach (var i in group)
            {
                Try(chosen.With(i), [.. several, .. graph.SetNeeds[i]], usable);
                usable -= Bits.Of(i);
                if (!complete)
                {
                    return;
                }
            }
            return;
        }
        var orderly = graph.Orderable(chosen, done);
        if (orderly != chosen)
        {
            // Some only support each other. Whichever of them is done first rests on something that is not yet chosen:
            // one of these must join.
            var joining = Bits.None;
            foreach (var i in chosen - orderly)
            {
                joining = graph
                    .SetNeeds[i]
                    .Where(g => !g.Meets(orderly | done))
                    .Aggregate(joining, (j, g) => j | (g & usable) - chosen);
            }
            foreach (var i in joining)
            {
                Try(chosen.With(i), [.. graph.SetNeeds[i]], usable);
                usable -= Bits.Of(i);
                if (!complete)
                {
                    return;
                }
            }
            return;
        }
        var acts = chosen - graph.Virtual;
        if (paid == cost && !found.Contains(acts))
        {
            found.Add(acts);
        }
    }
}
