namespace Idrum.Core.Teardown;

/// <summary>The cheapest set where a machine leaves little choice, as most do: what is forced is taken, and the few
/// groups with several
/// options are tried through. Exact; gives up where there is more to try, or where a set only supports
/// itself.</summary>
internal sealed class FewChoices(PrecedenceGraph graph, Bits done, Bits usable, IReadOnlyList<Bits> ways)
{
    private const int MostTries = 300;

    private Bits best;
    private long bestCost = long.MaxValue;
    private int tries;
    private bool givenUp;

    /// <param name="graph">The operations.</param>
    /// <param name="goals">Groups of which one each must be done.</param>
    /// <param name="done">Already done, with what is passed through by it; free.</param>
    /// <param name="usable">May be used.</param>
    /// <param name="ways">Options of which not two may be taken.</param>
    /// <returns>The set and its cost, a cost of −1 where the goals cannot be reached; or null where it was given
    /// up.</returns>
    internal static (Bits Set, long Cost)? Find(
        PrecedenceGraph graph,
        IReadOnlyList<Bits> goals,
        Bits done,
        Bits usable,
        IReadOnlyList<Bits> ways
    )
    {
        var search = new FewChoices(graph, done, usable, ways);
        search.Try(Bits.None, 0, [.. goals]);
        return search.givenUp ? null
            : search.bestCost == long.MaxValue ? (Bits.None, -1)
            : (search.best, search.bestCost);
    }

    /// <param name="chosen">Taken so far.</param>
    /// <param name="cost">Its cost.</param>
    /// <param name="open">Groups that may still be open.</param>
    private void Try(Bits chosen, long cost, List<Bits> open)
    {
        if (++tries > MostTries)
        {
            givenUp = true;
            return;
        }
        var several = new List<Bits>();
        for (var k = 0; k < open.Count; k++)
        {
            if (open[k].Meets(chosen | done))
            {
                continue;
            }
            var options = open[k] & usable;
            if (options.IsEmpty)
            {
                return;
            }
            var pick = -1;
            foreach (var i in options)
            {
                pick = pick < 0 ? i : int.MaxValue;
            }
            if (pick == int.MaxValue)
            {
                several.Add(options);
                continue;
            }
            chosen = chosen.With(pick);
            cost += graph.Cost[pick];
            open.AddRange(graph.SetNeeds[pick]);
        }
        if (cost >= bestCost || SetConstraints.TwoOfOneWay(chosen, done, ways))
        {
            return;
        }
        if (several.Find(g => !g.Meets(chosen | done)) is { IsEmpty: false } group)
        {
            foreach (var i in group)
            {
                Try(chosen.With(i), cost + graph.Cost[i], [.. several, .. graph.SetNeeds[i]]);
                if (givenUp)
                {
                    return;
                }
            }
            return;
        }
        if (graph.Orderable(chosen, done) != chosen)
        {
            givenUp = true;
            return;
        }
        (best, bestCost) = (chosen, cost);
    }
}
