using System.Collections.Concurrent;
using Idrum.Core.Teardown;

namespace Idrum.Core.Diagnosis;

/// <summary>Minutes to repair each fault from a state of the machine: stripping and rebuilding (from the planner), the work
/// itself, and the parts' price at the shop's rate.</summary>
internal sealed class RepairCosts(NoisyOrModel model, TeardownPlanner planner)
{
    private readonly ConcurrentDictionary<ulong, Table> tables = new();

    /// <param name="Minutes">For each fault of the model.</param>
    internal sealed record Table(double[] Minutes);

    internal Table From(ulong done)
    {
        if (tables.Count > 2_000)
        {
            tables.Clear();
        }
        return tables.GetOrAdd(done, d => new([.. model.Faults.Select(f => Of(f, d))]));
    }

    private double Of(Fault fault, ulong done)
    {
        var costs = model.Catalog.Costs;
        if (fault.Action == "refer")
        {
            return fault.FixMinutes;
        }
        var parts = model.Layout.PartsOfKind(fault.Kinds).ToList();
        // A kind that no operation frees (the cabinet, the outlet) is worked on where it stands.
        var targets = parts.Where(p => planner.Graph.FreeingOperations(p.Id).Any()).Select(p => p.Id);
        var open = planner.MinutesToFree(targets, done) ?? costs.ReferMinutes;
        var price = fault.Action == "replace" ? parts.Sum(p => p.Price * p.Count) : 0;
        return open + fault.FixMinutes + price / costs.RatePerHour * 60;
    }
}
