using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What was ordered came, came wrong, or cannot be had.</summary>
/// <param name="LineId">The line.</param>
/// <param name="Outcome">came, wrong or missing.</param>
/// <param name="Quantity">How many of it.</param>
public sealed record OrderSettled(string LineId, string Outcome, int Quantity) : JobEvent
{
    internal override IEnumerable<string> Touches => ["line:" + LineId];

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.If(Outcome is not ("came" or "wrong" or "missing"), "outcome", "It came, came wrong, or cannot be had.");
        if (!check.State.Lines.TryGetValue(LineId, out var line))
        {
            errors.Add("lineId", "There is no such order.");
            return;
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
        return state.With(
            Outcome switch
            {
                "came" => line with { Came = line.Came + Quantity, CameAt = Happened },
                "wrong" => line with { Wrong = line.Wrong + Quantity, CameAt = Happened },
                _ => line with { Missing = line.Missing + Quantity },
            }
        );
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        Outcome switch
        {
            "came" => $"{Quantity} of an order came",
            "wrong" => $"{Quantity} of an order came and did not fit",
            _ => $"{Quantity} of an order cannot be had",
        };
}
