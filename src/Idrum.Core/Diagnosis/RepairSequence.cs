using System.Numerics;
using System.Numerics.Tensors;

namespace Idrum.Core.Diagnosis;

/// <summary>Expected cost of repairing causes one after the other until the machine is right.</summary>
internal static class RepairSequence
{
    private const int Longest = 10;

    /// <summary>Orders whose minutes are kept for one state of the machine.</summary>
    private const int RememberedOrders = 200;

    /// <param name="First">What is repaired first, or null where no cause is worth naming.</param>
    /// <param name="Cost">Expected minutes.</param>
    /// <param name="Share">In how many of ten machines the first repair is right.</param>
    internal sealed record Choice(Fault? First, double Cost, int Share);

    /// <summary>The order by probability over cost, and each of the three likeliest tried first; the cheapest counts.</summary>
    /// <param name="model">The model.</param>
    /// <param name="posterior">Over its sets.</param>
    /// <param name="marginals">Over its faults.</param>
    /// <param name="costs">From the present state.</param>
    /// <param name="whole">From the whole machine.</param>
    /// <param name="relevant">Faults that can produce what was complained of; the others need not be found today.</param>
    internal static Choice Best(NoisyOrModel model, double[] posterior, double[] marginals, RepairCosts.Table costs, RepairCosts.Table whole, uint relevant)
    {
        Span<int> byRatio = stackalloc int[Longest];
        var n = Pick(marginals, relevant, i => marginals[i] / Math.Max(costs.Minutes[i], 0.5), byRatio);
        Span<int> likeliest = stackalloc int[3];
        var tries = Pick(marginals, relevant, i => marginals[i], likeliest);
        Span<int> order = stackalloc int[Longest];
        var chosen = -1;
        var best = new Choice(null, tries == 0 ? model.Catalog.Costs.ReferMinutes : double.PositiveInfinity, 0);
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
            var cost = Cost(model, posterior, order[..k], costs, whole, relevant);
            if (cost < best.Cost)
            {
                chosen = likeliest[t];
                best = best with { Cost = cost };
            }
        }
        if (chosen < 0)
        {
            return best;
        }
        // Named is the likeliest of what one then sees: opened for a baffle, one looks at the rollers first.
        for (var i = 0; i < marginals.Length; i++)
        {
            if ((costs.Sees[chosen] & relevant & 1u << i) != 0 && marginals[i] > marginals[chosen])
            {
                chosen = i;
            }
        }
        return best with { First = model.Faults[chosen], Share = (int)Math.Round(10 * marginals[chosen]) };
    }

    private static int Pick(double[] marginals, uint relevant, Func<int, double> score, Span<int> into)
    {
        var n = 0;
        Span<bool> taken = stackalloc bool[marginals.Length];
        while (n < into.Length)
        {
            var best = -1;
            for (var i = 0; i < marginals.Length; i++)
            {
                if (!taken[i] && (relevant >> i & 1) == 1 && marginals[i] > 0.002 && (best < 0 || score(i) > score(best)))
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

    /// <summary>Expected minutes of an order of repairs: Σ P(set)·minutes of the set.</summary>
    internal static double Cost(NoisyOrModel model, double[] posterior, ReadOnlySpan<int> order, RepairCosts.Table costs, RepairCosts.Table whole, uint relevant)
    {
        var key = 0UL;
        foreach (var fault in order)
        {
            key = key << 6 | (uint)(fault + 1);
        }
        if (!costs.Orders.TryGetValue((key, relevant), out var minutes))
        {
            if (costs.Orders.Count >= RememberedOrders)
            {
                costs.Orders.Clear();
            }
            costs.Orders[(key, relevant)] = minutes = MinutesOfSets(model, order, costs, whole, relevant);
        }
        return TensorPrimitives.Dot(posterior, minutes);
    }

    /// <summary>Minutes an order of repairs takes for each set of faults. The set is walked through the order,
    /// the first stage from the present state, the others from the whole machine: each stage is
    /// opened for, and what of the set shows itself then is repaired; the walk ends when the whole set is repaired. What is still wrong after a stage may slip through the proof and come back; what the order never reaches is
    /// given up.</summary>
    internal static double[] MinutesOfSets(NoisyOrModel model, ReadOnlySpan<int> order, RepairCosts.Table first, RepairCosts.Table whole, uint relevant)
    {
        var basis = model.Catalog.Costs;
        var again = basis.CallBackShare * basis.CallBackMinutes;
        var result = new double[model.Sets.Count];
        for (var s = 0; s < result.Length; s++)
        {
            var left = model.Sets[s] & relevant;
            var minutes = 0.0;
            var stage = 0;
            do
            {
                // After the first proof the machine is whole, and every further stage opens it anew.
                var costs = stage == 0 ? first : whole;
                var cause = order[stage];
                minutes += costs.Stage[cause];
                for (var seen = left & costs.Sees[cause]; seen != 0; seen &= seen - 1)
                {
                    minutes += costs.Along[cause][BitOperations.TrailingZeroCount(seen)];
                }
                left &= ~(costs.Sees[cause] | 1u << cause);
                minutes += left == 0 ? 0 : again;
            }
            while (left != 0 && ++stage < order.Length);
            result[s] = minutes + (left == 0 ? 0 : basis.ReferMinutes);
        }
        return result;
    }
}
