using System.Text.Json.Serialization;

namespace Idrum.Core.Jobs;

/// <summary>One thing that happened in a job. Events are never changed; a correction is a later event.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind", UnknownDerivedTypeHandling = JsonUnknownDerivedTypeHandling.FailSerialization)]
[JsonDerivedType(typeof(JobOpened), "opened")]
[JsonDerivedType(typeof(MachineCorrected), "machine-corrected")]
[JsonDerivedType(typeof(ComplaintStated), "complaint-stated")]
[JsonDerivedType(typeof(FindingAnswered), "finding-answered")]
[JsonDerivedType(typeof(TargetsChosen), "targets-chosen")]
[JsonDerivedType(typeof(SafetySigned), "safety-signed")]
[JsonDerivedType(typeof(OperationDone), "operation-done")]
[JsonDerivedType(typeof(ProblemNoted), "problem-noted")]
[JsonDerivedType(typeof(NoteAdded), "note-added")]
[JsonDerivedType(typeof(PhotoAdded), "photo-added")]
[JsonDerivedType(typeof(ReadingTaken), "reading-taken")]
[JsonDerivedType(typeof(TimerStarted), "timer-started")]
[JsonDerivedType(typeof(TimerStopped), "timer-stopped")]
[JsonDerivedType(typeof(PartOrdered), "part-ordered")]
[JsonDerivedType(typeof(PartFitted), "part-fitted")]
[JsonDerivedType(typeof(OperationRefitted), "operation-refitted")]
[JsonDerivedType(typeof(ProofRecorded), "proof-recorded")]
[JsonDerivedType(typeof(StationEntered), "station-entered")]
[JsonDerivedType(typeof(JobClosed), "closed")]
[JsonDerivedType(typeof(JobReopened), "reopened")]
[JsonDerivedType(typeof(Undone), "undone")]
public abstract record JobEvent
{
    /// <summary>Made by the client; sending the same event twice changes nothing.</summary>
    public Guid Id { get; init; }
    /// <summary>When it happened.</summary>
    public DateTimeOffset At { get; init; }
}

/// <summary>The machine and where it stands, as told at the start.</summary>
public sealed record MachineCard
{
    /// <summary>Layout id.</summary>
    public string LayoutId { get; init; } = "";
    /// <summary>Customer and place.</summary>
    public string Place { get; init; } = "";
    /// <summary>Model tag as read off the machine.</summary>
    public string Tag { get; init; } = "";
    /// <summary>Age, years; null where unknown.</summary>
    public double? AgeYears { get; init; }
    /// <summary>Loads per week; null where unknown.</summary>
    public double? UsesPerWeek { get; init; }
    /// <summary>electric or gas.</summary>
    public string Energy { get; init; } = "electric";
    /// <summary>plug or hard-wired.</summary>
    public string Connection { get; init; } = "plug";
    /// <summary>mm or inch.</summary>
    public string Units { get; init; } = "mm";
    /// <summary>Facts of this machine where its layout lets them vary.</summary>
    public IReadOnlyList<string> Facts { get; init; } = [];
    /// <summary>Number of the earlier job this one is a call-back of, or empty.</summary>
    public string CallBackOf { get; init; } = "";
}

/// <summary>A job was opened.</summary>
/// <param name="Number">The shop's number of the job.</param>
/// <param name="Machine">The machine.</param>
public sealed record JobOpened(string Number, MachineCard Machine) : JobEvent;

/// <summary>What is known of the machine was corrected.</summary>
/// <param name="Machine">The whole card anew.</param>
public sealed record MachineCorrected(MachineCard Machine) : JobEvent;

/// <summary>The complaint was stated, or stated anew.</summary>
/// <param name="Findings">Complaint ids that hold.</param>
/// <param name="Words">In the customer's own words.</param>
public sealed record ComplaintStated(IReadOnlyList<string> Findings, string Words) : JobEvent;

/// <summary>A check was answered.</summary>
/// <param name="FindingId">The finding.</param>
/// <param name="Outcome">Outcome id; <c>unknown</c> where it cannot be told; empty to take the answer back.</param>
public sealed record FindingAnswered(string FindingId, string Outcome) : JobEvent;

/// <summary>It was decided what to get at, and by which ways.</summary>
/// <param name="Targets">Part ids.</param>
/// <param name="FaultId">The cause decided on, or empty.</param>
/// <param name="WaysIn">Way id → operation id.</param>
/// <param name="Reason">Why, where the advice was overridden.</param>
public sealed record TargetsChosen(IReadOnlyList<string> Targets, string FaultId, IReadOnlyDictionary<string, string> WaysIn, string Reason) : JobEvent;

/// <summary>The machine was made safe, signed by name.</summary>
/// <param name="Items">Safety items ticked.</param>
/// <param name="SignedBy">Name of the person.</param>
public sealed record SafetySigned(IReadOnlyList<string> Items, string SignedBy) : JobEvent;

