using Idrum.Core.Jobs.Log;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Work;

/// <summary>Counts that do not agree and that nobody has settled; a panel must not hide them.</summary>
public static class OddCountsLeft
{
    /// <summary>Whether putting an operation back hides what lies behind: it closes with a panel, a bulkhead or a
    /// duct.</summary>
    public static bool Hides(Operation operation, Layout layout) =>
        operation
            .TakesOff.Concat(operation.Loosens)
            .Any(p => layout.FindPart(p)?.Kind is PartKinds.Panel or PartKinds.Bulkhead or PartKinds.Duct);

    /// <summary>Counts that must be settled before a panel hides them.</summary>
    public static IReadOnlyList<string> BeforeClosing(JobState state, MachineKnowledge machine) =>
        [.. Of(state, FastenerLedger.Of(state.Ledger, machine.Layout, false))];

    /// <summary>Odd counts nobody explained, and those explained by something still to be done.</summary>
    internal static IEnumerable<string> Of(JobState state, FastenerLedger ledger)
    {
        foreach (var remark in ledger.Remarks.Where(r => !r.StartsWith("Count evens out", StringComparison.Ordinal)))
        {
            yield return remark;
        }
        foreach (var odd in OddCounts.Of(ledger, state.Ledger).Where(o => o.Way == CountWay.Out))
        {
            yield return Say(odd) + ".";
        }
        foreach (var (odd, _) in OddCounts.StillOpen(ledger, state.Ledger).Where(o => o.Count.Way == CountWay.Out))
        {
            yield return Say(odd) + ": one fell inside and is still to be found.";
        }
    }

    /// <summary>An odd count in words.</summary>
    public static string Say(OddCount odd) =>
        odd.Way == CountWay.Out
            ? $"{odd.Counted} came out at {odd.Row.Group.Where}, {odd.Wanted} were expected"
            : $"{odd.Counted} went in at {odd.Row.Group.Where}, {odd.Wanted} came out";
}
