using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The job was closed.</summary>
/// <param name="Summary">What to watch, for the report.</param>
/// <param name="Reason">Why it is closed although something is open; empty where nothing is.</param>
public sealed record JobClosed(string Summary, string Reason) : JobEvent
{
    /// <summary>Of a call-back: why the machine came back, one of <see cref="Log.CallBackCause"/>; null or empty where
    /// nobody says.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? CallBackCause { get; init; }

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Errors.Text(Summary, "summary", FieldErrors.LongText);
        check.Errors.Text(Reason, "reason", FieldErrors.LongText);
        check.Errors.If(
            CallBackCause is { Length: > 0 } && Log.CallBackCause.Words(CallBackCause).Length == 0,
            "callBackCause",
            "Choose one of the causes."
        );
        check.Errors.If(
            CallBackCause is { Length: > 0 } && check.State.Machine.CallBackOf.Length == 0,
            "callBackCause",
            "This job is no call-back."
        );
        if (string.IsNullOrWhiteSpace(Reason) && OpenItems.Of(check.State, check.Machine) is { Count: > 0 } open)
        {
            check.Guard(
                _ => true,
                "reason",
                $"{open.Count} item{(open.Count == 1 ? " is" : "s are")} open, the first: {open[0].Text} Write why it is closed all the same."
            );
        }
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Closed = this,
            Station = Station.Close,
            ReopenedBecause = "",
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() =>
        this with
        {
            Summary = Summary.Length > 0 ? CustomerRemoved.Word : "",
            Reason = Reason.Length > 0 ? CustomerRemoved.Word : "",
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Closed";
}
