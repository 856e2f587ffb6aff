using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Jobs;

namespace Idrum.Web.Api;

public sealed record DiagnosisQuestion
{
    public required string LayoutId { get; init; }

    public IReadOnlyDictionary<string, string> Findings { get; init; } = new Dictionary<string, string>();

    public IReadOnlyList<string> Done { get; init; } = [];

    /// <summary>Wear relative to ten years at five loads a week, 0.1 to 3.</summary>
    public double Wear { get; init; } = 1;

    /// <summary>Whether the complaint has been taken, so that complaints are not offered as checks.</summary>
    public bool ComplaintsTold { get; init; }
}

public sealed record CauseAnswer(string FaultId, string Name, double Probability, IReadOnlyList<Weight> Because, double? RepairMinutes);

public sealed record CheckAnswer(string CheckId, double Minutes, double TeardownMinutes, double ExpectedCost, bool Live);

public sealed record DiagnosisAnswer(IReadOnlyList<CauseAnswer> Causes, double SeveralAtOnce, IReadOnlyList<CheckAnswer> Checks, Advice Advice, Advice? RunnerUp, IReadOnlyList<Oddity> Oddities);

public static class DiagnosisCalls
{
    public static void MapDiagnosis(this RouteGroupBuilder api) => api.MapPost("/diagnosis", async (HttpRequest request, ShopKnowledge shop, WorkGate gate, CancellationToken caller) =>
        {
            var (question, wrong) = await ApiBody.ReadAsync<DiagnosisQuestion>(request);
            if (question is null)
            {
                return wrong!;
            }
            if (shop.FindLayout(question.LayoutId) is not { } layout)
            {
                return ApiBody.Problem("layoutId", "The shop has no such layout.");
            }
            var errors = Check(question, layout, shop).ToList();
            if (errors.Count > 0)
            {
                return ApiBody.Problem(errors);
            }
            var r = await gate.RunAsync(stop => shop.For(layout).Diagnostician.Diagnose(new(question.Findings, question.Done, question.Wear, false, question.ComplaintsTold), stop), caller);
            return Results.Ok(new DiagnosisAnswer(
                [.. r.Causes.Select(c => new CauseAnswer(c.Fault.Id, c.Fault.Name, c.Probability, c.Because, c.RepairMinutes))],
                r.SeveralAtOnce,
                [.. r.Checks.Select(c => new CheckAnswer(c.Finding.Id, c.Minutes, c.TeardownMinutes, c.ExpectedCost, c.Finding.Live))],
                r.Advice, r.RunnerUp, r.Oddities));
        })
        .Accepts<DiagnosisQuestion>("application/json").Produces<DiagnosisAnswer>().ProducesValidationProblem(422).ProducesValidationProblem(400)
        .WithSummary("Causes with their evidence, checks priced with their teardown, and what to do next");

    private static IEnumerable<FieldError> Check(DiagnosisQuestion q, Layout layout, ShopKnowledge shop)
    {
        if (!(q.Wear is >= 0.1 and <= 3))
        {
            yield return new("wear", "Wear lies between 0.1 and 3.");
        }
        foreach (var (id, outcome) in q.Findings)
        {
            var finding = shop.Catalog.FindFinding(id);
            if (finding is null)
            {
                yield return new($"findings/{id}", "There is no such finding.");
            }
            else if (outcome is null || finding.IndexOf(outcome) < 0)
            {
                yield return new($"findings/{id}", $"Its outcomes are: {string.Join(", ", finding.Outcomes.Select(o => o.Id))}.");
            }
        }
        for (var i = 0; i < q.Done.Count; i++)
        {
            if (q.Done[i] is null || layout.FindOperation(q.Done[i]) is null)
            {
                yield return new($"done/{i}", "There is no such operation on this machine.");
            }
        }
    }
}
