namespace Idrum.Core.Diagnosis;

/// <summary>Sets of faults that are still to be put right, with their probabilities: as many of the likeliest as carry
/// nearly all of it.</summary>
/// <param name="Sets">Members of each set, those put right already left out.</param>
/// <param name="Of">The set of each hypothesis looked at.</param>
internal sealed record LikelySets(IReadOnlyList<int[]> Sets, int[] Of)
{
    /// <summary>Probability of each set from those of the hypotheses; normalised.</summary>
    internal double[] Gather(ReadOnlySpan<double> weight)
    {
        var p = new double[Sets.Count];
        for (var i = 0; i < Of.Length; i++)
        {
            p[Of[i]] += weight[i];
        }
        Belief.Normalise(p);
        return p;
    }
}

/// <summary>Expected cost of putting causes right one after the other until the machine is right.</summary>
/// <remarks>The order by probability over cost is that of Heckerman, Breese and Rommelse, "Decision-theoretic
/// troubleshooting", CACM 38(3),
/// 1995; here several faults may be there at once, and whoever opens the machine for one sees what else lies in
/// reach.</remarks>
internal static class RepairOrder
{
    private const int Longest = 8;
    private const double Likely = 0.004;
    private const double LookRound = 6;

    /// <summary>What is this unlikely moves no price by a minute.</summary>
    private const double Trifle = 4e-5;

    /// <param name="First">Place of the fault gone for first, or −1 where no cause is worth going for.</param>
    /// <param name="Cost">Expected minutes, money counted in.</param>
    /// <param name="Money">Of it, expected money.</param>
    internal readonly record struct Choice(int First, double Cost, double Money);

    /// <summary>The order by probability over cost, and each of the three likeliest put first; the cheapest
    /// counts.</summary>
    internal static Choice Best(
        CostBasis basis,
        IReadOnlyList<int[]> sets,
        double[] probability,
        RepairCosts.Table now,
        RepairCosts.Table whole
    )
    {
        var n = now.Minutes.Length;
        Span<double> marginals = stackalloc double[n];
        Span<double> ratio = stackalloc double[n];
        for (var s = 0; s < sets.Count; s++)
        {
            foreach (var f in sets[s])
            {
                marginals[f] += probability[s];
            }
        }
        for (var i = 0; i < n; i++)
        {
            ratio[i] = marginals[i] / Math.Max(now.Minutes[i], 0.5);
        }
        Span<int> byRatio = stackalloc int[Longest];
        Span<int> likeliest = stackalloc int[3];
        var length = Pick(marginals, ratio, byRatio);
        var tries = Pick(marginals, marginals, likeliest);
        var best = new Choice(-1, basis.ReferMinutes, 0);
        Span<int> order = stackalloc int[Longest];
        for (var t = 0; t <= tries; t++)
        {
            if (length == 0)
            {
                break;
            }
            order[0] = t < tries ? likeliest[t] : byRatio[0];
            var k = 1;
            for (var i = 0; i < length && k < Longest; i++)
            {
                if (byRatio[i] != order[0])
                {
                    order[k++] = byRatio[i];
                }
            }
            var (cost, money) = Cost(basis, sets, probability, order[..k], now, whole, best.Cost);
            if (cost < best.Cost - 1e-9)
            {
                best = new(order[0], cost, money);
            }
        }
        return best;
    }

    /// <summary>What going for one fault first costs, the others after it by probability over cost.</summary>
    internal static double StartingWith(
        CostBasis basis,
        IReadOnlyList<int[]> sets,
        double[] probability,
        RepairCosts.Table now,
        RepairCosts.Table whole,
        int first
    )
    {
        var marginals = new double[now.Minutes.Length];
        for (var s = 0; s < sets.Count; s++)
        {
            foreach (var f in sets[s])
            {
                marginals[f] += probability[s];
            }
        }
        Span<int> order = stackalloc int[Longest + 1];
        Span<int> rest = stackalloc int[Longest];
        var length = Pick(marginals, [.. marginals.Select((p, i) => p / Math.Max(now.Minutes[i], 0.5))], rest);
        order[0] = first;
        var k = 1;
        for (var i = 0; i < length; i++)
        {
            if (rest[i] != first)
            {
                order[k++] = rest[i];
            }
        }
        return Cost(basis, sets, probability, order[..k], now, whole).Minutes;
    }

    /// <summary>The highest scores first, of faults that are at all likely.</summary>
    private static int Pick(ReadOnlySpan<double> marginals, ReadOnlySpan<double> score, Span<int> into)
    {
        var n = 0;
        for (; n < into.Length; n++)
        {
            var best = -1;
            for (var i = 0; i < marginals.Length; i++)
            {
                if (marginals[i] > Likely && !into[..n].Contains(i) && (best < 0 || score[i] > score[best]))
                {
                    best = i;
                }
            }
            if (best < 0)
            {
                break;
            }
            into[n] = best;
        }
        return n;
    }

    /// <summary>Expected minutes and money of an order. Each set is walked through it, the first stage from the present
    /// state, the others from
    /// the whole machine: each is opened for, what of the set shows itself then is put right, and the machine proved.
    /// Once something was put
    /// right the machine speaks of what is left by itself: that is gone for directly, at the price of a look round and,
    /// where it slipped through
    /// the proof, of coming back. What the order never meets is given up. No further
    /// than to where it costs more than the most.</summary>
    internal static (double Minutes, double Money) Cost(
        CostBasis basis,
        IReadOnlyList<int[]> sets,
        double[] probability,
        ReadOnlySpan<int> order,
        RepairCosts.Table first,
        RepairCosts.Table whole,
        double most = double.PositiveInfinity
    )
    {
        var again = basis.CallBackShare * basis.CallBackMinutes;
        var (cost, money) = (0.0, 0.0);
        for (var s = 0; s < sets.Count; s++)
        {
            var p = probability[s];
            if (p < Trifle)
            {
                continue;
            }
            var set = sets[s];
            var (minutes, paid) = (0.0, 0.0);
            var met = set.Length == 0;
            for (var stage = 0; stage < order.Length; stage++)
            {
                // After a proof the machine is whole, and every further stage opens it anew.
                var costs = stage == 0 ? first : whole;
                var cause = order[stage];
                minutes += costs.Stage[cause];
                paid += costs.OnSuspicion[cause];
                var (sees, along) = (costs.Sees[cause], costs.Along[cause]);
                foreach (var f in set)
                {
                    if (sees[f])
                    {
                        (minutes, paid, met) = (minutes + along[f], paid + costs.Money[f], true);
                    }
                    else if (f == cause)
                    {
                        met = true;
                    }
                }
                if (met)
                {
                    foreach (var f in set)
                    {
                        if (!sees[f] && f != cause)
                        {
                            (minutes, paid) = (minutes + again + LookRound + whole.Minutes[f], paid + costs.Money[f]);
                        }
                    }
                    break;
                }
                minutes += again;
            }
            cost += p * (minutes + (met ? 0 : basis.ReferMinutes));
            money += p * paid;
            if (cost > most)
            {
                return (cost, money);
            }
        }
        return (cost, money);
    }
}
