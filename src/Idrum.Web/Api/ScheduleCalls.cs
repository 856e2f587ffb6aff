using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

/// <summary>Glue that is used, and how warm it is.</summary>
/// <param name="ProfileId">The adhesive.</param>
/// <param name="Celsius">How warm it is, °C; the shop's own where it is not said.</param>
public sealed record BondQuestion(string ProfileId, double? Celsius = null);

public sealed record ScheduleQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>Fact id → value id, of those that vary on this layout.</summary>
    public IReadOnlyDictionary<string, string> Facts { get; init; } = new Dictionary<string, string>();

    /// <summary>Parts to be fitted; with them the steps to them are planned.</summary>
    public IReadOnlyList<PartId> Targets { get; init; } = [];

    /// <summary>Steps to be done, in their order, where no part is named.</summary>
    public IReadOnlyList<OperationId> Operations { get; init; } = [];

    /// <summary>What is glued with: a part that can be, is; the others as usual.</summary>
    public IReadOnlyList<BondQuestion> Bonds { get; init; } = [];

    /// <summary>Who works: 1 or 2.</summary>
    public int Persons { get; init; } = 1;
}

/// <summary>A step, an act at a part, or a wait.</summary>
public sealed record ScheduleItem(
    string? OperationId,
    string? StepId,
    PartId? PartId,
    string? Act,
    string? Wait,
    double StartMinute,
    double EndMinute
);

public sealed record ScheduleAnswer(
    double Minutes,
    double QuickMinutes,
    double SlowMinutes,
    IReadOnlyList<ScheduleItem> Items,
    Idrum.Core.Teardown.Optimality Proof,
    Idrum.Core.Teardown.Optimality SlowProof,
    string Broken
);

public static class ScheduleCalls
{
    public static void MapSchedule(this RouteGroupBuilder api) =>
        api.MapPost(
                "/schedule",
                async (
                    HttpRequest request,
                    ShopSnapshot shop,
                    LayoutIntake intake,
                    GlueDesk glue,
                    TimeProvider clock,
                    WorkGate gate,
                    CancellationToken caller
                ) =>
                {
                    var (question, wrong) = await ApiBody.ReadAsync<ScheduleQuestion>(request);
                    if (question is null)
                    {
                        return wrong!;
                    }
                    var asked = new TeardownQuestion
                    {
                        LayoutId = question.LayoutId,
                        Facts = question.Facts,
                        Targets = question.Targets,
                    };
                    var (planner, errors) = await gate.RunAsync(
                        stop => TeardownCalls.PlannerOf(asked, shop, intake, stop),
                        caller
                    );
                    if (planner is null)
                    {
                        return ApiBody.Problem(errors);
                    }
                    var layout = planner.Graph.Layout;
                    if (Check(question, asked, planner, shop, glue) is { Count: > 0 } problems)
                    {
                        return ApiBody.Problem(problems);
                    }
                    var visit = await gate.RunAsync(
                        stop => Visit(question, planner, shop.Handbook, glue.Habits, clock.GetUtcNow(), stop),
                        caller
                    );
                    return visit is null
                        ? ApiBody.Problem(
                            "targets",
                            "These targets cannot be reached, or what is to be done has no way back."
                        )
                        : Results.Ok(Answer(visit));
                }
            )
            .Accepts<ScheduleQuestion>("application/json")
            .Produces<ScheduleAnswer>()
            .ProducesValidationProblem(422)
            .ProducesValidationProblem(400)
            .WithSummary("The rest of a visit in time: waits of glue filled with what can be done meanwhile");

    private static List<FieldError> Check(
        ScheduleQuestion question,
        TeardownQuestion asked,
        TeardownPlanner planner,
        ShopSnapshot shop,
        GlueDesk glue
    )
    {
        var (errors, layout) = (new FieldErrors(), planner.Graph.Layout);
        errors.If(question.Persons is not (1 or 2), "persons", "One or two persons work on a machine.");
        errors.If(
            question.Targets.Count > 0 && question.Operations.Count > 0,
            "operations",
            "Name parts or steps, not both."
        );
        for (var i = 0; i < question.Operations.Count; i++)
        {
            errors.If(
                layout.FindOperation(question.Operations[i] ?? "") is null,
                $"operations/{i}",
                "There is no such operation on this machine."
                    + Nearest.Hint(question.Operations[i] ?? "", layout.Operations.Select(o => o.Id.Value))
            );
            errors.If(
                question.Operations.Take(i).Contains(question.Operations[i]),
                $"operations/{i}",
                "This operation is named twice."
            );
        }
        for (var i = 0; i < question.Bonds.Count; i++)
        {
            var profile = question.Bonds[i].ProfileId ?? "";
            errors.If(
                glue.Adhesives.All(a => a.Id != profile),
                $"bonds/{i}/profileId",
                "There is no such adhesive." + Nearest.Hint(profile, glue.Adhesives.Select(a => a.Id))
            );
            errors.If(
                glue.Adhesives.Any(a => a.Id == profile)
                    && !question.Targets.Any(t =>
                        layout.FindPart(t ?? "") is { } part
                        && shop.Handbook.For(part, layout)?.Schools.Any(s => s.Adhesive == profile) == true
                    ),
                $"bonds/{i}/profileId",
                "None of the parts named is glued with it."
            );
            errors.If(
                question.Bonds.Take(i).Any(b => b.ProfileId == profile),
                $"bonds/{i}/profileId",
                "This adhesive is named twice."
            );
            errors.Range(question.Bonds[i].Celsius ?? 20, $"bonds/{i}/celsius", Adhesive.Coldest, Adhesive.Warmest);
        }
        if (errors.All.Count == 0 && question.Operations.Count > 0)
        {
            CheckOrder(question.Operations, planner, errors);
        }
        return [.. errors.All, .. question.Operations.Count > 0 ? [] : TeardownCalls.Check(asked, layout, shop.Words)];
    }

