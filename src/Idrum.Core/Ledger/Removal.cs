using System.Collections.Immutable;
using Idrum.Core.Machines;

namespace Idrum.Core.Ledger;

/// <summary>One operation as it was done on this machine.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Trays">Fastener group → letter of its tray compartment; only groups of which something came
/// out.</param>
/// <param name="Out">Fastener group → how many came out.</param>
/// <param name="In">Fastener group → how many went back; null while it is out.</param>
/// <param name="Joined">Plugs joined when it was put back.</param>
/// <param name="DoneAt">When it was done.</param>
public sealed record Removal(
    OperationId OperationId,
    ImmutableSortedDictionary<string, string> Trays,
    ImmutableSortedDictionary<string, int> Out,
    ImmutableSortedDictionary<string, int>? In,
    ImmutableSortedSet<string> Joined,
    DateTimeOffset DoneAt
);

/// <summary>An odd count and what was said of it.</summary>
/// <param name="FastenerId">Fastener group.</param>
/// <param name="Way">out or in.</param>
/// <param name="Count">The count that was explained; another count asks anew.</param>
/// <param name="Why">One of <see cref="OddCounts.Reasons"/>.</param>
/// <param name="Text">In words.</param>
public sealed record SettledCount(string FastenerId, string Way, int Count, string Why, string Text);

/// <summary>What the ledger is made of.</summary>
/// <param name="Removals">Operations done since the machine was last whole.</param>
/// <param name="Differences">Screws more (or fewer) than the layout says, by fastener group.</param>
/// <param name="Settled">Odd counts that were explained.</param>
public sealed record LedgerInput(
    IReadOnlyList<Removal> Removals,
    IReadOnlyDictionary<string, int> Differences,
    IReadOnlyList<SettledCount> Settled
)
{
    /// <summary>Letter of a group's tray; empty where nothing of it is out.</summary>
    public string TrayOf(string fastenerId) =>
        Removals.Select(r => r.Trays.GetValueOrDefault(fastenerId)).FirstOrDefault(t => t is not null) ?? "";

    /// <summary>How many fasteners a group has on this machine.</summary>
    public int Expected(Machines.FastenerGroup group) =>
        Math.Max(0, group.Count + Differences.GetValueOrDefault(group.Id));

    /// <summary>How many of a group come out at an operation on this machine: a difference counts where its group
    /// stands, not where the one
    /// left in comes out.</summary>
    public int ExpectedAt(Machines.Operation operation, Machines.FastenerGroup group, int count) =>
        group.LeftInTill == operation.Id && group.LeftIn > 0
            ? count
            : Math.Max(0, count + Differences.GetValueOrDefault(group.Id));
}
