using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>What still matters of one job, small enough to be thought through to its end: the likeliest faults, the
/// checks that tell most of
/// them, and all that is left as one thing more that would have to be looked for otherwise.</summary>
internal sealed class CutDown
{
    private readonly FaultModel model;
    private readonly TeardownPlanner planner;
    private readonly RepairCosts repairs;
    private readonly DiagnosisRequest request;
    private readonly List<Bits> states = [];
    private readonly List<double[]> repairMinutes = [];
    private readonly List<double[]> checkMinutes = [];
    private readonly List<int[]> afterCheck = [];

    /// <param name="model">The fault model.</param>
    /// <param name="planner">Prices openings.</param>
    /// <param name="repairs">Prices repairs.</param>
    /// <param name="belief">What is believed now.</param>
    /// <param name="request">The job.</param>
    /// <param name="putRight">Faults out of the question.</param>
    /// <param name="faults">Places of the faults looked at.</param>
    /// <param name="checks">Places of the checks looked at.</param>
    internal CutDown(
        FaultModel model,
        TeardownPlanner planner,
        RepairCosts repairs,
        Belief belief,
        DiagnosisRequest request,
        bool[] putRight,
        int[] faults,
        int[] checks
    )
    {
        (this.model, this.planner, this.repairs, this.request, Faults, Checks) = (
            model,
            planner,
            repairs,
            request,
            faults,
            checks
        );
        states.Add(Bits.None);
        Start = StateOf(planner.Graph.SetOf(request.Done));
        var local = faults.Select((f, i) => (f, i)).ToDictionary(x => x.f, x => x.i);
        var most = 0.0;
        foreach (var w in belief.Weight)
        {
            most = Math.Max(most, w);
        }
        // Hypotheses that only these faults make up stand by themselves; all others are one.
        List<int> inside = [],
            outside = [];
        for (var h = 0; h < belief.Weight.Length; h++)
        {
            if (belief.Weight[h] > most * 1e-4)
            {
                var left = model.Sets[model.SetOf[h]].Where(f => !putRight[f]).ToList();
                (left.Count > 0 && left.TrueForAll(local.ContainsKey) ? inside : outside).Add(h);
            }
        }
        var weight = belief.Weight.ToArray();
        Sets = [.. inside.Select(h => model.Sets[model.SetOf[h]].Where(f => !putRight[f]).Sum(f => 1 << local[f])), 0];
        var rest = outside.Sum(h => weight[h]);
        Prior = [.. inside.Select(h => weight[h]), rest];
        Belief.Normalise(Prior);
        List<int> both = [.. inside, .. outside];
        Likelihood =
        [
            .. checks.Select(c =>
                belief
                    .Outcomes(c, both)
                    .Select(o =>
                        (double[])
                            [
                                .. o.Take(inside.Count),
                                rest > 0
                                    ? o.Skip(inside.Count).Select((p, i) => p * weight[outside[i]]).Sum() / rest
                                    : 0,
                            ]
                    )
                    .ToArray()
            ),
        ];
        var whole = repairs.From(Bits.None, request.AtHand);
        OtherMinutes =
            rest > 0
                ? Math.Min(
                    model.Catalog.Costs.ReferMinutes,
                    Search
                        + outside.Sum(h =>
                            weight[h]
                            * model
                                .Sets[model.SetOf[h]]
                                .Where(f => !putRight[f])
                                .Select(f => model.Faults[f].Action == FaultAction.Refer ? 0 : whole.Minutes[f])
                                .DefaultIfEmpty(model.Catalog.Costs.ReferMinutes / 2)
                                .Sum()
                        ) / rest
                )
                : 0;
        Refers = faults.Select((f, i) => model.Faults[f].Action == FaultAction.Refer ? 1 << i : 0).Sum();
        Cures =
        [
            .. faults.Select(
                (f, i) =>
                    1 << i
                    | (
                        model.Faults[f].Action == FaultAction.Replace
                            ? faults.Select((g, j) => Same(model.Faults[f], model.Faults[g]) ? 1 << j : 0).Sum()
                                & ~(1 << i)
                            : 0
                    )
            ),
        ];
    }

    /// <summary>Minutes of finding out by other means what it is when it is none of the faults looked at.</summary>
    private const double Search = 20;

    internal int[] Faults { get; }

    internal int[] Checks { get; }

    /// <summary>Place of the state the machine is in.</summary>
    internal int Start { get; }

    /// <summary>Members of each hypothesis as bits; the last is what is left.</summary>
    internal int[] Sets { get; }

    internal double[] Prior { get; }

    /// <summary>P(outcome | hypothesis) by check, outcome, hypothesis.</summary>
    internal double[][][] Likelihood { get; }

    /// <summary>What it still costs when it is none of the faults looked at.</summary>
    internal double OtherMinutes { get; }

    /// <summary>Faults that others put right, as bits.</summary>
    internal int Refers { get; }

    /// <summary>What each repair puts right, as bits.</summary>
    internal int[] Cures { get; }

    internal CostBasis Basis => model.Catalog.Costs;

    /// <summary>Minutes of putting a fault right from a state, proof and parts counted in.</summary>
    internal double RepairMinutes(int state, int fault)
    {
        if (repairMinutes[state] is not { Length: > 0 })
        {
            var table = repairs.From(states[state], request.AtHand);
            repairMinutes[state] = [.. Faults.Select(f => table.Minutes[f] + Basis.ProveMinutes)];
        }
        return repairMinutes[state][fault];
    }

    /// <summary>Minutes of a check from a state, opening counted in; infinite where it cannot be made.</summary>
    internal double CheckMinutes(int state, int check)
    {
        var minutes = checkMinutes[state][check];
        if (double.IsNaN(minutes))
        {
            var finding = model.Findings[Checks[check]];
            var running = finding.Runs && (!states[state].IsEmpty || request.Isolated);
            checkMinutes[state][check] = minutes =
                running || planner.MinutesTo(Groups(finding), states[state]) is not { } open
                    ? double.PositiveInfinity
                    : open + finding.Minutes + finding.RiskMinutes;
        }
        return minutes;
    }

    /// <summary>The state a check leaves the machine in.</summary>
    internal int AfterCheck(int state, int check)
    {
        if (afterCheck[state][check] < 0)
        {
            var finding = model.Findings[Checks[check]];
            afterCheck[state][check] =
                finding.At.Count == 0 ? state : StateOf(planner.StateAfter(Groups(finding), states[state]));
        }
        return afterCheck[state][check];
    }

    private List<IReadOnlyList<OperationId>> Groups(Finding finding) =>
        [.. model.Layout.PartsOfKind(finding.At).SelectMany(p => p.SeenAfter)];

    private static bool Same(Fault repaired, Fault other) =>
        other.Action != FaultAction.Refer && other.Kinds.Count > 0 && other.Kinds.All(repaired.Kinds.Contains);

    private int StateOf(Bits done)
    {
        var at = states.FindIndex(s => s.Equals(done));
        if (at >= 0 && repairMinutes.Count > at)
        {
            return at;
        }
        if (at < 0)
        {
            states.Add(done);
        }
        while (repairMinutes.Count < states.Count)
        {
            repairMinutes.Add([]);
            var unknown = new double[Checks.Length];
            Array.Fill(unknown, double.NaN);
            checkMinutes.Add(unknown);
            var nowhere = new int[Checks.Length];
            Array.Fill(nowhere, -1);
            afterCheck.Add(nowhere);
        }
        return at < 0 ? states.Count - 1 : at;
    }
}
