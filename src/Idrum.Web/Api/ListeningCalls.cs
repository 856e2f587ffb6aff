using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Web.Attachments;
using Idrum.Web.Forms;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record TapsQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>When the taps were made, s, rising.</summary>
    public IReadOnlyList<double> TapSeconds { get; init; } = [];

    /// <summary>Turns of the drum where they were counted, r/min; by hand they must be.</summary>
    public double? DrumRpm { get; init; }

    /// <summary>How many times slower the playback was.</summary>
    public double SlowedBy { get; init; } = 1;

    /// <summary>The drum was turned by hand.</summary>
    public bool ByHand { get; init; }

    /// <summary>Mains, 50 or 60 Hz; the shop's where it is not said.</summary>
    public int? MainsHz { get; init; }
}

public sealed record SourceAnswer(
    IReadOnlyList<PartId> PartIds,
    Mechanism Mechanism,
    string Name,
    double Hz,
    double Probability,
    string? SeparateBy,
    double? LevelDb = null
);

public sealed record TapsAnswer(
    double Hz,
    double HzLow,
    double HzHigh,
    int Used,
    int Missed,
    int Left,
    string Say,
    IReadOnlyList<SourceAnswer> Sources,
    double None
);

public sealed record QualityAnswer(bool Enough, string Say);

public sealed record RecordingAnswer(
    double Seconds,
    double LevelDb,
    IReadOnlyDictionary<string, double> Character,
    double SpeedScale,
    IReadOnlyList<SourceAnswer> Sources,
    double None,
    QualityAnswer Quality
)
{
    /// <summary>Over its time, where it is longer than five minutes: what is heard is said of where it is plainest.</summary>
    public HeardCourse? Course { get; init; }

    /// <summary>What stopped at once and what died down when the door was opened, where it was.</summary>
    public RunDown? RunDown { get; init; }
}

public sealed record LevelsAtSpots
{
    public double? DoorLeft { get; init; }

    public double? DoorRight { get; init; }

    public double? RearLeft { get; init; }

    public double? RearRight { get; init; }
}

public sealed record SpotsQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>Level at each spot, dB, by one phone held alike.</summary>
    public required LevelsAtSpots LevelsDb { get; init; }
}

public sealed record NoiseQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>Faults that are to be heard; none for a machine that is sound.</summary>
    public IReadOnlyList<FaultId> Faults { get; init; } = [];

    /// <summary>Length, s: up to 60 here.</summary>
    public double Seconds { get; init; } = 10;

    public int Seed { get; init; }

    public double? DrumRpm { get; init; }

    public int? MainsHz { get; init; }

    /// <summary>0 cold to 1 warm.</summary>
    public double Warmth { get; init; } = 0.7;

    /// <summary>0 empty to 1 full.</summary>
    public double Load { get; init; }

    public bool ByHand { get; init; }

    /// <summary>By hand with the belt slipped off: what it drives is still.</summary>
    public bool BeltOff { get; init; }

    /// <summary>door-left, door-right, rear-left or rear-right: where the phone is held; empty for anywhere.</summary>
    public string Spot { get; init; } = "";

    /// <summary>Which part the faults sit at; left out, the seed draws one of those that come round alike.</summary>
    public PartId PartId { get; init; } = "";

    /// <summary>The faults' root mean square against all else over the whole, dB.</summary>
    public double BackgroundDb { get; init; }

    /// <summary>When the faults begin to be heard, s.</summary>
    public double BeginsAt { get; init; }

    /// <summary>When the door is opened, s; left out, it runs to the end.</summary>
    public double? OpensAt { get; init; }

    /// <summary>sound, or motion: what a phone on the cabinet feels.</summary>
    public string Kind { get; init; } = "sound";
}

/// <summary>Listening without pages.</summary>
public static class ListeningCalls
{
    private const double LongestMade = 60;

