using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Bench;

/// <summary>A model small enough for the optimal policy: few faults, one at a time, few checks. All answers × openings
/// × failed repairs are
/// gone through by dynamic programming with the rules of <see cref="PracticeJob"/>; costs are weighed by the mass that
/// comes there.</summary>
internal sealed class ReducedModel
{
    private const double Lost = 2e-5;
    private readonly FaultModel model;
    private readonly CostBasis basis;
    private readonly TeardownPlanner planner;
    private readonly int[] checks;
    private readonly int[] hypotheses;
    private readonly int[] faultOf;
    private readonly double[] prior;
    private readonly int[] radix;
    private readonly int[] cures;
    private readonly List<Bits> states = [Bits.None];
    private readonly Dictionary<(int Answers, string Done, int Failed), double> followed = [];

    /// <param name="knowledge">A machine whose catalogue holds no pairs and no silent wear.</param>
    internal ReducedModel(MachineKnowledge knowledge)
    {
        Knowledge = knowledge;
        model = knowledge.Diagnostician.Model;
        (basis, planner) = (model.Catalog.Costs, knowledge.Planner);
        checks =
        [
            .. Enumerable.Range(0, model.Findings.Count).Where(f => model.Findings[f].Group != FindingGroup.Complaint),
        ];
        var all = model.Prior(1);
        hypotheses =
        [
            .. Enumerable.Range(0, all.Length).Where(h => all[h] > 0 && model.Sets[model.SetOf[h]].Length == 1),
        ];
        prior = [.. hypotheses.Select(h => all[h])];
        Belief.Normalise(prior);
        faultOf = [.. hypotheses.Select(h => model.Sets[model.SetOf[h]][0])];
        radix = new int[checks.Length + 1];
        radix[0] = 1;
        for (var c = 0; c < checks.Length; c++)
        {
            radix[c + 1] = radix[c] * (model.Findings[checks[c]].Outcomes.Count + 1);
        }
        cures =
        [
            .. model.Faults.Select(f =>
                Enumerable
                    .Range(0, model.Faults.Count)
                    .Where(i =>
                        model.Faults[i].Id == f.Id
                        || f.Action == FaultAction.Replace
                            && model.Faults[i].Action != FaultAction.Refer
                            && model.Faults[i].Kinds.Count > 0
                            && model.Faults[i].Kinds.All(f.Kinds.Contains)
                    )
                    .Sum(i => 1 << i)
            ),
        ];
    }

    internal MachineKnowledge Knowledge { get; }

    /// <summary>What it costs whoever knows the fault.</summary>
    internal double Clairvoyant() =>
        hypotheses
            .Select(
                (_, i) =>
                    prior[i]
                    * (model.Faults[faultOf[i]].Action == FaultAction.Refer ? 0 : RepairCost(faultOf[i], Bits.None))
            )
            .Sum();

    private Finding Check(int c) => model.Findings[checks[c]];

    private int Answer(int answers, int c) => answers / radix[c] % (Check(c).Outcomes.Count + 1) - 1;

    private List<IReadOnlyList<OperationId>> Groups(IReadOnlyList<string> kinds) =>
        [.. Knowledge.Layout.PartsOfKind(kinds).SelectMany(p => p.SeenAfter)];

    private double RepairCost(int f, Bits open)
    {
        var parts = Knowledge.Layout.PartsOfKind(model.Faults[f].Kinds).ToList();
        return (planner.MinutesToFree(parts.Select(p => p.Id), open) ?? basis.ReferMinutes)
            + model.Faults[f].FixMinutes
            + basis.ProveMinutes
            + (
                model.Faults[f].Action == FaultAction.Replace
                    ? parts.Where(p => p.Wears).Sum(p => p.Price * p.Count) / basis.RatePerHour * 60
                    : 0
            );
    }

