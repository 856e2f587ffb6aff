using System.Text.Json.Serialization;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A field of an act that the shop says itself: a form or program that sends it is not heard.</summary>
[AttributeUsage(AttributeTargets.Property)]
public sealed class SaidByShopAttribute : Attribute;

/// <summary>One thing that happened in a job. Events are never changed; a correction is a later event. Each kind stands
/// in a
/// file of its own: record, what it must satisfy, what it does to the state, and how it reads in the log.</summary>
[JsonPolymorphic(
    TypeDiscriminatorPropertyName = "kind",
    UnknownDerivedTypeHandling = JsonUnknownDerivedTypeHandling.FailSerialization
)]
[JsonDerivedType(typeof(JobOpened), "opened")]
[JsonDerivedType(typeof(MachineCorrected), "machine-corrected")]
[JsonDerivedType(typeof(ComplaintStated), "complaint-stated")]
[JsonDerivedType(typeof(FindingAnswered), "finding-answered")]
[JsonDerivedType(typeof(PartSeen), "part-seen")]
[JsonDerivedType(typeof(WhyAnswered), "why-answered")]
[JsonDerivedType(typeof(TargetsChosen), "targets-chosen")]
[JsonDerivedType(typeof(CauseDecided), "cause-decided")]
[JsonDerivedType(typeof(WaysChosen), "ways-chosen")]
[JsonDerivedType(typeof(SafetySigned), "safety-signed")]
[JsonDerivedType(typeof(OperationDone), "operation-done")]
[JsonDerivedType(typeof(CountSettled), "count-settled")]
[JsonDerivedType(typeof(ProblemNoted), "problem-noted")]
[JsonDerivedType(typeof(NoteAdded), "note-added")]
[JsonDerivedType(typeof(PhotoAdded), "photo-added")]
[JsonDerivedType(typeof(PhotoMarked), "photo-marked")]
[JsonDerivedType(typeof(ReadingTaken), "reading-taken")]
[JsonDerivedType(typeof(GaugeRead), "gauge-read")]
[JsonDerivedType(typeof(GaugeLimitSet), "gauge-limit")]
[JsonDerivedType(typeof(RhythmHeard), "rhythm-heard")]
[JsonDerivedType(typeof(SoundRecorded), "sound-recorded")]
[JsonDerivedType(typeof(TimerStarted), "timer-started")]
[JsonDerivedType(typeof(TimerStopped), "timer-stopped")]
[JsonDerivedType(typeof(PartOrdered), "part-ordered")]
[JsonDerivedType(typeof(PartsBought), "parts-bought")]
[JsonDerivedType(typeof(OrderSettled), "order-settled")]
[JsonDerivedType(typeof(PartsReturned), "parts-returned")]
[JsonDerivedType(typeof(EstimateGiven), "estimate-given")]
[JsonDerivedType(typeof(EstimateApproved), "estimate-approved")]
[JsonDerivedType(typeof(EstimateSigned), "estimate-signed")]
[JsonDerivedType(typeof(PriceMade), "price-made")]
[JsonDerivedType(typeof(WorkDeclined), "work-declined")]
[JsonDerivedType(typeof(GlueCoated), "glue-coated")]
[JsonDerivedType(typeof(GlueJoined), "glue-joined")]
[JsonDerivedType(typeof(GlueSlipped), "glue-slipped")]
[JsonDerivedType(typeof(PartFitted), "part-fitted")]
[JsonDerivedType(typeof(OperationRefitted), "operation-refitted")]
[JsonDerivedType(typeof(StepRefitted), "step-refitted")]
[JsonDerivedType(typeof(StepNoteTicked), "step-note-ticked")]
[JsonDerivedType(typeof(PlugJoined), "plug-joined")]
[JsonDerivedType(typeof(OwedSettled), "owed-settled")]
[JsonDerivedType(typeof(SchoolChosen), "school-chosen")]
[JsonDerivedType(typeof(LayoutPinned), "layout-pinned")]
[JsonDerivedType(typeof(JobImported), "imported")]
[JsonDerivedType(typeof(CustomerRemoved), "customer-removed")]
[JsonDerivedType(typeof(SoundDropped), "sound-dropped")]
[JsonDerivedType(typeof(NoteSpoken), "note-spoken")]
[JsonDerivedType(typeof(ProofRecorded), "proof-recorded")]
[JsonDerivedType(typeof(AskedAgain), "asked-again")]
[JsonDerivedType(typeof(StationEntered), "station-entered")]
[JsonDerivedType(typeof(JobClosed), "closed")]
[JsonDerivedType(typeof(JobReopened), "reopened")]
[JsonDerivedType(typeof(StraySettled), "stray-settled")]
[JsonDerivedType(typeof(Undone), "undone")]
[JsonDerivedType(typeof(Restored), "restored")]
[JsonDerivedType(typeof(UnknownAct), "unknown-act")]
public abstract record JobEvent
{
    /// <summary>Made by the client; sending the same event twice changes nothing.</summary>
    public Guid Id { get; init; }

