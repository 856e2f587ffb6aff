using System.Numerics.Tensors;
using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>The fault model of one layout: every set of up to three simultaneous faults with the likelihood of every
/// outcome. Exact by enumeration.</summary>
/// <remarks>A two-valued finding follows noisy-OR, P(present | S) = 1 − (1 − leak)·Π(1 − p_i) (Pearl, Probabilistic Reasoning in
/// Intelligent Systems, 1988, ch. 4.3). A graded one follows noisy-MAX (Díez, UAI 1993): the grade is the largest that any
/// cause produces, so P(grade ≤ k | S) = L_k·Π C_ik with cumulative probabilities; with one grade the two agree.</remarks>
public sealed class NoisyOrModel
{
    /// <summary>Most faults in one set.</summary>
    public const int MaxSimultaneous = 3;

    private readonly double[][][] likelihood;

    /// <summary>Builds the model.</summary>
    /// <param name="layout">The machine; faults whose parts it lacks are left out.</param>
    /// <param name="catalog">A catalog without errors.</param>
    public NoisyOrModel(Layout layout, DiagnosisCatalog catalog)
    {
        Layout = layout;
        Catalog = catalog;
        bool Holds(Condition? when) => layout.Holds(when);
        var kinds = layout.Parts.Select(p => p.Kind).ToHashSet();
        Faults = [.. catalog.Faults.Where(f => Holds(f.When) && (f.Kinds.Count == 0 || f.Kinds.Any(kinds.Contains)))];
        Findings = [.. catalog.Findings.Where(f => Holds(f.When) && f.At.All(kinds.Contains))];
        Sets = Enumerate(Faults.Count);
        var place = Faults.Select((f, i) => (f.Id, i)).ToDictionary(p => p.Id, p => p.i);
        likelihood = [.. Findings.Select(f => Likelihood(f, place, Holds))];
    }

    /// <summary>The layout.</summary>
    public Layout Layout { get; }

    /// <summary>The catalog it was built from.</summary>
    public DiagnosisCatalog Catalog { get; }

    /// <summary>Faults this layout can have.</summary>
    public IReadOnlyList<Fault> Faults { get; }

    /// <summary>Findings that can be made on this layout.</summary>
    public IReadOnlyList<Finding> Findings { get; }

    /// <summary>All sets of up to three faults as bit sets over <see cref="Faults"/>; the empty set is first.</summary>
    public IReadOnlyList<uint> Sets { get; }

    /// <summary>Place of a finding, or -1 where this layout does not have it.</summary>
    public int IndexOfFinding(string findingId)
    {
        for (var i = 0; i < Findings.Count; i++)
        {
            if (Findings[i].Id == findingId)
            {
                return i;
            }
        }
        return -1;
    }

    /// <summary>P(outcome | set) for every set.</summary>
    /// <param name="finding">Place in <see cref="Findings"/>.</param>
    /// <param name="outcome">Place in its outcomes.</param>
    public ReadOnlySpan<double> Likelihood(int finding, int outcome) => likelihood[finding][outcome];

    /// <summary>Prior probability of every set: proportional to the product of the odds of its faults, which is the
    /// independent prior restricted to sets of at most three.</summary>
    /// <param name="wear">Wear relative to ten years of average use; clamped to 0.1–3.</param>
    public double[] Prior(double wear)
    {
        wear = Math.Clamp(wear, 0.1, 3);
        var odds = Faults.Select(f => f.Odds * Math.Pow(wear, f.Ageing)).ToArray();
        var prior = new double[Sets.Count];
        for (var s = 0; s < prior.Length; s++)
        {
            var product = 1.0;
            for (var i = 0; i < odds.Length; i++)
            {
                if ((Sets[s] >> i & 1) == 1)
                {
                    product *= odds[i];
                }
            }
            prior[s] = product;
        }
        Normalise(prior);
        return prior;
    }

    /// <summary>Posterior of every set given outcomes.</summary>
    /// <param name="prior">From <see cref="Prior"/>; not changed.</param>
    /// <param name="findings">Pairs of finding and outcome places.</param>
    /// <param name="evidence">P(findings): the normalising constant.</param>
    public double[] Posterior(double[] prior, IEnumerable<(int Finding, int Outcome)> findings, out double evidence)
    {
        var p = (double[])prior.Clone();
        foreach (var (finding, outcome) in findings)
        {
            TensorPrimitives.Multiply(p, likelihood[finding][outcome], p);
        }
        evidence = Normalise(p);
        return p;
    }

    /// <summary>P(fault) for every fault, by summing the sets that hold it.</summary>
    public double[] Marginals(double[] posterior)
    {
        var m = new double[Faults.Count];
        for (var s = 0; s < posterior.Length; s++)
        {
            for (var set = Sets[s]; set != 0; set &= set - 1)
            {
                m[System.Numerics.BitOperations.TrailingZeroCount(set)] += posterior[s];
            }
        }
        return m;
    }

    internal static double Normalise(double[] p)
    {
        var sum = TensorPrimitives.Sum<double>(p);
        if (sum > 0)
        {
            TensorPrimitives.Divide(p, sum, p);
        }
        return sum;
    }

    private static uint[] Enumerate(int faults)
    {
        if (faults > 32)
        {
            throw new ArgumentException("At most 32 faults on one layout.", nameof(faults));
        }
        var sets = new List<uint> { 0 };
        var last = new List<uint> { 0 };
        for (var size = 1; size <= MaxSimultaneous; size++)
        {
            var next = new List<uint>();
            foreach (var set in last)
            {
                for (var i = set == 0 ? 0 : 32 - System.Numerics.BitOperations.LeadingZeroCount(set); i < faults; i++)
                {
                    next.Add(set | 1u << i);
                }
            }
            sets.AddRange(next);
            last = next;
        }
        return [.. sets];
    }

    private double[][] Likelihood(Finding finding, Dictionary<string, int> place, Func<Condition?, bool> holds)
    {
        var grades = finding.Outcomes.Count - 1;
        var causes = finding.Links.Where(l => holds(l.When) && place.ContainsKey(l.Fault))
            .GroupBy(l => place[l.Fault]).ToDictionary(g => g.Key, g => Cumulative(g.First().P));
        var leak = Cumulative(finding.Leak);
        var result = new double[grades + 1][];
        for (var k = 0; k <= grades; k++)
        {
            result[k] = new double[Sets.Count];
        }
        for (var s = 0; s < Sets.Count; s++)
        {
            var below = 0.0;
            for (var k = 0; k <= grades; k++)
            {
                var upTo = leak[k];
                for (var set = Sets[s]; set != 0; set &= set - 1)
                {
                    if (causes.TryGetValue(System.Numerics.BitOperations.TrailingZeroCount(set), out var c))
                    {
                        upTo *= c[k];
                    }
                }
                result[k][s] = upTo - below;
                below = upTo;
            }
        }
        return result;
    }

    /// <summary>P(grade ≤ k) for k = 0 … grades, from the probabilities of the grades 1 … grades.</summary>
    private static double[] Cumulative(IReadOnlyList<double> grades)
    {
        var c = new double[grades.Count + 1];
        c[grades.Count] = 1;
        for (var k = grades.Count - 1; k >= 0; k--)
        {
            c[k] = c[k + 1] - grades[k];
        }
        return c;
    }
}
