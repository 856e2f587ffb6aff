using MathNet.Numerics.Distributions;
using MathNet.Numerics.Statistics;

namespace Idrum.Core.Logbook;

/// <summary>One row of what the log says.</summary>
/// <param name="What">Id of what it is of: a layout, a cause, a kind of part, a step.</param>
/// <param name="Of">How many jobs (or times) stand behind it.</param>
/// <param name="Value">The value with its 95 % interval; null where there are too few for one.</param>
/// <param name="Count">How many of them; where the value is a share.</param>
public sealed record Figure(string What, int Of, Between? Value, int Count = 0)
{
    /// <summary>A share, with the interval of Clopper and Pearson (Biometrika 26, 1934), which never claims more than it holds.</summary>
    /// <param name="what">Of what.</param>
    /// <param name="count">How many.</param>
    /// <param name="of">Of how many.</param>
    public static Figure Share(string what, int count, int of) =>
        new(
            what,
            of,
            of == 0
                ? null
                : new(
                    (double)count / of,
                    count == 0 ? 0 : Beta.InvCDF(count, of - count + 1, 0.025),
                    count == of ? 1 : Beta.InvCDF(count + 1, of - count, 0.975)
                ),
            count
        );

    /// <summary>The mean with its interval by Student's t; no value below three.</summary>
    /// <param name="what">Of what.</param>
    /// <param name="values">The values.</param>
    public static Figure Mean(string what, IReadOnlyList<double> values)
    {
        if (values.Count < 3)
        {
            return new(what, values.Count, null);
        }
        var half =
            StudentT.InvCDF(0, 1, values.Count - 1, 0.975) * values.StandardDeviation() / Math.Sqrt(values.Count);
        var mean = values.Mean();
        return new(what, values.Count, new(mean, mean - half, mean + half));
    }

    /// <summary>The geometric mean of ratios with its interval by Student's t on their logarithms; no value below three.</summary>
    /// <param name="what">Of what.</param>
    /// <param name="ratios">Each above 0.</param>
    public static Figure Ratio(string what, IReadOnlyList<double> ratios)
    {
        if (ratios.Count < 3)
        {
            return new(what, ratios.Count, null);
        }
        var logs = ratios.Select(r => Math.Log(r)).ToList();
        var half = StudentT.InvCDF(0, 1, logs.Count - 1, 0.975) * logs.StandardDeviation() / Math.Sqrt(logs.Count);
        var mean = logs.Mean();
        return new(what, ratios.Count, new(Math.Exp(mean), Math.Exp(mean - half), Math.Exp(mean + half)));
    }
}
