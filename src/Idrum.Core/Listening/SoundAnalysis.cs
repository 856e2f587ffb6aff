namespace Idrum.Core.Listening;

/// <summary>How a recording was made.</summary>
public sealed record SoundConditions
{
    /// <summary>Share by which the speed may differ from that of the sources.</summary>
    public double Tolerance { get; init; } = SourceMatch.SpeedTolerance;

    /// <summary>The drum was turned by hand with the supply off: the motor does not drive, the speed is free.</summary>
    public bool ByHand { get; init; }
}

/// <summary>What a recording says of the parts.</summary>
/// <param name="Seconds">Its length, s.</param>
/// <param name="LevelDb">Root mean square, dB below full scale.</param>
/// <param name="SpeedScale">Speed against the usual; 1 where no rhythm tells.</param>
/// <param name="Groups">Sources, likeliest first, grouped where they cannot be told apart.</param>
/// <param name="None">Probability that none of them sounds.</param>
/// <param name="Enough">Whether it is good enough to go by.</param>
/// <param name="Say">What is wrong with it or what to record instead, in a sentence; empty where it is good.</param>
public sealed record SoundAnalysis(
    double Seconds,
    double LevelDb,
    double SpeedScale,
    IReadOnlyList<SourceGroup> Groups,
    double None,
    bool Enough,
    string Say
)
{
    /// <summary>Shortest recording that says anything, s; of slow things (drum, belt) half a minute tells more.</summary>
    public const double ShortestSeconds = 4;

    private const double QuietDb = -66,
        ClippedShare = 0.01;

    /// <summary>What evidence is worth: lines of one sound are not independent of each other, and rooms differ.</summary>
    internal const double Temper = 0.5;

    /// <summary>Evidence, nats, that what is heard must outweigh before a source is named.</summary>
    internal const double Threshold = 8;

    /// <summary>Listens to a recording.</summary>
    /// <param name="recording">The sound.</param>
    /// <param name="sources">The machine's sources at its usual (or counted) speed.</param>
    /// <param name="conditions">How it was made.</param>
    /// <param name="stop">Ends the work.</param>
    public static SoundAnalysis Of(
        Recording recording,
        IReadOnlyList<SoundSource> sources,
        SoundConditions conditions,
        CancellationToken stop = default
    )
    {
        var (level, clipped) = Level(recording);
        var say =
            recording.Seconds < ShortestSeconds
                ? $"{recording.Seconds:0.#} s are too short: ten for quick things, half a minute for drum and belt."
            : level < QuietDb ? "It is too quiet: hold the phone to the cabinet, low, where it is loudest."
            : clipped > ClippedShare ? "It is cut off at full level: hold the phone further away."
            : recording.Note;
        var enough = recording.Seconds >= ShortestSeconds && level >= QuietDb && clipped <= ClippedShare;
        if (!enough)
        {
            return new(recording.Seconds, level, 1, [], 1, false, say);
        }
        var envelopes = BandEnvelopes.Of(recording, stop);
        var spectra = new List<EnvelopeSpectrum>();
        foreach (var band in envelopes.Power)
        {
            stop.ThrowIfCancellationRequested();
            spectra.Add(EnvelopeSpectrum.Of(band, envelopes.Rate));
        }
        var beats = sources
            .Where(s => s.Mechanism is not ("mains" or "blades") && !(conditions.ByHand && s.Mechanism == "motor"))
            .ToList();
        var (low, high) = conditions.ByHand ? (0.1, 0.7) : (1 - conditions.Tolerance, 1 + conditions.Tolerance);
        var fit = SourceFit.Of(spectra, beats, low, high, [], stop);
        var weights = fit
            .Fits.Select(f => (f.Source, Weight: Math.Exp(Math.Min(300, Temper * (Worth(f) - Threshold)))))
            .ToList();
        var none = (double)beats.Count;
        var all = weights.Sum(w => w.Weight) + none;
        var groups = SourceMatch.Grouped(
            weights.Select(w => (w.Source, w.Weight / all)),
            fit.Scale,
            conditions.Tolerance,
            1 / recording.Seconds
        );
        return new(
            recording.Seconds,
            level,
            weights.Max(w => w.Weight) > 1 ? fit.Scale : 1,
            groups,
            none / all,
            true,
            say
        );
    }

    /// <summary>A rhythm that is there and does not swing deep is a sound machine's own.</summary>
    private static double Worth((SoundSource Source, double Evidence, double Depth) fit) =>
        fit.Evidence * Math.Min(1, Math.Pow(fit.Depth / SourceFit.Deep, 2));

    private static (double Db, double Clipped) Level(Recording recording)
    {
        var (sum, mean, clipped) = (0.0, 0.0, 0);
        foreach (var s in recording.Samples)
        {
            mean += s;
            sum += (double)s * s;
            clipped += Math.Abs(s) > 0.995f ? 1 : 0;
        }
        var n = Math.Max(1, recording.Samples.Length);
        mean /= n;
        var power = Math.Max(sum / n - mean * mean, 1e-12);
        return (10 * Math.Log10(power), (double)clipped / n);
    }
}