    public static void MapListening(this RouteGroupBuilder api)
    {
        api.MapPost("/listening/taps", TapsAsync)
            .Accepts<TapsQuestion>("application/json")
            .Produces<TapsAnswer>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .WithSummary("The rhythm of taps on a noise, and which parts come round so often");
        api.MapPost("/listening/recording", RecordingAsync)
            .Accepts<byte[]>("audio/wav")
            .Produces<RecordingAnswer>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .ProducesProblem(415)
            .WithSummary("Which parts a recording (WAV) speaks of");
        api.MapPost("/listening/motion", MotionAsync)
            .Accepts<MotionSeries>("application/json")
            .Produces<RecordingAnswer>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .WithSummary("Which parts shake the cabinet: acceleration of a phone that lies on it, m/s²");
        api.MapPost("/listening/spots", SpotsAsync)
            .Accepts<SpotsQuestion>("application/json")
            .Produces<SpotLevels>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .WithSummary("Where a noise sits, by its level at four spots low on the cabinet");
        api.MapPost("/noise-bench", NoiseAsync)
            .Accepts<NoiseQuestion>("application/json")
            .Produces<byte[]>(200, "audio/wav")
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .WithSummary("A made-up recording of a machine with given faults");
    }

    private static async Task<IResult> TapsAsync(HttpRequest request, ShopSnapshot shop)
    {
        var (question, wrong) = await ApiBody.ReadAsync<TapsQuestion>(request);
        if (question is null)
        {
            return wrong!;
        }
        var errors = new FieldErrors();
        var layout = LayoutOf(question.LayoutId, shop, errors);
        var mains = Mains(question.MainsHz, shop, errors);
        Drum(question.DrumRpm, question.ByHand ? 1 : 10, errors);
        errors.If(
            question.ByHand && question.DrumRpm is null,
            "drumRpm",
            "By hand the speed is free: count the turns of the drum while you tap."
        );
        errors.If(!(question.SlowedBy is >= 1 and <= 8), "slowedBy", "A playback is slowed 1 to 8 times.");
        var taps = question.TapSeconds;
        errors.If(taps.Count > TapRhythm.Most, "tapSeconds", $"At most {TapRhythm.Most} taps.");
        errors.If(
            taps.Any(t => !(Math.Abs(t) <= 1e6)) || taps.Zip(taps.Skip(1)).Any(p => p.Second < p.First),
            "tapSeconds",
            "The times of the taps are finite, in seconds, and rise."
        );
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        if (TapRhythm.Of(taps, question.SlowedBy) is not { } rhythm)
        {
            return ApiBody.Problem(
                "tapSeconds",
                $"Too few taps for a rhythm: {TapRhythm.Fewest} at least, ten are better."
            );
        }
        var match = SourceMatch.Of(
            SoundSource.Of(layout!, mains, question.DrumRpm),
            rhythm.Hz,
            rhythm.Error,
            question.DrumRpm is null ? SourceMatch.SpeedTolerance : SourceMatch.CountedTolerance
        );
        return Results.Ok(
            new TapsAnswer(
                rhythm.Hz,
                rhythm.Low,
                rhythm.High,
                rhythm.Used,
                rhythm.Missed,
                rhythm.Left,
                rhythm.Say,
                Answers(match.Groups),
                match.None
            )
        );
    }

    private static async Task<IResult> MotionAsync(
        HttpRequest request,
        string? layoutId,
        string? mainsHz,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken caller
    )
    {
        var (series, wrong) = await ApiBody.ReadAsync<MotionSeries>(request);
        if (series is null)
        {
            return wrong!;
        }
        var errors = new FieldErrors();
        var layout = LayoutOf(layoutId ?? "", shop, errors);
        var mains = Mains(mainsHz is null ? null : (int)(TypedNumber.Read(mainsHz) ?? 0), shop, errors);
        if (errors.All.Concat(series.Check()).ToList() is { Count: > 0 } all)
        {
            return ApiBody.Problem(all);
        }
        var felt = await gate.RunAsync(
            stop => SoundAnalysis.Felt(series, SoundSource.Of(layout!, mains), new(), stop),
            caller
        );
        return Results.Ok(
            new RecordingAnswer(
                felt.Seconds,
                felt.LevelDb,
                felt.Character,
                felt.SpeedScale,
                Answers(felt.Groups),
                felt.None,
                new(felt.Enough, felt.Say)
            )
        );
    }