    /// <summary>Each step can be done once those named before it are; what only prudence wants first may be left
    /// out.</summary>
    private static void CheckOrder(IReadOnlyList<OperationId> operations, TeardownPlanner planner, FieldErrors errors)
    {
        var graph = planner.Graph;
        for (var i = 0; i < operations.Count; i++)
        {
            var missing = graph.Missing(graph.InTheWay[graph.IndexOf(operations[i])], graph.SetOf(operations.Take(i)));
            errors.If(
                missing.Count > 0,
                $"operations/{i}",
                $"Cannot be done yet; first: {string.Join(", ", missing.Select(g => string.Join(" or ", g.ToList().Select(k => graph.Node(k).Id))))}."
            );
        }
        errors.If(
            errors.All.Count == 0 && planner.Refit(operations, []).Count == 0,
            "operations",
            "What is to be done cannot be put back in any order."
        );
    }

    private static Visit? Visit(
        ScheduleQuestion question,
        TeardownPlanner planner,
        Handbook handbook,
        GlueHabits habits,
        DateTimeOffset now,
        CancellationToken stop
    )
    {
        var layout = planner.Graph.Layout;
        IReadOnlyList<Operation> removal;
        IReadOnlyList<RefitMove> refit;
        if (question.Operations.Count > 0)
        {
            removal = [.. question.Operations.Select(o => layout.FindOperation(o)!)];
            refit = planner.Refit([.. question.Operations], []);
        }
        else if (
            planner.Plan(new(question.Targets, [], new Dictionary<string, OperationId>()), stop) is
            { WayBack: true } plan
        )
        {
            (removal, refit) = (plan.Removal, plan.Refit);
        }
        else
        {
            return null;
        }
        var fits = question
            .Targets.Select(t => layout.FindPart(t)!)
            .Select(part =>
            {
                var way = handbook
                    .For(part.Kind)
                    ?.Schools.FirstOrDefault(s => question.Bonds.Any(b => b.ProfileId == s.Adhesive));
                var celsius = question.Bonds.FirstOrDefault(b => b.ProfileId == way?.Adhesive)?.Celsius;
                return VisitPlan.FitOf(
                    part,
                    layout,
                    way?.Id ?? "",
                    null,
                    handbook,
                    celsius is { } c ? habits with { Celsius = c } : habits
                );
            });
        return removal.Count > 0 && refit.Count == 0
            ? null
            : VisitPlan.Of(planner, removal, refit, [.. fits], true, now, question.Persons, stop);
    }

    private static ScheduleAnswer Answer(Visit visit)
    {
        var items = visit.Items.Select(i =>
        {
            var step = StepRef.Parse(i.Chore.About);
            var part = i.PartId.IsNone ? null : i.PartId;
            return i.Chore.Kind switch
            {
                ChoreKind.Out => new ScheduleItem(step.Operation, null, null, null, null, i.Start, i.End),
                ChoreKind.In => new(step.Operation, step.Step, null, null, null, i.Start, i.End),
                var kind => new(null, null, part, kind.Word(), null, i.Start, i.End),
            };
        });
        var waits = visit.Glue.SelectMany(g =>
            new[]
            {
                (
                    What: "open",
                    From: visit.Items.FirstOrDefault(i => i.Chore == new VisitChore(ChoreKind.Coat, g.PartId))?.End
                        ?? 0,
                    To: g.Joined
                ),
                (What: "handling", From: g.Joined, To: g.Load),
                (What: "cure", From: g.Joined, To: g.Heat),
            }
                .Where(w => w.To > w.From)
                .Select(w => new ScheduleItem(null, null, g.PartId, null, w.What, w.From, w.To))
        );
        return new(
            visit.Minutes,
            visit.Quick,
            visit.Slow,
            [.. items.Concat(waits).OrderBy(i => i.StartMinute)],
            visit.Proof,
            visit.SlowProof,
            visit.Broken
        );
    }
}
