using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Diagnosis;

/// <summary>Faults and findings shared by all layouts, as read from <c>content/faults.json</c> and
/// <c>content/findings.json</c>.</summary>
/// <param name="Faults">All faults.</param>
/// <param name="Findings">All complaints, history, checks and readings.</param>
/// <param name="Costs">What time and money are worth.</param>
/// <param name="World">How faults come together.</param>
public sealed record DiagnosisCatalog(
    IReadOnlyList<Fault> Faults,
    IReadOnlyList<Finding> Findings,
    CostBasis Costs,
    WorldBasis World
)
{
    /// <summary>What is done first, in the order of their weight.</summary>
    public IReadOnlyList<FirstMoves> Moves { get; init; } = [];

    /// <summary>What is done before the machine is run, for all that is known to speak against running it: empty where
    /// nothing does.</summary>
    /// <param name="known">Finding id → outcome id.</param>
    public IReadOnlyList<FirstMoves> BeforeRunning(IReadOnlyDictionary<string, string> known) =>
        [.. Moves.Where(m => m.BeforeRunning && m.Hold(known))];

    /// <summary>What whoever calls is told until somebody is there.</summary>
    /// <param name="complaints">Ids of what he says it does.</param>
    public IReadOnlyList<string> Tells(IEnumerable<string> complaints)
    {
        var told = complaints.Distinct().ToDictionary(c => c, _ => "yes");
        return [.. Moves.Where(m => m.Tell.Length > 0 && m.Hold(told)).Select(m => m.Tell).Distinct()];
    }

    /// <summary>The finding of that id, or null.</summary>
    public Finding? FindFinding(string id) => IdIndex<Finding>.Find(Findings, id, static f => f.Id);

    /// <summary>The fault of that id, or null.</summary>
    public Fault? FindFault(FaultId id) => IdIndex<Fault>.Find(Faults, id, static f => f.Id);

    /// <summary>Errors in the catalog: doubled, dangling or unknown ids, probabilities outside 0 to 1, a likelihood
    /// without its reason.</summary>
    public IReadOnlyList<FieldError> Check(Vocabulary words)
    {
        var errors = new FieldErrors();
        foreach (
            var twice in Faults
                .GroupBy(f => f.Id)
                .Where(g => g.Count() > 1)
                .Select(g => ("/faults", g.Key.Value))
                .Concat(Findings.GroupBy(f => f.Id).Where(g => g.Count() > 1).Select(g => ("/findings", g.Key)))
        )
        {
            errors.Add(twice.Item1, $"'{twice.Item2}' stands twice.");
        }
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        for (var i = 0; i < Faults.Count; i++)
        {
            Check(errors, $"/faults/{i}", Faults[i], words);
        }
        for (var i = 0; i < Findings.Count; i++)
        {
            Check(errors, $"/findings/{i}", Findings[i], words);
        }
        for (var i = 0; i < Moves.Count; i++)
        {
            var move = Moves[i];
            errors.If(
                move.When.Count == 0 || move.When.Any(w => FindFinding(w.Key) is not { } f || f.IndexOf(w.Value) < 0),
                $"/moves/{i}/when",
                "First moves go by outcomes of findings that there are."
            );
            errors.If(
                move.Checks.Count == 0 || move.Checks.Any(c => FindFinding(c) is null),
                $"/moves/{i}/checks",
                "First moves are checks that there are."
            );
            errors.If(move.Spares.Any(f => FindFault(f) is null), $"/moves/{i}/spares", "There is no such fault.");
            errors.If(move.Why.Length == 0, $"/moves/{i}/why", "First moves have their reason.");
        }
        return errors.All;
    }

    private void Check(FieldErrors errors, string at, Fault f, Vocabulary words)
    {
        Kinds(errors, at + "/kinds", f.Kinds, words);
        Known(errors, at + "/when", f.When, words);
        errors.If(
            f.Nature == FaultNature.Acute && f.Silent > 0,
            at + "/silent",
            "An acute fault is not there silently."
        );
        errors.If(
            f.Incidence <= 0 || f.Silent is < 0 or >= 0.6,
            at + "/incidence",
            "The incidence is above 0, silent wear below 0.6."
        );
        errors.If(
            f.Does.Any(d => d.State == MachineDoes.Runs || d.P is < 0 or >= 1),
            at + "/does",
            "A fault makes the machine stand, hum or dead, with a probability below 1."
        );
        errors.If(
            f.With.Any(w => FindFault(w.Fault) is null || w.Factor <= 0),
            at + "/with",
            "It goes with a fault that is not there, or by a factor of 0."
        );
        foreach (var d in f.Does)
        {
            Known(errors, at + "/does", d.When, words);
        }
    }

    private void Check(FieldErrors errors, string at, Finding f, Vocabulary words)
    {
        Kinds(errors, at + "/at", f.At, words);
        Kinds(errors, at + "/sees", f.Sees, words);
        Known(errors, at + "/when", f.When, words);
        errors.If(f.Group == FindingGroup.Before, at + "/group", "What was before is worked out from the complaint.");
        errors.If(f.Told is <= 0 or > 1, at + "/told", "It is told with a probability above 0.");
        errors.If(f.Tells is not null && f.Outcomes.Count != 2, at + "/tells", "It reports a state with two outcomes.");
        errors.If(f.Otherwise.Any(o => f.IndexOf(o.Value) < 0), at + "/otherwise", "An outcome is not known.");
        var grades = f.Outcomes.Count - 1;
        if (grades < 1 || f.Leak.Count != grades || !Sound(f.Leak))
        {
            errors.Add(
                at + "/leak",
                $"'{f.Id}' needs one leak probability for each abnormal outcome, together below 1."
            );
        }
        for (var k = 0; k < f.Causes.Count; k++)
        {
            var group = f.Causes[k];
            errors.If(group.Because.Length == 0, $"{at}/causes/{k}/because", "Each likelihood has its reason.");
            Known(errors, $"{at}/causes/{k}/when", group.When, words);
            foreach (var (fault, p) in group.Of)
            {
                errors.If(FindFault(fault) is null, $"{at}/causes/{k}/of/{fault}", $"There is no fault '{fault}'.");
                errors.If(
                    p.Count != grades || !Sound(p),
                    $"{at}/causes/{k}/of/{fault}",
                    $"'{f.Id}' needs one probability for each abnormal outcome, together at most 1."
                );
            }
        }
    }

    private static void Kinds(FieldErrors errors, string at, IReadOnlyList<string> kinds, Vocabulary words)
    {
        foreach (var k in kinds.Where(k => !words.HasPartKind(k)))
        {
            errors.Add(at, $"There is no kind of part '{k}'.");
        }
    }

    private static void Known(FieldErrors errors, string at, Condition? when, Vocabulary words)
    {
        foreach (var fault in words.Faults(when))
        {
            errors.Add(at, fault);
        }
    }

    private static bool Sound(IReadOnlyList<double> p) => p.All(v => v is >= 0 and < 1) && p.Sum() < 1;
}

