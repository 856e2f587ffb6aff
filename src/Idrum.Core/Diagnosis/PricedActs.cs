using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>What each act costs on average until the machine is right, from what is believed now.</summary>
internal sealed class PricedActs
{
    private const int MostHypotheses = 400;
    private const double Mass = 0.995;
    private const double Seldom = 0.05;
    private readonly FaultModel model;
    private readonly TeardownPlanner planner;
    private readonly RepairCosts repairs;
    private readonly Belief belief;
    private readonly DiagnosisRequest request;
    private readonly IReadOnlyDictionary<string, string> told;
    private readonly RepairCosts.Table whole;
    private readonly Bits done;
    private readonly int[] likely;
    private readonly double[] weight;
    private readonly LikelySets sets;
    private readonly Dictionary<string, (double? Minutes, RepairCosts.Table Costs)> ways = [];

    internal PricedActs(
        FaultModel model,
        TeardownPlanner planner,
        RepairCosts repairs,
        Belief belief,
        DiagnosisRequest request,
        bool[] putRight
    )
    {
        (this.model, this.planner, this.repairs, this.belief, this.request) = (
            model,
            planner,
            repairs,
            belief,
            request
        );
        told = request.Told;
        done = planner.Graph.SetOf(request.Done);
        Now = repairs.From(done, request.AtHand);
        whole = repairs.From(Bits.None, request.AtHand);
        (likely, weight) = Likeliest(belief.Weight);
        var known = new Dictionary<(int, int, int), int>();
        var members = new List<int[]>();
        var of = new int[likely.Length];
        for (var i = 0; i < of.Length; i++)
        {
            int[] left = [.. model.Sets[model.SetOf[likely[i]]].Where(f => !putRight[f])];
            var key = (
                left.ElementAtOrDefault(0) - (left.Length > 0 ? 0 : 1),
                left.Length > 1 ? left[1] : -1,
                left.Length > 2 ? left[2] : -1
            );
            if (!known.TryGetValue(key, out var at))
            {
                known[key] = at = members.Count;
                members.Add(left);
            }
            of[i] = at;
        }
        sets = new(members, of);
        Stop = RepairOrder.Best(model.Catalog.Costs, members, sets.Gather(weight), Now, whole);
    }

    /// <summary>Costs of repairs from the present state.</summary>
    internal RepairCosts.Table Now { get; }

    /// <summary>What going for causes without a further check costs.</summary>
    internal RepairOrder.Choice Stop { get; }

    /// <summary>For each check: by how much of all answers it turns what would be done first.</summary>
    internal Dictionary<string, double> Turns { get; } = [];

    /// <summary>What going for a fault first costs, without a further check.</summary>
    /// <param name="fault">Its place.</param>
    internal double GoingFor(int fault) =>
        RepairOrder.StartingWith(model.Catalog.Costs, sets.Sets, sets.Gather(weight), Now, whole, fault);

    /// <summary>The likeliest hypotheses that carry nearly all of the probability.</summary>
    private static (int[] Hypotheses, double[] Weight) Likeliest(ReadOnlySpan<double> all)
    {
        var most = 0.0;
        foreach (var w in all)
        {
            most = Math.Max(most, w);
        }
        var list = new List<(double Weight, int Hypothesis)>();
        for (var h = 0; h < all.Length; h++)
        {
            if (all[h] > most * 1e-5)
            {
                list.Add((all[h], h));
            }
        }
        list.Sort((a, b) => b.Weight.CompareTo(a.Weight));
        var (sum, n) = (0.0, 0);
        while (n < list.Count && n < MostHypotheses && sum < Mass)
        {
            sum += list[n++].Weight;
        }
        return ([.. list.Take(n).Select(x => x.Hypothesis)], [.. list.Take(n).Select(x => x.Weight / sum)]);
    }

    /// <summary>All checks that can be made, those that save most first; live ones last, and only where no other would
    /// do.</summary>
    internal List<PricedCheck> Checks(CancellationToken cancellation)
    {
        var answered = belief.Known.Select(k => k.Finding).Concat(belief.Graded.Select(g => g.Finding)).ToHashSet();
        var does = belief.Does();
        var standing = new MachineStanding(model.Layout, [.. request.Done]);
        var runsBarred = model.BarsRunning(request) is not null;
        var open = new List<(int Finding, double Minutes, RepairCosts.Table Costs)>();
        for (var f = 0; f < model.Findings.Count; f++)
        {
            cancellation.ThrowIfCancellationRequested();
            var finding = model.Findings[f];
            if (
                answered.Contains(f)
                || request.Untold.Contains(finding.Id)
                || finding.Group == FindingGroup.Before
                || request.ComplaintsTold && finding.Group == FindingGroup.Complaint
                || finding.Runs && (!done.IsEmpty || request.Isolated || runsBarred)
            )
            {
                continue;
            }
            // A check belongs to a state of the machine: nothing is heard of what does not start, no rim is looked
            // along with the drum out.
            if (!standing.Allows(finding, does))
            {
                continue;
            }
            // Nobody is asked whether a dead machine hums.
            if (
                finding.States.Count > 0
                && finding.Otherwise.Count == 0
                && finding.States.Sum(s => does[(int)s]) < Seldom
            )
            {
                continue;
            }
            // Nor is the supply of a machine measured that runs.
            if (
                does[(int)MachineDoes.Dead] < Seldom
                && finding.Links.Count > 0
                && finding.Links.All(l =>
                    model.Catalog.FindFault(l.Fault)!.Does.Any(d => d is { State: MachineDoes.Dead, P: >= 0.5 })
                )
            )
            {
                continue;
            }
            // Where the way there takes off what the check needs in place, it cannot be made.
            if (Way(finding.At) is { Minutes: { } minutes } way && (minutes == 0 || StandsAfter(finding, does)))
            {
                open.Add((f, minutes, way.Costs));
            }
        }
        var priced = new List<PricedCheck>();
        foreach (var (f, minutes, costs) in open)
        {
            cancellation.ThrowIfCancellationRequested();
            priced.Add(Price(f, minutes, costs));
        }
        var dead = priced.Any(c => !c.Finding.Live && c.ExpectedCost < Stop.Cost);
        return
        [
            .. priced
                .Where(c => !(c.Finding.Live && dead))
                .OrderBy(c => c.Finding.Live)
                .ThenBy(c => Math.Round(c.ExpectedCost * 2))
                .ThenBy(c => c.TeardownMinutes)
                .ThenBy(c => c.Minutes),
        ];
    }

