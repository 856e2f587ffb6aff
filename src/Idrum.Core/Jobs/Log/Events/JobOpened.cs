using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A job was opened.</summary>
/// <param name="Number">The shop's number of the job.</param>
/// <param name="Machine">The machine.</param>
public sealed record JobOpened(string Number, MachineCard Machine) : JobEvent
{
    /// <summary>Hash of the layout the job is worked with; the shop sets it as the job arrives.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault
    )]
    public string? LayoutHash { get; init; }

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        // A number of another shape was possible once; such a job can still be read.
        check.Errors.Text(Number, "number", 24, true);
        check.Guard(_ => !JobNumber.FitsNew(Number), "number", JobNumber.Shape);
        Machine.Check("machine", check.Shop, check.Errors, check.Shop.FindPinned(LayoutHash ?? ""));
        check.Errors.If(
            LayoutHash is { Length: > 0 } hash && check.Shop.FindPinned(hash)?.Id != Machine.LayoutId,
            "layoutHash",
            "The shop does not keep this writing of the layout."
        );
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Number = Number,
            Machine = Machine,
            LayoutHash = LayoutHash ?? "",
            OpenedAt = Happened,
            Station = Station.Complaint,
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => this with { Machine = Machine.WithoutCustomer() };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Job {Number} opened";
}
