using System.Text.Json;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Web.Api;

public sealed record TeardownQuestion
{
    public string? LayoutId { get; init; }

    public JsonElement? Layout { get; init; }

    public required IReadOnlyList<string> Targets { get; init; }

    public IReadOnlyList<string> Done { get; init; } = [];

    public IReadOnlyDictionary<string, string> WaysIn { get; init; } = new Dictionary<string, string>();
}

public sealed record TeardownStep(string OperationId, double Minutes, IReadOnlyList<string> Tools, IReadOnlyList<FastenerGroup> Fasteners);

public sealed record TeardownAnswer(IReadOnlyList<TeardownStep> Removal, IReadOnlyList<TeardownStep> Refit, double Minutes, Spread RemovalMinutes,
    Spread RefitMinutes, int ToolChanges, int RefitToolChanges, PlanProof Proof);

public static class TeardownCalls
{
    public static void MapTeardown(this RouteGroupBuilder api) => api.MapPost("/teardown", async (HttpRequest request, ShopKnowledge shop, LayoutReader reader) =>
        {
            var (question, wrong) = await ApiBody.ReadAsync<TeardownQuestion>(request);
            if (question is null)
            {
                return wrong!;
            }
            var (planner, errors) = PlannerOf(question, shop, reader);
            if (planner is null)
            {
                return ApiBody.Problem(errors);
            }
            var problems = Check(question, planner.Graph.Layout).ToList();
            if (problems.Count > 0)
            {
                return ApiBody.Problem(problems);
            }
            var plan = planner.Plan(new(question.Targets, question.Done, question.WaysIn));
            return plan is null
                ? ApiBody.Problem("waysIn", "These targets cannot be reached by the ways chosen.")
                : Results.Ok(Answer(plan));
        })
        .Accepts<TeardownQuestion>("application/json").Produces<TeardownAnswer>().ProducesValidationProblem(422).ProducesValidationProblem(400)
        .WithSummary("Cheapest set of operations to free the targets, and an order with the fewest tool changes");

    private static (TeardownPlanner? Planner, IReadOnlyList<FieldError> Errors) PlannerOf(TeardownQuestion question, ShopKnowledge shop, LayoutReader reader)
    {
        if (question.Layout is { ValueKind: JsonValueKind.Object } own)
        {
            var (layout, errors) = reader.Read(own.GetRawText());
            return layout is null ? (null, [.. errors.Select(e => e with { Pointer = "/layout" + e.Pointer })]) : (new(layout), []);
        }
        return shop.FindLayout(question.LayoutId ?? "") is { } known ? (shop.For(known).Planner, []) : (null, [new("layoutId", "The shop has no such layout.")]);
    }

    private static IEnumerable<FieldError> Check(TeardownQuestion q, Layout layout)
    {
        if (q.Targets.Count is 0 or > 60)
        {
            yield return new("targets", "Name 1 to 60 parts.");
        }
        for (var i = 0; i < q.Targets.Count; i++)
        {
            if (q.Targets[i] is null || layout.FindPart(q.Targets[i]) is null)
            {
                yield return new($"targets/{i}", "There is no such part on this machine.");
            }
        }
        var done = new HashSet<string>();
        for (var i = 0; i < q.Done.Count; i++)
        {
            if (q.Done[i] is null || layout.FindOperation(q.Done[i]) is not { } operation)
            {
                yield return new($"done/{i}", "There is no such operation on this machine.");
            }
            else if (!done.Add(operation.Id))
            {
                yield return new($"done/{i}", "This operation is named twice.");
            }
            else if (operation.Needs.FirstOrDefault(g => !g.Any(done.Contains)) is { } missing)
            {
                yield return new($"done/{i}", $"It cannot have been done before {string.Join(" or ", missing)}.");
            }
        }
        foreach (var (way, choice) in q.WaysIn)
        {
            if (layout.Ways.All(w => w.Id != way || !w.Options.Contains(choice)))
            {
                yield return new($"waysIn/{way}", "There is no such way, or it has no such option.");
            }
        }
    }

    private static TeardownAnswer Answer(TeardownPlan plan) => new(
        [.. plan.Removal.Select(o => new TeardownStep(o.Id, o.Minutes.Out.Typical, o.Tools, o.Fasteners))],
        [.. plan.Refit.Select(o => new TeardownStep(o.Id, o.Minutes.In.Typical, o.Tools, o.Fasteners))],
        plan.Minutes, plan.RemovalMinutes, plan.RefitMinutes, plan.ToolChanges, plan.RefitToolChanges, plan.Proof);
}
