using System.Globalization;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Ledger;

/// <summary>One group of fasteners in the ledger.</summary>
/// <param name="Group">The group.</param>
/// <param name="OperationId">The step it belongs to.</param>
/// <param name="Tray">Tray letter; empty while it is in the machine.</param>
/// <param name="Expected">How many there are, by layout and what was found.</param>
/// <param name="Out">How many came out.</param>
/// <param name="In">How many went back; null while out.</param>
public sealed record FastenerRow(
    FastenerGroup Group,
    OperationId OperationId,
    string Tray,
    int Expected,
    int Out,
    int? In
)
{
    /// <summary>Screws still to go back.</summary>
    public int Left => In is null ? Out : Math.Max(0, Out - In.Value);

    /// <summary>Went back more than came out: positive; fewer: negative; 0 while out.</summary>
    public int Balance => In is { } back ? back - Out : 0;
}

/// <summary>One plug in the ledger.</summary>
/// <param name="Plug">The plug.</param>
/// <param name="OperationId">The step it belongs to.</param>
/// <param name="Joined">Whether it has been joined again.</param>
public sealed record PlugRow(Plug Plug, OperationId OperationId, bool Joined);

/// <summary>One kind of fastener over the whole machine.</summary>
/// <param name="Words">The kind in words.</param>
/// <param name="Out">How many came out.</param>
/// <param name="In">How many went back.</param>
public sealed record KindCount(string Words, int Out, int In);

/// <summary>What came out must go in, by kind; computed from a job's state.</summary>
public sealed record FastenerLedger
{
    /// <summary>Every group that came out since the machine was last whole, in the order of the trays.</summary>
    public required IReadOnlyList<FastenerRow> Rows { get; init; }

    /// <summary>Every plug parted.</summary>
    public required IReadOnlyList<PlugRow> Plugs { get; init; }

    /// <summary>Counts by kind.</summary>
    public required IReadOnlyList<KindCount> Kinds { get; init; }

    /// <summary>Missing, extra and swapped screws, in words.</summary>
    public required IReadOnlyList<string> Remarks { get; init; }

    /// <summary>Makes the ledger.</summary>
    /// <param name="input">What was done and counted.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="inch">Lengths in inches.</param>
    public static FastenerLedger Of(LedgerInput input, Layout layout, bool inch)
    {
        var rows = new List<FastenerRow>();
        var plugs = new List<PlugRow>();
        foreach (var removal in input.Removals)
        {
            if (layout.FindOperation(removal.OperationId) is not { } operation)
            {
                continue;
            }
            foreach (var (group, count) in layout.CountedAt(operation))
            {
                var (expected, came) = (
                    input.ExpectedAt(operation, group, count),
                    removal.Out.GetValueOrDefault(group.Id)
                );
                var known = rows.FindIndex(r => r.Group.Id == group.Id);
                if (known >= 0)
                {
                    // The one that stayed in by a turn joins its fellows.
                    rows[known] = rows[known] with
                    {
                        Expected = rows[known].Expected + expected,
                        Out = rows[known].Out + came,
                    };
                    continue;
                }
                rows.Add(
                    new(
                        group,
                        operation.Id,
                        input.TrayOf(group.Id),
                        expected,
                        came,
                        removal.In?.TryGetValue(group.Id, out var back) == true ? back : null
                    )
                );
            }
            plugs.AddRange(operation.Plugs.Select(p => new PlugRow(p, operation.Id, removal.Joined.Contains(p.Id))));
        }
        rows =
        [
            .. rows.OrderBy(r => r.Tray.Length == 0)
                .ThenBy(r => r.Tray.Length)
                .ThenBy(r => r.Tray, StringComparer.Ordinal),
        ];
        return new()
        {
            Rows = rows,
            Plugs = plugs,
            Kinds =
            [
                .. rows.GroupBy(r => (r.Group.Head, r.Group.Size, r.Group.LengthMm, r.Group.Thread, r.Group.Finish))
                    .Select(g => new KindCount(
                        FastenerWords.Kind(g.First().Group, inch),
                        g.Sum(r => r.Out),
                        g.Sum(r => r.In ?? 0)
                    )),
            ],
            Remarks = Remark(
                [
                    .. rows.Where(r =>
                        !input.Settled.Any(s =>
                            s.FastenerId == r.Group.Id
                            && s.Way == CountWay.In
                            && s.Count == r.In
                            && !OddCounts.LeavesOpen(s.Why)
                        )
                    ),
                ],
                inch
            ),
        };
    }

    /// <summary>A group in another tray that could be taken for this one, the differing before the same kind; or
    /// null.</summary>
    public FastenerRow? LookAlike(FastenerGroup group) =>
        Rows.Where(r => r.Group.Id != group.Id && r.Left > 0 && r.Group.LooksLike(group))
            .OrderBy(r => r.Group.SameKind(group))
            .FirstOrDefault();

    private static List<string> Remark(List<FastenerRow> rows, bool inch)
    {
        var remarks = new List<string>();
        var uneven = rows.Where(r => r.Balance != 0).ToDictionary(r => r.Group.Id, r => r.Balance);
        foreach (var over in rows.Where(r => uneven.GetValueOrDefault(r.Group.Id) > 0))
        {
            foreach (
                var under in rows.Where(r => uneven.GetValueOrDefault(r.Group.Id) < 0 && r.Group.LooksLike(over.Group))
            )
            {
                var n = Math.Min(uneven[over.Group.Id], -uneven[under.Group.Id]);
                if (n <= 0)
                {
                    continue;
                }
                uneven[over.Group.Id] -= n;
                uneven[under.Group.Id] += n;
                remarks.Add(
                    over.Group.SameKind(under.Group)
                        ? $"Count evens out: {Number(n)} of tray {under.Tray} went in at {over.Group.Where}; same kind, no harm."
                        : $"Swapped: {Number(n)} too many at {over.Group.Where}, {Number(n)} too few at {under.Group.Where}. They look alike but differ ({FastenerWords.Difference(over.Group, under.Group, inch)}): take out and exchange."
                );
            }
        }
        foreach (var row in rows.Where(r => uneven.GetValueOrDefault(r.Group.Id) != 0))
        {
            var n = uneven[row.Group.Id];
            remarks.Add(
                n < 0
                    ? $"Missing: {Number(-n)} × {FastenerWords.Kind(row.Group, inch)} of tray {row.Tray}, {row.Group.Where}. Look in the chute, on the base and under the drum."
                    : $"Extra: {Number(n)} more than came out at {row.Group.Where}. Find the hole it came from."
            );
        }
        return remarks;
    }

    private static string Number(int n) => n.ToString(CultureInfo.InvariantCulture);
}
