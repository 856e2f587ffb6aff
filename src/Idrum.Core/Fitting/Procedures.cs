using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>How one kind of part is replaced.</summary>
public sealed record Procedure
{
    /// <summary>Kinds of part it is for.</summary>
    public required IReadOnlyList<string> Kinds { get; init; }
    /// <summary>What is done, as a headline.</summary>
    public required string Title { get; init; }
    /// <summary>Steps, one action each.</summary>
    public required IReadOnlyList<ProcedureStep> Steps { get; init; }
    /// <summary>What goes wrong.</summary>
    public IReadOnlyList<string> Traps { get; init; } = [];
    /// <summary>Ways on which repairers disagree; the first is the default.</summary>
    public IReadOnlyList<SchoolOption> Schools { get; init; } = [];
    /// <summary>Hazard ids.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];
    /// <summary>Waits that a timer can keep.</summary>
    public IReadOnlyList<Wait> Waits { get; init; } = [];
    /// <summary>Whether something is glued: it is joined, and then it cures.</summary>
    public bool Glues => Waits.Any(w => w.Until == "run");
    /// <summary>The school meant where none is named: the first.</summary>
    public string DefaultSchool => Schools.Count > 0 ? Schools[0].Id : "";
    /// <summary>Minutes from the coat to the earliest join; 0 where nothing is waited for.</summary>
    public double JoinMinutes(string school) => Waits.Where(w => w.Until == "join" && w.For(school)).Sum(w => w.Minutes);
    /// <summary>Minutes from the join to the earliest heat run.</summary>
    public double CureMinutes(string school) => Waits.Where(w => w.Until == "run" && w.For(school)).Sum(w => w.Minutes);
    /// <summary>How to know that it is right.</summary>
    public string Accept { get; init; } = "";
}

/// <summary>One step.</summary>
/// <param name="Do">The action.</param>
/// <param name="Why">The reason or the trap.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record ProcedureStep(string Do, string Why = "", Condition? When = null);

/// <summary>A wait within a procedure.</summary>
/// <param name="Id">Stable id within the procedure.</param>
/// <param name="Label">What is waited for.</param>
/// <param name="Minutes">Default time; the label on the tube wins.</param>
/// <param name="Until">What it must be over for: <c>join</c> the coated faces, or <c>run</c> the machine with heat.</param>
/// <param name="Schools">Ways of doing it that wait for this; empty where all do.</param>
public sealed record Wait(string Id, string Label, double Minutes, string Until, IReadOnlyList<string>? Schools = null)
{
    /// <summary>Whether this way of doing it waits for it.</summary>
    public bool For(string school) => Schools is null || Schools.Count == 0 || Schools.Contains(school);
}

/// <summary>One line of the safety gate.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What is confirmed.</param>
/// <param name="Why">Why.</param>
/// <param name="For">always, plug, hard-wired, gas or a fact id.</param>
public sealed record SafetyItem(string Id, string Text, string Why, string For);

/// <summary>One proof before closing.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Do">What to do.</param>
/// <param name="Why">What it shows.</param>
/// <param name="Ok">Words on the button when it is right.</param>
/// <param name="NotOk">Words on the button when it is not.</param>
/// <param name="Unit">Unit of a reading that may be entered, or empty.</param>
/// <param name="Powered">True where the machine runs.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record Proof(string Id, string Do, string Why, string Ok, string NotOk, string Unit = "", bool Powered = false, Condition? When = null);

/// <summary>Everything the shop knows that is not a layout or a fault.</summary>
/// <param name="Procedures">Replacement procedures.</param>
/// <param name="Safety">The safety gate.</param>
/// <param name="Proofs">Proofs.</param>
public sealed record Handbook(IReadOnlyList<Procedure> Procedures, IReadOnlyList<SafetyItem> Safety, IReadOnlyList<Proof> Proofs)
{
    /// <summary>The procedure for a kind of part, or null.</summary>
    public Procedure? For(string kind) => Procedures.FirstOrDefault(p => p.Kinds.Contains(kind));

    /// <summary>Proofs that apply to a machine.</summary>
    public IEnumerable<Proof> ProofsOf(Layout layout) => Proofs.Where(p => layout.Holds(p.When));

    /// <summary>Safety items that apply to a machine.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="connection">plug or hard-wired.</param>
    /// <param name="energy">electric or gas.</param>
    public IEnumerable<SafetyItem> SafetyOf(Layout layout, string connection, string energy) =>
        Safety.Where(i => i.For == "always" || i.For == connection || i.For == energy || layout.Has(i.For));

    /// <summary>Ids that no vocabulary knows.</summary>
    public IReadOnlyList<FieldError> Check(Vocabulary words)
    {
        var errors = new FieldErrors();
        for (var i = 0; i < Procedures.Count; i++)
        {
            foreach (var kind in Procedures[i].Kinds.Where(k => !words.HasPartKind(k)))
            {
                errors.Add($"/procedures/{i}/kinds", $"There is no kind of part '{kind}'.");
            }
            foreach (var hazard in Procedures[i].Hazards.Where(h => words.FindHazard(h) is null))
            {
                errors.Add($"/procedures/{i}/hazards", $"There is no hazard '{hazard}'.");
            }
            foreach (var fault in Procedures[i].Steps.SelectMany(s => words.Faults(s.When)))
            {
                errors.Add($"/procedures/{i}/steps", fault);
            }
        }
        return errors.All;
    }
}
