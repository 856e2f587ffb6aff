using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>The fault model of one layout. A hypothesis is a set of up to three faults that speak, with what the
/// machine then does; beside it any
/// other wear may be there silently and shows on its own part alone. Exact by enumeration.</summary>
/// <remarks>A two-valued finding follows noisy-OR, P(present | S) = 1 − (1 − leak)·Π(1 − p_i) (Pearl, Probabilistic
/// Reasoning in Intelligent
/// Systems, 1988, ch. 4.3). A graded one follows noisy-MAX (Díez, UAI 1993): the grade is the largest that any cause
/// produces, so
/// P(grade ≤ k | S) = L_k·Π C_ik with cumulative probabilities. What the machine does is such a grade too (runs,
/// stands, hums, dead).
/// The prior of a set is Π incidence_i · beside^(n−1) · Π factors of its pairs.</remarks>
public sealed class FaultModel
{
    /// <summary>Probability of an outcome that cannot be in what the machine does: an error of whoever looks.</summary>
    internal const double Slip = 0.003;

    private const int States = 4;
    private readonly double[][] factor;
    private readonly FindingTable[] tables;

    /// <summary>Builds the model.</summary>
    /// <param name="layout">The machine; faults whose parts it lacks are left out.</param>
    /// <param name="catalog">A catalog without errors.</param>
    public FaultModel(Layout layout, DiagnosisCatalog catalog)
    {
        (Layout, Catalog) = (layout, catalog);
        bool Holds(Condition? when) => layout.Holds(when);
        var kinds = layout.Parts.Select(p => p.Kind).ToHashSet();
        Faults = [.. catalog.Faults.Where(f => Holds(f.When) && (f.Kinds.Count == 0 || f.Kinds.Any(kinds.Contains)))];
        var here = catalog.Findings.Where(f => Holds(f.When) && f.At.All(kinds.Contains)).ToList();
        // What was heard before the machine stopped is a finding of its own: what the machine does now says nothing
        // against it.
        Findings =
        [
            .. here,
            .. here.Where(f => f is { Group: FindingGroup.Complaint, States.Count: > 0, Tells: null })
                .Select(KnownFindings.Before),
        ];
        var place = Faults.Select((f, i) => (f.Id, i)).ToDictionary(p => p.Id, p => p.i);
        factor = Factors(place);
        Members = [.. Enumerate(Faults.Count)];
        (SetOf, DoesOf, Share) = Hypotheses();
        tables = [.. Findings.Select(f => new FindingTable(f, Sets, place, layout))];
        Local = LocalWear.Clusters(this, place);
        ClusterOf = [.. Findings.Select((_, f) => Array.FindIndex(Local, c => c.Findings.Contains(f)))];
    }

    /// <summary>The layout.</summary>
    public Layout Layout { get; }

    /// <summary>The catalog it was built from.</summary>
    public DiagnosisCatalog Catalog { get; }

    /// <summary>Faults this layout can have.</summary>
    public IReadOnlyList<Fault> Faults { get; }

    /// <summary>Findings that can be made on this layout.</summary>
    public IReadOnlyList<Finding> Findings { get; }

    /// <summary>What must be seen to before the machine may be run at all; null where nothing must.</summary>
    /// <param name="request">What is known.</param>
    public FirstMoves? BarsRunning(DiagnosisRequest request)
    {
        var answered = request.Told.Keys.Concat(request.Graded.Select(g => g.FindingId)).ToHashSet();
        return Catalog
            .BeforeRunning(request.Told)
            .FirstOrDefault(m => m.Checks.Any(c => IndexOfFinding(c) >= 0 && !answered.Contains(c)));
    }

    /// <summary>All sets of up to three faults, by their places, rising; the empty set is first.</summary>
    public IReadOnlyList<int[]> Sets => Members;

    /// <summary>The same as an array, for loops over all hypotheses.</summary>
    internal int[][] Members { get; }

    /// <summary>The set of each hypothesis.</summary>
    internal int[] SetOf { get; }

    /// <summary>What the machine does in each hypothesis.</summary>
    internal MachineDoes[] DoesOf { get; }

    /// <summary>P(does | set) of each hypothesis.</summary>
    internal double[] Share { get; }

    /// <summary>Findings tied together by wear that may be silent.</summary>
    internal LocalWear[] Local { get; }

    /// <summary>Cluster of each finding, or −1.</summary>
    internal int[] ClusterOf { get; }

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

    /// <summary>By what two faults raise each other's odds.</summary>
    internal double FactorOf(int a, int b) => factor[a][b];

    /// <summary>P(outcome | hypothesis) without silent wear; outcome −1 is a complaint that was not
    /// mentioned.</summary>
    internal double Likelihood(int finding, int outcome, int hypothesis) =>
        tables[finding].Of(outcome, SetOf[hypothesis], DoesOf[hypothesis]);

    /// <summary>P(outcome | set, what the machine does) without silent wear.</summary>
    internal double LikelihoodOf(int finding, int outcome, int set, MachineDoes does) =>
        tables[finding].Of(outcome, set, does);

    /// <summary>Place of a set by its members, rising.</summary>
    /// <summary>Whether it knows these faults, and reckons with all of them at once.</summary>
    /// <param name="faults">Ids.</param>
    public bool Has(IReadOnlyCollection<FaultId> faults)
    {
        int[] members = [.. Enumerable.Range(0, Faults.Count).Where(i => faults.Contains(Faults[i].Id))];
        return members.Length == faults.Count && Sets.Any(s => s.AsSpan().SequenceEqual(members));
    }

