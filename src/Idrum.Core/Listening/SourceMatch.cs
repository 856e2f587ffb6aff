using Idrum.Core.Drive;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Listening;

/// <summary>One answer to "what comes round as often as this": parts that this noise leaves together are one.</summary>
/// <param name="Sources">Sources, likeliest first.</param>
/// <param name="Hz">Rate of the likeliest at the fitted speed, 1/s.</param>
/// <param name="Probability">That it is one of them.</param>
/// <param name="SeparateBy">The cheapest way to tell them apart, in a sentence; empty where there is but one
/// part.</param>
public sealed record SourceGroup(IReadOnlyList<SoundSource> Sources, double Hz, double Probability, string SeparateBy)
{
    /// <summary>Each source with its own probability.</summary>
    public IReadOnlyList<(SoundSource Source, double Probability)> Each { get; init; } = [];

    /// <summary>Parts of all its sources.</summary>
    public IReadOnlyList<PartId> PartIds => [.. Sources.SelectMany(s => s.PartIds)];

    /// <summary>Of the likeliest.</summary>
    public Mechanism Mechanism => Sources[0].Mechanism;
}

/// <summary>Which parts a rate may be of, over a speed that is not known exactly.</summary>
/// <param name="Groups">Likeliest first.</param>
/// <param name="None">Probability that it is none of them.</param>
public sealed record SourceMatch(IReadOnlyList<SourceGroup> Groups, double None)
{
    /// <summary>Load, voltage and the motor's own spread move the speed by so much either way.</summary>
    public const double SpeedTolerance = 0.06;

    /// <summary>Once the drum was counted: half a turn in twenty.</summary>
    public const double CountedTolerance = 0.015;

    /// <summary>By hand the speed is free: nothing is told apart by its rate alone.</summary>
    public const double FreeSpeed = 0.95;

    /// <summary>Belief that a rhythm is none of the parts'.</summary>
    public const double NoneBefore = 0.08;

    // Rhythms that a finger or a beat follows, 1/s.
    private const double Slowest = 0.3,
        Quickest = 40;

    // Sources whose likelihoods are within this factor are not told apart by the rate alone.
    private const double Alike = 6;

    /// <summary>Matches a rate.</summary>
    /// <param name="sources">The machine's sources at its usual (or counted) speed.</param>
    /// <param name="hz">The rate heard, 1/s.</param>
    /// <param name="error">Its standard error, 1/s.</param>
    /// <param name="tolerance">Share by which the speed may differ: <see cref="SpeedTolerance"/>, or <see
    /// cref="CountedTolerance"/> where the drum was counted. The mains are known and not scaled.</param>
    /// <exception cref="ArgumentOutOfRangeException">A rate or error that is not above zero.</exception>
    /// <remarks>P(rate | source) is a normal error about a rate whose scale is even over ± tolerance, integrated in
    /// closed form; of none it is even over the logarithm of what can be followed. Hum of the mains is no rhythm and is
    /// left out.</remarks>
    public static SourceMatch Of(
        IReadOnlyList<SoundSource> sources,
        double hz,
        double error,
        double tolerance = SpeedTolerance
    )
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(hz);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(error);
        var beats = sources.Where(s => s.Mechanism is not (Mechanism.Mains or Mechanism.Blades)).ToList();
        // A rhythm to 0.1 % is no better than the belt's slip and the wheels' tolerance leave it.
        var width = double.Hypot(error, Resolution * hz);
        double At(SoundSource s)
        {
            var (low, high) = (s.Hz * (1 - tolerance), s.Hz * (1 + tolerance));
            return (Normal.CDF(0, width, hz - low) - Normal.CDF(0, width, hz - high)) / (high - low);
        }
        var likely = beats.Select(s => (Source: s, Weight: At(s) * (1 - NoneBefore) / beats.Count)).ToList();
        var none = NoneBefore / (hz * Math.Log(Quickest / Slowest));
        var all = likely.Sum(l => l.Weight) + none;
        return new(Grouped(likely.Select(l => (l.Source, l.Weight / all)), 1, tolerance, 0), none / all);
    }

    /// <summary>Sources together that this noise does not tell apart: about as likely, and near in rate.</summary>
    /// <param name="likely">Sources with their probabilities.</param>
    /// <param name="scale">Fitted speed against the usual.</param>
    /// <param name="tolerance">Share by which the speed may differ.</param>
    /// <param name="resolution">Width of a line, Hz; 0 where single rates were matched.</param>
    internal static IReadOnlyList<SourceGroup> Grouped(
        IEnumerable<(SoundSource Source, double Probability)> likely,
        double scale,
        double tolerance,
        double resolution
    )
    {
        var groups = new List<SourceGroup>();
        var left = likely.Where(l => l.Probability > 0).OrderByDescending(l => l.Probability).ToList();
        while (left.Count > 0)
        {
            var first = left[0];
            var together = left.Where(l =>
                    first.Probability <= Alike * l.Probability && Near(first.Source, l.Source, tolerance, resolution)
                )
                .ToList();
            groups.Add(
                new(
                    [.. together.Select(l => l.Source)],
                    first.Source.Hz * scale,
                    Math.Min(1, together.Sum(l => l.Probability)),
                    Separator([.. together.Select(l => l.Source)], tolerance)
                )
                {
                    Each = together,
                }
            );
            left.RemoveAll(together.Contains);
        }
        return [.. groups.OrderByDescending(g => g.Probability)];
    }

    /// <summary>Share below which two rates are not told apart by any counting at the machine.</summary>
    public const double Resolution = 0.004;

    private static bool Near(SoundSource a, SoundSource b, double tolerance, double resolution) =>
        a == b
        || Math.Abs(a.Hz - b.Hz) < resolution
        || Math.Abs(Math.Log(a.Hz / b.Hz)) < Math.Log((1 + tolerance) / (1 - tolerance)) + Resolution;

    /// <summary>The cheapest way to tell some sources apart.</summary>
    public static string Separator(IReadOnlyList<SoundSource> sources, double tolerance)
    {
        if (sources.SelectMany(s => s.PartIds).Distinct().Count() < 2 && sources.Count < 2)
        {
            return "";
        }
        if (tolerance >= FreeSpeed)
        {
            return "By hand the speed is free: count the noises in five turns of the drum, belt on and belt off.";
        }
        if (sources.Count == 1)
        {
            return "They come round equally often: turn each by hand, or record at the four spots; the loudest is nearest.";
        }
        if (
            tolerance > CountedTolerance
            && sources
                .SelectMany((a, i) => sources.Skip(i + 1).Select(b => Math.Abs(Math.Log(a.Hz / b.Hz))))
                .All(apart => apart > 2 * CountedTolerance + Resolution)
        )
        {
            return "Count twenty turns of the drum: the speed is known then, and they are told apart.";
        }
        return sources.Any(s => s.StillWithoutBelt) && sources.Any(s => !s.StillWithoutBelt)
            ? "Supply off, belt off, drum turned by hand: what is gone is idler, motor or blower, what stays is support or felt."
            : "Listen for half a minute, or at the four spots: they differ by less than a count tells.";
    }
}
