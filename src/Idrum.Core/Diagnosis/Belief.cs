using System.Numerics.Tensors;
using Idrum.Core.Money;

namespace Idrum.Core.Diagnosis;

/// <summary>What is believed of one machine: a probability for every hypothesis of its model, and for silent
/// wear.</summary>
public sealed class Belief
{
    private readonly double[] weight;
    private readonly double[][]?[] local;
    private readonly double wear;

    internal Belief(
        FaultModel model,
        double[] prior,
        double wear,
        IReadOnlyList<(int Finding, int Outcome)> known,
        IReadOnlyList<(int Finding, double[] Likelihood)>? graded = null
    )
    {
        (Model, weight, this.wear, Known, Graded) = (model, prior, wear, known, graded ?? []);
        local = new double[][]?[model.Local.Length];
        foreach (var (finding, outcome) in known)
        {
            if (model.ClusterOf[finding] < 0)
            {
                model.Multiply(weight, finding, outcome);
            }
        }
        foreach (var (finding, likelihood) in Graded)
        {
            if (model.ClusterOf[finding] < 0)
            {
                model.Multiply(weight, finding, likelihood);
            }
        }
        for (var c = 0; c < local.Length; c++)
        {
            local[c] = Seen(c);
        }
        for (var c = 0; c < local.Length; c++)
        {
            if (local[c] is { } seen)
            {
                var sums = seen.Select(g => g.Sum()).ToArray();
                for (var h = 0; h < weight.Length; h++)
                {
                    weight[h] *= sums[model.Local[c].GroupOfSet[model.SetOf[h]]];
                }
            }
        }
        Evidence = Normalise(weight);
    }

    /// <summary>Weights of silent wear in a cluster once what is known of its parts is; null where nothing
    /// is.</summary>
    private double[][]? Seen(int c)
    {
        var cluster = Model.Local[c];
        double[][]? weights = null;
        foreach (var (finding, outcome) in Known.Where(k => Model.ClusterOf[k.Finding] == c))
        {
            cluster.Learn(weights ??= Copy(cluster.Prior(wear)), finding, outcome);
        }
        foreach (var (finding, likelihood) in Graded.Where(g => Model.ClusterOf[g.Finding] == c))
        {
            cluster.Learn(weights ??= Copy(cluster.Prior(wear)), finding, likelihood);
        }
        return weights;
    }

    private Belief(Belief other, int without)
    {
        (Model, wear, local, Graded) = (other.Model, other.wear, [.. other.local], other.Graded);
        var (finding, outcome) = other.Known[without];
        Known = [.. other.Known.Where((_, i) => i != without)];
        weight = (double[])other.weight.Clone();
        if (Model.ClusterOf[finding] is >= 0 and var c)
        {
            var cluster = Model.Local[c];
            var rest = Seen(c);
            var weights = rest ?? cluster.Prior(wear);
            var ratio = weights
                .Select((g, i) => other.local[c]![i].Sum() is > 0 and var sum ? g.Sum() / sum : 0)
                .ToArray();
            local[c] = rest;
            for (var h = 0; h < weight.Length; h++)
            {
                weight[h] *= ratio[cluster.GroupOfSet[Model.SetOf[h]]];
            }
        }
        else
        {
            Model.Multiply(weight, finding, outcome, -1);
        }
        Evidence = Normalise(weight) * other.Evidence;
    }

    private Belief(Belief other, bool[] putRight, bool gone)
    {
        (Model, wear, local, Known, Graded, weight) = (
            other.Model,
            other.wear,
            other.local,
            other.Known,
            other.Graded,
            (double[])other.weight.Clone()
        );
        for (var h = 0; h < weight.Length; h++)
        {
            var set = Model.Sets[Model.SetOf[h]];
            weight[h] =
                set.Length > 0 && (gone ? Array.Exists(set, f => putRight[f]) : Array.TrueForAll(set, f => putRight[f]))
                    ? 0
                    : weight[h];
        }
        Evidence = Normalise(weight) * other.Evidence;
    }

    /// <summary>The same, given that it is not only what was put right.</summary>
    internal Belief NotOnly(bool[] putRight) => new(this, putRight, gone: false);

    /// <summary>The same, given that nothing of what was put right speaks any more.</summary>
    internal Belief NoneOf(bool[] putRight) => new(this, putRight, gone: true);

    /// <summary>The same without one of the things known, by its place in <see cref="Known"/>. No outcome is
    /// impossible, so that it can be taken out
    /// again.</summary>
    internal Belief Without(int known) => new(this, known);

    /// <summary>The same without one of the graded findings, by its place in <see cref="Graded"/>.</summary>
    internal Belief WithoutGraded(int graded)
    {
        var rest = Model.Believe(wear, Known, [.. Graded.Where((_, k) => k != graded)]);
        // What is out of the question here stays so: nothing graded is impossible by itself.
        for (var h = 0; h < weight.Length; h++)
        {
            rest.weight[h] = weight[h] == 0 ? 0 : rest.weight[h];
        }
        Normalise(rest.weight);
        return rest;
    }

    /// <summary>The model.</summary>
    public FaultModel Model { get; }

    /// <summary>What is known.</summary>
    public IReadOnlyList<(int Finding, int Outcome)> Known { get; }

