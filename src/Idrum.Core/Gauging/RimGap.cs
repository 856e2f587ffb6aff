using MathNet.Numerics.LinearAlgebra;

namespace Idrum.Core.Gauging;

/// <summary>A gap round the rim split into what stands with the cabinet and what turns with the drum.</summary>
/// <param name="Mean">Middle gap.</param>
/// <param name="Sag">How far the drum hangs down in its opening: half the top less the bottom.</param>
/// <param name="Shift">How far it stands to the left.</param>
/// <param name="Eccentric">How far the drum's rim is off its axis.</param>
/// <param name="Oval">How far the rim is oval.</param>
/// <param name="Told">Whether what stands is told from what turns: two drum angles; else sag and shift hold the sum.</param>
/// <param name="Spread">Scatter of a reading about the fit.</param>
/// <param name="Odd">Places of readings that lie further from the fit than hand and tool explain.</param>
public sealed record RimGap(
    Measured Mean,
    Measured Sag,
    Measured Shift,
    Measured Eccentric,
    Measured Oval,
    bool Told,
    Measured Spread,
    IReadOnlyList<int> Odd
)
{
    /// <summary>Fewest readings it is fitted to.</summary>
    public const int Fewest = 8;

    /// <summary>Splits it.</summary>
    /// <param name="readings">Clock angle in degrees clockwise from the top, drum angle in degrees clockwise, gap in
    /// mm.</param>
    /// <param name="instrument">What they were read with.</param>
    /// <returns>Null where the places do not tell: fewer than <see cref="Fewest"/>, or too few different ones.</returns>
    /// <remarks>
    /// Least squares of g(θ, φ) = g₀ + a·cos θ + b·sin θ + c·cos(θ−φ) + d·sin(θ−φ) + e·cos 2(θ−φ) + f·sin 2(θ−φ): θ the
    /// clock angle, φ the drum's. With one φ the pairs (a, b) and (c, d) are the same columns: only their sum is had, and
    /// is given as sag and shift. Errors from the scatter pooled with the tool's own.
    /// </remarks>
    public static RimGap? Of(
        IReadOnlyList<(double ClockDeg, double DrumDeg, double Mm)> readings,
        Instrument instrument
    )
    {
        var angles = readings.Select(r => Turn(r.DrumDeg)).Distinct().ToList();
        var told = angles.Any(a => Math.Abs(Math.Sin((a - angles[0]) * Math.PI / 360)) > 0.25);
        var columns = told ? 7 : 5;
        if (readings.Count < Math.Max(Fewest, columns + 1))
        {
            return null;
        }
        var x = Matrix<double>.Build.Dense(readings.Count, columns, (i, j) =>
        {
            var clock = readings[i].ClockDeg * Math.PI / 180;
            var on = clock - readings[i].DrumDeg * Math.PI / 180;
            return (told || j < 3 ? j : j + 2) switch
            {
                0 => 1,
                1 => Math.Cos(clock),
                2 => Math.Sin(clock),
                3 => Math.Cos(on),
                4 => Math.Sin(on),
                5 => Math.Cos(2 * on),
                _ => Math.Sin(2 * on),
            };
        });
        var svd = x.Svd(true);
        if (svd.S[columns - 1] < 0.05 * svd.S[0])
        {
            return null;
        }
        var y = Vector<double>.Build.Dense([.. readings.Select(r => r.Mm)]);
        var fit = svd.Solve(y);
        var residual = y - x * fit;
        var freedom = readings.Count - columns;
        var own = GaugeMath.Varying(instrument);
        var pooled = Instrument.RepeatFreedom + freedom;
        var s2 = (Instrument.RepeatFreedom * own + residual.DotProduct(residual)) / pooled;
        var covariance = (x.TransposeThisAndMultiply(x)).Inverse() * s2;
        Measured At(int j) => new(fit[j], "mm", Math.Sqrt(covariance[j, j]), pooled);
        Measured Size(int j)
        {
            // Length of a pair; its error along itself.
            var length = double.Hypot(fit[j], fit[j + 1]);
            var (ux, uy) = length > 0 ? (fit[j] / length, fit[j + 1] / length) : (1, 0);
            var u2 =
                ux * ux * covariance[j, j] + uy * uy * covariance[j + 1, j + 1] + 2 * ux * uy * covariance[j, j + 1];
            return new(length, "mm", Math.Sqrt(u2), pooled);
        }
        return new(
            At(0),
            At(1),
            At(2),
            told ? Size(3) : new(0, "mm", 0),
            Size(told ? 5 : 3),
            told,
            new(Math.Sqrt(s2), "mm", 0),
            [
                .. Enumerable
                    .Range(0, readings.Count)
                    .Where(i =>
                        Math.Abs(residual[i]) > 4 * Math.Sqrt(own)
                        && Math.Abs(residual[i]) > 0.5 * residual.AbsoluteMaximum()
                    ),
            ]
        );
    }

    // Round the circle, to whole degrees.
    private static double Turn(double degrees) => ((Math.Round(degrees) % 360) + 360) % 360;

    /// <summary>Degrees clockwise from the top of a clock position such as 4:30, or 4.5; null where it is none.</summary>
    public static double? ClockDeg(string at)
    {
        var parts = at.Split(':');
        if (
            parts.Length == 2
            && int.TryParse(parts[0], out var hour)
            && int.TryParse(parts[1], out var minute)
            && hour is >= 0 and <= 12
            && minute is >= 0 and < 60
        )
        {
            return (hour % 12 + minute / 60.0) * 30;
        }
        return
            double.TryParse(at, System.Globalization.CultureInfo.InvariantCulture, out var hours)
            && hours is >= 0 and <= 12
            ? hours % 12 * 30
            : null;
    }
}
