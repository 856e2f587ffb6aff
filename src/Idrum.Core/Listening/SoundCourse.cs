using Idrum.Core.Basics;
using Idrum.Core.Drive;

namespace Idrum.Core.Listening;

/// <summary>A recording longer than is listened to at once, piece by piece: how loud it is over the time, from when on a
/// part comes round in it or a squeal stands, and what is heard then.</summary>
/// <param name="Seconds">Length of the whole, s.</param>
/// <param name="PieceSeconds">Length of a piece, s.</param>
/// <param name="LevelsDb">Level of each piece, dB below full scale.</param>
/// <param name="BeginsAt">When the first piece begins in which it is heard, s; null where nothing is.</param>
/// <param name="EndsAt">When the last piece ends in which it is heard, s; null where nothing is.</param>
/// <param name="Share">Share of the pieces between the two in which it is heard.</param>
/// <param name="LouderAt">From when on it is louder for good, s, by at least <see cref="Louder"/> dB; null where it is
/// not.</param>
/// <param name="Kept">The part that tells: from and to, s, five minutes at most.</param>
/// <param name="Heard">What is heard where it is plainest, else in the last of it, where the machine is warmest.</param>
public sealed record SoundCourse(
    double Seconds,
    double PieceSeconds,
    IReadOnlyList<double> LevelsDb,
    double? BeginsAt,
    double? EndsAt,
    double Share,
    double? LouderAt,
    (double From, double To) Kept,
    SoundAnalysis Heard
)
{
    /// <summary>Longest that is listened through, s; with a little over for a clock that is not exact.</summary>
    public const double LongestSeconds = 1810;

    /// <summary>What counts as louder for good, dB.</summary>
    public const double Louder = 4;

    // Half a minute tells drum from belt.
    private const double Piece = 30;

    // Of the kept part so much lies before it begins, so that both can be heard.
    private const double Before = 60,
        KeptSeconds = 300;

    // A line that stands so far out of the sound, dB, is a tone; a squeal's does, a blower's does not.
    private const double Tone = 15;

    private const string Squeal = "squeal";

    /// <summary>Listens through a recording.</summary>
    /// <param name="recording">The sound.</param>
    /// <param name="sources">The machine's sources at its usual (or counted) speed.</param>
    /// <param name="conditions">How it was made.</param>
    /// <param name="calledAt">When who stood by said that it began, s; null where nobody did.</param>
    /// <param name="stop">Ends the work.</param>
    /// <remarks>Each half minute is listened to by itself. What two neighbours name alike is heard: one alone may be a
    /// load that falls. Of several things that which is heard longest. It begins with the first such pair.</remarks>
    public static SoundCourse Of(
        Recording recording,
        IReadOnlyList<SoundSource> sources,
        SoundConditions conditions,
        double? calledAt = null,
        CancellationToken stop = default
    )
    {
        if (recording.Seconds > LongestSeconds)
        {
            var whole = SoundAnalysis.Unheard(
                recording,
                $"{recording.Seconds / 60:0} min are more than is listened through: half an hour at most."
            );
            return new(recording.Seconds, Piece, [], null, null, 0, null, (0, KeptSeconds), whole);
        }
        var lowered = BandEnvelopes.Lowered(recording);
        var count = Math.Max(1, (int)(lowered.Seconds / Piece));
        // What the device lost is spread over the whole.
        SoundConditions Of(double seconds) =>
            conditions with
            {
                DoorOpened = false,
                LostSeconds = conditions.LostSeconds * seconds / recording.Seconds,
            };
        var pieces = new List<(double Db, string Heard, double Sure)>();
        for (var k = 0; k < count; k++)
        {
            stop.ThrowIfCancellationRequested();
            pieces.Add(PieceOf(Cut(lowered, k * Piece, (k + 1) * Piece), sources, Of(Piece), stop));
        }
        var levels = pieces.Select(p => Math.Round(p.Db, 1)).ToList();
        var what = Lasting(pieces);
        var paired = Enumerable
            .Range(0, count)
            .Where(k =>
                what.Length > 0
                && pieces[k].Heard == what
                && (k > 0 && pieces[k - 1].Heard == what || k + 1 < count && pieces[k + 1].Heard == what)
            )
            .ToList();
        int? first = paired.Count > 0 ? paired[0] : null;
        int? last = paired.Count > 0 ? paired[^1] : null;
        var plainest =
            first is { } f ? paired.Where(k => paired.Contains(k + 1)).DefaultIfEmpty(f).MaxBy(k => pieces[k].Sure)
            : calledAt is { } called ? Math.Clamp((int)(called / Piece), 0, count - 1)
            : count - 1;
        // Two pieces together say more than one, and drum and belt want half a minute.
        var at = Math.Min(plainest * Piece, Math.Max(0, lowered.Seconds - 2 * Piece));
        var heard = SoundAnalysis.Of(Cut(lowered, at, at + 2 * Piece), sources, Of(2 * Piece), stop);
        var from =
            first is { } b ? b * Piece - Before
            : calledAt is { } c ? c - Before
            : lowered.Seconds - KeptSeconds;
        from = Math.Clamp(from, 0, Math.Max(0, lowered.Seconds - KeptSeconds));
        return new(
            recording.Seconds,
            Piece,
            levels,
            first * Piece,
            (last + 1) * Piece,
            first is null
                ? 0
                : pieces.Skip(first.Value).Take(last!.Value - first.Value + 1).Count(p => p.Heard == what)
                    / (double)(last.Value - first.Value + 1),
            StepUp(levels) * Piece,
            (from, Math.Min(recording.Seconds, from + KeptSeconds)),
            heard with
            {
                Seconds = recording.Seconds,
                RunDown = conditions.DoorOpened
                    ? RunDown.Of(
                        lowered,
                        sources.FirstOrDefault(s => s.Mechanism == Mechanism.Mains)?.Hz / 2 ?? 50,
                        stop
                    )
                    : null,
            }
        );
    }

    /// <summary>Part of a recording.</summary>
    /// <param name="recording">The whole.</param>
    /// <param name="from">From, s.</param>
    /// <param name="to">To, s; its end where that comes first.</param>
    public static Recording Cut(Recording recording, double from, double to)
    {
        var low = Math.Clamp((int)(from * recording.Rate), 0, recording.Samples.Length);
        var high = Math.Clamp((int)(to * recording.Rate), low, recording.Samples.Length);
        return recording with { Samples = recording.Samples[low..high] };
    }

    private static (double Db, string Heard, double Sure) PieceOf(
        Recording piece,
        IReadOnlyList<SoundSource> sources,
        SoundConditions conditions,
        CancellationToken stop
    )
    {
        var heard = SoundAnalysis.Of(piece, sources, conditions with { Quick = true }, stop);
        if (!heard.Enough)
        {
            return (heard.LevelDb, "", 0);
        }
        return heard.Groups is [var first, ..] && first.Probability > heard.None
                ? (heard.LevelDb, first.Mechanism.Word(), first.Probability)
            : heard.ToneDb > Tone ? (heard.LevelDb, Squeal, Math.Min(1, heard.ToneDb / 100))
            : (heard.LevelDb, "", 0);
    }

    /// <summary>What most pairs of neighbours name alike; empty where none does.</summary>
    private static string Lasting(List<(double Db, string Heard, double Sure)> pieces) =>
        pieces
            .Zip(pieces.Skip(1))
            .Where(p => p.First.Heard.Length > 0 && p.First.Heard == p.Second.Heard)
            .GroupBy(p => p.First.Heard)
            .OrderByDescending(g => g.Count())
            .FirstOrDefault()
            ?.Key
        ?? "";

    /// <summary>The piece from which on it is louder for good: the split that leaves the least squares, with two pieces on
    /// either side.</summary>
    private static int? StepUp(List<double> levels)
    {
        var best = (At: 0, Left: double.MaxValue, By: 0.0);
        for (var k = 2; k <= levels.Count - 2; k++)
        {
            var (before, after) = (levels.Take(k).ToList(), levels.Skip(k).ToList());
            var (a, b) = (before.Average(), after.Average());
            var left = before.Sum(l => (l - a) * (l - a)) + after.Sum(l => (l - b) * (l - b));
            if (left < best.Left)
            {
                best = (k, left, b - a);
            }
        }
        return best.By >= Louder ? best.At : null;
    }
}
