namespace Idrum.Core.Gauging;

/// <summary>Units that are taken, by what they measure.</summary>
public static class GaugeUnits
{
    private static readonly Dictionary<string, (string Kind, double Factor)> Known = new(StringComparer.Ordinal)
    {
        ["mm"] = ("length", 1),
        ["cm"] = ("length", 10),
        ["m"] = ("length", 1000),
        ["in"] = ("length", 25.4),
        ["inch"] = ("length", 25.4),
        ["kg"] = ("pull", 1),
        ["g"] = ("pull", 0.001),
        ["N"] = ("pull", 1 / Drive.DriveStand.Gravity),
        ["lb"] = ("pull", 0.45359237),
        ["lbf"] = ("pull", 0.45359237),
        ["s"] = ("time", 1),
        ["min"] = ("time", 60),
        ["ohm"] = ("resistance", 1),
        ["Ω"] = ("resistance", 1),
        ["kohm"] = ("resistance", 1e3),
        ["kΩ"] = ("resistance", 1e3),
        ["Mohm"] = ("resistance", 1e6),
        ["MΩ"] = ("resistance", 1e6),
        ["V"] = ("volts", 1),
        ["uF"] = ("capacity", 1),
        ["µF"] = ("capacity", 1),
        ["nF"] = ("capacity", 1e-3),
        ["A"] = ("amps", 1),
        ["mA"] = ("amps", 1e-3),
        ["m/s"] = ("speed", 1),
        ["km/h"] = ("speed", 1 / 3.6),
        ["ft/min"] = ("speed", 0.00508),
        ["ribs"] = ("count", 1),
    };

    /// <summary>A value in another unit of the same kind; null where they are not of one kind.</summary>
    /// <param name="value">The value.</param>
    /// <param name="from">Its unit.</param>
    /// <param name="to">The unit wanted.</param>
    public static double? Convert(double value, string from, string to) =>
        from == to ? value
        : Known.TryGetValue(from, out var a) && Known.TryGetValue(to, out var b) && a.Kind == b.Kind
            ? value * a.Factor / b.Factor
        : null;

    /// <summary>A unit as it is written for people: Ω and µF, which are typed as ohm and uF.</summary>
    public static string Written(string unit) =>
        unit switch
        {
            "ohm" => "Ω",
            "kohm" => "kΩ",
            "Mohm" => "MΩ",
            "uF" => "µF",
            _ => unit,
        };

    /// <summary>Units of the same kind as one.</summary>
    public static IReadOnlyList<string> Like(string unit) =>
        Known.TryGetValue(unit, out var kind)
            ? [.. Known.Where(k => k.Value.Kind == kind.Kind).Select(k => k.Key)]
            : [unit];
}
