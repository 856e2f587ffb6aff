using Idrum.Core.Drive;

namespace Idrum.Core.Listening;

/// <summary>How a recording was made.</summary>
public sealed record SoundConditions
{
    /// <summary>Share by which the speed may differ from that of the sources.</summary>
    public double Tolerance { get; init; } = SourceMatch.SpeedTolerance;

    /// <summary>The drum was turned by hand with the supply off: the motor does not drive, the speed is free.</summary>
    public bool ByHand { get; init; }

    /// <summary>How much the device lost while it was recorded, s.</summary>
    public double LostSeconds { get; init; }

    /// <summary>The door was opened some seconds before its end, while the machine ran: what follows is a run-down.</summary>
    public bool DoorOpened { get; init; }

    /// <summary>A first look: not what sounds beside it, nor how loud each source is.</summary>
    internal bool Quick { get; init; }
}

/// <summary>What a recording says of the parts.</summary>
/// <param name="Seconds">Its length, s.</param>
/// <param name="LevelDb">Root mean square, dB below full scale.</param>
/// <param name="SpeedScale">Speed against the usual; 1 where no rhythm tells.</param>
/// <param name="Groups">Sources, likeliest first, grouped where they cannot be told apart; two may sound at once, so that
/// the probabilities are each for itself.</param>
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
    /// <summary>How likely each kind of noise is (<see cref="SoundCharacter.Kinds"/>); empty where nothing was heard.</summary>
    public IReadOnlyDictionary<string, double> Character { get; init; } = new Dictionary<string, double>();

    /// <summary>Level of each source's own noise, dB: what of the sound swings with it; by source id. Between the spots of one
    /// machine it tells where that noise is loudest, which the level of everything does not.</summary>
    public IReadOnlyDictionary<string, double> SourceDb { get; init; } = new Dictionary<string, double>();

    /// <summary>Level by band of pitch, dB below full scale, as <see cref="BandEnvelopes"/> parts them; empty where nothing was
    /// listened to.</summary>
    public IReadOnlyList<double> BandDb { get; init; } = [];

    /// <summary>How far its strongest line stands out, dB (<see cref="SoundCharacter.TonalDb"/>).</summary>
    public double ToneDb { get; init; }

    /// <summary>What stopped at once and what died down when the door was opened; null where it was not, or no such place
    /// was found.</summary>
    public RunDown? RunDown { get; init; }

    /// <summary>What tells of a steady squeal, which has no rhythm.</summary>
    public const string SteadySqueal =
        "A steady squeal has little rhythm. What tells: warm or cold, loaded or not, where it is loudest, what it does by hand, belt on and belt off.";

    /// <summary>Shortest recording that says anything, s; of slow things (drum, belt) half a minute tells more.</summary>
    public const double ShortestSeconds = 4;

    /// <summary>Longest that is listened to at once, s.</summary>
    public const double LongestSeconds = 305;

    private const double QuietDb = -66,
        ClippedShare = 0.01;

    // The device puts silence where it lost something; of rollers and idlers made so 12 of 12 are named at 8 % lost, 7 at 15 %.
    private const double MostLost = 0.1;

    /// <summary>What evidence is worth: lines of one sound are not independent of each other, and rooms differ.</summary>
    internal const double Temper = 0.5;

    /// <summary>Evidence, nats, that what is heard must outweigh before a source is named.</summary>
    internal const double Threshold = 8;

    /// <summary>The same of what is felt: a phone's few readings a second leave less to go by.</summary>
    internal const double FeltThreshold = 9.5;

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
            : recording.Seconds > LongestSeconds
                ? $"{recording.Seconds / 60:0.#} min are more than is listened to at once."
            : level < QuietDb ? "It is too quiet: hold the phone to the cabinet, low, where it is loudest."
            : clipped > ClippedShare ? "It is cut off at full level: hold the phone further away."
            : conditions.LostSeconds > MostLost * recording.Seconds
                ? $"The device could not keep up: {conditions.LostSeconds:0.0} s of it are lost, and the rhythm with them. Close what else runs on it and record again."
            : recording.Note;
        var enough =
            recording.Seconds is >= ShortestSeconds and <= LongestSeconds
            && level >= QuietDb
            && clipped <= ClippedShare
            && conditions.LostSeconds <= MostLost * recording.Seconds;
        if (!enough)
        {
            return new(recording.Seconds, level, 1, [], 1, false, say);
        }
        var mains = sources.FirstOrDefault(s => s.Mechanism == Mechanism.Mains)?.Hz / 2 ?? 50;
        var runDown = conditions.DoorOpened ? RunDown.Of(recording, mains, stop) : null;
        if (runDown is not null)
        {
            // While it runs down no speed holds: parts are looked for in what comes before.
            recording = SoundCourse.Cut(recording, 0, runDown.OpensAt);
        }
        else if (conditions.DoorOpened && say.Length == 0)
        {
            say = NoRunDown;
        }
        var envelopes = BandEnvelopes.Of(recording, stop);
        var spectra = new List<EnvelopeSpectrum>();
        foreach (var band in envelopes.Power)
        {
            stop.ThrowIfCancellationRequested();
            spectra.Add(EnvelopeSpectrum.Of(band, envelopes.Rate));
        }
        var judged = Judge(
            spectra,
            sources,
            conditions,
            recording.Seconds,
            level,
            say,
            stop,
            beside: !conditions.Quick
        );
        var powers = envelopes.Power.Select(b => b.Length == 0 ? 0 : b.Average(v => (double)v)).ToList();
        var first =
            judged.Groups is [var group, ..] && group.Probability > judged.None
                ? group.Sources[0].Mechanism
                : (Mechanism?)null;
        var character = SoundCharacter.Of(recording, mains, envelopes, stop);
        if (conditions.Quick)
        {
            return judged with { ToneDb = character.TonalDb };
        }
        var kinds = character.Likely(first);
        return judged with
        {
            ToneDb = character.TonalDb,
            RunDown = runDown,
            Character = kinds,
            BandDb = [.. powers.Select(p => 10 * Math.Log10(Math.Max(p, 1e-15)))],
            SourceDb = sources
                .Where(s => s.Mechanism is not (Mechanism.Mains or Mechanism.Blades))
                .ToDictionary(s => s.Id, s => NoiseDb(spectra, powers, s, judged.SpeedScale)),
            Say = say.Length == 0 && first is null && kinds["squeal"] > 0.5 ? SteadySqueal : say,
        };
    }

    private const string NoRunDown =
        "No place was found in it at which it goes from loud to still: let it run ten seconds, open the door, and record on until all is quiet.";

    /// <summary>A recording that is not listened to, and why.</summary>
    internal static SoundAnalysis Unheard(Recording recording, string say) =>
        new(recording.Seconds, Level(recording).Db, 1, [], 1, false, say);

    /// <summary>Feels a series of motion: the same fit to what shakes the cabinet; what a phone cannot feel (hum, blower,
    /// squeal) is none of it.</summary>
    /// <param name="series">What the phone felt; without errors.</param>
    /// <param name="sources">The machine's sources.</param>
    /// <param name="conditions">How it was made.</param>
    /// <param name="stop">Ends the work.</param>
    public static SoundAnalysis Felt(
        MotionSeries series,
        IReadOnlyList<SoundSource> sources,
        SoundConditions conditions,
        CancellationToken stop = default
    )
    {
        if (series.Say.Length > 0)
        {
            return new(series.Length, 0, 1, [], 1, false, series.Say);
        }
        var spectra = series.Spectra(stop).ToList();
        var top = spectra.Min(s => (s.Values.Length - 1) * s.Step);
        return Judge(
            spectra,
            [.. sources.Where(s => s.Hz * (1 + conditions.Tolerance) < top)],
            conditions,
            series.Length,
            0,
            "",
            stop,
            // The drum's own sway is in every series: beside a part that strikes it would be named as another.
            beside: false,
            sways: true,
            FeltThreshold
        );
    }

    private static SoundAnalysis Judge(
        List<EnvelopeSpectrum> spectra,
        IReadOnlyList<SoundSource> sources,
        SoundConditions conditions,
        double seconds,
        double level,
        string say,
        CancellationToken stop,
        bool beside = true,
        bool sways = false,
        double threshold = Threshold
    )
    {
        var beats = sources
            .Where(s =>
                s.Mechanism is not (Mechanism.Mains or Mechanism.Blades)
                && !(conditions.ByHand && s.Mechanism == Mechanism.Motor)
            )
            .ToList();
        var (low, high) = conditions.ByHand ? (0.1, 0.7) : (1 - conditions.Tolerance, 1 + conditions.Tolerance);
        var fit = SourceFit.Of(spectra, beats, low, high, [], sways, stop);
        var (weights, none) = Weigh(fit, threshold);
        var all = weights.Sum(w => w.Weight) + none;
        var likely = weights.Select(w => (w.Source, Probability: w.Weight / all)).ToList();
        var scale = none < all / 2 ? fit.Scale : 1;
        if (beside && none < all / 2 && !conditions.ByHand)
        {
            likely = Beside(likely, fit, spectra, beats, (low, high), stop);
        }
        var groups = SourceMatch.Grouped(
            likely,
            fit.Scale,
            conditions.ByHand ? SourceMatch.FreeSpeed : conditions.Tolerance,
            1 / seconds
        );
        return new(seconds, level, scale, groups, none / all, true, say);
    }

    // A source counts as the one that is heard first down to this share of the likeliest.
    private const double AsFirst = 0.1;

    // Two parts of one machine run at one speed; so much may the fit be off.
    private const double SameSpeed = 0.004;

    /// <summary>What else is there once the lines of what is heard are taken out, at the same speed: a part may sound with
    /// another. Where it is not settled which is heard first, each is tried, and what a second one adds speaks for
    /// it.</summary>
    private static List<(SoundSource Source, double Probability)> Beside(
        List<(SoundSource Source, double Probability)> likely,
        SourceFit fit,
        List<EnvelopeSpectrum> spectra,
        List<SoundSource> beats,
        (double Low, double High) speeds,
        CancellationToken stop
    )
    {
        var most = likely.Max(l => l.Probability);
        var firsts = likely.Where(l => l.Probability >= AsFirst * most).ToList();
        var mass = firsts.Sum(f => f.Probability);
        var tried = firsts
            .Select(f =>
            {
                var scale = fit.Fits.First(x => x.Source == f.Source).Scale;
                var again = SourceFit.Of(
                    spectra,
                    [.. beats.Where(b => !Shares(b, f.Source))],
                    Math.Max(speeds.Low, scale - SameSpeed),
                    Math.Min(speeds.High, scale + SameSpeed),
                    [(f.Source, scale)],
                    stop: stop
                );
                var (second, nothing) = Weigh(again, Threshold);
                return (First: f, Second: second, Sum: second.Sum(w => w.Weight) + nothing, Nothing: nothing);
            })
            .ToList();
        var joint = tried.Select(t => t.First.Probability * t.Sum / t.Nothing).ToList();
        var total = joint.Sum();
        return
        [
            .. likely.Select(l =>
                (
                    l.Source,
                    (firsts.Contains(l) ? 0 : l.Probability)
                        + mass
                            * tried
                                .Select((t, i) => joint[i] / total * With(t.First.Source, t.Second, t.Sum, l.Source))
                                .Sum()
                )
            ),
        ];

        static double With(
            SoundSource first,
            List<(SoundSource Source, double Weight)> second,
            double sum,
            SoundSource source
        ) => first == source ? 1 : second.Find(s => s.Source == source).Weight / sum;
    }

    private static (List<(SoundSource Source, double Weight)> Weights, double None) Weigh(
        SourceFit fit,
        double threshold
    ) =>
        (
            [
                .. fit.Fits.Select(f =>
                    (f.Source, Before(f.Source) * Math.Exp(Math.Min(300, Temper * (Worth(f) - threshold))))
                ),
            ],
            Math.Max(1, fit.Fits.Count)
        );

    // All three baffles striking alike is rarer than one of them, which comes round with the drum.
    private static double Before(SoundSource source) => source.Mechanism == Mechanism.Baffles ? 0.2 : 1;

    /// <summary>Whether one of two is a multiple of the other at any speed, so that its lines are the other's.</summary>
    private static bool Shares(SoundSource a, SoundSource b)
    {
        var (slow, quick) = a.Hz < b.Hz ? (a.Hz, b.Hz) : (b.Hz, a.Hz);
        var times = quick / slow;
        return a == b || Math.Abs(times - Math.Round(times)) < 0.02 * Math.Round(times) && times < 4;
    }

    /// <summary>Of several spectra the one in which a source's lines stand out most.</summary>
    /// <param name="spectra">Spectra, at least one.</param>
    /// <param name="source">The source; null for the one with the highest line of all.</param>
    /// <param name="scale">Speed against the usual.</param>
    public static EnvelopeSpectrum Clearest(IReadOnlyList<EnvelopeSpectrum> spectra, SoundSource? source, double scale)
    {
        return spectra.MaxBy(s =>
            source is null
                ? s.Values.Max()
                : Enumerable
                    .Range(1, 6)
                    .Sum(h =>
                        Math.Log(1 + s.Near(h * source.Hz * scale, Math.Max(s.Step, 0.002 * h * source.Hz)).Value)
                    )
        )!;
    }

    /// <summary>A rhythm that is there and does not swing deep is a sound machine's own.</summary>
    private static double Worth((SoundSource Source, double Evidence, double Depth, double Scale) fit) =>
        fit.Evidence * Math.Min(1, Math.Pow(fit.Depth / SourceFit.Deep, 2));

    // Harmonics that are counted: what knocks has dozens, the first few carry it.
    private const int Counted = 6;

    /// <summary>Power of what swings with a source, dB: in each band the band's power times the square of how deep it
    /// swings at the source's rate and its harmonics.</summary>
    private static double NoiseDb(List<EnvelopeSpectrum> spectra, List<double> powers, SoundSource source, double scale)
    {
        var sum = 0.0;
        for (var b = 0; b < spectra.Count; b++)
        {
            for (var h = 1; h <= Counted; h++)
            {
                var hz = h * source.Hz * scale;
                if (hz < (spectra[b].Values.Length - 1) * spectra[b].Step)
                {
                    var depth = spectra[b].Near(hz, Math.Max(spectra[b].Step, 0.002 * hz)).Depth;
                    sum += powers[b] * depth * depth;
                }
            }
        }
        return 10 * Math.Log10(Math.Max(sum, 1e-15));
    }

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
