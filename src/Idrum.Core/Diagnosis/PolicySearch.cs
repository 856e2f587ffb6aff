using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Diagnosis;

/// <summary>The best way of working on a job that was cut down, thought through to its end: every answer to every
/// check, every opening, every
/// repair that did not help.</summary>
/// <remarks>Dynamic programming from the top with memory, pruned by branch and bound: whoever knew the fault could not
/// do it in less
/// (Bellman, Dynamic Programming, 1957). Costs are weighed by the mass of the hypotheses that come there.</remarks>
internal sealed class PolicySearch
{
    private const int LookUp = 0xfff;
    private readonly CutDown cut;
    private readonly double again;
    private readonly double least;
    private readonly Dictionary<(long Answers, int State, int Failed), double> known = [];
    private readonly int[] radix;
    private readonly CancellationToken cancellation;
    private readonly int most;
    private int nodes;

    /// <param name="cut">The job.</param>
    /// <param name="least">Branches of less mass are not thought through but priced at what whoever knows pays and half
    /// as much again.</param>
    /// <param name="most">Most branches looked at; then it gives up.</param>
    /// <param name="cancellation">Stops the work.</param>
    internal PolicySearch(CutDown cut, double least, int most, CancellationToken cancellation)
    {
        (this.cut, this.least, this.most, this.cancellation) = (cut, least, most, cancellation);
        again = cut.Basis.CallBackShare * cut.Basis.CallBackMinutes;
        radix = new int[cut.Checks.Length + 1];
        radix[0] = 1;
        for (var c = 0; c < cut.Checks.Length; c++)
        {
            radix[c + 1] = radix[c] * (cut.Likelihood[c].Length + 1);
        }
    }

    /// <summary>Branches looked at.</summary>
    internal int Nodes => nodes;

    /// <summary>Expected minutes of each check made next and of each repair made next, each followed by the best there
    /// is; infinite where it
    /// is worse than the best by more than the slack. Null where it did not come to an end.</summary>
    /// <param name="slack">By how many minutes an act may be worse and still be priced exactly.</param>
    internal (double[] Checks, double[] Repairs, double GiveUp)? Root(double slack)
    {
        try
        {
            var checks = new double[cut.Checks.Length];
            var repairs = new double[cut.Faults.Length];
            Array.Fill(checks, double.PositiveInfinity);
            Array.Fill(repairs, double.PositiveInfinity);
            var giveUp = GiveUp(cut.Prior);
            var best = giveUp;
            for (var f = 0; f < repairs.Length; f++)
            {
                best = Math.Min(best, repairs[f] = Repair(0, cut.Start, 0, cut.Prior, f, best + slack));
            }
            for (var c = 0; c < checks.Length; c++)
            {
                best = Math.Min(best, checks[c] = Check(0, cut.Start, 0, cut.Prior, c, best + slack));
            }
            return (checks, repairs, giveUp);
        }
        catch (OperationCanceledException) when (!cancellation.IsCancellationRequested)
        {
            return null;
        }
    }

    private double Value(long answers, int state, int failed, double[] weight)
    {
        var mass = 0.0;
        foreach (var w in weight)
        {
            mass += w;
        }
        if (mass < 1e-12)
        {
            return 0;
        }
        var bound = Bound(state, weight);
        if (mass < least)
        {
            return Math.Min(GiveUp(weight), 1.5 * bound);
        }
        var key = (answers, state, failed);
        if (known.TryGetValue(key, out var value))
        {
            return value;
        }
        if (++nodes > most)
        {
            throw new OperationCanceledException();
        }
        if ((nodes & LookUp) == 0)
        {
            cancellation.ThrowIfCancellationRequested();
        }
        var best = GiveUp(weight);
        for (var f = 0; f < cut.Faults.Length; f++)
        {
            best = Math.Min(best, Repair(answers, state, failed, weight, f, best));
        }
        for (var c = 0; c < cut.Checks.Length && best - bound > 0.25 * mass; c++)
        {
            best = Math.Min(best, Check(answers, state, failed, weight, c, best));
        }
        return known[key] = best;
    }

    private double Check(long answers, int state, int failed, double[] weight, int c, double best)
    {
        if (answers / radix[c] % (cut.Likelihood[c].Length + 1) != 0)
        {
            return double.PositiveInfinity;
        }
        var mass = 0.0;
        foreach (var w in weight)
        {
            mass += w;
        }
        var minutes = mass * cut.CheckMinutes(state, c);
        if (minutes >= best)
        {
            return double.PositiveInfinity;
        }
        var after = cut.AfterCheck(state, c);
        var bound = Bound(after, weight);
        if (minutes + bound >= best)
        {
            return double.PositiveInfinity;
        }
        for (var o = 0; o < cut.Likelihood[c].Length; o++)
        {
            var row = cut.Likelihood[c][o];
            var then = new double[weight.Length];
            for (var h = 0; h < then.Length; h++)
            {
                then[h] = weight[h] * row[h];
            }
            // What was still to come at best gives way to what comes.
            var here = Bound(after, then);
            bound -= here;
            minutes += Value(answers + (o + 1) * radix[c], after, failed, then);
            if (minutes + bound >= best + 1e-9)
            {
                return double.PositiveInfinity;
            }
        }
        return minutes;
    }

    private double Repair(long answers, int state, int failed, double[] weight, int f, double best)
    {
        if ((failed >> f & 1) == 1 || (cut.Refers >> f & 1) == 1)
        {
            return double.PositiveInfinity;
        }
        var (hit, mass, minutes) = (0.0, 0.0, 0.0);
        var rest = new double[weight.Length];
        for (var h = 0; h < rest.Length; h++)
        {
            mass += weight[h];
            if ((cut.Sets[h] & cut.Cures[f]) == 0)
            {
                rest[h] = weight[h];
                continue;
            }
            hit += weight[h];
            // Once something was put right the machine speaks of what is left by itself.
            var left = cut.Sets[h] & ~cut.Cures[f] & ~cut.Refers;
            for (var g = 0; left >> g > 0; g++)
            {
                minutes += (left >> g & 1) == 1 ? weight[h] * (again + cut.RepairMinutes(0, g)) : 0;
            }
        }
        if (hit <= mass * 0.002)
        {
            return double.PositiveInfinity;
        }
        minutes += mass * cut.RepairMinutes(state, f) + (mass - hit) * again;
        return minutes + Bound(0, rest) >= best
            ? double.PositiveInfinity
            : minutes + Value(answers, 0, failed | cut.Cures[f], rest);
    }

    /// <summary>What whoever knew it would still pay.</summary>
    private double Bound(int state, double[] weight)
    {
        var bound = weight[^1] * cut.OtherMinutes;
        for (var h = 0; h < weight.Length - 1; h++)
        {
            var set = cut.Sets[h] & ~cut.Refers;
            bound +=
                weight[h] > 0 && set > 0
                    ? weight[h] * cut.RepairMinutes(state, System.Numerics.BitOperations.TrailingZeroCount(set))
                    : 0;
        }
        return bound;
    }

    /// <summary>Handing it over as it is: right where others put it right; what is left is looked for
    /// otherwise.</summary>
    private double GiveUp(double[] weight)
    {
        var minutes = weight[^1] * cut.OtherMinutes;
        for (var h = 0; h < weight.Length - 1; h++)
        {
            minutes += (cut.Sets[h] & ~cut.Refers) > 0 ? weight[h] * cut.Basis.ReferMinutes : 0;
        }
        return minutes;
    }
}
