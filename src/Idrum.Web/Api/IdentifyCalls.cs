using Idrum.Core.Basics;
using Idrum.Core.Identify;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Api;

/// <summary>What was seen of a machine.</summary>
public sealed record IdentifyQuestion
{
    /// <summary>Fact id → value id, or <c>cant-tell</c>.</summary>
    public IReadOnlyDictionary<string, string> Answers { get; init; } = new Dictionary<string, string>();

    /// <summary>Model tag as read off; empty where it cannot be read.</summary>
    public string Tag { get; init; } = "";
}

/// <summary>A layout it may be; <c>none</c> stands for none of them.</summary>
public sealed record IdentifyCandidate(string LayoutId, double Probability);

/// <summary>One value that can be answered.</summary>
public sealed record IdentifyValue(string Id, string Name);

/// <summary>The next question.</summary>
public sealed record IdentifyNext(string FeatureId, string Question, string Where, IReadOnlyList<IdentifyValue> Values);

/// <summary>A fact that tells the two likeliest apart.</summary>
public sealed record IdentifyDifference(string FeatureId, string First, string Second, bool FromOutside);

public sealed record IdentifyAnswer(
    IReadOnlyList<IdentifyCandidate> Candidates,
    IdentifyNext? NextQuestion,
    IReadOnlyList<IdentifyDifference> Differences
);

public static class IdentifyCalls
{
    public static void MapIdentify(this RouteGroupBuilder api) =>
        api.MapPost("/identify", async (HttpRequest request, ShopSnapshot shop, LearningStore learning) =>
            {
                var (question, wrong) = await ApiBody.ReadAsync<IdentifyQuestion>(request);
                if (question is null)
                {
                    return wrong!;
                }
                var errors = new FieldErrors();
                foreach (var (id, value) in question.Answers)
                {
                    var fact = shop.Words.FindFact(id);
                    errors.If(fact is null, "answers/" + FieldErrors.Short(id), "There is no such feature.");
                    errors.If(
                        fact is not null && value != IdentificationKey.CantTell && fact.Values.All(v => v.Id != value),
                        "answers/" + FieldErrors.Short(id),
                        $"One of {string.Join(", ", fact?.Values.Select(v => v.Id) ?? [])}, or {IdentificationKey.CantTell}."
                    );
                }
                errors.If(question.Tag.Length > 60, "tag", "60 characters at most.");
                if (errors.All.Count > 0)
                {
                    return ApiBody.Problem(errors.All);
                }
                var found = shop.Key.Of(question.Answers, new TagClue(learning.Tags()).Of(question.Tag));
                return Results.Ok(
                    new IdentifyAnswer(
                        [
                            .. found
                                .Candidates.SelectMany(c =>
                                    c.Layout is null
                                        ? [new IdentifyCandidate(c.Id, c.Probability)]
                                        : c
                                            .Alike.Prepend(c.Layout)
                                            .Select(l => new IdentifyCandidate(
                                                l.Id,
                                                c.Probability / (1 + c.Alike.Count)
                                            ))
                                )
                                .OrderByDescending(c => c.Probability),
                        ],
                        found.Next is { } next
                            ? new(
                                next.Id,
                                next.Question,
                                next.Where,
                                [.. next.Values.Select(v => new IdentifyValue(v.Id, v.Name))]
                            )
                            : null,
                        [
                            .. found
                                .Differences(shop.Words)
                                .Select(d => new IdentifyDifference(d.Fact.Id, d.Left, d.Right, d.Fact.Seconds > 0)),
                        ]
                    )
                );
            })
            .Accepts<IdentifyQuestion>("application/json")
            .Produces<IdentifyAnswer>()
            .ProducesValidationProblem(422)
            .ProducesValidationProblem(400)
            .WithSummary("Which layout stands there, from what can be seen outside, and the next question");
}