    /// <summary>When it happened, by the clock of the device it was done on.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>When it arrived, by the shop's clock; null in logs from before it was kept.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public DateTimeOffset? Arrived { get; init; }

    /// <summary>Seconds the device's clock was behind the shop's (ahead: negative). All acts of one sending carry the
    /// same, so
    /// that they keep their distances in time.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public double ClockBehindSeconds { get; init; }

    /// <summary>The last act the page knew that sent this one; null where nothing is said of it.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Guid? Knew { get; init; }

    /// <summary>Who did it: the person the device belongs to. Said by the shop, never by the sender; null where nobody
    /// was named.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? By { get; init; }

    /// <summary>On which device; said by the shop like <see cref="By"/>.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Device { get; init; }

    /// <summary>Names the run of acts of one device it was made in without a link: acts of one run know of each other.
    /// Null else.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Guid? Run { get; init; }

    /// <summary>When it happened, by the shop's clock.</summary>
    [JsonIgnore]
    public DateTimeOffset Happened =>
        ClockBehindSeconds == 0 ? At : At.AddTicks((long)(ClockBehindSeconds * TimeSpan.TicksPerSecond));

    /// <summary>The same act with the stamp of another: it stands in its place in the log.</summary>
    internal JobEvent StampedAs(JobEvent other) =>
        this with
        {
            Id = other.Id,
            At = other.At,
            Arrived = other.Arrived,
            ClockBehindSeconds = other.ClockBehindSeconds,
            Knew = other.Knew,
            By = other.By,
            Device = other.Device,
            Run = other.Run,
        };

    /// <summary>What it touches: steps, parts, questions. An act made on a page that did not know of a later act on the
    /// same is
    /// refused.</summary>
    [JsonIgnore]
    internal virtual IEnumerable<string> Touches => [];

    /// <summary>Whether it can be taken back whatever was done since, while the job is open: what was read or heard bears on nothing but
    /// what is believed.</summary>
    [JsonIgnore]
    internal virtual bool StandsAlone => false;

    /// <summary>Whether a closed job takes it.</summary>
    [JsonIgnore]
    internal virtual bool AfterClosing => false;

    /// <summary>What acts of its kind do to a job shown without a link, and how they count at the machine; rests on
    /// none of its fields.</summary>
    [JsonIgnore]
    internal abstract ActEffect Effect { get; }

    /// <summary>The same act without what tells who the customer is; itself where it tells nothing.</summary>
    public virtual JobEvent WithoutCustomer() => this;

    /// <summary>What it must satisfy.</summary>
    internal abstract void Check(JobCheck check);

    /// <summary>What it does to the state.</summary>
    internal abstract JobState Apply(JobState state);

    /// <summary>How it reads in the log.</summary>
    public abstract string Words(MachineKnowledge machine);
}
