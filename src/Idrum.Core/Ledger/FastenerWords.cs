using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Ledger;

/// <summary>Fasteners in the trade's words.</summary>
public static class FastenerWords
{
    /// <summary>A kind: "hex 8 mm, 16 long, zinc".</summary>
    /// <param name="group">The group.</param>
    /// <param name="inch">Lengths in inches, to the nearest sixteenth.</param>
    public static string Kind(FastenerGroup group, bool inch = false) =>
        string.Join(
            ", ",
            new[]
            {
                group.Size.Length > 0 ? $"{group.Head.Word()} {group.Size}" : group.Head.Word(),
                group.LengthMm > 0 ? $"{Length.Show(group.LengthMm, inch)} long" : "",
                group.IsLeftHand ? "left-hand thread" : "",
                group.Finish,
            }.Where(s => s.Length > 0)
        );

    /// <summary>How tight: "18 N·m", "159 lbf·in", "snug, by two tools" for a nut the layout states nothing of; empty
    /// for other screws.</summary>
    /// <param name="group">The group.</param>
    /// <param name="inch">lbf·in instead of N·m; 1 N·m is 8.8507 lbf·in.</param>
    public static string Tightness(FastenerGroup group, bool inch = false) =>
        group.TorqueNm > 0
            ? inch
                ? $"{(group.TorqueNm * 8.8507).ToString("0", CultureInfo.InvariantCulture)} lbf·in"
                : $"{group.TorqueNm.ToString("0.#", CultureInfo.InvariantCulture)} N·m"
            : group.Head == FastenerHead.Nut
                ? "snug, by two tools"
                : "";

    /// <summary>What tells two look-alikes apart: "13 against 19 mm long", "machine against sheet-metal
    /// thread".</summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other.</param>
    /// <param name="inch">Lengths in inches, to the nearest sixteenth.</param>
    public static string Difference(FastenerGroup a, FastenerGroup b, bool inch = false) =>
        a.LengthMm != b.LengthMm
            ? $"{(inch ? Length.Show(a.LengthMm, true) : a.LengthMm.ToString("0.#", CultureInfo.InvariantCulture))} against {Length.Show(b.LengthMm, inch)} long"
        : a.Thread != b.Thread ? $"{a.Thread} against {b.Thread} thread"
        : $"{a.Finish} against {b.Finish}";
}

/// <summary>Lengths for people.</summary>
public static class Length
{
    /// <summary>Millimetres as "16 mm", or to the nearest sixteenth of an inch as "5/8 in".</summary>
    /// <param name="mm">Length, mm; 0 or more.</param>
    /// <param name="inch">Inches instead of millimetres.</param>
    public static string Show(double mm, bool inch)
    {
        if (!inch)
        {
            return mm.ToString("0.#", CultureInfo.InvariantCulture) + " mm";
        }
        var sixteenths = (int)Math.Round(mm / 25.4 * 16);
        var (whole, part, of) = (sixteenths / 16, sixteenths % 16, 16);
        while (part > 0 && part % 2 == 0)
        {
            (part, of) = (part / 2, of / 2);
        }
        return (whole, part) switch
        {
            (_, 0) => $"{whole} in",
            (0, _) => $"{part}/{of} in",
            _ => $"{whole} {part}/{of} in",
        };
    }
}
