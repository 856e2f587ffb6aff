using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Api;

public sealed record DiagnosisQuestion
{
    public required string LayoutId { get; init; }

    /// <summary>Finding id → outcome id; <c>unknown</c> for what was asked for and cannot be told: it says nothing and
    /// is not asked for again.</summary>
    public IReadOnlyDictionary<string, string> Findings { get; init; } = new Dictionary<string, string>();

    public IReadOnlyList<OperationId> Done { get; init; } = [];

    /// <summary>Wear relative to ten years at five loads a week, 0.1 to 3.</summary>
    public double Wear { get; init; } = 1;

    /// <summary>Whether the complaint has been taken: complaints are not asked for again, and one that was not
    /// mentioned is a soft no. Where it is
    /// not said, it has been taken if any complaint stands among the findings.</summary>
    public bool? ComplaintsTold { get; init; }

    /// <summary>Fact id → value of this machine.</summary>
    public IReadOnlyDictionary<string, string> Facts { get; init; } = new Dictionary<string, string>();

    /// <summary>History finding id → outcome; the same as among the findings.</summary>
    public IReadOnlyDictionary<string, string> History { get; init; } = new Dictionary<string, string>();

    /// <summary>Reading finding id → outcome; the same as among the findings.</summary>
    public IReadOnlyDictionary<string, string> Readings { get; init; } = new Dictionary<string, string>();

    /// <summary>Findings that a reading or a recording made more or less likely.</summary>
    public IReadOnlyList<GradedFinding> Graded { get; init; } = [];

    /// <summary>Ids of parts changed in this job.</summary>
    public IReadOnlyList<PartId> Fitted { get; init; } = [];

    /// <summary>Ids of faults put right in this job by cleaning or adjusting.</summary>
    public IReadOnlyList<FaultId> PutRight { get; init; } = [];

    /// <summary>Whether the findings were heard and seen after what was changed and put right: none of that is their
    /// cause.</summary>
    public bool HeardAgain { get; init; }

    /// <summary>Ids of operations that are not on this machine.</summary>
    public IReadOnlyList<OperationId> Absent { get; init; } = [];

    /// <summary>Ids of parts that are here; where it is not said, nobody counts a second trip.</summary>
    public IReadOnlyList<PartId>? AtHand { get; init; }
}

public sealed record CauseAnswer(
    string FaultId,
    string Name,
    double Probability,
    IReadOnlyList<Weight> Because,
    double? RepairMinutes
);

public sealed record CheckAnswer(
    string CheckId,
    double Minutes,
    double TeardownMinutes,
    double ExpectedCost,
    bool Live,
    string Caution
);

public sealed record DiagnosisAnswer(
    IReadOnlyList<CauseAnswer> Causes,
    double SeveralAtOnce,
    IReadOnlyList<CheckAnswer> Checks,
    Advice Advice,
    Advice? RunnerUp,
    IReadOnlyList<Oddity> Oddities,
    IReadOnlyList<WalkRoundAnswer> WalkRound,
    IReadOnlyList<string> RuledOut
);

/// <summary>One thing in reach of an open machine.</summary>
public sealed record WalkRoundAnswer(string CheckId, double Minutes, IReadOnlyList<PartId> PartIds);

