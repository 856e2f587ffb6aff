using System.Globalization;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Listening;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A source that a recording speaks of, as it was named when it came in.</summary>
/// <param name="Mechanism">roller, idler, drum and so on.</param>
/// <param name="Name">In the trade's words.</param>
/// <param name="PartIds">Parts that it may be.</param>
/// <param name="Hz">How often a second at the fitted speed.</param>
/// <param name="Probability">How surely.</param>
public sealed record HeardSource(
    string Mechanism,
    string Name,
    IReadOnlyList<PartId> PartIds,
    double Hz,
    double Probability
);

/// <summary>A long recording over its time, as it was listened through; the sound is kept in part.</summary>
/// <param name="PieceSeconds">Length of a piece, s.</param>
/// <param name="LevelsDb">Level of each piece, dB below full scale.</param>
/// <param name="BeginsAt">From when on it is heard, s; null where nothing is.</param>
/// <param name="EndsAt">Until when, s; null where nothing is.</param>
/// <param name="Share">Share of the pieces between the two in which it is heard.</param>
/// <param name="LouderAt">From when on it is louder for good, s; null where it is not.</param>
/// <param name="KeptFrom">From where on the sound is kept, s.</param>
/// <param name="KeptTo">Until where, s.</param>
public sealed record HeardCourse(
    double PieceSeconds,
    IReadOnlyList<double> LevelsDb,
    double? BeginsAt,
    double? EndsAt,
    double Share,
    double? LouderAt,
    double KeptFrom,
    double KeptTo
)
{
    /// <summary>Of a recording that was listened through.</summary>
    public static HeardCourse Of(SoundCourse course) =>
        new(
            course.PieceSeconds,
            course.LevelsDb,
            course.BeginsAt,
            course.EndsAt,
            Math.Round(course.Share, 3),
            course.LouderAt,
            Math.Round(course.Kept.From, 1),
            Math.Round(course.Kept.To, 1)
        );

    /// <summary>Whether what is heard was not there at first: it comes when the machine is warm.</summary>
    [JsonIgnore]
    public bool ComesLater => BeginsAt >= Later;

    // A cold start's own noises are over by then, s.
    private const double Later = 180;

    /// <summary>From when on, in words; empty where nothing begins in it.</summary>
    [JsonIgnore]
    public string Words =>
        BeginsAt is { } begins
            ? begins == 0
                ? EndsAt < LevelsDb.Count * PieceSeconds
                    ? $"from the beginning to {Minute(EndsAt.Value)}"
                    : "from beginning to end"
                : $"from {Minute(begins)} on"
            : LouderAt is { } louder
                ? $"louder from {Minute(louder)} on"
                : "";

    /// <summary>A moment of a long recording.</summary>
    public static string Minute(double seconds) =>
        seconds < 60
            ? string.Create(CultureInfo.InvariantCulture, $"second {seconds:0}")
            : string.Create(CultureInfo.InvariantCulture, $"minute {seconds / 60:0.#}");
}

/// <summary>What became of the noise when the door was opened.</summary>
/// <param name="OpensAt">When the motor was cut, s.</param>
/// <param name="DiesOver">How long the rest took to be still, s.</param>
/// <param name="HumStops">Whether a hum of the mains stopped at once.</param>
/// <param name="Words">What it says, in sentences.</param>
public sealed record HeardRunDown(double OpensAt, double DiesOver, bool HumStops, string Words);

