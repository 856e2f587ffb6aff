using System.Text.Json.Serialization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was ordered came, came wrong, or cannot be had.</summary>
/// <param name="LineId">The line.</param>
/// <param name="Outcome">came, wrong or missing.</param>
/// <param name="Quantity">How many of it.</param>
public sealed record OrderSettled(string LineId, string Outcome, int Quantity) : JobEvent
{
    /// <summary>What was paid for one, where it is not the price of the list; null where nobody says.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? PaidEach { get; init; }

    /// <summary>In which currency; said by the shop.</summary>
    [SaidByShop]
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? PaidIn { get; init; }

    internal override IEnumerable<string> Touches => ["line:" + LineId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.If(
            Outcome is not (OrderEnd.Came or OrderEnd.Wrong or OrderEnd.Missing),
            "outcome",
            "It came, came wrong, or cannot be had."
        );
        if (!check.State.Lines.TryGetValue(LineId, out var line))
        {
            errors.Add("lineId", "There is no such order.");
            return;
        }
        if (PaidEach is { } paid)
        {
            errors.Range(paid, "paidEach", 0, 100_000);
            errors.If(Outcome == OrderEnd.Missing, "paidEach", "What cannot be had costs nothing.");
        }
        errors.If(Quantity < 1, "quantity", "One at least.");
        errors.If(
            Quantity >= 1 && Quantity > line.Open,
            "quantity",
            line.Open == 0
                ? $"All {line.Quantity} of this order are settled already: it is received once."
                : $"{line.Open} of this order {(line.Open == 1 ? "is" : "are")} still to come, not {Quantity}."
        );
    }

    internal override JobState Apply(JobState state)
    {
        var line = state.Lines[LineId];
        if (PaidEach is { } paid)
        {
            // Estimate and price go by what was paid.
            line = line with { Price = paid, Paid = new(line.ArticleId, paid, Happened, PaidIn ?? "") };
        }
        return state.With(
            Outcome switch
            {
                OrderEnd.Came => line with { Came = line.Came + Quantity, CameAt = Happened },
                OrderEnd.Wrong => line with { Wrong = line.Wrong + Quantity, CameAt = Happened },
                _ => line with { Missing = line.Missing + Quantity },
            }
        );
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        Outcome switch
        {
            OrderEnd.Came => $"{Quantity} of an order came",
            OrderEnd.Wrong => $"{Quantity} of an order came and did not fit",
            _ => $"{Quantity} of an order cannot be had",
        };
}
