using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>Faults and findings shared by all layouts, as read from <c>content/faults.json</c> and <c>content/findings.json</c>.</summary>
/// <param name="Faults">All faults.</param>
/// <param name="Findings">All complaints, checks and readings.</param>
/// <param name="Costs">What time and money are worth.</param>
public sealed record DiagnosisCatalog(IReadOnlyList<Fault> Faults, IReadOnlyList<Finding> Findings, CostBasis Costs)
{
    /// <summary>The finding of that id, or null.</summary>
    public Finding? FindFinding(string id) => IdIndex<Finding>.Find(Findings, id, static f => f.Id);

    /// <summary>The fault of that id, or null.</summary>
    public Fault? FindFault(string id) => IdIndex<Fault>.Find(Faults, id, static f => f.Id);

    /// <summary>Errors in the catalog: doubled, dangling or unknown ids, probabilities outside 0 to 1 or not rising with the grades.</summary>
    public IReadOnlyList<FieldError> Check(Vocabulary words)
    {
        var errors = new List<FieldError>();
        errors.AddRange(Faults.GroupBy(f => f.Id).Where(g => g.Count() > 1).Select(g => new FieldError("/faults", $"'{g.Key}' stands twice.")));
        errors.AddRange(Findings.GroupBy(f => f.Id).Where(g => g.Count() > 1).Select(g => new FieldError("/findings", $"'{g.Key}' stands twice.")));
        if (errors.Count > 0)
        {
            return errors;
        }
        for (var i = 0; i < Faults.Count; i++)
        {
            errors.AddRange(Faults[i].Kinds.Where(k => !words.HasPartKind(k)).Select(k => new FieldError($"/faults/{i}/kinds", $"There is no kind of part '{k}'.")));
            Known($"/faults/{i}/when", Faults[i].When);
        }
        for (var i = 0; i < Findings.Count; i++)
        {
            var f = Findings[i];
            errors.AddRange(f.At.Where(k => !words.HasPartKind(k)).Select(k => new FieldError($"/findings/{i}/at", $"There is no kind of part '{k}'.")));
            Known($"/findings/{i}/when", f.When);
            var grades = f.Outcomes.Count - 1;
            if (grades < 1 || f.Leak.Count != grades || !Sound(f.Leak))
            {
                errors.Add(new($"/findings/{i}/leak", $"'{f.Id}' needs one leak probability for each abnormal outcome, together below 1."));
            }
            for (var k = 0; k < f.Links.Count; k++)
            {
                if (FindFault(f.Links[k].Fault) is null)
                {
                    errors.Add(new($"/findings/{i}/links/{k}/fault", $"There is no fault '{f.Links[k].Fault}'."));
                }
                if (f.Links[k].P.Count != grades || !Sound(f.Links[k].P))
                {
                    errors.Add(new($"/findings/{i}/links/{k}/p", $"'{f.Id}' needs one probability for each abnormal outcome, together at most 1."));
                }
            }
        }
        return errors;

        void Known(string at, Condition? when) => errors.AddRange(words.Faults(when).Select(fault => new FieldError(at, fault)));
        static bool Sound(IReadOnlyList<double> p) => p.All(v => v is >= 0 and < 1) && p.Sum() < 1;
    }
}

/// <summary>Something that can be wrong.</summary>
public sealed record Fault
{
    /// <summary>Stable id.</summary>
    public required string Id { get; init; }
    /// <summary>Name, for the list of causes.</summary>
    public required string Name { get; init; }
    /// <summary>What it looks like, in a second line.</summary>
    public string Detail { get; init; } = "";
    /// <summary>Part kinds to be replaced, freed or cleaned; the fault exists only on layouts that have one of them.</summary>
    public IReadOnlyList<string> Kinds { get; init; } = [];
    /// <summary>Only on layouts where this holds.</summary>
    public Condition? When { get; init; }
    /// <summary>Prior odds against a machine without this fault, at ten years and average use.</summary>
    public required double Odds { get; init; }
    /// <summary>How strongly the odds grow with wear: they are multiplied by (wear/1)^Ageing; 0 for no wear.</summary>
    public double Ageing { get; init; }
    /// <summary>What to do about it.</summary>
    public required string Fix { get; init; }
    /// <summary>Minutes of the work itself, without stripping and rebuilding.</summary>
    public required double FixMinutes { get; init; }
    /// <summary>True where it does not show itself to eye and finger even when its part lies open.</summary>
    public bool Hidden { get; init; }
    /// <summary>replace, clean, adjust or refer.</summary>
    public required string Action { get; init; }
}

/// <summary>Something that can be observed, with graded outcomes of which the first is the normal one.</summary>
public sealed record Finding
{
    /// <summary>Stable id.</summary>
    public required string Id { get; init; }
    /// <summary>complaint, outside, inside or running.</summary>
    public required string Group { get; init; }
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
    /// <summary>Needs the machine whole and powered.</summary>
    public bool Runs { get; init; }
    /// <summary>A live check with panels open or a bridged switch: offered last, by a qualified person.</summary>
    public bool Live { get; init; }
    /// <summary>Only on layouts where this holds.</summary>
    public Condition? When { get; init; }
    /// <summary>Possible outcomes, normal first, then rising.</summary>
    public required IReadOnlyList<Outcome> Outcomes { get; init; }
    /// <summary>Probability of each abnormal outcome when nothing is wrong.</summary>
    public required IReadOnlyList<double> Leak { get; init; }
    /// <summary>Which faults cause it.</summary>
    public IReadOnlyList<Link> Links { get; init; } = [];

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
}

/// <summary>One outcome of a finding.</summary>
/// <param name="Id">Stable id within the finding.</param>
/// <param name="Label">Words on the button.</param>
public sealed record Outcome(string Id, string Label);

/// <summary>One fault's power to cause a finding.</summary>
/// <param name="Fault">Fault id.</param>
/// <param name="P">Probability of each abnormal outcome when this fault alone is present.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record Link(string Fault, IReadOnlyList<double> P, Condition? When = null);

/// <summary>What time and money are worth to the shop.</summary>
/// <param name="RatePerHour">Price of an hour of work; turns prices into minutes.</param>
/// <param name="CallBackMinutes">Minutes lost by coming back for the same machine.</param>
/// <param name="CallBackShare">Probability that a fault left in the machine is not noticed at the proof.</param>
/// <param name="Currency">The shop's currency, as it stands before an amount.</param>
/// <param name="ReferMinutes">Minutes lost when no cause is found and the machine is given up: about the price of another one at the shop's rate.</param>
public sealed record CostBasis(double RatePerHour, double CallBackMinutes, double CallBackShare, double ReferMinutes, string Currency = "");
