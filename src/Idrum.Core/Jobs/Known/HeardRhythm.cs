using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Known;

/// <summary>What a rhythm that was followed says of the parts of a machine.</summary>
/// <param name="Act">As it was followed.</param>
/// <param name="Hz">Its rate with the machine running, 1/s.</param>
/// <param name="Low">Lower end of its 95 % interval, 1/s.</param>
/// <param name="High">Upper end, 1/s.</param>
/// <param name="Match">The parts.</param>
/// <param name="Say">What is wrong with it; empty where nothing is.</param>
public sealed record HeardRhythm(RhythmHeard Act, double Hz, double Low, double High, SourceMatch Match, string Say)
{
    // Drift against a beat of a quarter beat in ten seconds is heard; and the thumb moves in steps of a hundredth.
    private const double BeatErrorHz = 0.025,
        BeatErrorShare = 0.008;

    // Who counts is off by one in three counts.
    private const double CountError = 0.6;

    /// <summary>Works a rhythm out; null where it says nothing.</summary>
    /// <param name="act">As it was followed.</param>
    /// <param name="layout">The machine.</param>
    public static HeardRhythm? Of(RhythmHeard act, Layout layout)
    {
        if (act.MainsHertz is not (50 or 60))
        {
            return null;
        }
        var counted = act.TwentySeconds is > 0 and var s ? 1200 / s : (double?)null;
        var sources = SoundSource.Of(layout, act.MainsHertz, counted);
        var tolerance = counted is null ? SourceMatch.SpeedTolerance : SourceMatch.CountedTolerance;
        switch (act.Way)
        {
            case "taps" when act.Seconds() is { } taps && TapRhythm.Of(taps, act.SlowedBy ?? 1) is { } rhythm:
                return new(
                    act,
                    rhythm.Hz,
                    rhythm.Low,
                    rhythm.High,
                    SourceMatch.Of(sources, rhythm.Hz, rhythm.Error, tolerance),
                    rhythm.Say
                );
            case "beat" when act.Beat is > 0 and var hz:
                var error = double.Hypot(BeatErrorHz, BeatErrorShare * hz);
                return new(act, hz, hz - 2 * error, hz + 2 * error, SourceMatch.Of(sources, hz, error, tolerance), "");
            case "count" when act is { Count: > 0 and var count, Turns: > 0 and var turns }:
                // By hand only the ratio to the drum counts: the speed is that of the hand.
                var drum = DriveRates.Of(layout, act.MainsHertz, counted).DrumRpm / 60;
                var rate = count / turns * drum;
                var off = CountError / turns * drum;
                return new(
                    act,
                    rate,
                    rate - 2 * off,
                    rate + 2 * off,
                    SourceMatch.Of(sources, rate, off, SourceMatch.CountedTolerance),
                    ""
                );
            default:
                return null;
        }
    }

    /// <summary>All of a job, oldest first.</summary>
    public static IReadOnlyList<HeardRhythm> Of(JobState state, Layout layout) =>
        [.. state.Rhythms.Select(r => Of(r, layout)).OfType<HeardRhythm>()];

    /// <summary>The check it answers.</summary>
    public string FindingId => Act.Sound == SoundWord.Chirp ? "chirp-rate" : "thump-rate";

    /// <summary>In a line: the rate and the likeliest part.</summary>
    public string Words =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{Hz:0.00} a second ({Math.Max(0, Low):0.00} to {High:0.00}): {(Match.Groups is [var first, ..] && first.Probability > Match.None ? $"{Named(first)}, {InTen(first.Probability)}" : "as often as nothing in this machine")}"
        );

    /// <summary>The parts of a group by name.</summary>
    public static string Named(SourceGroup group) => string.Join(" or ", group.Sources.Select(s => s.Name.Inside()));

    /// <summary>A probability as people say it.</summary>
    public static string InTen(double probability) =>
        probability >= 0.95 ? "almost surely"
        : probability < 0.05 ? "hardly"
        : $"{Math.Round(probability * 10):0} in 10";

    /// <summary>P(this rhythm | what makes it), up to a factor: of a part's outcome that of the likeliest source that it
    /// stands for, of "none" that it is a rhythm of something else.</summary>
    internal GradedFinding Graded()
    {
        var each = (1 - SourceMatch.NoneBefore) / Math.Max(1, Match.Groups.Sum(g => g.Sources.Count));
        double Of(params Mechanism[] mechanisms) =>
            Match
                .Groups.SelectMany(g => g.Each)
                .Where(e => mechanisms.Contains(e.Source.Mechanism))
                .Select(e => e.Probability / each)
                .DefaultIfEmpty(0)
                .Max();
        var none = Match.None / SourceMatch.NoneBefore;
        var likelihoods =
            Act.Sound == SoundWord.Chirp
                ? new Dictionary<string, double>
                {
                    ["none"] = Math.Max(none, Of(Mechanism.Drum, Mechanism.Baffles, Mechanism.BeltPass)),
                    ["fast"] = Of(Mechanism.Idler, Mechanism.Motor),
                    ["roller"] = Of(Mechanism.Roller),
                }
            : Act.Sound == SoundWord.Double
                ? new Dictionary<string, double>
                {
                    ["none"] = none,
                    ["drum"] = 0.1 * Of(Mechanism.Drum),
                    ["belt"] = 0.05 * Of(Mechanism.BeltPass),
                    ["double"] = Of(Mechanism.Drum),
                    ["roller"] = 0.05 * Of(Mechanism.Roller),
                }
            : new Dictionary<string, double>
            {
                ["none"] = Math.Max(none, Of(Mechanism.Idler, Mechanism.Motor)),
                ["drum"] = Of(Mechanism.Drum, Mechanism.Baffles),
                ["belt"] = Of(Mechanism.BeltPass),
                ["double"] = 0.2 * Of(Mechanism.Drum),
                ["roller"] = Of(Mechanism.Roller),
            };
        return new(FindingId, likelihoods, EvidenceSource.Recording);
    }
}
