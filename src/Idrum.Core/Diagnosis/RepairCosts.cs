using System.Collections.Concurrent;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>What it takes to repair each fault from a state of the machine, and what is seen on the way: whoever opens a
/// machine for one cause looks at everything then in reach.</summary>
internal sealed class RepairCosts(NoisyOrModel model, TeardownPlanner planner)
{
    private readonly ConcurrentDictionary<Bits, Table> tables = new();

    /// <param name="Minutes">For each fault: stripping, rebuilding, the work itself and the parts at the shop's rate.</param>
    /// <param name="Stage">For each fault: what going for it costs in any case. Where the fault shows itself this is opening
    /// and closing alone, for nobody changes a part that is seen to be good; a hidden one is changed on suspicion.</param>
    /// <param name="Sees">For each fault: the faults that show themselves once the machine is open for it, as a bit set.</param>
    /// <param name="Along">For each pair: minutes to repair the second while the machine is open for the first.</param>
    internal sealed record Table(double[] Minutes, double[] Stage, uint[] Sees, double[][] Along);

    internal Table From(Bits done)
    {
        if (tables.Count > 60)
        {
            tables.Clear();
        }
        return tables.GetOrAdd(done, Build);
    }

    private Table Build(Bits done)
    {
        var n = model.Faults.Count;
        var parts = model.Faults.Select(f => model.Layout.PartsOfKind(f.Kinds).ToList()).ToArray();
        var targets = parts.Select(p => p.Select(x => x.Id).ToList()).ToArray();
        var looks = parts.Select(p => p.SelectMany(x => x.SeenAfter).ToList()).ToArray();
        var minutes = new double[n];
        var stage = new double[n];
        var sees = new uint[n];
        var along = new double[n][];
        for (var f = 0; f < n; f++)
        {
            var (opening, work) = (Open(f, done), Work(model.Faults[f], parts[f]));
            minutes[f] = opening + work;
            stage[f] = model.Faults[f].Hidden || model.Faults[f].Action == "refer" ? minutes[f] : opening;
            along[f] = new double[n];
            if (model.Faults[f].Action == "refer")
            {
                continue;
            }
            var open = planner.StateAfterFreeing(targets[f], done);
            for (var g = 0; g < n; g++)
            {
                if (model.Faults[g] is { Hidden: false, Action: not "refer" } && parts[g].Count > 0 && (g == f || planner.MinutesTo(looks[g], open) == 0))
                {
                    sees[f] |= 1u << g;
                    along[f][g] = Open(g, open) + Work(model.Faults[g], parts[g]);
                }
            }
        }
        return new(minutes, stage, sees, along);

        double Open(int f, Bits state) => model.Faults[f].Action == "refer" ? 0
            : planner.MinutesToFree(targets[f], state) ?? model.Catalog.Costs.ReferMinutes;
    }

    private double Work(Fault fault, List<Part> parts) =>
        fault.FixMinutes + (fault.Action == "replace" ? parts.Sum(p => p.Price * p.Count) / model.Catalog.Costs.RatePerHour * 60 : 0);
}
