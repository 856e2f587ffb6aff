using System.Collections.Concurrent;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>What it takes to repair each fault from a state of the machine, and what is seen on the way: whoever opens
/// a
/// machine for one cause looks at everything then in reach.</summary>
internal sealed class RepairCosts(FaultModel model, TeardownPlanner planner)
{
    private readonly ConcurrentDictionary<(Bits Done, string AtHand), Table> tables = new();

    /// <summary>Minutes, and money for parts, of going for each fault.</summary>
    /// <param name="Minutes">For each fault: stripping, rebuilding, the work itself, the trip for the parts, and their
    /// price as minutes.</param>
    /// <param name="Stage">For each fault: what going for it costs in any case. Where the fault shows itself this is
    /// opening
    /// and closing alone, for nobody changes a part that is seen to be good; a hidden one is changed on
    /// suspicion.</param>
    /// <param name="Sees">For each fault: the faults that show themselves once the machine is open for it.</param>
    /// <param name="Along">For each pair: minutes to repair the second while the machine is open for the first.</param>
    /// <param name="Money">For each fault: price of its parts.</param>
    /// <param name="OnSuspicion">For each fault: price of the parts that going for it costs in any case.</param>
    /// <param name="Opening">For each fault: minutes of opening and closing alone.</param>
    internal sealed record Table(
        double[] Minutes,
        double[] Stage,
        bool[][] Sees,
        double[][] Along,
        double[] Money,
        double[] OnSuspicion,
        double[] Opening
    );

    internal Table From(Bits done, IReadOnlyCollection<PartId>? atHand)
    {
        if (tables.Count > 400)
        {
            tables.Clear();
        }
        return tables.GetOrAdd((done, atHand is null ? "?" : string.Join(',', atHand.Order())), _ =>
            Build(done, atHand)
        );
    }

    private Table Build(Bits done, IReadOnlyCollection<PartId>? atHand)
    {
        var n = model.Faults.Count;
        var costs = model.Catalog.Costs;
        var parts = model.Faults.Select(f => model.Layout.PartsOfKind(f.Kinds).ToList()).ToArray();
        // What is put right from outside asks for no opening.
        var targets = parts.Select((p, f) => model.Faults[f].FromOutside ? [] : p.Select(x => x.Id).ToList()).ToArray();
        var looks = parts.Select(p => p.SelectMany(x => x.SeenAfter).Select(planner.Graph.SetOf).ToArray()).ToArray();
        var money = Enumerable
            .Range(0, n)
            .Select(f =>
                model.Faults[f].Action == FaultAction.Replace
                    ? parts[f].Where(p => p.Wears).Sum(p => p.Price * p.Count)
                    : 0
            )
            .ToArray();
        var work = Enumerable
            .Range(0, n)
            .Select(f =>
                model.Faults[f].FixMinutes
                + money[f] / costs.RatePerHour * 60
                + (
                    model.Faults[f].Action == FaultAction.Replace
                    && atHand is not null
                    && !parts[f].TrueForAll(p => atHand.Contains(p.Id))
                        ? costs.TripMinutes
                        : 0
                )
            )
            .ToArray();
        var (minutes, stage, opening) = (new double[n], new double[n], new double[n]);
        var (sees, along) = (new bool[n][], new double[n][]);
        for (var f = 0; f < n; f++)
        {
            opening[f] = Open(f, done);
            minutes[f] = opening[f] + work[f];
            stage[f] =
                (model.Faults[f].Hidden || model.Faults[f].Action == FaultAction.Refer ? minutes[f] : opening[f])
                + costs.ProveMinutes;
            (sees[f], along[f]) = (new bool[n], new double[n]);
            if (model.Faults[f].Action == FaultAction.Refer)
            {
                continue;
            }
            var open = planner.StateAfterFreeing(targets[f], done);
            for (var g = 0; g < n; g++)
            {
                if (
                    model.Faults[g] is { Hidden: false, Action: not FaultAction.Refer }
                    && parts[g].Count > 0
                    && (g == f || !model.Faults[g].FromOutside && Array.TrueForAll(looks[g], l => l.Meets(open)))
                )
                {
                    sees[f][g] = true;
                    along[f][g] = Open(g, open) + work[g];
                }
            }
        }
        return new(
            minutes,
            stage,
            sees,
            along,
            money,
            [.. money.Select((m, f) => model.Faults[f].Hidden ? m : 0)],
            opening
        );

        double Open(int f, Bits state) =>
            model.Faults[f].Action == FaultAction.Refer
                ? 0
                : planner.MinutesToFree(targets[f], state) ?? costs.ReferMinutes;
    }
}
