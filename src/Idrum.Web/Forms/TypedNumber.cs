using System.Globalization;

namespace Idrum.Web.Forms;

/// <summary>Numbers as people type them: with a point or a comma.</summary>
public static class TypedNumber
{
    /// <summary>The number, or null: where there is none, or one that is not finite.</summary>
    public static double? Read(string? text) =>
        double.TryParse(
            (text ?? "").Trim().Replace(',', '.'),
            NumberStyles.Float,
            CultureInfo.InvariantCulture,
            out var n
        ) && double.IsFinite(n)
            ? n
            : null;
}
