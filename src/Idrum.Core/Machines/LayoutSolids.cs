using System.Globalization;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>Solids are complete, stand in the machine and do not run through each other where the file says
/// so.</summary>
internal static class LayoutSolids
{
    internal static void Check(Layout layout, FieldErrors errors)
    {
        const double Over = 120;
        if (layout.Size.Count != 3)
        {
            errors.Add("/size", "Width, height and depth.");
            return;
        }
        for (var i = 0; i < layout.Solids.Count; i++)
        {
            var solid = layout.Solids[i];
            var at = $"/solids/{i}";
            var complete = solid.Shape switch
            {
                SolidShape.Box => solid.At.Count == 3 && solid.Size.Count == 3 && solid.Size.All(v => v > 0),
                SolidShape.Cylinder => solid.At.Count == 3 && solid.DiameterMm > 0 && solid.LengthMm > 0,
                SolidShape.Ring or SolidShape.Tube => solid.At.Count == 3
                    && solid.DiameterMm > solid.InnerMm
                    && solid.InnerMm > 0
                    && solid.LengthMm > 0,
                SolidShape.Path => solid.DiameterMm > 0
                    && (
                        solid.Points.Count >= 2 && solid.Points.All(p => p.Count == 3)
                        || solid.Points.Count == 0 && solid.At.Count == 3
                    ),
                _ => false,
            };
            errors.If(
                !complete,
                at,
                $"A {solid.Shape.Word()} lacks a measure: box at and size; cylinder at, diameterMm, lengthMm; ring and tube also innerMm; path diameterMm and points."
            );
            if (!complete || solid.Shape == SolidShape.Path && solid.Points.Count == 0)
            {
                continue;
            }
            var (low, high) = solid.Bounds();
            errors.If(
                Enumerable.Range(0, 3).Any(k => low[k] < -Over || high[k] > layout.Size[k] + Over),
                at,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Lies outside the machine's frame of {layout.Size[0]} × {layout.Size[1]} × {layout.Size[2]} mm."
                )
            );
        }
        if (errors.All.Count > 0)
        {
            return;
        }
        for (var i = 0; i < layout.Apart.Count; i++)
        {
            var pair = layout.Apart[i];
            if (
                pair.Count == 2
                && layout
                    .Solids.Where(s => s.Part == pair[0] && s.Points.Count + s.At.Count > 0)
                    .Any(a => layout.Solids.Where(s => s.Part == pair[1]).Any(b => Through(a, b)))
            )
            {
                errors.Add($"/apart/{i}", $"'{pair[0]}' and '{pair[1]}' run through each other.");
            }
        }
    }

    /// <summary>Whether two solids share room: boxes by their corners, two round ones along the same axis by their
    /// distance, else by corners.</summary>
    private static bool Through(Solid a, Solid b)
    {
        var ((al, ah), (bl, bh)) = (a.Bounds(), b.Bounds());
        if (Enumerable.Range(0, 3).Any(k => ah[k] <= bl[k] || bh[k] <= al[k]))
        {
            return false;
        }
        if (
            a.Shape is SolidShape.Box or SolidShape.Path
            || b.Shape is SolidShape.Box or SolidShape.Path
            || a.Axis != b.Axis
        )
        {
            return true;
        }
        var across = Enumerable.Range(0, 3).Where(k => k != a.AxisAt).ToArray();
        var apart = double.Hypot(a.At[across[0]] - b.At[across[0]], a.At[across[1]] - b.At[across[1]]);
        return apart < (a.DiameterMm + b.DiameterMm) / 2
            && apart + a.DiameterMm / 2 > b.InnerMm / 2
            && apart + b.DiameterMm / 2 > a.InnerMm / 2;
    }
}