/// <summary>What was heard in a recording, kept with the act: the sound itself may be dropped.</summary>
/// <param name="Seconds">Length, s.</param>
/// <param name="LevelDb">Level, dB below full scale.</param>
/// <param name="SpeedScale">Speed against the usual.</param>
/// <param name="None">Probability that none of the parts sounds.</param>
/// <param name="Enough">Whether it was good enough.</param>
/// <param name="Say">What was wrong with it; empty where it was good.</param>
/// <param name="Sources">Sources, likeliest first.</param>
public sealed record HeardInSound(
    double Seconds,
    double LevelDb,
    double SpeedScale,
    double None,
    bool Enough,
    string Say,
    IReadOnlyList<HeardSource> Sources
)
{
    /// <summary>What kind of noise it is, where one is likelier than all others together; empty where none is, and in logs
    /// from before it was told.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Kind { get; init; }

    /// <summary>Level of each source's own noise, dB, by source id; null in logs from before it was told.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyDictionary<string, double>? SourceDb { get; init; }

    /// <summary>Level by band of pitch, dB; null in logs from before it was told, and where nothing was listened to.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IReadOnlyList<double>? BandDb { get; init; }

    /// <summary>Over its time, where it is longer than is listened to at once; null where it is not.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public HeardCourse? Course { get; init; }

    /// <summary>What stopped at once and what died down when the door was opened; null where it was not.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public HeardRunDown? RunDown { get; init; }

    /// <summary>A kind in words.</summary>
    public static string KindWords(string kind) => kind == "double-knock" ? "a double knock" : $"a {kind}";

    // What is less likely than this is left out.
    private const double Least = 0.005;

    /// <summary>The likeliest source, where it is likelier than that nothing sounds.</summary>
    [JsonIgnore]
    public HeardSource? Named => Sources is [var first, ..] && first.Probability > None ? first : null;

    /// <summary>Of an analysis.</summary>
    public static HeardInSound Of(SoundAnalysis heard) =>
        new(
            Math.Round(heard.Seconds, 1),
            Math.Round(heard.LevelDb, 1),
            Math.Round(heard.SpeedScale, 4),
            Math.Round(heard.None, 4),
            heard.Enough,
            heard.Say,
            [
                .. heard
                    .Groups.Where(g => g.Probability >= Least)
                    .Select(g => new HeardSource(
                        g.Mechanism.Word(),
                        string.Join(" or ", g.Sources.Select(s => s.Name)),
                        g.PartIds,
                        Math.Round(g.Hz, 3),
                        Math.Round(g.Probability, 4)
                    )),
            ]
        )
        {
            Kind = heard.Character.FirstOrDefault(c => c.Value > 0.5 && c.Key != "quiet").Key,
            RunDown = heard.RunDown is { } down
                ? new(Math.Round(down.OpensAt, 1), Math.Round(down.DiesOver, 2), down.HumStops, down.Words)
                : null,
            BandDb = heard.BandDb.Count == 0 ? null : [.. heard.BandDb.Select(b => Math.Round(b, 1))],
            SourceDb =
                heard.SourceDb.Count == 0 ? null : heard.SourceDb.ToDictionary(s => s.Key, s => Math.Round(s.Value, 1)),
        };
}

