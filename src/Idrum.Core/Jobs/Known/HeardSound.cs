using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;

namespace Idrum.Core.Jobs.Known;

/// <summary>What a recording says to diagnosis: how often the analyser names this where each part sounds, as measured on
/// the noise bench; never more than <see cref="GradedFinding.MostOfRecording"/> to 1.</summary>
public static class HeardSound
{
    /// <summary>Draws what the analyser names where this sounds.</summary>
    /// <param name="sounds">The mechanism that sounds, or none.</param>
    /// <param name="random">Seeded.</param>
    public static string Drawn(string sounds, Random random)
    {
        var at = random.NextDouble();
        foreach (var named in Named)
        {
            at -= Says(sounds, named);
            if (at < 0)
            {
                return named;
            }
        }
        return "none";
    }

    private static readonly string[] Named = ["belt-pass", "drum", "roller", "idler", "motor", "none"];

    // Rows: what sounds; columns: what is named first. `./idrum bench listening 500`, with half a recording added to
    // each place, so that nothing that was not met is impossible.
    private static readonly Dictionary<string, double[]> Times = new()
    {
        ["belt-pass"] = [53, 5, 0, 0, 0, 0],
        ["drum"] = [4, 224, 0, 0, 0, 0],
        ["roller"] = [0, 0, 68, 0, 0, 0],
        ["idler"] = [0, 0, 0, 58, 0, 1],
        ["motor"] = [0, 3, 0, 1, 72, 11],
        ["none"] = [0, 0, 0, 0, 0, 300],
    };

    // The same of series of motion: `./idrum bench listening felt 400`.
    private static readonly Dictionary<string, double[]> TimesFelt = new()
    {
        ["belt-pass"] = [77, 29, 0, 0, 0, 0],
        ["drum"] = [30, 231, 0, 0, 0, 1],
        ["roller"] = [0, 0, 32, 0, 0, 0],
        ["none"] = [0, 0, 0, 0, 0, 240],
    };

    /// <summary>P(the analyser names this | that sounds).</summary>
    /// <param name="sounds">The mechanism that sounds, or none.</param>
    /// <param name="named">The mechanism named first, or none.</param>
    /// <param name="felt">Whether it was felt.</param>
    public static double Says(string sounds, string named, bool felt = false)
    {
        // What is not felt leaves the cabinet as still as a sound machine does.
        var row =
            !felt ? Times[Plain(sounds)]
            : TimesFelt.TryGetValue(Plain(sounds), out var known) ? known
            : TimesFelt["none"];
        return (row[Array.IndexOf(Named, Plain(named))] + 0.5) / (row.Sum() + 0.5 * row.Length);
    }

    /// <summary>What it says; null where it was not good enough, or was made by hand: its speed is free, and which part it
    /// is only a count of turns tells.</summary>
    /// <param name="act">The recording.</param>
    public static GradedFinding? Of(SoundRecorded act)
    {
        if (act.ByHand || act.Heard is not { Enough: true } heard)
        {
            return null;
        }
        return Graded(act.Sound, heard.Named?.Mechanism ?? "none", act.Felt);
    }

    /// <summary>What it says that this is named where such a noise is asked after.</summary>
    /// <param name="sound">chirp, thump, double or other.</param>
    /// <param name="named">The mechanism named first, or none.</param>
    /// <param name="felt">Whether it was felt.</param>
    public static GradedFinding Graded(string sound, string named, bool felt = false)
    {
        double P(string sounds) => Says(sounds, named, felt);
        return sound switch
        {
            SoundWord.Chirp => new(
                "chirp-rate",
                new Dictionary<string, double>
                {
                    ["none"] = Math.Max(P("none"), P("drum")),
                    ["fast"] = Math.Max(P("idler"), P("motor")),
                    ["roller"] = P("roller"),
                },
                EvidenceSource.Recording
            ),
            SoundWord.Thump or SoundWord.Double => new(
                "thump-rate",
                new Dictionary<string, double>
                {
                    ["none"] = Math.Max(P("none"), Math.Max(P("motor"), P("idler"))),
                    ["drum"] = P("drum") * (sound == SoundWord.Double ? 0.1 : 1),
                    ["belt"] = P("belt-pass") * (sound == SoundWord.Double ? 0.1 : 1),
                    ["double"] = P("drum") * (sound == SoundWord.Double ? 1 : 0.2),
                    ["roller"] = P("roller") * (sound == SoundWord.Double ? 0.1 : 1),
                },
                EvidenceSource.Recording
            ),
            _ => new(
                "motor-sound",
                new Dictionary<string, double> { ["no"] = Math.Max(P("none"), P("drum")), ["yes"] = P("motor") },
                EvidenceSource.Recording
            ),
        };
    }

    // A phone that lay on the cabinet while, or just before or after, it was recorded.
    private static readonly TimeSpan Together = TimeSpan.FromMinutes(10);

    /// <summary>What was felt and what was heard at the same time are two witnesses of one noise: their likelihoods multiply, held
    /// to the same cap as one.</summary>
    private static GradedFinding Both(GradedFinding heard, GradedFinding felt) =>
        heard with
        {
            Likelihoods = heard.Likelihoods.ToDictionary(
                l => l.Key,
                l => l.Value * felt.Likelihoods.GetValueOrDefault(l.Key)
            ),
        };

    /// <summary>What the rhythms followed and the recordings of a job say, of each check the last; what was felt within ten
    /// minutes of what was heard goes with it. A recording after the
    /// repair in which nothing sounds is its proof, and says nothing of what was wrong before.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    public static IReadOnlyList<GradedFinding> Evidence(JobState state, Machines.Layout layout) =>
        [
            .. HeardRhythm
                .Of(state, layout)
                .Select(h => (h.Act.Happened, Felt: false, Says: (GradedFinding?)h.Graded()))
                .Concat(
                    state
                        .Sounds.Where(s =>
                            s.Heard?.Named is not null || !(HeardAfter.Since(state) is { } since && s.Happened >= since)
                        )
                        .Select(s => (s.Happened, s.Felt, Says: Of(s)))
                )
                .Where(s => s.Says is not null)
                .OrderBy(s => s.Happened)
                .GroupBy(s => s.Says!.FindingId)
                .Select(g =>
                {
                    var last = g.Last();
                    var other = g.LastOrDefault(s => s.Felt != last.Felt && last.Happened - s.Happened <= Together);
                    return other.Says is { } also ? Both(last.Says!, also) : last.Says!;
                }),
        ];

    // Baffles come round with the drum and are not rendered apart.
    private static string Plain(string mechanism) => mechanism is "baffles" ? "drum" : mechanism;
}
