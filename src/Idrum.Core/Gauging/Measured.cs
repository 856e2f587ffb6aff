using System.Globalization;

namespace Idrum.Core.Gauging;

/// <summary>A value with its unit and its standard uncertainty.</summary>
/// <param name="Value">The value.</param>
/// <param name="Unit">Its unit.</param>
/// <param name="U">Standard uncertainty, in the same unit.</param>
/// <param name="Freedom">Degrees of freedom behind it; infinite where it is known.</param>
public readonly record struct Measured(double Value, string Unit, double U, double Freedom = double.PositiveInfinity)
{
    /// <summary>In words, with twice its uncertainty.</summary>
    public override string ToString()
    {
        // As many places as the uncertainty has meaning: two figures of it.
        var places = U > 0 ? Math.Clamp(1 - (int)Math.Floor(Math.Log10(2 * U)), 0, 3) : 2;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{Rounded(Value, places)} ± {Rounded(2 * U, places)} {GaugeUnits.Written(Unit)}"
        );
    }

    private static string Rounded(double value, int places) =>
        Math.Round(value, places)
            .ToString("F" + places.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture);
}

/// <summary>One reading as it was taken.</summary>
/// <param name="Value">The number.</param>
/// <param name="Unit">Its unit; empty for the protocol's.</param>
/// <param name="At">Position id; empty where the protocol has one.</param>
/// <param name="DrumDeg">How far the drum was turned, degrees clockwise.</param>
/// <param name="Open">The meter showed an open circuit: beyond its range.</param>
public sealed record GaugeReading(
    double Value,
    string Unit = "",
    string At = "",
    double? DrumDeg = null,
    bool Open = false
);

/// <summary>A reading of the same quantity at an earlier job.</summary>
/// <param name="Value">The quantity then.</param>
/// <param name="Hours">Hours of use between.</param>
/// <param name="U">Its standard uncertainty; null for that of now.</param>
public sealed record EarlierReading(double Value, double Hours, double? U = null);