    private static async Task<IResult> SpotsAsync(HttpRequest request, ShopSnapshot shop)
    {
        var (question, wrong) = await ApiBody.ReadAsync<SpotsQuestion>(request);
        if (question is null)
        {
            return wrong!;
        }
        var errors = new FieldErrors();
        LayoutOf(question.LayoutId, shop, errors);
        var db = question.LevelsDb;
        var levels = new Dictionary<string, double>();
        foreach (
            var (field, spot, level) in new[]
            {
                ("doorLeft", "door-left", db.DoorLeft),
                ("doorRight", "door-right", db.DoorRight),
                ("rearLeft", "rear-left", db.RearLeft),
                ("rearRight", "rear-right", db.RearRight),
            }
        )
        {
            errors.If(
                !(level is >= -200 and <= 200),
                "levelsDb/" + field,
                "A level in dB, −200 to 200; all four spots are needed."
            );
            levels[spot] = level ?? double.NaN;
        }
        return errors.All.Count > 0 ? ApiBody.Problem(errors.All) : Results.Ok(SpotLevels.Of(levels));
    }

    private static async Task<IResult> RecordingAsync(
        HttpRequest request,
        string? layoutId,
        string? mainsHz,
        string? drumRpm,
        bool? byHand,
        bool? doorOpened,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken caller
    )
    {
        if (request.ContentType is not { } type || !type.StartsWith("audio/", StringComparison.OrdinalIgnoreCase))
        {
            return Results.Problem(statusCode: 415, title: "Wrong kind", detail: "Send audio/wav.");
        }
        var errors = new FieldErrors();
        var layout = LayoutOf(layoutId ?? "", shop, errors);
        var mains = Mains(mainsHz is null ? null : (int)(TypedNumber.Read(mainsHz) ?? 0), shop, errors);
        double? counted = drumRpm is null ? null : TypedNumber.Read(drumRpm) ?? double.NaN;
        Drum(counted, byHand == true ? 1 : 10, errors);
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        using var body = new MemoryStream((int)Math.Min(request.ContentLength ?? 0, WavFile.MostBytes));
        await request.Body.CopyToAsync(body, caller);
        var (recording, problem) = WavFile.Read(body.GetBuffer().AsSpan(0, (int)body.Length));
        if (recording is null)
        {
            return ApiBody.Problem("", problem, 400);
        }
        errors.If(
            doorOpened == true && byHand == true,
            "doorOpened",
            "A run-down is recorded of a machine that runs: by hand there is none."
        );
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        var sources = SoundSource.Of(layout!, mains, counted);
        var conditions = new SoundConditions
        {
            ByHand = byHand == true && counted is null,
            DoorOpened = doorOpened == true,
            Tolerance = counted is null ? SourceMatch.SpeedTolerance : SourceMatch.CountedTolerance,
        };
        var course =
            recording.Seconds > SoundAnalysis.LongestSeconds
                ? await gate.RunAsync(
                    stop => SoundCourse.Of(recording, sources, conditions, null, stop),
                    caller,
                    SoundDesk.LongDeadline
                )
                : null;
        var analysis = course?.Heard
            ?? await gate.RunAsync(stop => SoundAnalysis.Of(recording, sources, conditions, stop), caller);
        return Results.Ok(
            new RecordingAnswer(
                analysis.Seconds,
                analysis.LevelDb,
                analysis.Character,
                analysis.SpeedScale,
                Answers(analysis.Groups, analysis.SourceDb),
                analysis.None,
                new(analysis.Enough, analysis.Say)
            )
            {
                Course = course is null ? null : HeardCourse.Of(course),
                RunDown = analysis.RunDown,
            }
        );
    }

