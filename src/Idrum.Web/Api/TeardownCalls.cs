using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record TeardownQuestion
{
    public string? LayoutId { get; init; }

    public JsonElement? Layout { get; init; }

    /// <summary>Fact id → value id, of those that vary on this layout.</summary>
    public IReadOnlyDictionary<string, string> Facts { get; init; } = new Dictionary<string, string>();

    /// <summary>School id → option; a school not named takes its default.</summary>
    public IReadOnlyDictionary<string, string> Schools { get; init; } = new Dictionary<string, string>();

    public required IReadOnlyList<PartId> Targets { get; init; }

    public IReadOnlyList<OperationId> Done { get; init; } = [];

    public IReadOnlyDictionary<string, OperationId> WaysIn { get; init; } = new Dictionary<string, OperationId>();

    /// <summary>Operations that cannot be done on this machine.</summary>
    public IReadOnlyList<OperationId> Stuck { get; init; } = [];

    /// <summary>Obstacles that are not on this machine: they take no act and do not go back; what stood in their way
    /// stands in the way of what needed them.</summary>
    public IReadOnlyList<OperationId> Absent { get; init; } = [];

    /// <summary>Tools in hand.</summary>
    public IReadOnlyList<string> Hand { get; init; } = [];
}

public sealed record TeardownStep(
    string OperationId,
    double Minutes,
    IReadOnlyList<string> Tools,
    IReadOnlyList<FastenerGroup> Fasteners
);

public sealed record RefitAnswer(
    string OperationId,
    string StepId,
    double Minutes,
    IReadOnlyList<string> Tools,
    IReadOnlyList<FastenerGroup> Fasteners,
    IReadOnlyList<string> Plugs,
    IReadOnlyList<string> Checks,
    string? ThenAtOnce
);

public sealed record TeardownAnswer(
    IReadOnlyList<TeardownStep> Removal,
    IReadOnlyList<RefitAnswer> Refit,
    double Minutes,
    Spread RemovalMinutes,
    Spread RefitMinutes,
    int ToolChanges,
    int RefitToolChanges,
    PlanProof Proof
);

public static class TeardownCalls
{
    public static void MapTeardown(this RouteGroupBuilder api) =>
        api.MapPost(
                "/teardown",
                async (
                    HttpRequest request,
                    ShopSnapshot shop,
                    LayoutIntake intake,
                    WorkGate gate,
                    CancellationToken caller
                ) =>
                {
                    var (question, wrong) = await ApiBody.ReadAsync<TeardownQuestion>(request);
                    if (question is null)
                    {
                        return wrong!;
                    }
                    var (planner, errors) = await gate.RunAsync(
                        stop => PlannerOf(question, shop, intake, stop),
                        caller
                    );
                    if (planner is null)
                    {
                        return ApiBody.Problem(errors);
                    }
                    var problems = Check(question, planner.Graph.Layout, shop.Words).ToList();
                    if (problems.Count > 0)
                    {
                        return ApiBody.Problem(problems);
                    }
                    var plan = await gate.RunAsync(
                        stop =>
                            planner.Plan(
                                new(question.Targets, question.Done, question.WaysIn)
                                {
                                    Stuck = question.Stuck,
                                    Absent = question.Absent,
                                    Hand = question.Hand,
                                },
                                stop
                            ),
                        caller
                    );
                    return plan is { WayBack: false }
                            ? ApiBody.Problem(
                                "done",
                                "What is done cannot be put back in any order: two ways to one place exclude each other."
                            )
                        : plan is null
                            ? ApiBody.Problem("waysIn", "These targets cannot be reached by the ways chosen.")
                        : Results.Ok(Answer(plan));
                }
            )
            .Accepts<TeardownQuestion>("application/json")
            .Produces<TeardownAnswer>()
            .ProducesValidationProblem(422)
            .ProducesValidationProblem(400)
            .WithSummary("Cheapest set of operations to free the targets, and an order with the fewest tool changes");

    internal static (TeardownPlanner? Planner, IReadOnlyList<FieldError> Errors) PlannerOf(
        TeardownQuestion question,
        ShopSnapshot shop,
        LayoutIntake intake,
        CancellationToken stop
    )
    {
        Layout? layout;
        if (question.Layout is { ValueKind: JsonValueKind.Object } own)
        {
            (layout, var errors) = intake.Read(own.GetRawText(), shop.ParentOf, stop);
            if (layout is null)
            {
                return (null, [.. errors.Select(e => e with { Pointer = "/layout" + e.Pointer })]);
            }
        }
        else if ((layout = shop.FindLayout(question.LayoutId ?? "")) is null)
        {
            return (
                null,
                [
                    new(
                        "layoutId",
                        "The shop has no such layout."
                            + Nearest.Hint(question.LayoutId ?? "", shop.Layouts.Select(l => l.Id))
                    ),
                ]
            );
        }
        var wrong = new FieldErrors();
        foreach (var (fact, value) in question.Facts)
        {
            wrong.If(
                !layout.Facts.Any(f => f.Id == fact && f.Varies),
                $"facts/{FieldErrors.Short(fact)}",
                "There is no such fact, or it does not vary on this layout."
                    + Nearest.Hint(fact, layout.Facts.Where(f => f.Varies).Select(f => f.Id))
            );
            wrong.If(
                shop.Words.FindFact(fact)?.Values.Any(v => v.Id == value) == false,
                $"facts/{FieldErrors.Short(fact)}",
                "The fact has no such value."
                    + Nearest.Hint(value ?? "", shop.Words.FindFact(fact)?.Values.Select(v => v.Id) ?? [])
            );
        }
        foreach (var (school, option) in question.Schools)
        {
            wrong.If(
                layout.Schools.FirstOrDefault(s => s.Id == school)?.Options.Any(o => o.Id == option) != true,
                $"schools/{FieldErrors.Short(school)}",
                "There is no such school, or it has no such option."
                    + Nearest.Hint(school, layout.Schools.Select(s => s.Id))
                    + Nearest.Hint(
                        option ?? "",
                        layout.Schools.Where(s => s.Id == school).SelectMany(s => s.Options).Select(o => o.Id)
                    )
            );
        }
        if (wrong.All.Count > 0)
        {
            return (null, wrong.All);
        }
        return (
            question.Layout is null
                ? shop.For(layout, question.Facts, question.Schools).Planner
                : new(layout.For(question.Facts, question.Schools), TimeProvider.System),
            []
        );
    }

