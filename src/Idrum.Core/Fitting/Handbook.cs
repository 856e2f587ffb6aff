using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Money;

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
    public IReadOnlyList<School> Schools { get; init; } = [];

    /// <summary>Hazard ids.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];

    /// <summary>Tools of fitting, beside those of taking apart, in words.</summary>
    public IReadOnlyList<string> Tools { get; init; } = [];

    /// <summary>What is used up in fitting, in words.</summary>
    public IReadOnlyList<string> Consumables { get; init; } = [];

    /// <summary>Whether something is glued: it is coated, joined in its window, and then it cures.</summary>
    public bool Glues => Schools.Any(s => s.Adhesive.Length > 0);

    /// <summary>The way with this id, or the usual one where there is none; null where there is one way only.</summary>
    public School? School(string id) =>
        Schools.FirstOrDefault(s => s.Id == id) ?? (Schools.Count > 0 ? Schools[0] : null);

    /// <summary>The school meant where none is named: the first.</summary>
    public string DefaultSchool => Schools.Count > 0 ? Schools[0].Id : "";

    /// <summary>Steps of one way of doing it.</summary>
    /// <param name="school">Its id.</param>
    public IEnumerable<ProcedureStep> StepsOf(string school) =>
        Steps.Where(s => s.Schools is null || s.Schools.Contains(school));

    /// <summary>Minutes of one way of doing it, without waits.</summary>
    /// <param name="school">Its id.</param>
    /// <param name="phase">Only steps of this phase; null for all.</param>
    public double MinutesOf(string school, string? phase = null) =>
        StepsOf(school).Where(s => phase is null || s.Phase == phase).Sum(s => s.Minutes);

    /// <summary>Whether the part sits in its place when it is fitted, so that its own step of the way back is done with
    /// it.</summary>
    public bool Seats { get; init; }

    /// <summary>How to know that it is right.</summary>
    public string Accept { get; init; } = "";
}

/// <summary>One step.</summary>
/// <param name="Do">The action.</param>
/// <param name="Why">The reason or the trap.</param>
public sealed record ProcedureStep(string Do, string Why = "")
{
    /// <summary>Only where this holds; null everywhere.</summary>
    public PartWhere? Where { get; init; }

    /// <summary>Ways of doing it that have this step; null where all do.</summary>
    public IReadOnlyList<string>? Schools { get; init; }

    /// <summary>Minutes it takes.</summary>
    public double Minutes { get; init; } = 1;

    /// <summary>Where something is glued: <c>prepare</c>, <c>coat</c> or <c>join</c>; else empty.</summary>
    public string Phase { get; init; } = "";

