using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Teardown;

/// <summary>The cheapest set where some things tie operations together beside what is in the way: what a refit step
/// wants to be out still joins the
/// plan although it may only come later, and of the options of one way one is taken where one does.</summary>
/// <remarks>Best first over sets found without these ties, each of which is a bound: a tie that is broken is tried both
/// ways. Exact where it runs to
/// its end.</remarks>
internal static class SetConstraints
{
    private const int MostLate = 200;

    /// <summary>Whether two options of one way are taken, or one beside another that is done.</summary>
    internal static bool TwoOfOneWay(Bits chosen, Bits done, IReadOnlyList<Bits> ways)
    {
        foreach (var way in ways)
        {
            if (way.Meets(chosen) && ((chosen | done) & way).Count > 1)
            {
                return true;
            }
        }
        return false;
    }

    /// <param name="graph">The operations.</param>
    /// <param name="goals">Groups of which one each must be done.</param>
    /// <param name="done">Already done; free.</param>
    /// <param name="banned">May not be used.</param>
    /// <param name="stop">Whether to stop and report the bound reached.</param>
    /// <param name="goesBack">Whether a set has a way back; null where every set that can be removed has one.</param>
    /// <exception cref="TimeoutException">Nothing that keeps the ties was found before it was to stop.</exception>
    /// <returns>A cheapest set, the ways that bind it, and whether of each way one option does; null where the goals
    /// cannot be reached.</returns>
    internal static (CheapestSet.Result Found, IReadOnlyList<Bits> Ways, bool Excludes)? Find(
        PrecedenceGraph graph,
        IReadOnlyList<Bits> goals,
        Bits done,
        Bits banned,
        Func<bool> stop,
        Func<Bits, bool>? goesBack = null
    )
    {
        done = graph.WithPassed(done);
        if (goals.All(g => g.Meets(done)))
        {
            return (new(Bits.None, 0, 0, true), [], true);
        }
        var usable = graph.Reachable - banned - done;
        IReadOnlyList<Bits> ways =
        [
            .. graph
                .Layout.Ways.Select(w => graph.SetOf(w.Options) - graph.Virtual)
                .Where(w => (w & (usable | done)).Count > 1),
        ];
        foreach (var binding in ways.Count > 0 ? new[] { ways, [] } : [ways])
        {
            if (
                FewChoices.Find(graph, goals, done, usable, binding) is { } few
                && (few.Cost < 0 || goesBack?.Invoke(few.Set - graph.Virtual) != false)
            )
            {
                if (few.Cost < 0)
                {
                    continue;
                }
                return (new(few.Set - graph.Virtual, few.Cost, few.Cost, true), binding, binding.Count == ways.Count);
            }
            if (Search(graph, goals, done, usable, binding, goesBack, stop) is { } found)
            {
                return (found with { Set = found.Set - graph.Virtual }, binding, binding.Count == ways.Count);
            }
        }
        return null;
    }

    private static CheapestSet.Result? Search(
        PrecedenceGraph graph,
        IReadOnlyList<Bits> goals,
        Bits done,
        Bits usable,
        IReadOnlyList<Bits> ways,
        Func<Bits, bool>? goesBack,
        Func<bool> stop
    )
    {
        var loose = Enumerable
            .Range(0, graph.Count)
            .Select(i =>
                graph.StillOut[i] - graph.OrderedNeeds[i].Where(g => g.Count == 1).Aggregate(Bits.None, (s, g) => s | g)
            )
            .ToArray();
        var open = new PriorityQueue<(IReadOnlyList<Bits> Goals, Bits Usable, CheapestSet.Result Found), long>();
        var tried = new HashSet<(Bits, Bits)>();
        void Offer(IReadOnlyList<Bits> wanted, Bits may)
        {
            if (!tried.Add((wanted.Skip(goals.Count).Aggregate(Bits.None, (s, g) => s | g), may)))
            {
                return;
            }
            if (CheapestSet.Find(graph, wanted, done, may, stop) is { } found)
            {
                open.Enqueue((wanted, may, found), found.LowerBound);
            }
        }
        Offer(goals, usable);
        (CheapestSet.Result? best, long bound) = (null, long.MaxValue);
        var late = 0;
        while (open.TryDequeue(out var at, out var least) && (best is null || least < best.Cost))
        {
            bound = Math.Min(bound, at.Found.Optimal ? long.MaxValue : least);
            var set = at.Found.Set;
            var (from, wants) = (-1, -1);
            foreach (var i in set)
            {
                if (!(loose[i] - set - done).IsEmpty)
                {
                    (from, wants) = (i, (loose[i] - set - done).ToList()[0]);
                    break;
                }
            }
            var way =
                from < 0 && TwoOfOneWay(set, done, ways) ? ways.First(w => TwoOfOneWay(set, done, [w])) : Bits.None;
            var stays = from < 0 && way.IsEmpty && goesBack?.Invoke(set - graph.Virtual) == false;
            if (from < 0 && way.IsEmpty && !stays)
            {
                best = best is null || at.Found.Cost < best.Cost ? at.Found : best;
                continue;
            }
            if (stop())
            {
                if (best is not null)
                {
                    bound = Math.Min(bound, least);
                    break;
                }
                if (++late > MostLate)
                {
                    throw new TimeoutException("No set that keeps every tie was found in time.");
                }
            }
            if (stays)
            {
                // Not this set: without one of it, or with one more.
                foreach (var i in set)
                {
                    Offer(at.Goals, at.Usable - Bits.Of(i));
                }
                foreach (var i in at.Usable - set - graph.Virtual)
                {
                    Offer([.. at.Goals, Bits.Of(i)], at.Usable);
                }
            }
            else if (from >= 0)
            {
                Offer([.. at.Goals, Bits.Of(from), Bits.Of(wants)], at.Usable);
                Offer(at.Goals, at.Usable - Bits.Of(from));
            }
            else
            {
                foreach (var option in way.Meets(done) ? [-1] : (way & at.Usable).ToList())
                {
                    Offer(at.Goals, at.Usable - (option < 0 ? way : way - Bits.Of(option)));
                }
            }
        }
        return best is null
            ? null
            : best with
            {
                LowerBound = Math.Min(best.Cost, bound),
                Optimal = bound >= best.Cost,
            };
    }
}
