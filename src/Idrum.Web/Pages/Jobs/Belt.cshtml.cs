using Idrum.Core.Drive;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The belt: how it runs, how it is laid on hand by hand, which wrong course it lies on, which belt it is.</summary>
public sealed class BeltModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>All courses, the right one first.</summary>
    public IReadOnlyList<BeltCourse> Courses { get; private set; } = [];

    /// <summary>What was answered of the belt as it lies: question id → answer id.</summary>
    public IReadOnlyDictionary<string, string> Seen { get; private set; } = new Dictionary<string, string>();

    /// <summary>Courses that fit the answers.</summary>
    public IReadOnlyList<BeltCourse> Left { get; private set; } = [];

    /// <summary>The question that splits them best; null where nothing is left to ask.</summary>
    public CourseQuestion? Question { get; private set; }

    /// <summary>The course that is shown beside the right one; null for the right one alone.</summary>
    public BeltCourse? Shows { get; private set; }

    /// <summary>From behind.</summary>
    public bool Behind { get; private set; }

    /// <summary>Whether the pulley is served before the idler.</summary>
    public bool PulleyFirst { get; private set; }

    public Threading Threading => Threading.Of(View.Layout.Drive, Behind, PulleyFirst);

    /// <summary>The hand that holds the tensioner off while the other brings the loop; empty where a latch does.</summary>
    public string Holds =>
        View.Layout.Drive.Tensioner.LatchDeg is null
            ? Threading.Moves.FirstOrDefault(m => m.Shows == "held")?.Hand ?? ""
            : "";

    public IReadOnlyList<BeltVariant> Variants => BeltVariant.Of(View.Layout, Terms.MainsHertz);

    /// <summary>Every way the belt can be laid, with what it would do.</summary>
    public IReadOnlyDictionary<string, Rehearsed> Ways { get; private set; } = new Dictionary<string, Rehearsed>();

    /// <summary>What a rehearsal says; empty where none was made.</summary>
    public string Verdict { get; private set; } = "";

    public bool RehearsedRight { get; private set; }

    /// <summary>Address of this page with something changed.</summary>
    public string With(params (string Name, string? Value)[] change)
    {
        var query = Request
            .Query.Where(q => change.All(c => c.Name != q.Key))
            .Select(q => (q.Key, Value: (string?)q.Value.ToString()));
        var all = query.Concat(change).Where(q => !string.IsNullOrEmpty(q.Value));
        return To("belt")
            + (
                all.Any()
                    ? "?"
                        + string.Join(
                            '&',
                            all.Select(q => $"{Uri.EscapeDataString(q.Item1)}={Uri.EscapeDataString(q.Value!)}")
                        )
                    : ""
            );
    }

    /// <summary>This page without any answer.</summary>
    public string Afresh => To("belt") + (Behind ? "?from=behind" : "");

    protected override async Task PrepareAsync()
    {
        await base.PrepareAsync();
        Courses = BeltCourse.Of(View.Layout, null, Terms.MainsHertz);
        Behind = Request.Query["from"] == "behind";
        PulleyFirst = Request.Query["first"] == "pulley";
        Seen = CourseKey
            .Questions.Where(q => q.Answers.ContainsKey(Request.Query["see-" + q.Id].ToString()))
            .ToDictionary(q => q.Id, q => Request.Query["see-" + q.Id].ToString());
        Left = CourseKey.Fitting(Courses, Seen);
        Question = CourseKey.Next(Left, Seen);
        Shows = Courses.FirstOrDefault(c => !c.Right && c.Id == Request.Query["course"])
            ?? (Seen.Count > 0 && Left is [{ Right: false } only] ? only : null);
        Ways = Rehearsal.Of(View.Layout, Courses);
        Rehearse(Request.Query["lay"].ToString());
    }

    // drum, then idler-over, idler-under, pulley-round, pulley-past, in the order they were chosen.
    private void Rehearse(string lay)
    {
        if (lay.Length == 0)
        {
            return;
        }
        var wheels = new List<CourseWheel> { new(DriveWheel.Drum, false) };
        foreach (var word in lay.Split(',').Take(6))
        {
            CourseWheel? next = word switch
            {
                "idler-back" => new(DriveWheel.Idler, true),
                "idler-in" => new(DriveWheel.Idler, false),
                "pulley-round" => new(DriveWheel.Pulley, false),
                "pulley-past" => new(DriveWheel.Pulley, true),
                _ => null,
            };
            if (next is { } wheel && wheels.TrueForAll(w => w.Name != wheel.Name))
            {
                wheels.Add(wheel);
            }
        }
        string SideOf(DriveWheel name) =>
            !wheels.Exists(w => w.Name == name) ? "clear"
            : wheels.Exists(w => w.Name == name && w.Outside) ? "out"
            : "in";
        var made = Ways[
            Rehearsal.Key(
                View.Layout.Drive.Tensioner.Idler is null ? "" : SideOf(DriveWheel.Idler),
                SideOf(DriveWheel.Pulley)
            )
        ];
        (RehearsedRight, Verdict) = (made.Right, made.Say);
        Shows = Courses.FirstOrDefault(c => !c.Right && c.Id == made.CourseId) ?? Shows;
    }
}