    private double CheckCost(int c, Bits open) =>
        Check(c) is { Runs: true } && !open.IsEmpty ? double.PositiveInfinity
        : planner.MinutesTo(Groups(Check(c).At), open) is { } minutes
            ? minutes + Check(c).Minutes + Check(c).RiskMinutes
        : double.PositiveInfinity;

    /// <summary>Expected minutes of the optimal policy.</summary>
    internal double Optimal()
    {
        var price = new List<double[]>();
        var next = new List<int[]>();
        for (var s = 0; s < states.Count; s++)
        {
            price.Add([.. checks.Select((_, c) => CheckCost(c, states[s]))]);
            next.Add([
                .. checks.Select(
                    (_, c) =>
                        double.IsInfinity(price[s][c]) ? s : StateOf(planner.StateAfter(Groups(Check(c).At), states[s]))
                ),
            ]);
        }
        var repair = states
            .Select(s => Enumerable.Range(0, model.Faults.Count).Select(f => RepairCost(f, s)).ToArray())
            .ToArray();
        var n = radix[^1];
        var outcomes = checks.Select(f => model.Findings[f].Outcomes.Count).ToArray();
        var weight = Weights(n);
        var again = basis.CallBackShare * basis.CallBackMinutes;
        var faults = model.Faults.Count;
        var cost = new float[1 << faults][];
        for (var level = faults; level >= 0; level--)
        {
            Parallel.For(0, 1 << faults, failed =>
            {
                if (System.Numerics.BitOperations.PopCount((uint)failed) == level)
                {
                    cost[failed] = Level(failed);
                }
            });
        }
        return cost[0][0];

        float[] Level(int failed)
        {
            var value = new float[n * states.Count];
            Span<double> of = stackalloc double[faults];
            for (var answers = n - 1; answers >= 0; answers--)
            {
                of.Clear();
                var (mass, inside) = (0.0, 0.0);
                for (var i = 0; i < hypotheses.Length; i++)
                {
                    if ((failed >> faultOf[i] & 1) == 0)
                    {
                        var w = weight[answers * hypotheses.Length + i];
                        of[faultOf[i]] += w;
                        mass += w;
                        inside += model.Faults[faultOf[i]].Action == FaultAction.Refer ? 0 : w;
                    }
                }
                for (var s = 0; s < states.Count; s++)
                {
                    var best = basis.ReferMinutes * inside;
                    for (var f = 0; f < faults && mass > 0; f++)
                    {
                        if ((failed >> f & 1) == 0 && of[f] > 0 && model.Faults[f].Action != FaultAction.Refer)
                        {
                            var rest = mass;
                            for (var g = 0; g < faults; g++)
                            {
                                rest -= (cures[f] >> g & 1) == 1 ? of[g] : 0;
                            }
                            best = Math.Min(
                                best,
                                mass * repair[s][f]
                                    + Math.Max(0, rest) * again
                                    + cost[failed | cures[f]][answers * states.Count]
                            );
                        }
                    }
                    for (var c = 0; c < checks.Length && mass > 0; c++)
                    {
                        if (
                            answers / radix[c] % (outcomes[c] + 1) == 0
                            && price[s][c] * mass is var minutes
                            && minutes < best
                        )
                        {
                            for (var o = 1; o <= outcomes[c]; o++)
                            {
                                minutes += value[(answers + o * radix[c]) * states.Count + next[s][c]];
                            }
                            best = Math.Min(best, minutes);
                        }
                    }
                    value[answers * states.Count + s] = (float)best;
                }
            }
            return value;
        }
    }

    /// <summary>Expected minutes of an advice, followed through all of its answers.</summary>
    internal double Advised(Func<DiagnosisRequest, Advice> advise)
    {
        followed.Clear();
        return Followed(advise, 0, [], 0, 0);
    }

    private int StateOf(Bits done)
    {
        var at = states.FindIndex(s => s.Equals(done));
        if (at < 0)
        {
            states.Add(done);
        }
        return at < 0 ? states.Count - 1 : at;
    }

