using System.Collections.Concurrent;
using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>Findings that look at the same parts, and the wear there that may be silent: which of it is there is summed
/// over, all subsets of it,
/// so that two looks at one roller are not two rollers.</summary>
internal sealed class LocalWear
{
    private const int MostWear = 9;
    private const int MostPriors = 20;
    private readonly ConcurrentDictionary<double, double[][]> priors = new();
    private readonly FaultModel model;
    private readonly Dictionary<int, int> groupOf;
    private readonly List<int[]> groups = [];
    private readonly double[][] leak;
    private readonly double[][][] bySet;
    private readonly double[][][] bySilent;

    private LocalWear(FaultModel model, int[] findings, int[] wear, Dictionary<int, double[]>[] causes)
    {
        this.model = model;
        (Findings, Wear) = (findings, wear);
        // Sets are told apart by the faults that cause one of the findings or go with one of the wears.
        var matters = causes
            .SelectMany(c => c.Keys)
            .Concat(wear)
            .Concat(Enumerable.Range(0, model.Faults.Count).Where(f => wear.Any(w => model.FactorOf(f, w) != 1)))
            .ToHashSet();
        var known = new Dictionary<(int, int, int), int>();
        GroupOfSet = new int[model.Sets.Count];
        for (var s = 0; s < GroupOfSet.Length; s++)
        {
            var (a, b, c) = (-1, -1, -1);
            foreach (var i in model.Sets[s])
            {
                if (matters.Contains(i))
                {
                    (a, b, c) = (b, c, i);
                }
            }
            if (!known.TryGetValue((a, b, c), out var group))
            {
                known[(a, b, c)] = group = groups.Count;
                groups.Add([.. new[] { a, b, c }.Where(i => i >= 0)]);
            }
            GroupOfSet[s] = group;
        }
        groupOf = findings.Select((f, i) => (f, i)).ToDictionary(x => x.f, x => x.i);
        leak = [.. findings.Select(f => FindingTable.Cumulative(model.Findings[f].Leak))];
        double[] Product(int f, IEnumerable<int> faults)
        {
            var p = new double[leak[f].Length];
            Array.Fill(p, 1);
            foreach (var c in faults.Where(causes[f].ContainsKey).Select(i => causes[f][i]))
            {
                for (var k = 0; k < p.Length; k++)
                {
                    p[k] *= c[k];
                }
            }
            return p;
        }
        bySet = [.. findings.Select((_, f) => groups.Select(g => Product(f, g)).ToArray())];
        // Silent wear shows on its own part alone.
        bySilent =
        [
            .. findings.Select(
                (at, f) =>
                    Enumerable
                        .Range(0, 1 << wear.Length)
                        .Select(t =>
                            Product(
                                f,
                                wear.Where(
                                    (w, i) =>
                                        (t >> i & 1) == 1
                                        && model.Faults[w].Kinds.Intersect(model.Findings[at].SeesKinds).Any()
                                )
                            )
                        )
                        .ToArray()
            ),
        ];
    }

    internal int[] Findings { get; }

    internal int[] Wear { get; }

    internal int[] GroupOfSet { get; }

    internal int Groups => groups.Count;

    /// <summary>Weight of each group of sets and each silent subset before anything is known; not to be written
    /// to.</summary>
    internal double[][] Prior(double wear)
    {
        if (priors.Count > MostPriors)
        {
            priors.Clear();
        }
        return priors.GetOrAdd(Math.Clamp(wear, 0.1, 3), WorkOutPrior);
    }

    private double[][] WorkOutPrior(double wear)
    {
        return
        [
            .. groups.Select(g =>
            {
                var there = Wear.Select(w =>
                    {
                        if (g.Contains(w))
                        {
                            return 0;
                        }
                        var p = Math.Min(0.6, model.Faults[w].Silent * Math.Pow(wear, model.Faults[w].Ageing));
                        var odds = g.Aggregate(p / (1 - p), (o, f) => o * model.FactorOf(f, w));
                        return odds / (1 + odds);
                    })
                    .ToArray();
                // Subset by subset: each adds one wear to one that is known.
                var row = new double[1 << Wear.Length];
                row[0] = 1;
                for (var i = 0; i < there.Length; i++)
                {
                    for (var t = 0; t < 1 << i; t++)
                    {
                        row[t | 1 << i] = row[t] * there[i];
                        row[t] *= 1 - there[i];
                    }
                }
                return row;
            }),
        ];
    }