    private static async Task<IResult> NoiseAsync(
        HttpRequest request,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken caller
    )
    {
        var (question, wrong) = await ApiBody.ReadAsync<NoiseQuestion>(request);
        if (question is null)
        {
            return wrong!;
        }
        var errors = new FieldErrors();
        var layout = LayoutOf(question.LayoutId, shop, errors);
        var mains = Mains(question.MainsHz, shop, errors);
        Drum(question.DrumRpm, 5, errors);
        errors.If(!(question.Seconds is >= 1 and <= LongestMade), "seconds", $"1 to {LongestMade:0} s are made here.");
        errors.If(!(question.Warmth is >= 0 and <= 1), "warmth", "Warmth is from 0 (cold) to 1 (warm).");
        errors.If(!(question.Load is >= 0 and <= 1), "load", "Load is from 0 (empty) to 1 (full).");
        errors.If(question.Kind is not ("sound" or "motion"), "kind", "A sound or a motion is made.");
        errors.If(
            question.Spot.Length > 0 && !SpotLevels.Spots.Contains(question.Spot),
            "spot",
            $"The spots are {string.Join(", ", SpotLevels.Spots)}." + Nearest.Hint(question.Spot, SpotLevels.Spots)
        );
        errors.If(
            !question.PartId.IsNone && layout is not null && layout.FindPart(question.PartId) is null,
            "partId",
            "There is no such part." + Nearest.Hint(question.PartId, layout?.Parts.Select(p => p.Id.Value) ?? [])
        );
        errors.If(
            question.BeltOff && !question.ByHand,
            "beltOff",
            "With the belt off only a hand turns the drum: byHand as well."
        );
        errors.If(
            !(question.BeginsAt >= 0 && question.BeginsAt <= LongestMade),
            "beginsAt",
            $"From 0 to {LongestMade:0} s."
        );
        errors.If(
            question.OpensAt is not null && !(question.OpensAt >= 0 && question.OpensAt <= LongestMade),
            "opensAt",
            $"From 0 to {LongestMade:0} s."
        );
        errors.If(!(question.BackgroundDb is >= -40 and <= 40), "backgroundDb", "From −40 to 40 dB.");
        if (layout is not null)
        {
            var sounding = question.Kind == "motion" ? NoiseBench.FeltOf(layout) : NoiseBench.FaultsOf(layout);
            for (var i = 0; i < question.Faults.Count; i++)
            {
                errors.If(
                    !sounding.Contains(question.Faults[i] ?? ""),
                    $"faults/{i}",
                    $"This fault is not {(question.Kind == "motion" ? "felt" : "heard")} on this machine. Those that are: "
                        + string.Join(", ", sounding)
                        + "."
                );
            }
        }
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        var order = new NoiseOrder
        {
            Faults = question.Faults,
            Seconds = question.Seconds,
            Seed = question.Seed,
            DrumRpm = question.DrumRpm,
            MainsHertz = mains,
            Warmth = question.Warmth,
            Load = question.Load,
            ByHand = question.ByHand,
            BeltOff = question.BeltOff,
            FaultDb = question.BackgroundDb,
            Spot = question.Spot,
            Part = question.PartId,
            BeginsAt = question.BeginsAt,
            OpensAt = question.OpensAt,
        };
        if (question.Kind == "motion")
        {
            return Results.Ok(await gate.RunAsync(stop => NoiseBench.Shake(layout!, order, stop), caller));
        }
        var sound = await gate.RunAsync(stop => NoiseBench.Render(layout!, order, stop), caller);
        return Results.File(WavFile.Write(sound), "audio/wav");
    }

    private static List<SourceAnswer> Answers(
        IReadOnlyList<SourceGroup> groups,
        IReadOnlyDictionary<string, double>? levels = null
    ) =>
        [
            .. groups
                .Where(g => g.Probability >= 0.001)
                .Select(g => new SourceAnswer(
                    g.PartIds,
                    g.Mechanism,
                    string.Join(" or ", g.Sources.Select(s => s.Name)),
                    g.Hz,
                    g.Probability,
                    g.SeparateBy.Length > 0 ? g.SeparateBy : null,
                    levels?.TryGetValue(g.Sources[0].Id, out var db) == true ? Math.Round(db, 1) : null
                )),
        ];

    private static Layout? LayoutOf(string id, ShopSnapshot shop, FieldErrors errors)
    {
        var layout = shop.FindLayout(id);
        errors.If(
            layout is null,
            "layoutId",
            "The shop has no such layout." + Nearest.Hint(id, shop.Layouts.Select(l => l.Id))
        );
        return layout;
    }

    private static int Mains(int? said, ShopSnapshot shop, FieldErrors errors)
    {
        errors.If(said is not (null or 50 or 60), "mainsHz", "The mains have 50 or 60 Hz.");
        return said is 50 or 60 ? said.Value : shop.Terms.MainsHertz;
    }

    private static void Drum(double? rpm, double least, FieldErrors errors) =>
        errors.If(
            rpm is { } r && !(r >= least && r <= 200),
            "drumRpm",
            $"Turns of the drum a minute: {least:0} to 200."
        );
}
