using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Drawing;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Following the rhythm of a noise: by taps, by a beat, or counted in turns of the drum.</summary>
public sealed class ListenModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Find;

    /// <summary>Rhythms followed so far, oldest first.</summary>
    public IReadOnlyList<HeardRhythm> Heard { get; private set; } = [];

    /// <summary>What comes round in this machine, slowest first.</summary>
    public IReadOnlyList<SoundSource> Sources { get; private set; } = [];

    /// <summary>Share by which the speed may differ.</summary>
    public double Tolerance =>
        Heard is [.., { Act.TwentySeconds: not null }] ? SourceMatch.CountedTolerance : SourceMatch.SpeedTolerance;

    /// <summary>Whether something burns, or smells of it: it is not run to be listened to.</summary>
    public bool Burning => View.Machine.Diagnostician.Model.Catalog.BeforeRunning(View.Evidence).Count > 0;

    /// <summary>Whether it can only be turned by hand now: it smells burnt, it is open, or its supply is off.</summary>
    public bool OnlyByHand => Burning || !State.Out.IsEmpty || State.SafeBy.Length > 0;

    /// <summary>What was heard last, followed or recorded; null where nothing was.</summary>
    public LastHeard? Latest
    {
        get
        {
            var (rhythm, sound) = (
                Heard.Count > 0 ? Heard[^1] : null,
                State.Sounds.Count > 0 ? State.Sounds[^1] : null
            );
            if (sound?.Heard is { } heard && (rhythm is null || sound.Happened >= rhythm.Act.Happened))
            {
                return new(
                    sound.Felt ? "Felt" : "Recorded",
                    sound.Sound,
                    heard.Named?.Hz ?? 0,
                    !heard.Enough ? "Not good enough to go by"
                        : heard.Named is { } named ? $"{named.Name}: {HeardRhythm.InTen(named.Probability)}"
                        : "No part comes round in it",
                    heard.Say.Length > 0 || heard.Named is null
                        ? heard.Say
                        : SourceMatch.Separator(
                            [.. Sources.Where(s => s.PartIds.Intersect(heard.Named.PartIds).Any())],
                            Tolerance
                        ),
                    true
                )
                {
                    Course = heard.Course,
                    Over = string.Join(
                        " ",
                        new[]
                        {
                            heard.Course is { Words.Length: > 0 } course
                                ? $"In {heard.Seconds / 60:0} minutes: {course.Words}{(course is { BeginsAt: not null, Share: < 0.8 } ? ", on and off" : "")}."
                                : "",
                            heard.Course is { BeginsAt: null } && sound.CalledAt is { } called
                                ? $"You called it at {HeardCourse.Minute(called)}: what is said is of what was recorded there."
                                : "",
                            heard.RunDown?.Words ?? "",
                        }.Where(w => w.Length > 0)
                    ),
                };
            }
            return rhythm is null
                ? null
                : new(
                    rhythm.Act.Way switch
                    {
                        "taps" => rhythm.Act.Marked ? "Marked in the waveform" : "Tapped",
                        "beat" => "By the beat",
                        _ => "Counted by hand",
                    },
                    rhythm.Act.Sound,
                    rhythm.Hz,
                    rhythm.Match.Groups is [var first, ..] && first.Probability > rhythm.Match.None
                        ? $"{HeardRhythm.Named(first)}: {HeardRhythm.InTen(first.Probability)}"
                        : "As often as nothing in this machine",
                    rhythm.Say.Length > 0 ? rhythm.Say
                        : rhythm.Match.Groups is [var likeliest, ..] ? likeliest.SeparateBy
                        : "",
                    false
                );
        }
    }

    /// <summary>Whether the last recording tells Find that it squeals when warm, and Find does not know it.</summary>
    public bool Warm =>
        Latest is { Course.ComesLater: true, Sound: SoundWord.Chirp or SoundWord.Other }
        && !State.Complaints.Contains("squeal-warm")
        && !State.Answers.ContainsKey("squeal-warm");

    /// <summary>Where the noise sits, by the recordings at the four spots, the last of each; null until all are
    /// there.</summary>
    public HeardPlace? Place => HeardPlace.Of(State, View.Layout, Terms.MainsHertz);

    /// <summary>Uprights of the ruler: rates heard, oldest first; of the last what it names.</summary>
    public IReadOnlyList<RateMark> Marks =>
        [
            .. Heard
                .Select(h =>
                    (
                        h.Act.Happened,
                        Mark: new RateMark(
                            h.Hz,
                            h.Low,
                            h.High,
                            h.Match.Groups is [var first, ..] && first.Probability > h.Match.None
                                ? [.. first.Sources.Select(s => s.Id)]
                                : [],
                            h.Words
                        )
                    )
                )
                .Concat(
                    State
                        .Sounds.Where(s => s is { ByHand: false, Heard.Named: not null })
                        .Select(s =>
                            (
                                s.Happened,
                                Mark: new RateMark(
                                    s.Heard!.Named!.Hz,
                                    s.Heard.Named.Hz,
                                    s.Heard.Named.Hz,
                                    [
                                        .. Sources
                                            .Where(o => o.PartIds.Intersect(s.Heard.Named.PartIds).Any())
                                            .Select(o => o.Id),
                                    ],
                                    s.Words(View.Machine)
                                )
                            )
                        )
                )
                .OrderBy(m => m.Happened)
                .Select(m => m.Mark),
        ];

    /// <summary>What was typed, where the form came back.</summary>
    public string Typed(string way, string field, string otherwise = "") =>
        Form.Is("rhythm-heard") && Form.Value("rhythm-heard", "way") == way
            ? Form.Value("rhythm-heard", field)
            : otherwise;

    /// <summary>Whether the sound of a recording is still there.</summary>
    public bool Holds(SoundRecorded sound) => State.Attachments.ContainsKey(sound.SoundId);

    /// <summary>Whether who looks at it may drop sounds.</summary>
    public bool Keeps => HttpContext.Features.Get<Caller>() is { Keeps: true };

    /// <summary>Drops the sound of a recording; what was heard in it stays.</summary>
    public async Task<IActionResult> OnPostDropAsync([FromRoute] string number, [FromForm] string? sound)
    {
        if (!Keeps)
        {
            return StatusCode(StatusCodes.Status403Forbidden);
        }
        if (!Load(number))
        {
            return NotFound();
        }
        var caller = HttpContext.Caller();
        await Services.Store.DropSoundsAsync(
            View.Job.JobId,
            [sound ?? ""],
            caller.Person.Length > 0 ? caller.Person : null,
            caller.Device
        );
        return this.SeeOther(To("listen"));
    }

    protected override async Task PrepareAsync()
    {
        Heard = HeardRhythm.Of(State, View.Layout);
        Sources = SoundSource.Of(
            View.Layout,
            Terms.MainsHertz,
            Heard is [.., { Act.TwentySeconds: > 0 and var s }] ? 1200 / s : null
        );
        if (State.Sounds.LastOrDefault(s => s.Heard is { Enough: true }) is { } sound)
        {
            PictureOf = sound.SoundId;
            Picture = await Services.Sounds.PictureAsync(sound, Sources, HttpContext.RequestAborted);
        }
        if (
            LastSound is { } markable
            && double.TryParse(Request.Query["piece"], System.Globalization.CultureInfo.InvariantCulture, out var from)
            && double.IsFinite(from)
        )
        {
            Marking = Services.Sounds.PieceOf(markable, from, MarkWide);
        }
        Pair = HeardPair.Of(State);
        if (Pair is { Outcome.Length: > 0 } && State.Answers.GetValueOrDefault("hand-belt-off") != Pair.Outcome)
        {
            await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
            PairAnswers =
                State.Answers.ContainsKey("hand-belt-off")
                || View.Diagnosis.Checks.Any(c => c.Finding.Id == "hand-belt-off");
        }
        await base.PrepareAsync();
    }

    /// <summary>The last recording whose sound is there.</summary>
    public SoundRecorded? LastSound => State.Sounds.LastOrDefault(r => !r.Felt && Holds(r));

    /// <summary>A piece of it in which noises are marked, where that was asked for; null where it was not.</summary>
    public MarkPiece? Marking { get; private set; }

    /// <summary>How wide the piece is, s: quick noises close up, slow ones from further off.</summary>
    public double MarkWide => Request.Query["wide"] == "8" ? 8 : 2;

    /// <summary>Address of another piece.</summary>
    public string PieceAt(double from, double wide) =>
        string.Create(
            System.Globalization.CultureInfo.InvariantCulture,
            $"{To("listen")}?piece={Math.Max(0, from):0.##}&wide={wide:0}"
        );

    /// <summary>The level of the last good recording at each of the four spots, dB.</summary>
    public IReadOnlyDictionary<string, double> AtSpots =>
        State
            .Sounds.Where(s => s is { Spot.Length: > 0, Felt: false, ByHand: false, Heard.Enough: true })
            .GroupBy(s => s.Spot)
            .ToDictionary(g => g.Key, g => g.Last().Heard!.LevelDb);

    /// <summary>The spot that comes next once the round of the four was begun; anywhere before, and where all are there.</summary>
    public string NextSpot => AtSpots.Count is > 0 and < 4 ? SpotLevels.Spots.First(s => !AtSpots.ContainsKey(s)) : "";

    /// <summary>The pair by hand, belt on and off; null where neither was recorded.</summary>
    public HeardPair? Pair { get; private set; }

    /// <summary>Whether what the pair says can be told to Find: it asks it as the machine stands and does not know it.</summary>
    public bool PairAnswers { get; private set; }

    /// <summary>Hash of the recording that is drawn.</summary>
    public string PictureOf { get; private set; } = "";

    /// <summary>The last recording, drawn; null where there is none.</summary>
    public Drawing.SoundPictures? Picture { get; private set; }
}

/// <summary>What was heard last.</summary>
/// <param name="Way">How.</param>
/// <param name="Sound">What kind of noise.</param>
/// <param name="Hz">How often a second; 0 where no rhythm was found.</param>
/// <param name="Named">The part, and how surely.</param>
/// <param name="Say">What is wrong, or what would tell more; may be empty.</param>
/// <param name="Recorded">Whether it was recorded.</param>
public sealed record LastHeard(string Way, string Sound, double Hz, string Named, string Say, bool Recorded)
{
    /// <summary>Over its time, where it is a long recording; null where it is not.</summary>
    public HeardCourse? Course { get; init; }

    /// <summary>From when on it is heard, and what becomes of it when the door is opened; empty where neither is told.</summary>
    public string Over { get; init; } = "";
}

/// <summary>The four spots at which a noise is recorded, seen from above.</summary>
/// <param name="Next">The one that comes next; empty for anywhere.</param>
/// <param name="Levels">Level of those that are there, dB.</param>
public sealed record SpotPlan(string Next, IReadOnlyDictionary<string, double> Levels);