    private double[] Weights(int n)
    {
        var w = new double[n * hypotheses.Length];
        for (var answers = 0; answers < n; answers++)
        {
            // The last answered check, and the rest of them from before.
            var c = checks.Length - 1;
            while (c >= 0 && Answer(answers, c) < 0)
            {
                c--;
            }
            for (var i = 0; i < hypotheses.Length; i++)
            {
                w[answers * hypotheses.Length + i] =
                    c < 0
                        ? prior[i]
                        : w[answers % radix[c] * hypotheses.Length + i]
                            * model.Likelihood(checks[c], Answer(answers, c), hypotheses[i]);
            }
        }
        return w;
    }

    private double Followed(
        Func<DiagnosisRequest, Advice> advise,
        int answers,
        IReadOnlyList<OperationId> done,
        int failed,
        int depth
    )
    {
        var w = prior
            .Select(
                (p, i) =>
                    (failed >> faultOf[i] & 1) == 1
                        ? 0
                        : Enumerable
                            .Range(0, checks.Length)
                            .Where(c => Answer(answers, c) >= 0)
                            .Aggregate(p, (x, c) => x * model.Likelihood(checks[c], Answer(answers, c), hypotheses[i]))
            )
            .ToArray();
        var mass = w.Sum();
        var inside = w.Where((_, i) => model.Faults[faultOf[i]].Action != FaultAction.Refer).Sum();
        if (depth > 30 || mass < Lost)
        {
            return basis.ReferMinutes * inside;
        }
        var key = (answers, string.Join(',', done.Order()), failed);
        if (followed.TryGetValue(key, out var known))
        {
            return known;
        }
        var open = planner.Graph.SetOf(done);
        var advice = advise(
            new(Evidence(answers), [.. done], 1, ComplaintsTold: true)
            {
                PutRight = [.. model.Faults.Where((_, i) => (failed >> i & 1) == 1).Select(f => f.Id)],
            }
        );
        double cost;
        switch (advice.Kind)
        {
            case AdviceKind.Check:
                var c = Array.FindIndex(checks, f => model.Findings[f].Id == advice.Id);
                var after = Names(planner.StateAfter(Groups(Check(c).At), open));
                cost =
                    mass * CheckCost(c, open)
                    + Check(c)
                        .Outcomes.Select(
                            (_, o) => Followed(advise, answers + (o + 1) * radix[c], after, failed, depth + 1)
                        )
                        .Sum();
                break;
            case AdviceKind.Open:
                var sees = Knowledge.Layout.FindPart(advice.Id)!.SeenAfter.ToList();
                cost =
                    mass * (planner.MinutesTo(sees, open) ?? basis.ReferMinutes)
                    + Followed(advise, answers, Names(planner.StateAfter(sees, open)), failed, depth + 1);
                break;
            case AdviceKind.Repair or AdviceKind.Bring:
                var r = model.Faults.ToList().FindIndex(f => f.Id == advice.Id);
                var rest = w.Where((_, i) => (cures[r] >> faultOf[i] & 1) == 0).Sum();
                cost =
                    mass * RepairCost(r, open)
                    + rest * basis.CallBackShare * basis.CallBackMinutes
                    + Followed(advise, answers, [], failed | cures[r], depth + 1);
                break;
            default:
                cost = basis.ReferMinutes * inside;
                break;
        }
        return followed[key] = cost;
    }

    private List<OperationId> Names(Bits done) => [.. done.ToList().Select(i => Knowledge.Layout.Operations[i].Id)];

    private Dictionary<string, string> Evidence(int answers)
    {
        var evidence = model
            .Findings.Where(f => f.Group == FindingGroup.Complaint)
            .ToDictionary(f => f.Id, f => f.Outcomes[1].Id);
        for (var c = 0; c < checks.Length; c++)
        {
            if (Answer(answers, c) is >= 0 and var o)
            {
                evidence[Check(c).Id] = Check(c).Outcomes[o].Id;
            }
        }
        return evidence;
    }
}