    internal static IEnumerable<FieldError> Check(TeardownQuestion q, Layout layout, Vocabulary words)
    {
        if (q.Targets.Count is 0 or > 60)
        {
            yield return new("targets", "Name 1 to 60 parts.");
        }
        for (var i = 0; i < q.Targets.Count; i++)
        {
            if (q.Targets[i] is null || layout.FindPart(q.Targets[i]) is null)
            {
                yield return new(
                    $"targets/{i}",
                    "There is no such part on this machine."
                        + Nearest.Hint(q.Targets[i] ?? "", layout.Parts.Select(p => p.Id.Value))
                );
            }
        }
        var done = new HashSet<OperationId>();
        for (var i = 0; i < q.Done.Count; i++)
        {
            if (q.Done[i] is null || layout.FindOperation(q.Done[i]) is not { } operation)
            {
                yield return new(
                    $"done/{i}",
                    "There is no such operation on this machine."
                        + Nearest.Hint(q.Done[i] ?? "", layout.Operations.Select(o => o.Id.Value))
                );
            }
            else if (!done.Add(operation.Id))
            {
                yield return new($"done/{i}", "This operation is named twice.");
            }
        }
        foreach (var (name, ids) in new[] { ("stuck", q.Stuck), ("absent", q.Absent) })
        {
            for (var i = 0; i < ids.Count; i++)
            {
                if (ids[i] is null || layout.FindOperation(ids[i]) is null)
                {
                    yield return new(
                        $"{name}/{i}",
                        "There is no such operation on this machine."
                            + Nearest.Hint(ids[i] ?? "", layout.Operations.Select(o => o.Id.Value))
                    );
                }
                else if (q.Done.Contains(ids[i]))
                {
                    yield return new($"{name}/{i}", "This operation is named as done.");
                }
            }
        }
        var tools = layout
            .Operations.SelectMany(o => o.Tools.Concat(o.Steps.SelectMany(s => s.Tools)))
            .SelectMany(t => t.Any)
            .ToHashSet();
        for (var i = 0; i < q.Hand.Count; i++)
        {
            if (
                q.Hand[i] is null
                || (
                    !tools.Contains(q.Hand[i])
                    && !words.HasTool(q.Hand[i])
                    && layout.Words?.Tools.Any(t => t.Id == q.Hand[i]) != true
                )
            )
            {
                yield return new(
                    $"hand/{i}",
                    "There is no such tool."
                        + Nearest.Hint(q.Hand[i] ?? "", words.Tools.Select(t => t.Id).Concat(tools))
                );
            }
        }
        foreach (var (way, choice) in q.WaysIn)
        {
            if (layout.Ways.All(w => w.Id != way || !w.Options.Contains(choice)))
            {
                yield return new(
                    $"waysIn/{way}",
                    "There is no such way, or it has no such option."
                        + Nearest.Hint(way, layout.Ways.Select(w => w.Id))
                        + Nearest.Hint(
                            choice ?? "",
                            layout.Ways.Where(w => w.Id == way).SelectMany(w => w.Options, (_, id) => id.Value)
                        )
                );
            }
        }
    }

    /// <summary>The usual tool of each use.</summary>
    private static IReadOnlyList<string> Ids(IReadOnlyList<ToolUse> tools) => [.. tools.Select(t => t.Any[0])];

    private static TeardownAnswer Answer(TeardownPlan plan) =>
        new(
            [.. plan.Removal.Select(o => new TeardownStep(o.Id, o.Minutes.Typical, Ids(o.Tools), o.Fasteners))],
            [
                .. plan.Refit.Select(m => new RefitAnswer(
                    m.Operation.Id,
                    m.Step.Id,
                    m.Step.Minutes.Typical,
                    Ids(m.Step.Tools),
                    [.. m.Fasteners],
                    [.. m.Plugs.Select(p => p.Id)],
                    [.. m.Step.Checks.Select(c => c.Id)],
                    m.Then?.Id
                )),
            ],
            plan.Minutes,
            plan.RemovalMinutes,
            plan.RefitMinutes,
            plan.ToolChanges,
            plan.RefitToolChanges,
            plan.Proof
        );
}