/// <summary>How faults come together.</summary>
/// <param name="Beside">Odds that any second fault speaks at the same machine, as a factor on its share of all
/// jobs.</param>
/// <param name="TwoAcute">Factor on two acute faults at once: what happened was mostly one thing.</param>
/// <param name="NothingWrong">Share of jobs in which nothing is wrong that Idrum knows.</param>
public sealed record WorldBasis(double Beside, double TwoAcute, double NothingWrong);

/// <summary>What time and money are worth to the shop.</summary>
/// <param name="RatePerHour">Price of an hour of work; turns minutes into money and back.</param>
/// <param name="CallBackMinutes">Minutes lost by coming back for the same machine.</param>
/// <param name="CallBackShare">Probability that a fault left in the machine is not noticed at the proof.</param>
/// <param name="ReferMinutes">Minutes lost when no cause is found and the machine is given up: about the price of
/// another one at the shop's rate.</param>
/// <param name="TripMinutes">Minutes of a second trip for a part that is not at hand.</param>
/// <param name="ProveMinutes">Minutes of closing up to a proof and running it.</param>
/// <param name="FindMinutes">Minutes of finding, as <c>bench find</c> measures them on simulated jobs (7.3 to 8.7 a
/// job).</param>
/// <param name="Currency">The shop's currency, as it stands before an amount.</param>
public sealed record CostBasis(
    double RatePerHour,
    double CallBackMinutes,
    double CallBackShare,
    double ReferMinutes,
    double TripMinutes = 40,
    double ProveMinutes = CostBasis.UsualProve,
    double FindMinutes = 8,
    string Currency = ""
)
{
    /// <summary>Minutes of closing up to a proof and running it, where a file says nothing.</summary>
    public const double UsualProve = 6;
}