public static class DiagnosisCalls
{
    public static void MapDiagnosis(this RouteGroupBuilder api) =>
        api.MapPost(
                "/diagnosis",
                async (HttpRequest request, ShopSnapshot shop, WorkGate gate, CancellationToken caller) =>
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
                    var answers = question
                        .Findings.Concat(question.History)
                        .Concat(question.Readings)
                        .GroupBy(f => f.Key)
                        .ToDictionary(g => g.Key, g => g.Last().Value);
                    var said = answers.Where(a => a.Value != Finding.Untold).ToDictionary();
                    var told = question.ComplaintsTold
                        ?? said.Keys.Any(id => shop.Catalog.FindFinding(id)?.Group == FindingGroup.Complaint);
                    var r = await gate.RunAsync(
                        stop =>
                            shop.For(layout, question.Facts, new Dictionary<string, string>())
                                .Diagnostician.Diagnose(
                                    new(said, question.Done, question.Wear, false, told)
                                    {
                                        Graded = question.Graded,
                                        Fitted = question.Fitted,
                                        AtHand = question.AtHand,
                                        PutRight = question.PutRight,
                                        HeardAgain = question.HeardAgain,
                                        Absent = question.Absent,
                                        Untold = [.. answers.Keys.Except(said.Keys)],
                                    },
                                    stop
                                ),
                        caller
                    );
                    return Results.Ok(
                        new DiagnosisAnswer(
                            [
                                .. r.Causes.Select(c => new CauseAnswer(
                                    c.Fault.Id,
                                    c.Fault.Name,
                                    c.Probability,
                                    c.Because,
                                    c.RepairMinutes
                                )),
                            ],
                            r.SeveralAtOnce,
                            [
                                .. r.Checks.Select(c => new CheckAnswer(
                                    c.Finding.Id,
                                    c.Minutes,
                                    c.TeardownMinutes,
                                    c.ExpectedCost,
                                    c.Finding.Live,
                                    c.Finding.Caution
                                )),
                            ],
                            r.Advice,
                            r.RunnerUp,
                            r.Oddities,
                            [
                                .. r.WalkRound.Select(w => new WalkRoundAnswer(
                                    w.Finding.Id,
                                    w.Finding.Minutes,
                                    w.PartIds
                                )),
                            ],
                            [.. r.RuledOut.Select(f => f.Id)]
                        )
                    );
                }
            )
            .Accepts<DiagnosisQuestion>("application/json")
            .Produces<DiagnosisAnswer>()
            .ProducesValidationProblem(422)
            .ProducesValidationProblem(400)
            .WithSummary("Causes with their evidence, checks priced with their teardown, and what to do next");

    private static IEnumerable<FieldError> Check(DiagnosisQuestion q, Layout layout, ShopSnapshot shop)
    {
        if (!(q.Wear is >= 0.1 and <= 3))
        {
            yield return new("wear", "Wear lies between 0.1 and 3.");
        }
        foreach (
            var (field, answers) in new[] { ("findings", q.Findings), ("history", q.History), ("readings", q.Readings) }
        )
        {
            foreach (var (id, outcome) in answers)
            {
                var finding = shop.Catalog.FindFinding(id);
                if (finding is null)
                {
                    yield return new($"{field}/{FieldErrors.Short(id)}", "There is no such finding.");
                }
                else if (outcome != Finding.Untold && (outcome is null || finding.IndexOf(outcome) < 0))
                {
                    yield return new(
                        $"{field}/{id}",
                        $"Its outcomes are: {string.Join(", ", finding.Outcomes.Select(o => o.Id))}."
                    );
                }
            }
        }
        foreach (var (graded, i) in q.Graded.Select((g, i) => (g, i)))
        {
            foreach (var error in graded?.Check(shop.Catalog) ?? [new("", "An empty entry.")])
            {
                yield return error with
                {
                    Pointer = $"graded/{i}/{error.Pointer}",
                };
            }
        }
        foreach (var (fact, value) in q.Facts)
        {
            if (
                !layout.Facts.Any(f => f.Id == fact)
                || value is null
                || shop.Words.FindFact(fact)?.Values.Any(v => v.Id == value) != true
            )
            {
                yield return new(
                    $"facts/{FieldErrors.Short(fact)}",
                    "There is no such fact on this layout, or it has no such value."
                );
            }
        }
        foreach (var (field, parts) in new[] { ("fitted", q.Fitted), ("atHand", q.AtHand ?? []) })
        {
            for (var i = 0; i < parts.Count; i++)
            {
                if (parts[i] is null || layout.FindPart(parts[i]) is null)
                {
                    yield return new($"{field}/{i}", "There is no such part on this machine.");
                }
            }
        }
        foreach (var (field, operations) in new[] { ("done", q.Done), ("absent", q.Absent) })
        {
            for (var i = 0; i < operations.Count; i++)
            {
                if (operations[i] is null || layout.FindOperation(operations[i]) is null)
                {
                    yield return new(
                        $"{field}/{i}",
                        "There is no such operation on this machine."
                            + Nearest.Hint(operations[i] ?? "", layout.Operations.Select(o => o.Id.Value))
                    );
                }
                else if (field == "absent" && q.Done.Contains(operations[i]))
                {
                    yield return new($"absent/{i}", "It is among what is done: what is not here cannot be off.");
                }
            }
        }
        for (var i = 0; i < q.PutRight.Count; i++)
        {
            if (q.PutRight[i] is null || shop.Catalog.FindFault(q.PutRight[i]) is not { Action: not FaultAction.Refer })
            {
                yield return new(
                    $"putRight/{i}",
                    "There is no such fault that is put right here."
                        + Nearest.Hint(q.PutRight[i] ?? "", shop.Catalog.Faults.Select(f => f.Id.Value))
                );
            }
        }
    }
}