    /// <summary>Findings that were not answered but made more or less likely: P(what was read | outcome) by outcome,
    /// the largest 1.</summary>
    public IReadOnlyList<(int Finding, double[] Likelihood)> Graded { get; }

    /// <summary>P(what is known): the normalising constant.</summary>
    public double Evidence { get; }

    /// <summary>Probability of each hypothesis.</summary>
    internal ReadOnlySpan<double> Weight => weight;

    /// <summary>P(fault speaks) for every fault.</summary>
    public double[] Speaks()
    {
        var m = new double[Model.Faults.Count];
        var sets = Model.Members;
        for (var h = 0; h < weight.Length; h++)
        {
            foreach (var f in sets[Model.SetOf[h]])
            {
                m[f] += weight[h];
            }
        }
        return m;
    }

    /// <summary>P(fault is there and does not speak) for every fault; 0 where nothing was seen of its part.</summary>
    public double[] SilentlySeen()
    {
        var m = new double[Model.Faults.Count];
        for (var c = 0; c < local.Length; c++)
        {
            if (local[c] is not { } seen)
            {
                continue;
            }
            var cluster = Model.Local[c];
            var ofGroup = new double[cluster.Groups];
            for (var h = 0; h < weight.Length; h++)
            {
                ofGroup[cluster.GroupOfSet[Model.SetOf[h]]] += weight[h];
            }
            for (var i = 0; i < cluster.Wear.Length; i++)
            {
                // Only wear whose own part was looked at: the others are there with their prior, and nobody asked.
                if (
                    !Known
                        .Select(k => k.Finding)
                        .Concat(Graded.Select(k => k.Finding))
                        .Any(f =>
                            Model.ClusterOf[f] == c
                            && Model.Faults[cluster.Wear[i]].Kinds.Intersect(Model.Findings[f].SeesKinds).Any()
                        )
                )
                {
                    continue;
                }
                for (var g = 0; g < ofGroup.Length; g++)
                {
                    var (all, with) = (0.0, 0.0);
                    for (var t = 0; t < seen[g].Length && ofGroup[g] > 1e-12; t++)
                    {
                        all += seen[g][t];
                        with += (t >> i & 1) == 1 ? seen[g][t] : 0;
                    }
                    m[cluster.Wear[i]] += all > 0 ? ofGroup[g] * with / all : 0;
                }
            }
        }
        return m;
    }

    /// <summary>P(machine does this) for each state.</summary>
    public double[] Does()
    {
        var m = new double[4];
        for (var h = 0; h < weight.Length; h++)
        {
            m[(int)Model.DoesOf[h]] += weight[h];
        }
        return m;
    }

    /// <summary>P(two or more faults speak).</summary>
    public double Several()
    {
        var sum = 0.0;
        for (var h = 0; h < weight.Length; h++)
        {
            sum += Model.Sets[Model.SetOf[h]].Length > 1 ? weight[h] : 0;
        }
        return sum;
    }

    /// <summary>P(each outcome) of a finding for the hypotheses given, given what is known of its parts.</summary>
    /// <param name="finding">Place of the finding; not yet known.</param>
    /// <param name="hypotheses">Places of hypotheses.</param>
    /// <returns>By outcome, then by hypothesis.</returns>
    internal double[][] Outcomes(int finding, IReadOnlyList<int> hypotheses)
    {
        var n = Model.Findings[finding].Outcomes.Count;
        var result = new double[n][];
        var c = Model.ClusterOf[finding];
        var rows = c >= 0 ? Model.Local[c].Outcomes(local[c] ?? Model.Local[c].Prior(wear), finding) : null;
        for (var o = 0; o < n; o++)
        {
            var p = new double[hypotheses.Count];
            for (var i = 0; i < p.Length; i++)
            {
                p[i] = rows is null
                    ? Model.Likelihood(finding, o, hypotheses[i])
                    : rows[Model.Local[c].GroupOfSet[Model.SetOf[hypotheses[i]]]][o];
            }
            result[o] = p;
        }
        return result;
    }

    /// <summary>Bits that a check tells of the faults that speak: their entropy less what is left of it on
    /// average.</summary>
    /// <param name="findingId">A finding of this model that is not known yet.</param>
    public double Bits(string findingId)
    {
        var some = Enumerable.Range(0, weight.Length).Where(h => weight[h] > 1e-5).ToList();
        var outcomes = Outcomes(Model.IndexOfFinding(findingId), some);
        var bits = 0.0;
        foreach (var o in outcomes)
        {
            var p = some.Select((h, i) => weight[h] * o[i]).Sum();
            for (var i = 0; i < some.Count && p > 0; i++)
            {
                var joint = weight[some[i]] * o[i];
                bits += joint > 0 ? joint * Math.Log2(o[i] / p) : 0;
            }
        }
        return bits;
    }

    private static double[][] Copy(double[][] rows) => [.. rows.Select(r => (double[])r.Clone())];

    internal static double Normalise(double[] p)
    {
        var sum = TensorPrimitives.Sum<double>(p);
        if (sum > 0)
        {
            TensorPrimitives.Divide(p, sum, p);
        }
        return sum;
    }
}
