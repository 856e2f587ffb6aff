using System.Numerics;

namespace Idrum.Core.Diagnosis;

/// <summary>The sets of faults as far as they matter for the complaint: each set cut down to the relevant faults, and each
/// such remainder kept once. Exact, and much smaller than all sets.</summary>
internal sealed class RelevantSets
{
    private readonly int[] place;

    internal RelevantSets(NoisyOrModel model, uint relevant)
    {
        Relevant = relevant;
        Faults = model.Faults.Count;
        var known = new Dictionary<uint, int>();
        place = new int[model.Sets.Count];
        for (var s = 0; s < place.Length; s++)
        {
            var rest = model.Sets[s] & relevant;
            if (!known.TryGetValue(rest, out var at))
            {
                known[rest] = at = known.Count;
            }
            place[s] = at;
        }
        Remainders = [.. known.Keys];
    }

    /// <summary>Faults that can produce what was complained of.</summary>
    internal uint Relevant { get; }

    internal int Faults { get; }

    /// <summary>The different remainders.</summary>
    internal uint[] Remainders { get; }

    /// <summary>Probability of each remainder.</summary>
    internal void Gather(double[] posterior, Span<double> into)
    {
        into.Clear();
        for (var s = 0; s < place.Length; s++)
        {
            into[place[s]] += posterior[s];
        }
    }

    /// <summary>Probability of each relevant fault.</summary>
    internal void Marginals(ReadOnlySpan<double> probability, Span<double> into)
    {
        into.Clear();
        for (var r = 0; r < Remainders.Length; r++)
        {
            for (var set = Remainders[r]; set != 0; set &= set - 1)
            {
                into[BitOperations.TrailingZeroCount(set)] += probability[r];
            }
        }
    }
}

/// <summary>Expected cost of repairing causes one after the other until the machine is right.</summary>
internal static class RepairSequence
{
    private const int Longest = 10;

    /// <param name="First">What is repaired first, or null where no cause is worth naming.</param>
    /// <param name="Cost">Expected minutes.</param>
    /// <param name="Share">In how many of ten machines the first repair is right.</param>
    internal sealed record Choice(Fault? First, double Cost, int Share);

    /// <summary>The order by probability over cost, and each of the three likeliest tried first; the cheapest counts.</summary>
    /// <param name="model">The model.</param>
    /// <param name="sets">The sets that matter.</param>
    /// <param name="probability">Probability of each of them.</param>
    /// <param name="costs">From the present state.</param>
    /// <param name="whole">From the whole machine.</param>
    internal static Choice Best(NoisyOrModel model, RelevantSets sets, ReadOnlySpan<double> probability, RepairCosts.Table costs, RepairCosts.Table whole)
    {
        Span<double> marginals = stackalloc double[sets.Faults];
        sets.Marginals(probability, marginals);
        Span<double> ratio = stackalloc double[sets.Faults];
        for (var i = 0; i < ratio.Length; i++)
        {
            ratio[i] = marginals[i] / Math.Max(costs.Minutes[i], 0.5);
        }
        Span<int> byRatio = stackalloc int[Longest];
        Span<int> likeliest = stackalloc int[3];
        var n = Pick(marginals, ratio, byRatio);
        var tries = Pick(marginals, marginals, likeliest);
        var cheapest = double.PositiveInfinity;
        var chosen = -1;
        Span<int> order = stackalloc int[Longest];
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
            var cost = Cost(model.Catalog.Costs, sets, probability, order[..k], costs, whole);
            if (cost < cheapest)
            {
                (cheapest, chosen) = (cost, likeliest[t]);
            }
        }
        if (chosen < 0)
        {
            return new(null, model.Catalog.Costs.ReferMinutes, 0);
        }
        // Named is the likeliest of what one then sees: opened for a baffle, one looks at the rollers first.
        for (var i = 0; i < marginals.Length; i++)
        {
            if ((costs.Sees[chosen] & 1u << i) != 0 && marginals[i] > marginals[chosen])
            {
                chosen = i;
            }
        }
        return new(model.Faults[chosen], cheapest, (int)Math.Round(10 * marginals[chosen]));
    }

    /// <summary>The highest scores first, of faults that are at all likely.</summary>
    private static int Pick(ReadOnlySpan<double> marginals, ReadOnlySpan<double> score, Span<int> into)
    {
        var taken = 0u;
        for (var n = 0; n < into.Length; n++)
        {
            var best = -1;
            for (var i = 0; i < marginals.Length; i++)
            {
                if ((taken >> i & 1) == 0 && marginals[i] > 0.002 && (best < 0 || score[i] > score[best]))
                {
                    best = i;
                }
            }
            if (best < 0)
            {
                return n;
            }
            taken |= 1u << best;
            into[n] = best;
        }
        return into.Length;
    }

    /// <summary>Expected minutes of an order of repairs. Each set is walked through the order, the first stage from the present
    /// state, the others from the whole machine: each stage is opened for, and what of the set shows itself then is repaired;
    /// the walk ends when the whole set is repaired. What is still wrong after a stage may slip through the proof and come
    /// back; what the order never reaches is given up.</summary>
    internal static double Cost(CostBasis basis, RelevantSets sets, ReadOnlySpan<double> probability, ReadOnlySpan<int> order, RepairCosts.Table first, RepairCosts.Table whole)
    {
        var again = basis.CallBackShare * basis.CallBackMinutes;
        var cost = 0.0;
        for (var r = 0; r < probability.Length; r++)
        {
            var left = sets.Remainders[r];
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
            cost += probability[r] * (minutes + (left == 0 ? 0 : basis.ReferMinutes));
        }
        return cost;
    }
}
