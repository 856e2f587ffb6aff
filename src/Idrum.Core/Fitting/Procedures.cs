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
    public IReadOnlyList<School> Schools { get; init; } = [];
    /// <summary>Hazard ids.</summary>
    public IReadOnlyList<string> Hazards { get; init; } = [];
    /// <summary>Waits that a timer can keep.</summary>
    public IReadOnlyList<Wait> Waits { get; init; } = [];
    /// <summary>How to know that it is right.</summary>
    public string Accept { get; init; } = "";
}

/// <summary>One step.</summary>
/// <param name="Do">The action.</param>
/// <param name="Why">The reason or the trap.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record ProcedureStep(string Do, string Why = "", Condition? When = null);

/// <summary>A wait within a procedure.</summary>
/// <param name="Label">What is waited for.</param>
/// <param name="Minutes">Default time; the label on the tube wins.</param>
public sealed record Wait(string Label, double Minutes);

/// <summary>One line of the safety gate.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">What is confirmed.</param>
/// <param name="Why">Why.</param>
/// <param name="For">always, plug, hard-wired, gas or a fact id.</param>
public sealed record SafetyItem(string Id, string Text, string Why, string For);

/// <summary>A hazard and its caution.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Text">The caution.</param>
/// <param name="Severity">caution or danger.</param>
public sealed record Hazard(string Id, string Text, string Severity);

/// <summary>A tool.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="Name">Name.</param>
public sealed record Tool(string Id, string Name);

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
/// <param name="Hazards">Hazards.</param>
/// <param name="Tools">Tools.</param>
/// <param name="Proofs">Proofs.</param>
public sealed record Handbook(IReadOnlyList<Procedure> Procedures, IReadOnlyList<SafetyItem> Safety, IReadOnlyList<Hazard> Hazards,
    IReadOnlyList<Tool> Tools, IReadOnlyList<Proof> Proofs)
{
    /// <summary>The procedure for a kind of part, or null.</summary>
    public Procedure? For(string kind) => Procedures.FirstOrDefault(p => p.Kinds.Contains(kind));

    /// <summary>The hazard of that id, or null.</summary>
    public Hazard? FindHazard(string id) => Hazards.FirstOrDefault(h => h.Id == id);

    /// <summary>Name of a tool; the id where it is not listed.</summary>
    public string ToolName(string id) => Tools.FirstOrDefault(t => t.Id == id)?.Name ?? id;
}
