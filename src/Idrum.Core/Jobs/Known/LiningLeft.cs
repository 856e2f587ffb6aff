using System.Globalization;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Log;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Jobs.Known;

/// <summary>Loads until a felt or a glide is worn to its limit, and until metal runs on metal, from one reading: what it
/// has lost since it was new, over the use since.</summary>
/// <param name="Limit">Loads to the limit, with a 95 % interval; the high end may be without bound.</param>
/// <param name="Metal">Loads to nothing left, alike.</param>
/// <param name="Since">Since when it wears, in words, and what is assumed of it.</param>
/// <remarks>Wear runs evenly: Fieller's interval of <see cref="GaugeMath.Left"/> from new to now, widened in its logarithm by
/// how well the use is known.</remarks>
public sealed record LiningLeft(
    (double Loads, double Low, double High) Limit,
    (double Loads, double Low, double High) Metal,
    string Since
)
{
    private static readonly string[] Linings = ["front-felt", "rear-felt", "glide"];

    // New ones differ by about a twelfth of their thickness.
    private const double NewSpread = 0.08;

    // How well the use since is known, as a standard deviation of its logarithm: the day of fitting and the loads a week;
    // the loads guessed; the age told by the user, and that it is the first.
    private const double Known = 0.12;
    private const double Guessed = 0.3;
    private const double Told = 0.25;

    private const double UsualLoads = 5;

    /// <summary>In a sentence.</summary>
    public string Words =>
        Limit.High <= 0
            ? $"At its limit; {Span(Metal)} until metal runs on metal, {Since}."
            : $"{Capital(Span(Limit))} to its limit, {Span(Metal)} until metal runs on metal, {Since}.";

    private static string Span((double Loads, double Low, double High) left) =>
        left.High <= 0 ? "no load"
        : double.IsFinite(left.High) ? $"some {Round(left.Loads)} loads ({Round(left.Low)} to {Round(left.High)})"
        : $"{Round(left.Low)} loads at least";

    private static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];

    // Two figures are all that is known.
    private static string Round(double loads)
    {
        var unit = Math.Pow(10, Math.Max(0, Math.Floor(Math.Log10(Math.Max(1, loads))) - 1));
        return (Math.Round(loads / unit) * unit).ToString("0", CultureInfo.InvariantCulture);
    }

    /// <summary>What is left of what was read before the repair; null where it is no lining, nothing was worn off that the
    /// reading tells from nothing, or nobody knows since when it wears.</summary>
    /// <param name="set">The readings.</param>
    /// <param name="state">The job.</param>
    /// <param name="earlier">Earlier jobs on the same tag.</param>
    public static LiningLeft? Of(GaugedSet set, JobState state, IReadOnlyList<JobState>? earlier)
    {
        if (set is not { After: false, Part: { } part, Result.Quantity: { } now } || !Linings.Contains(part.Kind))
        {
            return null;
        }
        var limit = set.Protocol.LimitOf(part) is { } own
            ? own with
            {
                Worn = state.GaugeLimits.GetValueOrDefault(new(set.Protocol.Id, part.Id))?.Limit ?? own.Worn,
            }
            : null;
        var use = Use(set, part.Id, state, earlier);
        if (limit is null || use is not { Loads: > 0 } since || limit.New <= limit.Worn)
        {
            return null;
        }
        var fresh = new Measured(limit.New, limit.Unit, limit.New * NewSpread);
        return To(now, fresh, since, limit.Worn) is { } worn && To(now, fresh, since, 0) is { } metal
            ? new(worn, metal, since.Words)
            : null;
    }

    private static (double Loads, double Low, double High)? To(
        Measured now,
        Measured fresh,
        (double Loads, double Spread, string Words) since,
        double bound
    )
    {
        if (now.Value <= bound)
        {
            return (0, 0, 0);
        }
        if (GaugeMath.Left(now, fresh, since.Loads, bound) is not { } left)
        {
            return null;
        }
        var z = Normal.InvCDF(0, 1, 0.975);
        double Wider(double end) =>
            end <= 0 || !double.IsFinite(end)
                ? end
                : left.Hours
                    * Math.Exp(
                        Math.Sign(end - left.Hours) * double.Hypot(Math.Log(end / left.Hours), z * since.Spread)
                    );
        return (left.Hours, Wider(left.Low), Wider(left.High));
    }

    /// <summary>Loads it has run, how well that is known, and since when.</summary>
    private static (double Loads, double Spread, string Words)? Use(
        GaugedSet set,
        PartId partId,
        JobState state,
        IReadOnlyList<JobState>? earlier
    )
    {
        var guessed = state.Machine.UsesPerWeek is not > 0;
        var aWeek = guessed ? UsualLoads : state.Machine.UsesPerWeek!.Value;
        var loads = guessed ? ", at five loads a week" : "";
        var fitted = (earlier ?? [])
            .Where(j => j.OpenedAt < state.OpenedAt && j.Machine.LayoutId == state.Machine.LayoutId)
            .Select(j => (Job: j, Part: j.Fitted.GetValueOrDefault(partId)))
            .Where(j => j.Part?.Action == FittedAs.Replaced)
            .OrderByDescending(j => j.Part!.Happened)
            .FirstOrDefault();
        if (fitted.Job is { } job)
        {
            var weeks = (set.Acts[^1].Happened - fitted.Part!.Happened).TotalDays / 7;
            return (weeks * aWeek, guessed ? Guessed : Known, $"since it was renewed in {job.Number}{loads}");
        }
        return state.Machine.AgeYears is > 0 and var years
            ? (years * 52 * aWeek, double.Hypot(Told, guessed ? Guessed : 0), $"if it is as old as the machine{loads}")
            : null;
    }
}
