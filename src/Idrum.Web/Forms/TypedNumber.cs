using System.Globalization;

namespace Idrum.Web.Forms;

/// <summary>Numbers as people type them: with a point or a comma.</summary>
public static class TypedNumber
{
    /// <summary>The number, or null: where there is none, or one that is not finite. Fractions as they stand on sockets and
    /// rulers are read: 5/16, 1 3/8.</summary>
    public static double? Read(string? text)
    {
        var typed = (text ?? "").Trim().Replace(',', '.');
        if (double.TryParse(typed, NumberStyles.Float, CultureInfo.InvariantCulture, out var n))
        {
            return double.IsFinite(n) ? n : null;
        }
        var words = typed.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        return
            words.Length is 1 or 2
            && words[^1].Split('/') is [var over, var under]
            && ushort.TryParse(over, NumberStyles.None, CultureInfo.InvariantCulture, out var a)
            && ushort.TryParse(under, NumberStyles.None, CultureInfo.InvariantCulture, out var b)
            && b > 0
            && (
                words.Length == 1 ? (ushort)0
                : ushort.TryParse(words[0], NumberStyles.None, CultureInfo.InvariantCulture, out var w) ? w
                : (ushort?)null
            )
                is { } whole
            ? whole + (double)a / b
            : null;
    }
}
