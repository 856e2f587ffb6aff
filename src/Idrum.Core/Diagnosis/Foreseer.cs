using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Diagnosis;

/// <summary>Looks further than one check ahead: cuts the job down to what still matters, and takes the act that the
/// best way of working on that
/// begins with.</summary>
internal sealed class Foreseer(
    FaultModel model,
    Teardown.TeardownPlanner planner,
    RepairCosts repairs,
    Belief belief,
    bool[] putRight,
    PricedActs acts,
    IReadOnlyList<PricedCheck> checks,
    DiagnosisRequest request
)
{
    private const double Likely = 0.012;

    /// <summary>Faults, checks and branches, rising.</summary>
    internal static readonly (int Faults, int Checks, int Branches)[] Cuts = [(6, 8, 20_000), (7, 10, 40_000)];

    /// <param name="Act">The finding, or the fault whose part is changed; null to give up.</param>
    /// <param name="IsCheck">Whether it is a finding.</param>
    /// <param name="Cost">Expected minutes from here, money counted in.</param>
    /// <param name="Instead">Of the act asked about; infinite where that is far worse or was not looked at.</param>
    /// <param name="Nodes">Branches looked at.</param>
    internal sealed record Seen(string? Act, bool IsCheck, double Cost, double Instead, int Nodes);

    /// <summary>Thinks it through with so many faults and checks; null where that takes more branches than
    /// given.</summary>
    /// <param name="faults">Most faults.</param>
    /// <param name="most">Most checks.</param>
    /// <param name="branches">Most branches.</param>
    /// <param name="instead">The act it is compared with.</param>
    /// <param name="cancellation">Stops the work.</param>
    internal Seen? Think(int faults, int most, int branches, Advice instead, CancellationToken cancellation)
    {
        var speaks = belief.Speaks();
        int[] likely =
        [
            .. Enumerable
                .Range(0, speaks.Length)
                .Where(f => !putRight[f] && speaks[f] > Likely)
                .OrderByDescending(f => speaks[f])
                .Take(faults),
        ];
        if (likely.Length == 0)
        {
            return null;
        }
        int[] chosen = [.. Choose(likely, most, instead).Select(c => model.IndexOfFinding(c.Finding.Id))];
        var cut = new CutDown(model, planner, repairs, belief, request, putRight, likely, chosen);
        var search = new PolicySearch(cut, 0.003, branches, cancellation);
        if (search.Root(8) is not { } root)
        {
            return null;
        }
        var (check, repair) = (Least(root.Checks), Least(root.Repairs));
        var cost = Math.Min(
            root.GiveUp,
            Math.Min(
                check < 0 ? double.PositiveInfinity : root.Checks[check],
                repair < 0 ? double.PositiveInfinity : root.Repairs[repair]
            )
        );
        var other = instead.Kind switch
        {
            AdviceKind.Check => Array.FindIndex(chosen, c => model.Findings[c].Id == instead.Id) is >= 0 and var c
                ? root.Checks[c]
                : double.PositiveInfinity,
            AdviceKind.Repair or AdviceKind.Bring => Array.FindIndex(likely, f => model.Faults[f].Id == instead.Id)
                is >= 0
                    and var f
                ? root.Repairs[f]
                : double.PositiveInfinity,
            AdviceKind.Open => Enumerable
                .Range(0, chosen.Length)
                .Where(c => Opens(chosen[c]))
                .Select(c => root.Checks[c])
                .DefaultIfEmpty(double.PositiveInfinity)
                .Min(),
            _ => root.GiveUp,
        };
        return check >= 0 && root.Checks[check] <= cost
                ? new(model.Findings[chosen[check]].Id, true, cost, other, search.Nodes)
            : repair >= 0 && root.Repairs[repair] <= cost
                ? new(model.Faults[likely[repair]].Id, false, cost, other, search.Nodes)
            : new(null, false, cost, other, search.Nodes);
    }

    private bool Opens(int finding) =>
        checks.Any(c => c.Finding.Id == model.Findings[finding].Id && c.TeardownMinutes > 0);

    private static int Least(double[] cost) =>
        cost.Length == 0 || double.IsInfinity(cost.Min()) ? -1 : Array.IndexOf(cost, cost.Min());

    /// <summary>Checks that save most by themselves, those that tell most a minute, and a look at each of the
    /// faults.</summary>
    private List<PricedCheck> Choose(int[] likely, int most, Advice instead)
    {
        var open = checks.Where(c => !c.Finding.Live).ToList();
        var ids = likely.Select(f => model.Faults[f].Id).ToHashSet();
        var telling = open.Where(c =>
                c.Finding.Tells is not null
                || c.Finding.States.Count > 0
                || c.Finding.Links.Any(l => ids.Contains(l.Fault))
            )
            .ToList();
        var bits = telling.ToDictionary(c => c, c => belief.Bits(c.Finding.Id));
        var queues = new[]
        {
            telling.OrderBy(c => c.ExpectedCost).ToList(),
            [.. telling.OrderByDescending(c => bits[c] / (c.Minutes + c.TeardownMinutes + 0.3))],
            [.. telling.OrderByDescending(c => bits[c] / (c.Minutes + 0.3))],
            [
                .. likely
                    .Select(f => telling.Where(c => c.Finding.At.Count > 0).MaxBy(c => acts.Informs(c.Finding, f)))
                    .OfType<PricedCheck>(),
            ],
        };
        var chosen = new List<PricedCheck>();
        chosen.AddRange(open.Where(c => instead.Kind == AdviceKind.Check && c.Finding.Id == instead.Id));
        for (var i = 0; chosen.Count < most && i < telling.Count; i++)
        {
            foreach (var queue in queues.Where(q => i < q.Count))
            {
                if (chosen.Count < most && !chosen.Contains(queue[i]))
                {
                    chosen.Add(queue[i]);
                }
            }
        }
        return chosen;
    }
}
