using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Log;

/// <summary>Parts were ordered for the job, or taken from the van. The id of this act is that of the line.</summary>
/// <param name="ArticleId">The supplier's number.</param>
/// <param name="Name">What it is.</param>
/// <param name="Covers">Part id → how many of it are in one; empty for glue, grease and ties.</param>
/// <param name="Quantity">How many.</param>
/// <param name="Price">Price of one, in the shop's currency.</param>
/// <param name="Source">supplier or van.</param>
/// <param name="DueInDays">Promised delivery; 0 from the van.</param>
/// <param name="ReturnDays">Days within which it is taken back.</param>
/// <param name="Way">The way of fitting that it is for; empty where it is fitted as usual.</param>
public sealed record PartsBought(
    string ArticleId,
    string Name,
    IReadOnlyDictionary<PartId, int> Covers,
    int Quantity,
    double Price,
    string Source,
    int DueInDays,
    int ReturnDays,
    string Way = ""
) : JobEvent
{
    /// <summary>Parts of the job it is meant for, of whatever place; null in logs that do not say.</summary>
    public IReadOnlyList<PartId>? For { get; init; }

    /// <summary>Which van it is out of; null from the supplier, and in logs from when there was but one.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    )]
    public TakenFrom? From { get; init; }

    internal override IEnumerable<string> Touches => ["article:" + ArticleId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.Text(ArticleId, "articleId", FieldErrors.ShortText, true);
        errors.Text(Name, "name", FieldErrors.ShortText, true);
        errors.Text(Way, "way", FieldErrors.ShortText);
        errors.Range(Quantity, "quantity", 1, 99);
        errors.Range(Price, "price", 0, 100_000);
        errors.If(
            Source is not (BoughtFrom.Supplier or BoughtFrom.Van),
            "source",
            "It comes from the supplier or from the van."
        );
        if (From is { } from)
        {
            errors.If(Source != BoughtFrom.Van, "from", "Only what is taken from a van is out of one.");
            errors.Text(from.Id, "from", FieldErrors.ShortText, true);
            errors.Text(from.Name, "from", FieldErrors.ShortText, true);
        }
        errors.Range(DueInDays, "dueInDays", 0, 365);
        errors.Range(ReturnDays, "returnDays", 0, 365);
        foreach (var part in (For ?? []).Where(p => check.Machine.Layout.FindPart(p) is null))
        {
            errors.Add("for", $"There is no part '{FieldErrors.Short(part)}' on this machine.");
        }
        foreach (var (part, n) in Covers)
        {
            errors.If(
                check.Machine.Layout.FindPart(part) is null,
                "covers",
                $"There is no part '{FieldErrors.Short(part)}' on this machine."
            );
            errors.Range(n, "covers", 1, 99);
        }
    }

    internal override JobState Apply(JobState state) =>
        state.With(
            new OrderLine(
                Id.ToString("N"),
                ArticleId,
                Name,
                Covers.ToImmutableSortedDictionary(),
                Quantity,
                Price,
                Source,
                Source == BoughtFrom.Van ? null : Happened.AddDays(DueInDays),
                ReturnDays
            )
            {
                Came = Source == BoughtFrom.Van ? Quantity : 0,
                Way = Way,
                For = [.. For ?? Covers.Keys],
                From = From,
                CameAt = Source == BoughtFrom.Van ? Happened : null,
            }
        );

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{(Source == BoughtFrom.Van ? $"Taken from {From?.Name ?? StockPlace.Only.Name}" : "Ordered")}: {Quantity} × {Name}";
}
