using System.Text.Json.Serialization;
using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>How something is found out.</summary>
public enum FindingGroup
{
    /// <summary>The customer says it.</summary>
    Complaint,

    /// <summary>The customer is asked.</summary>
    History,

    /// <summary>It shows from outside.</summary>
    Outside,

    /// <summary>It shows once the machine is open.</summary>
    Inside,

    /// <summary>What a complaint tells of the time before the machine stopped: only in a model, never in a file.</summary>
    Before,
}

/// <summary>How a machine must stand for something to be looked at.</summary>
public enum FindingNeed
{
    /// <summary>Nothing is off.</summary>
    Closed,

    /// <summary>The drum is in.</summary>
    DrumIn,

    /// <summary>What carries the drum in front is on.</summary>
    FrontOn,

    /// <summary>The belt is on.</summary>
    BeltOn,

    /// <summary>It is neither dead nor does it hum.</summary>
    Starts,

    /// <summary>The drum turns.</summary>
    Runs,
}

/// <summary>Something that can be observed, with graded outcomes of which the first is the normal one.</summary>
public sealed record Finding
{
    /// <summary>The answer to what cannot be told; an outcome of no finding.</summary>
    public const string Untold = "unknown";

    private IReadOnlyList<Link>? links;

    /// <summary>Stable id.</summary>
    public required string Id { get; init; }

    /// <summary>How it is found out.</summary>
    public required FindingGroup Group { get; init; }

    /// <summary>Short name, for the ledger.</summary>
    public required string Name { get; init; }

    /// <summary>What to do to find out, imperative.</summary>
    public required string Do { get; init; }

    /// <summary>How, or what it tells.</summary>
    public string Why { get; init; } = "";

    /// <summary>Minutes of the check itself.</summary>
    public required double Minutes { get; init; }

    /// <summary>Risk, expressed as minutes added.</summary>
    public double RiskMinutes { get; init; }

    /// <summary>Kinds of part that must be within reach.</summary>
    public IReadOnlyList<string> At { get; init; } = [];

    /// <summary>Kinds of part whose wear it sees even where that has not spoken yet; those of <see cref="At"/> where
    /// none are given.</summary>
    public IReadOnlyList<string> Sees { get; init; } = [];

    /// <summary>Needs the machine whole and powered.</summary>
    public bool Runs { get; init; }

    /// <summary>How the machine must stand for it to be made at all: all of these.</summary>
    public IReadOnlyList<FindingNeed> Needs { get; init; } = [];

    /// <summary>What is said before it is made, once; empty where nothing can hurt.</summary>
    public string Caution { get; init; } = "";

    /// <summary>A live check with panels open or a bridged switch: offered last, by a qualified person.</summary>
    public bool Live { get; init; }

    /// <summary>Whether it is asked again after the repair where it was out before: not where it only tells where
    /// something is, or asks for long waits.</summary>
    public bool AskedAgain { get; init; } = true;

    /// <summary>Whether a new felt makes it drag evenly for a while, which is right.</summary>
    public bool FeltRunsIn { get; init; }

    /// <summary>Only on layouts where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>What the machine must do for it to show: one of these; empty for any.</summary>
    public IReadOnlyList<MachineDoes> States { get; init; } = [];

    /// <summary>What is found where the machine does something else: state → outcome; the normal one where not
    /// said.</summary>
    public IReadOnlyDictionary<MachineDoes, string> Otherwise { get; init; } = new Dictionary<MachineDoes, string>();

    /// <summary>The state that it reports: its second outcome says that the machine does this. Null where it reports none.</summary>
    public MachineDoes? Tells { get; init; }

    /// <summary>A complaint: probability that the customer mentions it where it is so.</summary>
    public double Told { get; init; } = 0.7;

    /// <summary>Possible outcomes, normal first, then rising.</summary>
    public required IReadOnlyList<Outcome> Outcomes { get; init; }

    /// <summary>Probability of each abnormal outcome when nothing is wrong.</summary>
    public required IReadOnlyList<double> Leak { get; init; }

    /// <summary>Which faults cause it, and why.</summary>
    public IReadOnlyList<LinkGroup> Causes
    {
        get;
        init
        {
            field = value;
            links = null;
        }
    } = [];

    /// <summary>The same, one by one.</summary>
    [JsonIgnore]
    public IReadOnlyList<Link> Links =>
        links ??= [.. Causes.SelectMany(g => g.Of.Select(o => new Link(o.Key, o.Value, g.When)))];

    /// <summary>Kinds whose silent wear it sees.</summary>
    [JsonIgnore]
    public IReadOnlyList<string> SeesKinds => Sees.Count > 0 ? Sees : At;

    /// <summary>Place of an outcome, or -1.</summary>
    public int IndexOf(string outcomeId)
    {
        for (var i = 0; i < Outcomes.Count; i++)
        {
            if (Outcomes[i].Id == outcomeId)
            {
                return i;
            }
        }
        return -1;
    }

    /// <summary>Two findings are the same where their ids are.</summary>
    public bool Equals(Finding? other) => other?.Id == Id;

    /// <inheritdoc/>
    public override int GetHashCode() => Id.GetHashCode(StringComparison.Ordinal);
}

/// <summary>One outcome of a finding.</summary>
/// <param name="Id">Stable id within the finding.</param>
/// <param name="Label">Words on the button.</param>
public sealed record Outcome(string Id, string Label);

/// <summary>Faults that cause a finding for one reason.</summary>
/// <param name="Because">The reason, one line.</param>
/// <param name="Of">Fault id → probability of each abnormal outcome when this fault alone is present.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record LinkGroup(
    string Because,
    IReadOnlyDictionary<FaultId, IReadOnlyList<double>> Of,
    Condition? When = null
);

/// <summary>One fault's power to cause a finding.</summary>
/// <param name="Fault">Fault id.</param>
/// <param name="P">Probability of each abnormal outcome when this fault alone is present.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record Link(FaultId Fault, IReadOnlyList<double> P, Condition? When = null);
