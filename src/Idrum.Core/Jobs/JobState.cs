using System.Collections.Immutable;
using System.Text.Json;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>The state of a job: a pure fold over its log. Dictionaries are sorted, so equal states serialise alike.</summary>
public sealed record JobState
{
    /// <summary>Before anything happened.</summary>
    public static JobState Empty { get; } = new();

    /// <summary>The shop's number.</summary>
    public string Number { get; init; } = "";
    /// <summary>The machine.</summary>
    public MachineCard Machine { get; init; } = new();
    /// <summary>When it was opened.</summary>
    public DateTimeOffset OpenedAt { get; init; }
    /// <summary>When something last happened.</summary>
    public DateTimeOffset LastAt { get; init; }
    /// <summary>The station in work.</summary>
    public Station Station { get; init; }
    /// <summary>The complaint in the customer's words.</summary>
    public string Words { get; init; } = "";
    /// <summary>Complaint ids that hold.</summary>
    public ImmutableSortedSet<string> Complaints { get; init; } = [];
    /// <summary>Answers: finding id → outcome id, <c>unknown</c> where it could not be told.</summary>
    public ImmutableSortedDictionary<string, string> Answers { get; init; } = ImmutableSortedDictionary<string, string>.Empty;
    /// <summary>The cause decided on.</summary>
    public string FaultId { get; init; } = "";
    /// <summary>Why the advice was overridden, or empty.</summary>
    public string TargetReason { get; init; } = "";
    /// <summary>Parts to get at.</summary>
    public ImmutableList<string> Targets { get; init; } = [];
    /// <summary>Ways chosen.</summary>
    public ImmutableSortedDictionary<string, string> WaysIn { get; init; } = ImmutableSortedDictionary<string, string>.Empty;
    /// <summary>Who signed that the machine is safe; empty where nobody did or it has been run since.</summary>
    public string SafeBy { get; init; } = "";
    /// <summary>Safety items signed.</summary>
    public ImmutableSortedSet<string> SafetyItems { get; init; } = [];
    /// <summary>Operations done and not put back, in the order they were done.</summary>
    public ImmutableList<string> Out { get; init; } = [];
    /// <summary>Every operation done since the job began or was last whole, with trays and counts.</summary>
    public ImmutableList<RemovalRecord> Removals { get; init; } = [];
    /// <summary>Screws more (or fewer) than the layout says: fastener group id → difference.</summary>
    public ImmutableSortedDictionary<string, int> Differences { get; init; } = ImmutableSortedDictionary<string, int>.Empty;
    /// <summary>What differed, in order.</summary>
    public ImmutableList<ProblemNoted> Problems { get; init; } = [];
    /// <summary>Notes.</summary>
    public ImmutableList<NoteAdded> Notes { get; init; } = [];
    /// <summary>Photos.</summary>
    public ImmutableList<PhotoAdded> Photos { get; init; } = [];
    /// <summary>Readings.</summary>
    public ImmutableList<ReadingTaken> Readings { get; init; } = [];
    /// <summary>Timers, running and stopped.</summary>
    public ImmutableList<TimerRecord> Timers { get; init; } = [];
    /// <summary>Orders: part id → day it is due.</summary>
    public ImmutableSortedDictionary<string, DateTimeOffset> Orders { get; init; } = ImmutableSortedDictionary<string, DateTimeOffset>.Empty;
    /// <summary>What was done to parts, latest per part.</summary>
    public ImmutableSortedDictionary<string, PartFitted> Fitted { get; init; } = ImmutableSortedDictionary<string, PartFitted>.Empty;
    /// <summary>Refit checks seen.</summary>
    public ImmutableSortedSet<string> RefitChecks { get; init; } = [];
    /// <summary>Proofs, latest per proof, since the machine was last opened.</summary>
    public ImmutableSortedDictionary<string, ProofRecorded> Proofs { get; init; } = ImmutableSortedDictionary<string, ProofRecorded>.Empty;
    /// <summary>The closing, or null.</summary>
    public JobClosed? Closed { get; init; }
    /// <summary>Trays given out so far.</summary>
    public int TraysUsed { get; init; }

    /// <summary>Wear relative to ten years at five loads a week; 1 where age or use is unknown.</summary>
    public double Wear => Machine is { AgeYears: { } age, UsesPerWeek: { } use } ? (age + 0.5) * (use + 0.5) / (10.5 * 5.5)
        : Machine.AgeYears is { } a ? (a + 0.5) / 10.5 : 1;

    /// <summary>Answers that say something, for diagnosis.</summary>
    public ImmutableSortedDictionary<string, string> Evidence => Answers.RemoveRange(Answers.Where(a => a.Value == "unknown").Select(a => a.Key));

    /// <summary>Facts that vary on this machine, as the layout wants them: named ones hold, and gas where it burns gas.</summary>
    public IReadOnlyDictionary<string, bool> FactsOf(Layout layout) => layout.Facts.Where(f => f.Varies)
        .ToDictionary(f => f.Id, f => f.Id == "gas" ? Machine.Energy == "gas" : Machine.Facts.Contains(f.Id));

    /// <summary>Whether the two are the same state.</summary>
    public bool SameAs(JobState other) => Canonical() == other.Canonical();

    /// <summary>The state as JSON with a fixed order of fields.</summary>
    public string Canonical() => JsonSerializer.Serialize(this, IdrumJson.Options);
}

/// <summary>One operation as it was done on this machine.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Trays">Fastener group → letter of its tray compartment; only groups of which something came out.</param>
/// <param name="Out">Fastener group → how many came out.</param>
/// <param name="In">Fastener group → how many went back; null while it is out.</param>
/// <param name="Joined">Plugs joined when it was put back.</param>
/// <param name="DoneAt">When it was done.</param>
public sealed record RemovalRecord(string OperationId, ImmutableSortedDictionary<string, string> Trays, ImmutableSortedDictionary<string, int> Out,
    ImmutableSortedDictionary<string, int>? In, ImmutableSortedSet<string> Joined, DateTimeOffset DoneAt);

/// <summary>One timer.</summary>
/// <param name="TimerId">Id.</param>
/// <param name="Label">What is waited for.</param>
/// <param name="StartedAt">When it was started.</param>
/// <param name="Minutes">How long it runs.</param>
/// <param name="Stopped">True where it was stopped or acknowledged.</param>
public sealed record TimerRecord(string TimerId, string Label, DateTimeOffset StartedAt, double Minutes, bool Stopped)
{
    /// <summary>When it rings.</summary>
    public DateTimeOffset EndsAt => StartedAt.AddMinutes(Minutes);
}
