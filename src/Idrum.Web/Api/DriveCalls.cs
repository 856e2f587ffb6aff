using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Web.Api;

public sealed record DriveQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>Pitch length of the belt, mm; the layout's own where it is not said.</summary>
    public double? BeltLengthMm { get; init; }

    public int? BeltRibs { get; init; }

    /// <summary>Pull of the spring against a new one.</summary>
    public double? SpringFactor { get; init; }

    /// <summary>Wet load, kg; a full one where it is not said.</summary>
    public double? LoadKg { get; init; }

    /// <summary>Friction of the belt against the layout's; a glazed one some 0.6.</summary>
    public double? FrictionFactor { get; init; }

    /// <summary>Id of a course; the right one where it is not said.</summary>
    public string? Course { get; init; }

    /// <summary>Mains, 50 or 60 Hz; the shop's where it is not said.</summary>
    public int? MainsHz { get; init; }
}

public sealed record DriveAnswer(
    bool Runs,
    string Why,
    double? ArmAngleDeg,
    double TensionerShare,
    bool? BeltSwitchClosed,
    double? BeltSwitchMarginDeg,
    IReadOnlyDictionary<string, double> WrapDeg,
    double StaticTensionN,
    double TightN,
    double SlackN,
    double SlipMargin,
    double SlipMarginNew,
    DriveWheel SlipsAt,
    double DrumRpm,
    double CourseMm,
    IReadOnlyDictionary<string, double> BearingN
)
{
    public static DriveAnswer Of(DriveRun run) =>
        new(
            run.Runs,
            run.Why,
            run.ArmAngleDeg,
            run.Rest.Share,
            run.SwitchClosed,
            run.SwitchMarginDeg,
            run.Shape.Wheels.ToDictionary(w => w.Name.Word(), w => run.WrapDeg(w.Name)),
            Math.Max(0, run.Rest.SlackN),
            Math.Max(0, run.Loaded.TightN),
            Math.Max(0, run.Loaded.SlackN),
            run.Margin,
            run.MarginNew,
            run.SlipsAt,
            run.DrumRpm,
            run.Rest.Path.LengthMm,
            run.Shape.Wheels.Where(w => w.Name != DriveWheel.Drum)
                .ToDictionary(w => w.Name.Word(), w => run.BearingN(w.Name))
        );
}

public sealed record CourseAnswer(
    string Id,
    string Name,
    bool Right,
    string Tell,
    string WhenRun,
    bool Runs,
    string Why,
    IReadOnlyDictionary<string, string> Signs
);

public sealed record CoursesAnswer(IReadOnlyList<CourseAnswer> Courses, IReadOnlyList<CourseQuestion> Questions);

/// <summary>The belt drive without pages.</summary>
public static class DriveCalls
{
    public static void MapDrive(this RouteGroupBuilder api)
    {
        api.MapPost("/drive", DriveAsync)
            .Accepts<DriveQuestion>("application/json")
            .Produces<DriveAnswer>()
            .ProducesValidationProblem(400)
            .ProducesValidationProblem(422)
            .WithSummary("How a drive stands and runs with a belt, a spring, a load, a course");
        api.MapGet("/drive/{layoutId}/courses", (string layoutId, ShopSnapshot shop) =>
                shop.FindLayout(layoutId) is { } layout
                    ? Results.Ok(
                        new CoursesAnswer(
                            [
                                .. BeltCourse
                                    .Of(layout, null, shop.Terms.MainsHertz)
                                    .Select(c => new CourseAnswer(
                                        c.Id,
                                        c.Name,
                                        c.Right,
                                        c.Tell,
                                        c.WhenRun,
                                        c.Run.Runs,
                                        c.Run.Why,
                                        c.Signs
                                    )),
                            ],
                            CourseKey.Questions
                        )
                    )
                    : ApiBody.Problem("layoutId", "The shop has no such layout.", 404)
            )
            .Produces<CoursesAnswer>()
            .ProducesValidationProblem(404)
            .WithSummary("The right course of the belt and the wrong ones, with what gives each away");
    }

    private static async Task<IResult> DriveAsync(HttpRequest request, ShopSnapshot shop)
    {
        var (question, wrong) = await ApiBody.ReadAsync<DriveQuestion>(request);
        if (question is null)
        {
            return wrong!;
        }
        if (shop.FindLayout(question.LayoutId) is not { } layout)
        {
            return ApiBody.Problem("layoutId", "The shop has no such layout.");
        }
        var own = layout.Drive.Belt;
        var errors = new FieldErrors();
        errors.If(
            question.BeltLengthMm is { } mm && !(mm >= own.LengthMm * 0.9 && mm <= own.LengthMm * 1.1),
            "beltLengthMm",
            string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"This machine's belt is {own.LengthMm:0} mm long; {own.LengthMm * 0.9:0} to {own.LengthMm * 1.1:0} mm are reckoned, in millimetres."
            )
        );
        errors.If(question.BeltRibs is { } ribs && ribs is < 1 or > 20, "beltRibs", "A belt has 1 to 20 ribs.");
        errors.If(
            question.SpringFactor is { } spring && !(spring is >= 0 and <= 3),
            "springFactor",
            "Pull of the spring against a new one: 0 to 3."
        );
        errors.If(question.LoadKg is { } kg && !(kg is >= 0 and <= 40), "loadKg", "A wet load of 0 to 40 kg.");
        errors.If(
            question.FrictionFactor is { } friction && !(friction is >= 0.1 and <= 2),
            "frictionFactor",
            "Friction against the layout's: 0.1 to 2."
        );
        errors.If(question.MainsHz is { } hz && hz is not (50 or 60), "mainsHz", "The mains have 50 or 60 Hz.");
        if (errors.All.Count > 0)
        {
            return ApiBody.Problem(errors.All);
        }
        var usual = DriveCase.Of(layout.Drive);
        var given = new DriveCase(
            question.BeltLengthMm ?? usual.BeltMm,
            question.BeltRibs ?? usual.Ribs,
            question.SpringFactor ?? 1,
            question.LoadKg ?? usual.LoadKg,
            question.FrictionFactor ?? 1
        );
        var mains = question.MainsHz ?? shop.Terms.MainsHertz;
        if (question.Course is null or "" or "right")
        {
            return Results.Ok(DriveAnswer.Of(DriveRun.Of(layout.Drive, given, mains)));
        }
        var courses = BeltCourse.Of(layout, given, mains);
        return courses.FirstOrDefault(c => c.Id == question.Course) is { } course
            ? Results.Ok(DriveAnswer.Of(course.Run))
            : ApiBody.Problem("course", $"The courses are: {string.Join(", ", courses.Select(c => c.Id))}.");
    }
}
