using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;

namespace Idrum.Web.Work;

/// <summary>A step of a package: its view is drawn under the key.</summary>
/// <param name="Key">Key of the view.</param>
/// <param name="Step">Key of the step.</param>
/// <param name="View">The job as it is shown.</param>
/// <param name="Part">Part in work at Fit, or empty.</param>
public sealed record PackageView(string Key, string Step, JobView View, string Part);

/// <summary>What a device needs to go through a job without a link: every step foreseen, its view, and what follows
/// each plain choice.</summary>
public sealed class JobPackage
{
    /// <summary>Version of the package; a device takes an older one to its end.</summary>
    public const int Format = 3;

    /// <summary>Most views of one package; choices beyond are not foreseen, and the page says so.</summary>
    private const int MostViews = 260;

    private readonly List<PackageView> views = [];
    private readonly Dictionary<string, object> steps = [];
    private readonly JobView now;
    private readonly CancellationToken cancellation;
    private int ways;

    private JobPackage(JobView now, CancellationToken cancellation) =>
        (this.now, this.cancellation) = (now, cancellation);

    /// <summary>The views.</summary>
    public IReadOnlyList<PackageView> Views => views;

    /// <summary>The order of the steps and what follows what, as JSON.</summary>
    public string Order { get; private set; } = "";

    /// <summary>Makes it; null where nothing can be foreseen (no part chosen, not signed safe, closed).</summary>
    public static JobPackage? Of(JobView now, CancellationToken cancellation)
    {
        if (Foresight.WayFrom(now.Job.History, now.Machine, cancellation) is not { } way)
        {
            return null;
        }
        var package = new JobPackage(now, cancellation);
        var main = package.Way(way, "", true);
        var again = Foresight.GluedAgain(now.Job.History, now.Machine);
        foreach (var step in again)
        {
            package.Draw(step, "", new { kind = ActEffect.KindOf(step.Act), part = PartOf(step.Act) });
        }
        package.Order = JsonSerializer.Serialize(
            new
            {
                format = Format,
                effects = ActEffect.All,
                jobId = now.Job.JobId,
                number = now.State.Number,
                title = now.Layout.Title,
                place = now.State.Machine.Place,
                tag = now.State.Machine.Tag,
                version = now.Job.Version,
                known = now.Job.Log[^1].Id,
                stage = now.State.Station >= Station.Rebuild ? "back"
                : way.Out.Count == 0 && now.State.Station == Station.Fit ? "fit"
                : "out",
                done = now.State.Out.Count,
                counts = now
                    .State.Removals.SelectMany(r => r.Out)
                    .GroupBy(c => c.Key)
                    .ToDictionary(g => g.Key, g => g.Sum(c => c.Value)),
                trays = now
                    .State.Removals.SelectMany(r => r.Trays)
                    .DistinctBy(t => t.Key)
                    .ToDictionary(t => t.Key, t => t.Value),
                odd = now.Odd.Select(o => new
                {
                    group = o.Row.Group.Id,
                    way = o.Way,
                    counted = o.Counted,
                    wanted = o.Wanted,
                }),
                timers = now
                    .State.Timers.Where(t => !t.Stopped)
                    .Select(t => new
                    {
                        id = t.TimerId,
                        label = t.Label,
                        ends = t.EndsAt,
                        part = PartOf(t, now.State),
                    }),
                glue = now.State.Glue.ToDictionary(
                    g => g.Key,
                    g => new
                    {
                        from = g.Value.JoinFrom,
                        until = g.Value.JoinUntil,
                        cure = g.Value.CureMinutes,
                        handling = g.Value.HandlingMinutes,
                        load = g.Value.LoadFrom,
                        run = g.Value.RunFrom,
                    }
                ),
                way = main,
                again = again.Select(s => s.Key),
                steps = package.steps,
                groups = package.Groups(),
            },
            IdrumJson.Options
        );
        return package;
    }

    private Dictionary<string, object> Groups() =>
        now
            .Layout.Operations.SelectMany(o => o.Fasteners)
            .DistinctBy(f => f.Id)
            .ToDictionary(f => f.Id, f => (object)new { kind = FastenerWords.Kind(f, now.Inch), where = f.Where });

