using System.Globalization;
using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>Figures of a layout by which a part is told from a wrong or a worn one.</summary>
public static class PartFigures
{
    /// <summary>In a sentence: of a belt its length, ribs, width and which face runs on the drum; of a wheel its
    /// diameter; of any part its limits.</summary>
    /// <param name="part">The part.</param>
    /// <param name="layout">Its machine.</param>
    /// <returns>A sentence; empty where the layout says nothing of it.</returns>
    public static string Of(Part part, Layout layout)
    {
        var (drive, said) = (layout.Drive, new List<string>());
        if (part.Kind == PartKinds.Belt)
        {
            var belt = drive.Belt;
            said.Add(
                Text(
                    $"{belt.LengthMm:0} mm long (used, up to {belt.LengthMm * (1 + DriveRules.BeltStretch):0}), {belt.Ribs} ribs, {belt.WidthMm:0.#} mm wide, {(belt.RibsToDrum ? "ribs" : "flat side")} to the drum"
                )
            );
        }
        if (drive.Rollers.FirstOrDefault(r => r.Part == part.Id) is { } roller)
        {
            said.Add(Text($"{roller.DiameterMm:0.#} mm across"));
        }
        if (part.Kind == PartKinds.IdlerPulley && drive.Tensioner.Idler is { } idler)
        {
            said.Add(Text($"{idler.DiameterMm:0.#} mm across"));
        }
        said.AddRange(
            part.Limits.Select(l => Text($"{l.Quantity}: new {l.New:0.##} {l.Unit}, worn at {l.Worn:0.##} {l.Unit}"))
        );
        return said.Count == 0 ? "" : string.Join("; ", said) + ".";
    }

    private static string Text(FormattableString text) => text.ToString(CultureInfo.InvariantCulture);
}