    /// <summary>Whether the machine stands as a check needs it once it is opened up to there.</summary>
    private bool StandsAfter(Finding finding, double[] does) =>
        finding.Needs.Count == 0
        || new MachineStanding(
            model.Layout,
            [.. planner.StateAfter(Groups(finding.At), done).ToList().Select(i => planner.Graph.Node(i).Id)]
        ).Allows(finding, does);

    /// <summary>What one of each must be out for to see kinds of part.</summary>
    private List<IReadOnlyList<OperationId>> Groups(IReadOnlyList<string> kinds) =>
        [.. model.Layout.PartsOfKind(kinds).SelectMany(p => p.SeenAfter)];

    /// <summary>By how much a check moves the probability of a fault on average: Σ P(outcome)·|P(fault | outcome) −
    /// P(fault)|.</summary>
    internal double Informs(Finding finding, int fault)
    {
        var outcomes = belief.Outcomes(model.IndexOfFinding(finding.Id), likely);
        var now = 0.0;
        for (var i = 0; i < likely.Length; i++)
        {
            now += sets.Sets[sets.Of[i]].Contains(fault) ? weight[i] : 0;
        }
        return outcomes.Sum(o =>
        {
            var (all, with) = (0.0, 0.0);
            for (var i = 0; i < likely.Length; i++)
            {
                all += weight[i] * o[i];
                with += sets.Sets[sets.Of[i]].Contains(fault) ? weight[i] * o[i] : 0;
            }
            return Math.Abs(with - now * all);
        });
    }

    /// <summary>Minutes out and in to where a part can be looked at.</summary>
    internal double MinutesToSee(Part part) => planner.MinutesTo(part.SeenAfter, done) ?? double.MaxValue;

    /// <summary>Minutes out and in to where kinds of part can be looked at, and what repairs cost from there. Every
    /// part of each kind must be in
    /// reach, so that "spin each roller" means each.</summary>
    private (double? Minutes, RepairCosts.Table Costs) Way(IReadOnlyList<string> kinds)
    {
        var key = string.Join(',', kinds);
        if (!ways.TryGetValue(key, out var way))
        {
            var groups = Groups(kinds);
            var minutes = planner.MinutesTo(groups, done);
            ways[key] = way = (
                minutes,
                minutes is > 0 ? repairs.From(planner.StateAfter(groups, done), request.AtHand) : Now
            );
        }
        return way;
    }

    /// <summary>Causes that a check shows, the likeliest first: of those that are still likely, what it points
    /// to.</summary>
    private IReadOnlyList<string> Shown(Finding finding)
    {
        var speaks = new double[model.Faults.Count];
        for (var i = 0; i < likely.Length; i++)
        {
            foreach (var f in sets.Sets[sets.Of[i]])
            {
                speaks[f] += weight[i];
            }
        }
        return
        [
            .. Enumerable
                .Range(0, speaks.Length)
                .Select(f =>
                    (
                        f,
                        P: speaks[f]
                            * finding
                                .Links.Where(l => l.Fault == model.Faults[f].Id && model.Layout.Holds(l.When))
                                .Sum(l => l.P.Sum())
                    )
                )
                .Where(x => x.P >= 0.01)
                .OrderByDescending(x => x.P)
                .Take(3)
                .Select(x => model.Faults[x.f].Name),
        ];
    }

    private PricedCheck Price(int f, double open, RepairCosts.Table costs)
    {
        var finding = model.Findings[f];
        var expected = finding.Minutes + finding.RiskMinutes + open;
        var outcomes = belief.Outcomes(f, likely);
        var turns = 0.0;
        var p = new double[likely.Length];
        for (var o = 0; o < outcomes.Length; o++)
        {
            var sum = 0.0;
            for (var i = 0; i < p.Length; i++)
            {
                p[i] = weight[i] * outcomes[o][i];
                sum += p[i];
            }
            if (sum < 1e-6)
            {
                continue;
            }
            var best = RepairOrder.Best(model.Catalog.Costs, sets.Sets, sets.Gather(p), costs, whole);
            expected += sum * best.Cost;
            if (best.First != Stop.First)
            {
                turns += sum;
            }
        }
        Turns[finding.Id] = turns;
        return new(finding, finding.Minutes, open, expected, Shown(finding));
    }
}
