using Idrum.Core.Jobs.Parts;

namespace Idrum.Core.Ledger;

/// <summary>A count that does not come out even and has not been explained.</summary>
/// <param name="Row">The group.</param>
/// <param name="Way">out: came out other than expected; in: went back other than came out.</param>
/// <param name="Wanted">How many there should be.</param>
/// <param name="Counted">How many were counted.</param>
public sealed record OddCount(FastenerRow Row, string Way, int Wanted, int Counted)
{
    /// <summary>More than wanted.</summary>
    public bool More => Counted > Wanted;
}

/// <summary>Counts that do not come out even: a finding, asked about at once on the step.</summary>
public static class OddCounts
{
    /// <summary>Reasons that can be given, by way and direction: id and words.</summary>
    public static IReadOnlyList<(string Id, string Words)> Reasons(string way, bool more) =>
        (way, more) switch
        {
            (CountWay.Out, false) =>
            [
                (OddReason.WasMissing, "It was missing already"),
                (OddReason.LeftIn, "It stays in its hole"),
                (OddReason.FellIn, "It fell inside: still to be found"),
            ],
            (CountWay.Out, true) => [(OddReason.OneMore, "This machine has more of them")],
            (CountWay.In, false) =>
            [
                (OddReason.LeftOver, "Left over: no hole asks for it"),
                (OddReason.Lost, "Lost: looked for, not found"),
                (OddReason.ToFind, "Still to be found"),
            ],
            _ =>
            [
                (OddReason.FromStock, "Taken from stock for a missing one"),
                (OddReason.FromOther, "Taken from another tray by mistake: to be exchanged"),
            ],
        };

    /// <summary>A reason in words, or null.</summary>
    public static string? WordsOf(string way, string why) =>
        Reasons(way, true).Concat(Reasons(way, false)).FirstOrDefault(r => r.Id == why).Words;

    /// <summary>Whether a reason leaves something to be done, so that the count is not settled yet.</summary>
    public static bool LeavesOpen(string why) => why is OddReason.FellIn or OddReason.ToFind or OddReason.FromOther;

    /// <summary>Odd counts of a ledger that nobody has explained, in the order of the trays.</summary>
    public static IReadOnlyList<OddCount> Of(FastenerLedger ledger, LedgerInput input) =>
        [
            .. Uneven(ledger)
                .Where(o =>
                    !input.Settled.Any(s => s.FastenerId == o.Row.Group.Id && s.Way == o.Way && s.Count == o.Counted)
                ),
        ];

    /// <summary>Odd counts that were explained by a reason that leaves something open.</summary>
    public static IReadOnlyList<(OddCount Count, SettledCount Said)> StillOpen(
        FastenerLedger ledger,
        LedgerInput input
    ) =>
        [
            .. from o in Uneven(ledger)
            from s in input.Settled
            where s.FastenerId == o.Row.Group.Id && s.Way == o.Way && s.Count == o.Counted && LeavesOpen(s.Why)
            select (o, s),
        ];

    private static IEnumerable<OddCount> Uneven(FastenerLedger ledger)
    {
        foreach (var row in ledger.Rows)
        {
            if (row.Out != row.Expected)
            {
                yield return new(row, CountWay.Out, row.Expected, row.Out);
            }
            if (row.Balance != 0)
            {
                yield return new(row, CountWay.In, row.Out, row.In!.Value);
            }
        }
    }
}
