using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A reading was taken.</summary>
/// <param name="What">What was measured.</param>
/// <param name="Value">The number.</param>
/// <param name="Unit">Its unit.</param>
public sealed record ReadingTaken(string What, double Value, string Unit) : JobEvent
{
    internal override ActEffect Effect =>
        new()
        {
            Kept = "Read, kept here: {what} {value} {unit}",
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(What, "what", FieldErrors.ShortText, true);
        check.Errors.Text(Unit, "unit", 16);
        check.Errors.Range(Value, "value", -1e6, 1e6);
    }

    internal override JobState Apply(JobState state) => state with { Readings = state.Readings.Add(this) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{What}: {Value} {Unit}");
}
