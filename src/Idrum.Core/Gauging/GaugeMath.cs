using MathNet.Numerics.Distributions;

namespace Idrum.Core.Gauging;

/// <summary>Repeats, instrument and limit put together.</summary>
public static class GaugeMath
{
    /// <summary>Mean of repeats with its standard uncertainty.</summary>
    /// <param name="values">Readings of one thing.</param>
    /// <param name="instrument">What they were read with.</param>
    /// <remarks>
    /// Few readings say little of their own spread, so the usual hand's (n₀ = 8 degrees of freedom) is pooled with it:
    /// s² = (n₀σ₀² + Σ(x − x̄)²) / (n₀ + n − 1). Type A u = s/√n; type B the instrument's error as rectangular, e/√3;
    /// combined in squares, effective freedom by Welch and Satterthwaite (JCGM 100, 4.2, 4.3, G.4). The step it shows,
    /// r/√12, is spread from reading to reading where the hand's own spread is at least half a step; below that it is the
    /// same in all and no repeat takes it away.
    /// </remarks>
    public static Measured Mean(IReadOnlyList<double> values, Instrument instrument)
    {
        var n = values.Count;
        var mean = values.Average();
        var freedom = Instrument.RepeatFreedom + n - 1;
        var s2 = (Instrument.RepeatFreedom * Varying(instrument) + values.Sum(v => (v - mean) * (v - mean))) / freedom;
        var a = s2 / n;
        var all = a + Lasting(instrument);
        return new(mean, instrument.Unit, Math.Sqrt(all), freedom * all * all / (a * a));
    }

    private static double Step(Instrument instrument) => instrument.Resolution * instrument.Resolution / 12;

    private static bool Dithers(Instrument instrument) => instrument.Repeat >= instrument.Resolution / 2;

    /// <summary>Variance from reading to reading by a usual hand.</summary>
    public static double Varying(Instrument instrument) =>
        instrument.Repeat * instrument.Repeat + (Dithers(instrument) ? Step(instrument) : 0);

    /// <summary>Variance that no repeat takes away.</summary>
    public static double Lasting(Instrument instrument) =>
        instrument.Error * instrument.Error / 3 + (Dithers(instrument) ? 0 : Step(instrument));

    /// <summary>A sum of measured values with factors, in another unit.</summary>
    /// <param name="terms">Values and factors; independent.</param>
    /// <param name="unit">Unit of the sum.</param>
    public static Measured Sum(IReadOnlyList<(Measured Term, double Factor)> terms, string unit)
    {
        var value = terms.Sum(t => t.Term.Value * t.Factor);
        var u2 = terms.Sum(t => Math.Pow(t.Term.U * t.Factor, 2));
        var under = terms.Sum(t => Math.Pow(t.Term.U * t.Factor, 4) / t.Term.Freedom);
        return new(value, unit, Math.Sqrt(u2), under > 0 ? u2 * u2 / under : double.PositiveInfinity);
    }

    /// <summary>P(the true value is below), by Student's t.</summary>
    public static double Below(Measured m, double limit)
    {
        if (m.U <= 0)
        {
            return m.Value < limit ? 1 : 0;
        }
        var z = (limit - m.Value) / m.U;
        return m.Freedom > 1e6 ? Normal.CDF(0, 1, z) : StudentT.CDF(0, 1, m.Freedom, z);
    }

    /// <summary>P(reading | the true value is spread evenly between two), up to a factor that all spans share.</summary>
    public static double Within(Measured m, double low, double high) =>
        high <= low ? 0 : (Below(m, high) - Below(m, low)) / (high - low);

    /// <summary>Half width of the 95 % interval.</summary>
    public static double Half95(Measured m) =>
        m.U * (m.Freedom > 1e6 ? 1.959964 : StudentT.InvCDF(0, 1, Math.Max(1, m.Freedom), 0.975));

    /// <summary>Hours until a limit is passed, with a 95 % interval; null where it does not wear towards it.</summary>
    /// <param name="now">The quantity now.</param>
    /// <param name="then">It before.</param>
    /// <param name="hours">Hours of use between.</param>
    /// <param name="limit">The limit.</param>
    /// <remarks>Wear runs evenly: v + r·t = L with r = (v − v₀)/h. Fieller's interval: all s = t/h with
    /// (L − v(1+s) + v₀s)² ≤ k²(u²(1+s)² + u₀²s²).</remarks>
    public static (double Hours, double Low, double High)? Left(Measured now, Measured then, double hours, double limit)
    {
        var step = now.Value - then.Value;
        var left = limit - now.Value;
        if (!(hours > 0) || step == 0 || Math.Sign(step) != Math.Sign(limit - then.Value))
        {
            return null;
        }
        var k = 1.959964;
        var (vn, vt) = (now.U * now.U * k * k, then.U * then.U * k * k);
        // (left − step·s)² − vn(1+s)² − vt·s² ≤ 0
        var a = step * step - vn - vt;
        var b = -2 * left * step - 2 * vn;
        var c = left * left - vn;
        var s = left / step;
        var root = b * b - 4 * a * c;
        if (root < 0)
        {
            return (Math.Max(0, s * hours), 0, double.PositiveInfinity);
        }
        var (x, y) = ((-b - Math.Sqrt(root)) / (2 * a), (-b + Math.Sqrt(root)) / (2 * a));
        var (low, high) =
            a > 0
                ? (Math.Min(x, y), Math.Max(x, y))
                : (Math.Max(x, y) is > 0 and var only ? only : 0, double.PositiveInfinity);
        if (a <= 0)
        {
            // The step is not told from none: the limit may never be reached; the earliest is where the sum first holds.
            low = new[] { x, y }.Where(r => r >= 0).DefaultIfEmpty(0).Min();
        }
        return (Math.Max(0, s * hours), Math.Max(0, low * hours), high * hours);
    }

    /// <summary>Places of readings that lie further from the middle of the others than the hand and the tool
    /// explain.</summary>
    public static IReadOnlyList<int> Outliers(IReadOnlyList<double> values, Instrument instrument)
    {
        if (values.Count < 3)
        {
            return [];
        }
        var far = 5 * Math.Max(instrument.Repeat, instrument.Resolution / Math.Sqrt(12));
        return
        [
            .. Enumerable
                .Range(0, values.Count)
                .Where(i =>
                {
                    var others = values.Where((_, k) => k != i).Order().ToList();
                    var middle =
                        others.Count % 2 == 1
                            ? others[others.Count / 2]
                            : (others[others.Count / 2 - 1] + others[others.Count / 2]) / 2;
                    var apart = others[^1] - others[0];
                    return Math.Abs(values[i] - middle) > Math.Max(far, 2 * apart);
                }),
        ];
    }
}
