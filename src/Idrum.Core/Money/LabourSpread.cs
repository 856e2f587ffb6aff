using Idrum.Core.Basics;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Money;

/// <summary>How long work may take: lower end, mean and upper end, minutes.</summary>
/// <param name="Low">Nineteen in twenty take longer.</param>
/// <param name="Mean">On average.</param>
/// <param name="High">Nineteen in twenty take less.</param>
public sealed record LabourSpread(double Low, double Mean, double High)
{
    /// <summary>How much quicker or slower hands are than thought, as a share: standard deviation of a pace anywhere
    /// between 0.7 and 1.3.</summary>
    public const double PaceSpread = 0.6 / 3.4641016151377544;

    /// <summary>Half the width in standard deviations that nine in ten of a normal lie within.</summary>
    private static readonly double NineInTen = Normal.InvCDF(0, 1, 0.95);

    /// <summary>Of steps that vary each by itself, done by one pair of hands whose pace is not known. Nine jobs in ten
    /// lie between the ends.</summary>
    /// <remarks>Each step is taken as triangular between its bounds; the sum of many is near normal (central limit
    /// theorem), and the pace multiplies it:
    /// variances of sum and pace add.</remarks>
    /// <param name="steps">Minutes of each step with their spread.</param>
    /// <param name="certain">Minutes that do not vary by themselves.</param>
    public static LabourSpread Of(IEnumerable<Spread> steps, double certain = 0)
    {
        var (mean, variance) = (certain, 0.0);
        foreach (var s in steps)
        {
            mean += (s.Low + s.Typical + s.High) / 3;
            variance +=
                (
                    s.Low * s.Low
                    + s.Typical * s.Typical
                    + s.High * s.High
                    - s.Low * s.Typical
                    - s.Low * s.High
                    - s.Typical * s.High
                ) / 18;
        }
        var wide =
            NineInTen * Math.Sqrt(variance * (1 + PaceSpread * PaceSpread) + mean * PaceSpread * mean * PaceSpread);
        return new(Math.Max(0, mean - wide), mean, mean + wide);
    }
}
