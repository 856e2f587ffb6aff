using System.Collections.Immutable;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Core.Ledger;

/// <summary>Which tray compartment a group of fasteners gets: one of its own, for two lengths of one step must not lie together.</summary>
public static class TrayPlan
{
    /// <summary>Letter of the n-th tray: A … Z, then AA, AB …</summary>
    /// <param name="n">Trays before it; 0 or more.</param>
    public static string Letter(int n) => n < 26 ? ((char)('A' + n)).ToString() : Letter(n / 26 - 1) + Letter(n % 26);

    /// <summary>Compartments for groups that come out, in the order of their ids.</summary>
    /// <param name="groups">Ids of groups of which something comes out.</param>
    /// <param name="used">Trays given out so far.</param>
    /// <returns>Group id → letter.</returns>
    public static ImmutableSortedDictionary<string, string> Assign(IEnumerable<string> groups, int used) =>
        groups.Order(StringComparer.Ordinal).Select((id, i) => KeyValuePair.Create(id, Letter(used + i))).ToImmutableSortedDictionary();

    /// <summary>Compartments of a step: as given out, or as they will be if the plan is followed.</summary>
    /// <param name="state">The job.</param>
    /// <param name="removal">Steps planned, in order.</param>
    /// <param name="operation">One that is out, or one of them.</param>
    /// <returns>Group id → letter.</returns>
    public static IReadOnlyDictionary<string, string> Of(JobState state, IReadOnlyList<Operation> removal, Operation operation)
    {
        if (state.Out.Contains(operation.Id))
        {
            return state.Removals.First(r => r.OperationId == operation.Id).Trays;
        }
        IEnumerable<string> Filled(Operation o) => o.Removed.Where(f => FastenerLedger.Expected(state, f) > 0).Select(f => f.Id);
        return Assign(Filled(operation), state.TraysUsed + removal.TakeWhile(o => o.Id != operation.Id).Sum(o => Filled(o).Count()));
    }
}