    private object Way(ForeseenWay way, string mark, bool choices)
    {
        var keys = way.Out.Select(s => s.Key).ToList();
        for (var i = 0; i < way.Out.Count; i++)
        {
            var step = way.Out[i];
            var operation = (OperationDone)step.Act;
            Draw(
                step,
                mark,
                new
                {
                    operation = operation.OperationId,
                    minutes = now.Layout.FindOperation(operation.OperationId)!.Minutes.Typical,
                    counts = operation.Counts,
                    choices = choices
                        ? Foresight
                            .ChoicesAt(step, [.. keys.Skip(i + 1)], now.Machine, cancellation)
                            .ToDictionary(c => c.What, Choice)
                        : [],
                }
            );
        }
        foreach (var step in way.Fit)
        {
            Draw(step, mark, new { kind = ActEffect.KindOf(step.Act), part = PartOf(step.Act) });
        }
        foreach (var step in way.Back)
        {
            var refitted = (StepRefitted)step.Act;
            Draw(
                step,
                mark,
                new
                {
                    operation = refitted.OperationId,
                    step = refitted.StepId,
                    minutes = now
                        .Layout.FindOperation(refitted.OperationId)!
                        .FindStep(refitted.StepId)!
                        .Minutes.Typical,
                    groups = refitted.Counts.Keys,
                    // What must bear it by then: when it was joined the device knows.
                    waits = WayBackGuard
                        .Of(
                            step.Before.State,
                            now.Machine,
                            now.Layout.FindOperation(refitted.OperationId)!,
                            DateTimeOffset.MinValue
                        )
                        .Select(w => w.Part.Id),
                }
            );
        }
        Draw(new("closed", way.Closed, way.Closed.Log[^1]), mark, new { });
        return new
        {
            @out = keys.Select(k => k + mark),
            fit = way.Fit.Select(s => s.Key + mark),
            back = way.Back.Select(s => s.Key + mark),
            end = "closed" + mark,
        };
    }

    /// <summary>Why it cannot be told what follows.</summary>
    private static string Unknown(ForeseenChoice choice) =>
        choice.What == Problem.Stuck
            ? "this step is stuck and there is no other way in"
            : "what you found needs a new plan from the shop";

    private object Choice(ForeseenChoice choice)
    {
        var way = choice.Way;
        // A way whose views would make the package too large is not foreseen.
        if (way is not null && views.Count + way.Out.Count + way.Fit.Count + way.Back.Count + 1 > MostViews)
        {
            return new { foreseen = false, why = Unknown(choice) };
        }
        return new
        {
            foreseen = choice.Foreseen,
            why = choice.Foreseen ? null : Unknown(choice),
            wasDone = choice.What == Problem.AlreadyDone,
            drops = choice.Drops,
            staysOut = choice.StaysOut,
            way = way is null ? null : Way(way, $"~{++ways}", false),
        };
    }

    private void Draw(ForeseenStep step, string mark, object about)
    {
        cancellation.ThrowIfCancellationRequested();
        var part = step.Key == "fitted" ? (PartId)"" : PartOf(step.Act);
        views.Add(
            new(
                step.Key + mark,
                step.Key,
                new(new(now.Job.JobId, step.Before), now.Machine, now.Earlier, now.Met),
                part
            )
        );
        steps[step.Key + mark] = about;
    }

    /// <summary>The part whose glue a timer counts, or null.</summary>
    private static PartId? PartOf(TimerRecord timer, JobState state) =>
        timer.TimerId.Split(':')[0] is "join" or "close" or "cure"
            ? state
                .Glue.FirstOrDefault(g => g.Value.CoatedAt == timer.StartedAt || g.Value.JoinedAt == timer.StartedAt)
                .Key
            : null;

    private static PartId PartOf(JobEvent e) =>
        e switch
        {
            GlueCoated g => g.PartId,
            GlueJoined g => g.PartId,
            PartFitted p => p.PartId,
            _ => "",
        };
}
