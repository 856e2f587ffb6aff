using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>All that is drawn of a recording, or of what was felt.</summary>
/// <param name="Rhythm">Its rhythm with each part's lines.</param>
/// <param name="Lines">What stands at each part's line: its rate at the fitted speed, Hz, and how high over the usual.</param>
/// <param name="Strip">How loud it is from beginning to end.</param>
/// <param name="Piece">A few turns close up; null where no noise comes round.</param>
/// <param name="Rounds">Laid round the turns of the part that is named, and of the drum where that part runs on it.</param>
/// <param name="Pitches">Which pitch is loud when; null of what was felt.</param>
/// <param name="Bands">Level of each band of pitch, dB below the loudest.</param>
public sealed record SoundPictures(
    HtmlString Rhythm,
    IReadOnlyList<(SoundSource Source, double Hz, double Height)> Lines,
    HtmlString Strip,
    HtmlString? Piece,
    IReadOnlyList<(string What, OnceRound Round, HtmlString Ring)> Rounds,
    HtmlString? Pitches,
    IReadOnlyList<(double Low, double High, double Db)> Bands
)
{
    // Turns that are drawn close up.
    private const int CloseTurns = 4;

    /// <summary>Draws all of it.</summary>
    /// <param name="trace">What is drawn.</param>
    /// <param name="recording">The sound itself; null of what was felt.</param>
    /// <param name="sources">The machine's sources.</param>
    /// <param name="scale">Fitted speed against the usual.</param>
    /// <param name="named">Sources that are named.</param>
    public static SoundPictures Of(
        SoundTrace trace,
        Recording? recording,
        IReadOnlyList<SoundSource> sources,
        double scale,
        IReadOnlyList<SoundSource> named
    )
    {
        List<(string What, OnceRound Round, HtmlString Ring)> rounds = [];
        if (named is [var source, ..])
        {
            // What runs on the drum turns with it; belt, idler and motor creep against it.
            var drum =
                source.Mechanism == Mechanism.Roller
                    ? sources.FirstOrDefault(s => s.Mechanism == Mechanism.Drum)
                    : null;
            List<(string What, double Ratio)> wanted = [($"the {source.Mechanism.Word()}", 1)];
            if (drum is not null)
            {
                wanted.Add(("the drum", drum.Hz / source.Hz));
            }
            var laid = OnceRound.Of(trace.Seconds, trace.Levels, source.Hz * scale, [.. wanted.Select(w => w.Ratio)]);
            rounds =
            [
                .. wanted
                    .Zip(laid)
                    .Where(p => p.Second is not null)
                    .Select(p => (p.First.What, p.Second!, TurnRing.Of(p.Second!, p.First.What))),
            ];
        }
        var piece =
            rounds is [var own, ..] && own.Round.Moments.Count > 0
                ? Close(trace, own.Round)
                : default((double, double)?);
        var most = trace.Power.Length == 0 ? 0 : trace.Power.Max(p => p.Average());
        return new(
            SoundPicture.Of(trace.Spectrum, sources, scale, [.. named.Select(s => s.Id)]),
            [
                .. sources
                    .Where(s => s.Mechanism is not (Mechanism.Mains or Mechanism.Blades))
                    .Select(s =>
                        (
                            s,
                            s.Hz * scale,
                            (double)trace.Spectrum.Near(s.Hz * scale, Math.Max(trace.Spectrum.Step, 0.004 * s.Hz)).Value
                        )
                    ),
            ],
            SoundTime.Strip(trace.Seconds, trace.Levels, piece),
            piece is { } p
                ? recording is not null
                    ? SoundTime.Piece(recording.Rate, recording.Samples, p, rounds[0].Round.Moments)
                    : SoundTime.Piece(
                        (trace.Seconds.Count - 1) / trace.Seconds[^1],
                        [.. trace.Levels.Select(l => (float)l)],
                        p,
                        rounds[0].Round.Moments
                    )
                : null,
            rounds,
            trace.Power.Length == 0 ? null : SoundTime.Pitches(trace.Bands, trace.Power, trace.Seconds[^1]),
            [
                .. trace.Bands.Select(
                    (b, i) => (b.Low, b.High, 10 * Math.Log10(Math.Max(trace.Power[i].Average(), 1e-20) / most))
                ),
            ]
        );
    }

    /// <summary>The turns in which the noise is loudest.</summary>
    private static (double From, double To) Close(SoundTrace trace, OnceRound round)
    {
        var (half, length) = (CloseTurns / 2.0 / round.Hz, trace.Seconds[^1]);
        double Loud(double moment) =>
            trace.Seconds.Zip(trace.Levels).Where(p => Math.Abs(p.First - moment) < half).Sum(p => p.Second);
        var middle = round
            .Moments.Where(m => m > half && m < length - half)
            .DefaultIfEmpty(length / 2)
            .Take(60)
            .MaxBy(Loud);
        var from = Math.Max(0, middle - half);
        return (from, Math.Min(length, from + 2 * half));
    }
}