    internal int IndexOfSet(int[] members)
    {
        for (var s = 0; s < Sets.Count; s++)
        {
            if (Sets[s].AsSpan().SequenceEqual(members))
            {
                return s;
            }
        }
        throw new ArgumentException("There is no such set.", nameof(members));
    }

    internal void Multiply(double[] weights, int finding, int outcome, int power = 1) =>
        tables[finding].Multiply(weights, outcome, SetOf, DoesOf, power);

    /// <summary>Multiplies by Σ P(reading | outcome) · P(outcome | hypothesis).</summary>
    internal void Multiply(double[] weights, int finding, double[] likelihood)
    {
        for (var h = 0; h < weights.Length; h++)
        {
            var sum = 0.0;
            for (var o = 0; o < likelihood.Length; o++)
            {
                sum += likelihood[o] == 0 ? 0 : likelihood[o] * tables[finding].Of(o, SetOf[h], DoesOf[h]);
            }
            weights[h] *= sum;
        }
    }

    /// <summary>Prior probability of every hypothesis.</summary>
    /// <param name="wear">Wear relative to ten years of average use; clamped to 0.1–3.</param>
    internal double[] Prior(double wear)
    {
        wear = Math.Clamp(wear, 0.1, 3);
        var world = Catalog.World;
        var rate = Faults.Select(f => f.Incidence / 1000 * Math.Pow(wear, f.Ageing)).ToArray();
        var ofSet = new double[Sets.Count];
        for (var s = 0; s < ofSet.Length; s++)
        {
            var set = Sets[s];
            var weight = set.Length == 0 ? world.NothingWrong : Math.Pow(world.Beside, set.Length - 1);
            for (var i = 0; i < set.Length; i++)
            {
                weight *= rate[set[i]];
                for (var j = 0; j < i; j++)
                {
                    weight *= factor[set[i]][set[j]];
                }
            }
            ofSet[s] = weight;
        }
        var prior = new double[SetOf.Length];
        for (var h = 0; h < prior.Length; h++)
        {
            prior[h] = ofSet[SetOf[h]] * Share[h];
        }
        Belief.Normalise(prior);
        return prior;
    }

    /// <summary>What is believed once outcomes are known.</summary>
    /// <param name="wear">Wear relative to ten years of average use.</param>
    /// <param name="known">Pairs of finding and outcome places; outcome −1 is a complaint that was not
    /// mentioned.</param>
    /// <param name="graded">Findings that were made more or less likely, by the likelihood of each outcome.</param>
    public Belief Believe(
        double wear,
        IReadOnlyList<(int Finding, int Outcome)> known,
        IReadOnlyList<(int Finding, double[] Likelihood)>? graded = null
    ) => new(this, Prior(wear), wear, known, graded);

    private double[][] Factors(Dictionary<FaultId, int> place)
    {
        var n = Faults.Count;
        var table = new double[n][];
        for (var i = 0; i < n; i++)
        {
            table[i] = new double[n];
            for (var j = 0; j < n; j++)
            {
                table[i][j] =
                    Faults[i].Nature == FaultNature.Acute && Faults[j].Nature == FaultNature.Acute
                        ? Catalog.World.TwoAcute
                        : 1;
            }
        }
        for (var i = 0; i < n; i++)
        {
            foreach (var w in Faults[i].With.Where(w => place.ContainsKey(w.Fault)))
            {
                table[i][place[w.Fault]] *= w.Factor;
                table[place[w.Fault]][i] *= w.Factor;
            }
        }
        return table;
    }

    private static IEnumerable<int[]> Enumerate(int faults)
    {
        yield return [];
        for (var a = 0; a < faults; a++)
        {
            yield return [a];
        }
        for (var a = 0; a < faults; a++)
        {
            for (var b = a + 1; b < faults; b++)
            {
                yield return [a, b];
            }
        }
        for (var a = 0; a < faults; a++)
        {
            for (var b = a + 1; b < faults; b++)
            {
                for (var c = b + 1; c < faults; c++)
                {
                    yield return [a, b, c];
                }
            }
        }
    }

    private (int[] Set, MachineDoes[] Does, double[] Share) Hypotheses()
    {
        // Per fault: P(state ≤ k).
        var upTo = Faults
            .Select(f =>
            {
                var p = new double[States];
                foreach (var d in f.Does.Where(d => Layout.Holds(d.When)))
                {
                    p[(int)d.State] += d.P;
                }
                return FindingTable.Cumulative(p.Skip(1).ToList());
            })
            .ToArray();
        var (sets, does, share) = (new List<int>(), new List<MachineDoes>(), new List<double>());
        for (var s = 0; s < Sets.Count; s++)
        {
            var below = 0.0;
            for (var k = 0; k < States; k++)
            {
                var here = Sets[s].Aggregate(1.0, (p, f) => p * upTo[f][k]);
                if (here - below > 1e-12)
                {
                    sets.Add(s);
                    does.Add((MachineDoes)k);
                    share.Add(here - below);
                }
                below = here;
            }
        }
        return ([.. sets], [.. does], [.. share]);
    }
}
