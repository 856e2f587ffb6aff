using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Jobs.Log;

/// <summary>The state of a job: a pure fold over its log. Dictionaries are sorted, so equal states serialise
/// alike.</summary>
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
    public ImmutableSortedDictionary<string, string> Answers { get; init; } =
        ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>What was seen of single parts: outcome id.</summary>
    public ImmutableSortedDictionary<PartFinding, string> Seen { get; init; } =
        ImmutableSortedDictionary<PartFinding, string>.Empty;

    /// <summary>Why a cause came about, as asked before the new part went in: fault id → fault behind it, or
    /// none.</summary>
    public ImmutableSortedDictionary<string, string> Why { get; init; } =
        ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>Causes found and parts picked, each with its decision, in the order they were met.</summary>
    public ImmutableList<FoundCause> Found { get; init; } = [];

    /// <summary>Parts to get at: those of all causes that are put right now, and no others.</summary>
    public ImmutableList<PartId> Targets { get; init; } = [];

    /// <summary>Ways chosen.</summary>
    public ImmutableSortedDictionary<string, OperationId> WaysIn { get; init; } =
        ImmutableSortedDictionary<string, OperationId>.Empty;

    /// <summary>Who signed that the machine is safe; empty where nobody did or it has been run since.</summary>
    public string SafeBy { get; init; } = "";

    /// <summary>Safety items signed.</summary>
    public ImmutableSortedSet<string> SafetyItems { get; init; } = [];

    /// <summary>Operations done and not wholly put back, in the order they were done.</summary>
    public ImmutableList<OperationId> Out { get; init; } = [];

    /// <summary>Refit steps (<c>operation/step</c>) done of operations that are not wholly back.</summary>
    public ImmutableSortedSet<StepRef> StepsIn { get; init; } = [];

    /// <summary>Obstacles that are not on this machine.</summary>
    public ImmutableSortedSet<OperationId> Absent { get; init; } = [];

    /// <summary>What prudence wants first and the repairer left out, with a reason in the log.</summary>
    public ImmutableSortedSet<OperationId> LeftOut { get; init; } = [];

    /// <summary>Operations that will not go on this machine.</summary>
    public ImmutableSortedSet<OperationId> Stuck { get; init; } = [];

    /// <summary>Schools gone by where it is not the default: school id → option.</summary>
    public ImmutableSortedDictionary<string, string> Schools { get; init; } =
        ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>What steps asked to photograph, note or keep and was ticked off: note id → what was noted.</summary>
    public ImmutableSortedDictionary<string, string> Ticked { get; init; } =
        ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>Hash of the layout the job is worked with; empty in a job from before layouts were kept.</summary>
    public string LayoutHash { get; init; } = "";

    /// <summary>Every operation done since the job began or was last whole, with trays and counts.</summary>
    public ImmutableList<Removal> Removals { get; init; } = [];

    /// <summary>What acts of a newer Idrum call themselves; where there is one, the job is read-only here.</summary>
    public ImmutableList<string> Unknown { get; init; } = [];

    /// <summary>When it came in as a file, and what of it is the file's word.</summary>
    [JsonIgnore]
    public ImmutableList<JobImported> Imported { get; init; } = [];

    /// <summary>Parts the customer did not want changed.</summary>
    public ImmutableList<Declined> Declined { get; init; } = [];

    /// <summary>Whether what tells who the customer is was taken out.</summary>
    public bool CustomerRemoved { get; init; }

    /// <summary>Screws more (or fewer) than the layout says: fastener group id → difference.</summary>
    public ImmutableSortedDictionary<string, int> Differences { get; init; } =
        ImmutableSortedDictionary<string, int>.Empty;

    /// <summary>What differed, in order.</summary>
    public ImmutableList<ProblemNoted> Problems { get; init; } = [];

    /// <summary>What was owed to the machine and is settled: its id → how.</summary>
    public ImmutableSortedDictionary<string, OwedOutcome> Owed { get; init; } =
        ImmutableSortedDictionary<string, OwedOutcome>.Empty;

    /// <summary>Notes.</summary>
    public ImmutableList<NoteAdded> Notes { get; init; } = [];

    /// <summary>Notes that were spoken.</summary>
    public ImmutableList<NoteSpoken> Spoken { get; init; } = [];

    /// <summary>Files that acts carry and that are still held: name → kind.</summary>
    [JsonIgnore]
    public ImmutableDictionary<string, AttachmentKind> Attachments { get; init; } =
        ImmutableDictionary<string, AttachmentKind>.Empty;

    /// <summary>Photos.</summary>
    public ImmutableList<PhotoAdded> Photos { get; init; } = [];

    /// <summary>Rings and words on photos.</summary>
    public ImmutableList<PhotoMarked> Marks { get; init; } = [];

    /// <summary>Readings.</summary>
    public ImmutableList<ReadingTaken> Readings { get; init; } = [];

    /// <summary>Readings of protocols, in order.</summary>
    public ImmutableList<GaugeRead> Gauged { get; init; } = [];

    /// <summary>Limits set on this machine instead of the layout's, by protocol and part.</summary>
    public ImmutableSortedDictionary<GaugedPart, GaugeLimitSet> GaugeLimits { get; init; } =
        ImmutableSortedDictionary<GaugedPart, GaugeLimitSet>.Empty;

    /// <summary>Rhythms of the noise that were followed, in order.</summary>
    public ImmutableList<RhythmHeard> Rhythms { get; init; } = [];

    /// <summary>Recordings, in order.</summary>
    public ImmutableList<SoundRecorded> Sounds { get; init; } = [];

    /// <summary>Timers, running and stopped.</summary>
    public ImmutableList<TimerRecord> Timers { get; init; } = [];

    /// <summary>Orders: part id → day it is due.</summary>
    public ImmutableSortedDictionary<PartId, DateTimeOffset> Orders { get; init; } =
        ImmutableSortedDictionary<PartId, DateTimeOffset>.Empty;

    /// <summary>Parts ordered or taken from the van, by the id of the line.</summary>
    public ImmutableSortedDictionary<string, OrderLine> Lines { get; init; } =
        ImmutableSortedDictionary<string, OrderLine>.Empty;

    /// <summary>The estimate that stands, or null.</summary>
    public EstimateGiven? Estimate { get; init; }

    /// <summary>Who agreed to it; null where nobody did yet.</summary>
    public EstimateApproved? Approval { get; init; }

    /// <summary>Signatures under estimates, void ones too.</summary>
    public ImmutableList<EstimateSigned> Signatures { get; init; } = [];

    /// <summary>What it costs in the end, or null.</summary>
    public PriceMade? Price { get; init; }

    /// <summary>What was done to parts, latest per part.</summary>
    public ImmutableSortedDictionary<PartId, PartFitted> Fitted { get; init; } =
        ImmutableSortedDictionary<PartId, PartFitted>.Empty;

    /// <summary>How far parts are glued.</summary>
    public ImmutableSortedDictionary<PartId, GlueState> Glue { get; init; } =
        ImmutableSortedDictionary<PartId, GlueState>.Empty;

    /// <summary>Odd counts that were explained.</summary>
    public ImmutableList<SettledCount> Settled { get; init; } = [];

    /// <summary>What lies in trays for a machine it was only thought to be, in words.</summary>
    public ImmutableList<string> Strays { get; init; } = [];

    /// <summary>Refit checks seen.</summary>
    public ImmutableSortedSet<string> RefitChecks { get; init; } = [];

    /// <summary>Proofs, latest per proof, since the machine was last opened.</summary>
    public ImmutableSortedDictionary<string, ProofRecorded> Proofs { get; init; } =
        ImmutableSortedDictionary<string, ProofRecorded>.Empty;

    /// <summary>What was out before and was asked again since the machine was last whole: finding → outcome
    /// now.</summary>
    public ImmutableSortedDictionary<string, string> After { get; init; } =
        ImmutableSortedDictionary<string, string>.Empty;

    /// <summary>The closing, or null.</summary>
    public JobClosed? Closed { get; init; }

    /// <summary>Why a closed job was opened again; empty where it was not, or has been closed since.</summary>
    public string ReopenedBecause { get; init; } = "";

    /// <summary>Trays given out so far.</summary>
    public int TraysUsed { get; init; }

    /// <summary>The cause decided on last that is put right or handed over; empty where there is none.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public FaultId FaultId => Found.LastOrDefault(f => !f.FaultId.IsNone && f.Decision != Decided.Leave)?.FaultId ?? "";

    /// <summary>Whether everything found is handed over to another trade.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool HandedOver => Targets.Count == 0 && Found.Any(f => f.Decision == Decided.HandOver);

    /// <summary>When the last glue may be heated; null where nothing cures.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public DateTimeOffset? CuredAt => Glue.Values.Select(g => g.RunFrom).Max();

    /// <summary>What the ledger is made of.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public LedgerInput Ledger => new(Removals, Differences, Settled);

    /// <summary>Wear relative to ten years at five loads a week; 1 where age or use is unknown.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public double Wear => WearOf(Machine.AgeYears, Machine.UsesPerWeek);

    /// <summary>Wear relative to ten years at five loads a week; average use where that is unknown, 1 where the age
    /// is.</summary>
    /// <param name="years">Age, years.</param>
    /// <param name="loadsAWeek">Use, loads a week.</param>
    public static double WearOf(double? years, double? loadsAWeek) =>
        years is not { } age ? 1 : (age + 0.5) / 10.5 * (loadsAWeek is { } use ? (use + 0.5) / 5.5 : 1);

    /// <summary>Answers that say something, for diagnosis.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public ImmutableSortedDictionary<string, string> Evidence => Answers.RemoveRange(Untold);

    /// <summary>Ids of findings that were asked for and cannot be told.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public IEnumerable<string> Untold => Answers.Where(a => a.Value == Finding.Untold).Select(a => a.Key);

    /// <summary>Operations that are out as far as they ever were: nothing of them is back.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public IEnumerable<OperationId> WhollyOut => Out.Where(id => !StepsIn.Any(s => s.Operation == id));

    /// <summary>Facts that vary on this machine, as the layout wants them; see <see
    /// cref="MachineCard.FactsOf"/>.</summary>
    public IReadOnlyDictionary<string, string> FactsOf(Layout layout) => Machine.FactsOf(layout);

    /// <summary>How many fasteners of a group came out so far.</summary>
    public int OutCount(string fastenerId) => Removals.Sum(r => r.Out.GetValueOrDefault(fastenerId));

    /// <summary>This state at a station at least as far as the given one. Entering Prove means power comes back: the
    /// signature
    /// is spent, and opening again asks for a new one.</summary>
    internal JobState AtLeast(Station station) => Station < station ? Enter(station) : this;

    /// <summary>This state after power came back: the signature is spent.</summary>
    internal JobState Powered() => this with { SafeBy = "", SafetyItems = [] };

    /// <summary>This state at a station.</summary>
    internal JobState Enter(Station station) =>
        (station == Station.Prove ? Powered() : this) with
        {
            Station = station,
        };

    /// <summary>Parts that wait for what is still to come of a line: of several of one kind, as many of the last as are
    /// still out.</summary>
    private IEnumerable<PartId> Awaits(OrderLine line)
    {
        var open = line.For.Where(p => !Fitted.ContainsKey(p)).ToList();
        return line.Covers.Count == 1 ? open.TakeLast(line.Open * line.Covers.Values.First()) : open;
    }

    /// <summary>With a line of parts begun or changed. A part is on order as long as a line with it is open.</summary>
    internal JobState With(OrderLine line)
    {
        var lines = Lines.SetItem(line.LineId, line);
        var orders = Orders;
        foreach (var part in line.For)
        {
            var due = lines
                .Values.Where(l => l.Open > 0 && l.Due is not null && Awaits(l).Contains(part))
                .Max(l => l.Due);
            orders = due is { } day && !Fitted.ContainsKey(part) ? orders.SetItem(part, day) : orders.Remove(part);
        }
        return this with { Lines = lines, Orders = orders };
    }

    /// <summary>With a cause's decision set, and the targets that follow from all decisions. A part something was done
    /// to stays.</summary>
    internal JobState Decide(FoundCause cause)
    {
        var known = !cause.FaultId.IsNone
            ? Found.FindIndex(f => f.FaultId == cause.FaultId)
            : Found.FindIndex(f => f.FaultId.IsNone && f.Parts.SequenceEqual(cause.Parts));
        var found =
            known < 0
                ? Found.Add(cause)
                : Found.SetItem(known, cause with { Parts = [.. Found[known].Parts.Union(cause.Parts)] });
        // What was opened to be looked at is settled by what was found there.
        found =
            cause.Decision == Decided.Look
                ? found
                : found.RemoveAll(f => f.Decision == Decided.Look && f.Parts.All(cause.Parts.Contains));
        var wanted = found
            .Where(f => f.Decision is Decided.Change or Decided.Look)
            .SelectMany(f => f.Parts)
            .ToHashSet();
        wanted.UnionWith(Fitted.Keys.Where(Targets.Contains));
        return this with
        {
            Found = found,
            Targets =
            [
                .. Targets.Where(wanted.Contains),
                .. found.SelectMany(f => f.Parts).Where(wanted.Contains).Distinct().Where(p => !Targets.Contains(p)),
            ],
        };
    }

    /// <summary>Whether the two are the same state.</summary>
    public bool SameAs(JobState other) => Canonical() == other.Canonical();

    /// <summary>The state as JSON with a fixed order of fields.</summary>
    public string Canonical() => JsonSerializer.Serialize(this, IdrumJson.Options);
}

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

    /// <summary>How long before its end it rings a first time, seconds: a window of glue is told before it opens and
    /// before it closes.</summary>
    public int AheadSeconds =>
        TimerId.StartsWith("close:", StringComparison.Ordinal) ? 180
        : TimerId.StartsWith("join:", StringComparison.Ordinal) ? 60
        : 0;
}
