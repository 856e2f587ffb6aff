using System.Numerics;

namespace Idrum.Core.Diagnosis;

/// <summary>Expected cost of repairing causes one after the other until the machine is right.</summary>
internal static class RepairSequence
{
    private const int Longest = 8;

    /// <param name="First">What is repaired first, or null where handing over is cheaper than any repair.</param>
    /// <param name="Cost">Expected minutes.</param>
    /// <param name="Share">In how many of ten machines the first repair is right.</param>
    internal sealed record Choice(Fault? First, double Cost, int Share);

    /// <summary>The order by probability over cost, and each of the four likeliest tried first; the cheapest counts.</summary>
    internal static Choice Best(NoisyOrModel model, double[] posterior, double[] marginals, RepairCosts.Table costs)
    {
        Span<int> byRatio = stackalloc int[Longest];
        var n = Pick(marginals, (i) => marginals[i] / Math.Max(costs.Minutes[i], 0.5), byRatio);
        Span<int> likeliest = stackalloc int[4];
        var tries = Pick(marginals, i => marginals[i], likeliest);
        Span<int> order = stackalloc int[Longest];
        var best = new Choice(null, model.Catalog.Costs.ReferMinutes * 1.5, 0);
        for (var t = 0; t < tries; t++)
        {
            order[0] = likeliest[t];
            var k = 1;
            for (var i = 0; i < n && k < Longest; i++)
            {
                if (byRatio[i] != likeliest[t])
                {
                    order[k++] = byRatio[i];
                }
            }
            var cost = Cost(model, posterior, order[..k], costs);
            if (cost < best.Cost)
            {
                var share = (int)Math.Round(10 * marginals[likeliest[t]]);
                best = new(model.Faults[likeliest[t]], cost, share);
            }
        }
        return best;
    }

    private static int Pick(double[] marginals, Func<int, double> score, Span<int> into)
    {
        var n = 0;
        Span<bool> taken = stackalloc bool[marginals.Length];
        while (n < into.Length)
        {
            var best = -1;
            for (var i = 0; i < marginals.Length; i++)
            {
                if (!taken[i] && marginals[i] > 0.002 && (best < 0 || score(i) > score(best)))
                {
                    best = i;
                }
            }
            if (best < 0)
            {
                break;
            }
            taken[best] = true;
            into[n++] = best;
        }
        return n;
    }

    /// <summary>Σ over the order of P(not yet right)·cost; after each repair, P(still wrong) may slip through the proof and
    /// come back; what the order does not cover is handed over.</summary>
    internal static double Cost(NoisyOrModel model, double[] posterior, ReadOnlySpan<int> order, RepairCosts.Table costs)
    {
        // settled[k]: probability that repairs 0 … k are just enough; the empty set needs none but is paid for once.
        Span<double> settled = stackalloc double[order.Length];
        Span<int> rank = stackalloc int[model.Faults.Count];
        rank.Fill(-1);
        for (var k = 0; k < order.Length; k++)
        {
            rank[order[k]] = k;
        }
        for (var s = 0; s < posterior.Length; s++)
        {
            var last = 0;
            for (var set = model.Sets[s]; set != 0; set &= set - 1)
            {
                var r = rank[BitOperations.TrailingZeroCount(set)];
                if (r < 0)
                {
                    last = -1;
                    break;
                }
                last = Math.Max(last, r);
            }
            if (last >= 0)
            {
                settled[last] += posterior[s];
            }
        }
        var basis = model.Catalog.Costs;
        var wrong = 1.0;
        var cost = 0.0;
        for (var k = 0; k < order.Length; k++)
        {
            cost += wrong * costs.Minutes[order[k]];
            wrong = Math.Max(0, wrong - settled[k]);
            cost += wrong * basis.CallBackShare * basis.CallBackMinutes;
        }
        return cost + wrong * basis.ReferMinutes;
    }
}