    /// <summary><c>left-hand</c> where a nut has a left-hand thread; else empty.</summary>
    public string Turn { get; init; } = "";
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
/// <param name="Named">Whether it counts only with the name of who made it, who must be allowed to.</param>
public sealed record Proof(
    string Id,
    string Do,
    string Why,
    string Ok,
    string NotOk,
    string Unit = "",
    bool Powered = false,
    Condition? When = null,
    bool Named = false
)
{
    /// <summary>Proofs that must be right before this one is made, as far as the machine asks for them.</summary>
    public IReadOnlyList<string> Requires { get; init; } = [];

    /// <summary>Whether it shows that the complaint is gone.</summary>
    public bool OfComplaint { get; init; }

    /// <summary>Whether it is seen while the machine runs, so that one run tells several.</summary>
    public bool InRun { get; init; }

    /// <summary>Minutes it runs: a timer is offered; 0 where it takes as long as it takes.</summary>
    public double Minutes { get; init; }

    /// <summary>Run with the top still up, to watch the drum: never asked for, only by a qualified person who names
    /// himself and confirms every line of <see cref="Confirm"/>; not on gas, and only with all else in.</summary>
    public bool TopUp { get; init; }

    /// <summary>What is confirmed before it is made.</summary>
    public IReadOnlyList<Confirmation> Confirm { get; init; } = [];
}

/// <summary>One line that is confirmed before a proof is made.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What is confirmed.</param>
public sealed record Confirmation(string Id, string Text);

/// <summary>Everything the shop knows that is not a layout or a fault.</summary>
/// <param name="Procedures">Replacement procedures.</param>
/// <param name="Safety">The safety gate.</param>
/// <param name="Proofs">Proofs.</param>
public sealed record Handbook(
    IReadOnlyList<Procedure> Procedures,
    IReadOnlyList<SafetyItem> Safety,
    IReadOnlyList<Proof> Proofs
)
{
    /// <summary>How things are measured.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public Gauging.GaugingBook Gauging { get; init; } = Idrum.Core.Gauging.GaugingBook.None;

    /// <summary>What is glued with.</summary>
    public IReadOnlyList<Adhesive> Adhesives { get; init; } = [];

    /// <summary>What is cleaned before the machine closes.</summary>
    public IReadOnlyList<Cleaning> Cleaning { get; init; } = [];

    /// <summary>What helps where something will not go.</summary>
    public IReadOnlyList<StuckHelp> Stuck { get; init; } = [];

    /// <summary>The adhesive of a way of doing it, or null.</summary>
    public Adhesive? AdhesiveOf(School? school) =>
        school is { Adhesive.Length: > 0 } ? Adhesives.FirstOrDefault(a => a.Id == school.Adhesive) : null;

    /// <summary>The procedure for a kind of part, or null.</summary>
    public Procedure? For(string kind) => Procedures.FirstOrDefault(p => p.Kinds.Contains(kind));

    /// <summary>How a part of a machine is replaced: only the steps and ways that it has; null where nobody says
    /// how.</summary>
    public Procedure? For(Part part, Layout layout)
    {
        if (For(part.Kind) is not { } procedure)
        {
            return null;
        }
        var ways = procedure.Schools.Where(s => s.Where?.Holds(part, layout) != false).ToList();
        return procedure with
        {
            Schools = ways,
            Steps =
            [
                .. procedure.Steps.Where(s =>
                    s.Where?.Holds(part, layout) != false && s.Schools?.Any(id => ways.Any(w => w.Id == id)) != false
                ),
            ],
        };
    }

    /// <summary>Tools and what is used up in fitting parts, beside those of taking apart, each once.</summary>
    /// <param name="parts">The parts.</param>
    /// <param name="layout">Their machine.</param>
    public IEnumerable<string> FittingTools(IEnumerable<Part> parts, Layout layout) =>
        parts.Select(p => For(p, layout)).OfType<Procedure>().SelectMany(p => p.Tools.Concat(p.Consumables)).Distinct();

    /// <summary>Proofs that a machine must pass.</summary>
    public IEnumerable<Proof> ProofsOf(Layout layout) => Proofs.Where(p => !p.TopUp && layout.Holds(p.When));

    /// <summary>The run with the top still up, where the machine allows it; null where it does not.</summary>
    public Proof? TopUpOf(Layout layout) => Proofs.FirstOrDefault(p => p.TopUp && layout.Holds(p.When));

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
            foreach (
                var kind in Procedures[i]
                    .Steps.Select(s => s.Where)
                    .Concat(Procedures[i].Schools.Select(s => s.Where))
                    .SelectMany(w => (w?.Has ?? []).Concat(w?.HasNot ?? []))
                    .Where(k => !words.HasPartKind(k))
            )
            {
                errors.Add($"/procedures/{i}/steps", $"There is no kind of part '{kind}'.");
            }
            foreach (var hazard in Procedures[i].Hazards.Where(h => words.FindHazard(h) is null))
            {
                errors.Add($"/procedures/{i}/hazards", $"There is no hazard '{hazard}'.");
            }
            foreach (var school in Procedures[i].Schools.Where(s => s.Adhesive.Length > 0 && AdhesiveOf(s) is null))
            {
                errors.Add($"/procedures/{i}/schools", $"There is no adhesive '{school.Adhesive}'.");
            }
            foreach (
                var school in Procedures[i]
                    .Steps.SelectMany(s => s.Schools ?? [])
                    .Where(s => Procedures[i].Schools.All(o => o.Id != s))
            )
            {
                errors.Add($"/procedures/{i}/steps", $"There is no way '{school}'.");
            }
            errors.If(
                Procedures[i].Steps.Any(s => s.Phase is not ("" or "prepare" or "coat" or "join") || s.Minutes < 0),
                $"/procedures/{i}/steps",
                "A step's phase is prepare, coat or join, and its minutes are not below zero."
            );
            foreach (
                var fault in Procedures[i]
                    .Steps.Select(s => s.Where)
                    .Concat(Procedures[i].Schools.Select(s => s.Where))
                    .SelectMany(w => words.Faults(w?.When))
            )
            {
                errors.Add($"/procedures/{i}/steps", fault);
            }
        }
        for (var i = 0; i < Cleaning.Count; i++)
        {
            foreach (var kind in (Cleaning[i].Kinds ?? []).Concat(Cleaning[i].Renewed ?? []))
            {
                errors.If(!words.HasPartKind(kind), $"/cleaning/{i}/kinds", $"There is no kind of part '{kind}'.");
            }
            foreach (var fault in words.Faults(Cleaning[i].When))
            {
                errors.Add($"/cleaning/{i}/when", fault);
            }
        }
        for (var i = 0; i < Stuck.Count; i++)
        {
            foreach (var kind in Stuck[i].Kinds.Concat(Stuck[i].Ways.SelectMany(w => w.NotBy)))
            {
                errors.If(!words.HasPartKind(kind), $"/stuck/{i}/kinds", $"There is no kind of part '{kind}'.");
            }
        }
        for (var i = 0; i < Proofs.Count; i++)
        {
            errors.If(
                Proofs[i].Requires.Any(r => Proofs.All(p => p.Id != r)),
                $"/proofs/{i}/requires",
                "It asks for a proof that is not there."
            );
        }
        for (var i = 0; i < Adhesives.Count; i++)
        {
            var at = i;
            Adhesives[i].At20.Check(errors, field => $"/adhesives/{at}/at20/{field}");
            errors.If(
                Adhesives[i].MillilitresPerDm2 <= 0 || Adhesives[i].TubeMillilitres <= 0,
                $"/adhesives/{i}",
                "Amounts are above zero."
            );
        }
        return errors.All;
    }
}