/// <summary>A removal operation was done.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Counts">Fastener group id → how many came out; groups only loosened are not named.</param>
public sealed record OperationDone(string OperationId, IReadOnlyDictionary<string, int> Counts) : JobEvent;

/// <summary>Reality differed from the plan.</summary>
/// <param name="OperationId">At which step.</param>
/// <param name="What">extra-screw, missing-screw, found-screw, stuck or other.</param>
/// <param name="FastenerId">Fastener group for screws, else empty.</param>
/// <param name="Count">How many screws.</param>
/// <param name="Text">In words.</param>
public sealed record ProblemNoted(string OperationId, string What, string FastenerId, int Count, string Text) : JobEvent;

/// <summary>A note.</summary>
/// <param name="OperationId">At which step, or empty.</param>
/// <param name="Text">The note.</param>
public sealed record NoteAdded(string OperationId, string Text) : JobEvent;

/// <summary>A photo was taken; the picture is stored beside the log.</summary>
/// <param name="PhotoId">SHA-256 of the stored picture, hexadecimal.</param>
/// <param name="OperationId">At which step, or empty.</param>
/// <param name="Caption">What it shows.</param>
public sealed record PhotoAdded(string PhotoId, string OperationId, string Caption) : JobEvent;

/// <summary>A reading was taken.</summary>
/// <param name="What">What was measured.</param>
/// <param name="Value">The number.</param>
/// <param name="Unit">Its unit.</param>
public sealed record ReadingTaken(string What, double Value, string Unit) : JobEvent;

/// <summary>A timer was started.</summary>
/// <param name="TimerId">Client-made id.</param>
/// <param name="Label">What is waited for.</param>
/// <param name="Minutes">How long.</param>
public sealed record TimerStarted(string TimerId, string Label, double Minutes) : JobEvent;

/// <summary>A timer was stopped or acknowledged.</summary>
/// <param name="TimerId">Which.</param>
public sealed record TimerStopped(string TimerId) : JobEvent;

/// <summary>A part was ordered and the job waits for it.</summary>
/// <param name="PartId">Which.</param>
/// <param name="DueInDays">Promised delivery.</param>
public sealed record PartOrdered(string PartId, int DueInDays) : JobEvent;

/// <summary>A part was dealt with.</summary>
/// <param name="PartId">Which.</param>
/// <param name="Action">replaced, cleaned, adjusted or left.</param>
/// <param name="School">School id followed, or empty.</param>
/// <param name="Transferred">Small parts that came over from the old one.</param>
/// <param name="Note">Remark.</param>
public sealed record PartFitted(string PartId, string Action, string School, IReadOnlyList<string> Transferred, string Note) : JobEvent;

/// <summary>A removal operation was put back.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Counts">Fastener group id → how many went in.</param>
/// <param name="Plugs">Plug ids joined.</param>
/// <param name="Checks">Refit check ids seen.</param>
public sealed record OperationRefitted(string OperationId, IReadOnlyDictionary<string, int> Counts, IReadOnlyList<string> Plugs, IReadOnlyList<string> Checks) : JobEvent;

/// <summary>A proof was made.</summary>
/// <param name="ProofId">Which.</param>
/// <param name="Outcome">ok or not-ok.</param>
/// <param name="Value">A reading with it, or null.</param>
/// <param name="Note">Remark.</param>
public sealed record ProofRecorded(string ProofId, string Outcome, double? Value, string Note) : JobEvent;

/// <summary>The repairer went to a station.</summary>
/// <param name="Station">Which.</param>
public sealed record StationEntered(Station Station) : JobEvent;

/// <summary>The job was closed.</summary>
/// <param name="Summary">What to watch, for the report.</param>
/// <param name="Reason">Why it is closed although something is open; empty where nothing is.</param>
public sealed record JobClosed(string Summary, string Reason) : JobEvent;

/// <summary>A closed job was opened again.</summary>
/// <param name="Reason">Why.</param>
public sealed record JobReopened(string Reason) : JobEvent;

/// <summary>The last act was taken back.</summary>
/// <param name="EventId">The event taken back.</param>
public sealed record Undone(Guid EventId) : JobEvent;

/// <summary>The seven stations of a job, in order.</summary>
public enum Station
{
    /// <summary>What is wrong, with which machine.</summary>
    Complaint,
    /// <summary>Which fault.</summary>
    Find,
    /// <summary>Open as far as needed.</summary>
    Strip,
    /// <summary>Replace.</summary>
    Fit,
    /// <summary>Put back.</summary>
    Rebuild,
    /// <summary>Prove it.</summary>
    Prove,
    /// <summary>Close the record.</summary>
    Close,
}