    /// <summary>Weights once one more outcome is known.</summary>
    internal void Learn(double[][] weights, int finding, int outcome)
    {
        for (var g = 0; g < weights.Length; g++)
        {
            for (var t = 0; t < weights[g].Length; t++)
            {
                weights[g][t] *= weights[g][t] == 0 ? 0 : Likelihood(finding, outcome, g, t);
            }
        }
    }

    /// <summary>Weights once one more finding is made more or less likely.</summary>
    internal void Learn(double[][] weights, int finding, double[] likelihood)
    {
        for (var g = 0; g < weights.Length; g++)
        {
            for (var t = 0; t < weights[g].Length; t++)
            {
                var sum = 0.0;
                for (var o = 0; o < likelihood.Length && weights[g][t] > 0; o++)
                {
                    sum += likelihood[o] == 0 ? 0 : likelihood[o] * Likelihood(finding, o, g, t);
                }
                weights[g][t] *= sum;
            }
        }
    }

    /// <summary>P(outcome) of a finding for each group of sets, given what is known of these parts.</summary>
    internal double[][] Outcomes(double[][] weights, int finding)
    {
        var f = groupOf[finding];
        var result = new double[groups.Count][];
        for (var g = 0; g < result.Length; g++)
        {
            var row = new double[leak[f].Length];
            var all = 0.0;
            for (var t = 0; t < weights[g].Length; t++)
            {
                var w = weights[g][t];
                if (w == 0)
                {
                    continue;
                }
                all += w;
                var below = 0.0;
                for (var k = 0; k < row.Length; k++)
                {
                    var upTo = leak[f][k] * bySet[f][g][k] * bySilent[f][t][k];
                    row[k] += w * (upTo - below);
                    below = upTo;
                }
            }
            for (var k = 0; k < row.Length; k++)
            {
                row[k] = all > 0 ? row[k] / all : 1.0 / row.Length;
            }
            result[g] = row;
        }
        return result;
    }

    /// <summary>P(outcome) of a finding in a group of sets with one subset of the wear there silently.</summary>
    internal double Likelihood(int finding, int outcome, int group, int silent)
    {
        var f = groupOf[finding];
        double UpTo(int k) => leak[f][k] * bySet[f][group][k] * bySilent[f][silent][k];
        return outcome == 0 ? UpTo(0) : UpTo(outcome) - UpTo(outcome - 1);
    }

    /// <summary>Findings that see the same silent wear, together.</summary>
    internal static LocalWear[] Clusters(FaultModel model, Dictionary<FaultId, int> place)
    {
        var causes = model.Findings.Select(f => FindingTable.CausesOf(f, place, model.Layout)).ToArray();
        var sees = model
            .Findings.Select(
                (f, i) =>
                    causes[i]
                        .Keys.Where(c =>
                            model.Faults[c].Silent > 0 && model.Faults[c].Kinds.Intersect(f.SeesKinds).Any()
                        )
                        .ToHashSet()
            )
            .ToArray();
        var left = Enumerable.Range(0, sees.Length).Where(f => sees[f].Count > 0).ToList();
        var clusters = new List<LocalWear>();
        while (left.Count > 0)
        {
            var (members, wear) = (new List<int>(), new HashSet<int>());
            wear.UnionWith(sees[left[0]]);
            while (left.FindIndex(f => sees[f].Overlaps(wear)) is >= 0 and var next)
            {
                members.Add(left[next]);
                wear.UnionWith(sees[left[next]]);
                left.RemoveAt(next);
            }
            if (wear.Count > MostWear)
            {
                throw new InvalidOperationException(
                    $"More than {MostWear} kinds of wear are seen together: {string.Join(", ", wear.Select(w => model.Faults[w].Id))}."
                );
            }
            if (
                members.FindIndex(f =>
                    model.Findings[f].States.Count > 0
                    || model.Findings[f].Tells is not null
                    || model.Findings[f].Group == FindingGroup.Complaint
                )
                is >= 0
                    and var odd
            )
            {
                throw new InvalidOperationException(
                    $"'{model.Findings[members[odd]].Id}' sees a part and depends on what the machine does."
                );
            }
            clusters.Add(new(model, [.. members], [.. wear.Order()], [.. members.Select(m => causes[m])]));
        }
        return [.. clusters];
    }
}