/// <summary>A noise was recorded; the sound is stored beside the log, what it says with the act.</summary>
/// <param name="SoundId">Name of the sound: 64 hexadecimal digits.</param>
/// <param name="Sound">chirp, thump, double or other.</param>
/// <param name="Spot">door-left, door-right, rear-left, rear-right, or empty.</param>
/// <param name="ByHand">The drum was turned by hand with the supply off.</param>
public sealed record SoundRecorded(string SoundId, string Sound, string Spot, bool ByHand)
    : JobEvent,
        ICarriesAttachment
{
    private static readonly string[] Sounds = [SoundWord.Chirp, SoundWord.Thump, SoundWord.Double, SoundWord.Other];

    /// <summary>Spots at which it may be recorded.</summary>
    public static IReadOnlyDictionary<string, string> Spots { get; } =
        new Dictionary<string, string>
        {
            [""] = "Anywhere",
            ["door-left"] = "Door, low left",
            ["door-right"] = "Door, low right",
            ["rear-left"] = "Rear, low left",
            ["rear-right"] = "Rear, low right",
        };

    /// <summary>Not heard but felt: a phone that lay on the cabinet; what is stored is a series of motion.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Felt { get; init; }

    /// <summary>By hand: on or off, whether the belt was on; null where it was not said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Belt { get; init; }

    /// <summary>How much of it the device lost while it was recorded, s: what follows is moved up, and the rhythm with it; null
    /// where it does not say.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? LostSeconds { get; init; }

    /// <summary>The door was opened some seconds before its end, while the machine ran; what follows is the
    /// run-down.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool DoorOpened { get; init; }

    /// <summary>When who stood by said that it began, s from the beginning of the recording; null where nobody
    /// did.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? CalledAt { get; init; }

    /// <summary>SHA-256 of the sound as it is stored.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Sha256 { get; init; }

    /// <summary>What was heard in it; null where nobody listened.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public HeardInSound? Heard { get; init; }

    AttachmentKind ICarriesAttachment.Carries => Felt ? AttachmentKind.Motion : AttachmentKind.Sound;

    string ICarriesAttachment.CarriedName => SoundId;

    string? ICarriesAttachment.CarriedSha256 => Sha256;

    JobEvent ICarriesAttachment.Carrying(string sha256) => this with { SoundId = sha256, Sha256 = sha256 };

    internal override bool StandsAlone => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Attachment(this, "soundId", check.State.Sounds.Count);
        check.Errors.If(
            !Sounds.Contains(Sound),
            "sound",
            "Say what you hear: a chirp, a thump, a double knock or else."
        );
        check.Errors.If(
            Felt && Sound is SoundWord.Chirp or SoundWord.Other,
            "sound",
            "Squeals, hum and the blower are heard and not felt: record them. What is felt thumps or knocks."
        );
        check.Errors.If(
            Felt && ByHand,
            "byHand",
            "By hand nothing shakes the cabinet enough: tap the rhythm, or count in turns of the drum."
        );
        check.Errors.If(
            LostSeconds is not (null or >= 0 and <= 3600),
            "lostSeconds",
            "Seconds that the device lost are between 0 and 3600."
        );
        check.Errors.If(
            DoorOpened && (ByHand || Felt),
            "doorOpened",
            "A run-down is recorded of a machine that runs: by hand, and felt, there is none."
        );
        check.Errors.If(
            CalledAt is not (null or >= 0 and <= 3600),
            "calledAt",
            "When it began lies within the recording: 0 to 3600 s."
        );
        check.Errors.If(Belt is not (null or "" or "on" or "off"), "belt", "The belt was on or off.");
        check.Errors.If(
            Belt is "on" or "off" && !ByHand,
            "belt",
            "Belt on and belt off are compared by hand, supply off: tick that the drum was turned by hand."
        );
        check.Errors.If(!Spots.ContainsKey(Spot), "spot", "The four spots are door and rear, low left and right.");
    }

    internal override JobState Apply(JobState state) => state with { Sounds = state.Sounds.Add(this) };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() =>
        new NoteAdded("", "Recording " + CustomerRemoved.Word).StampedAs(this);

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{(Felt ? "Felt" : "Recorded")}{(Spot.Length > 0 ? " (" + Wording.Inside(Spots[Spot]) + ")" : "")}{(ByHand ? ", by hand" : "")}{(Belt is "on" or "off" ? ", belt " + Belt : "")}: {(Heard is null ? "not listened to" : !Heard.Enough ? Heard.Say : Heard.Named is { } named ? $"{Wording.Inside(named.Name)}, {Known.HeardRhythm.InTen(named.Probability)}" : "no part comes round in it")}{(Heard is { Enough: true, Kind: { Length: > 0 } kind } ? ", " + HeardInSound.KindWords(kind) : "")}{(Heard?.Course is { Words.Length: > 0 } course ? ", " + course.Words : "")}{(Heard?.Course is { BeginsAt: null } && CalledAt is { } called ? ", called at " + HeardCourse.Minute(called) : "")}{(Heard?.RunDown is { } down ? $"; door opened, {(down.HumStops ? "the hum stops at once, the rest" : "it")} dies down over {down.DiesOver:0.0} s" : "")}"
        );
}
