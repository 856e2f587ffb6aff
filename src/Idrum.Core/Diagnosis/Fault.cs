using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>Something that can be wrong.</summary>
public sealed record Fault
{
    /// <summary>Stable id.</summary>
    public required FaultId Id { get; init; }

    /// <summary>Name, for the list of causes.</summary>
    public required string Name { get; init; }

    /// <summary>What it looks like, in a second line.</summary>
    public string Detail { get; init; } = "";

    /// <summary>Part kinds to be replaced, freed or cleaned; the fault exists only on layouts that have one of
    /// them.</summary>
    public IReadOnlyList<string> Kinds { get; init; } = [];

    /// <summary>Only on layouts where this holds.</summary>
    public Condition? When { get; init; }

    /// <summary>Whether it happened or grew.</summary>
    public required FaultNature Nature { get; init; }

    /// <summary>How many of a thousand jobs it brings, alone or first, at ten years and average use.</summary>
    public required double Incidence { get; init; }

    /// <summary>How strongly it grows with wear: incidence and silent odds are multiplied by wear^Ageing; 0 for no
    /// wear.</summary>
    public double Ageing { get; init; }

    /// <summary>Probability that it is there without speaking at a machine of ten years brought in for something else;
    /// 0 for acute faults.</summary>
    public double Silent { get; init; }

    /// <summary>What it may make the machine do instead of running.</summary>
    public IReadOnlyList<Doing> Does { get; init; } = [];

    /// <summary>Faults that come along with it.</summary>
    public IReadOnlyList<Companion> With { get; init; } = [];

    /// <summary>Why incidence, silence and companions are as they are.</summary>
    public string Because { get; init; } = "";

    /// <summary>What to do about it.</summary>
    public required string Fix { get; init; }

    /// <summary>Minutes of the work itself, without stripping and rebuilding.</summary>
    public required double FixMinutes { get; init; }

    /// <summary>True where it is put right from outside: nothing is opened for it.</summary>
    public bool FromOutside { get; init; }

    /// <summary>True where it does not show itself to eye and finger even when its part lies open.</summary>
    public bool Hidden { get; init; }

    /// <summary>What is done about it.</summary>
    public required FaultAction Action { get; init; }

    /// <summary>What is asked before it is put right: a part that failed because of another comes back.</summary>
    public string AskWhy { get; init; } = "";
}

/// <summary>How a fault comes about.</summary>
public enum FaultNature
{
    /// <summary>It happened and brought the customer here.</summary>
    Acute,

    /// <summary>It grows and may be there without speaking.</summary>
    Wear,
}

/// <summary>What is done about a fault.</summary>
public enum FaultAction
{
    /// <summary>Its parts are replaced.</summary>
    Replace,

    /// <summary>They are cleaned.</summary>
    Clean,

    /// <summary>They are set right.</summary>
    Adjust,

    /// <summary>It is another trade's, and handed over.</summary>
    Refer,
}

/// <summary>One fault's power to stop the machine in a way.</summary>
/// <param name="State">In which way; never <see cref="MachineDoes.Runs"/>.</param>
/// <param name="P">Probability when this fault alone speaks.</param>
/// <param name="When">Only on layouts where this holds.</param>
public sealed record Doing(MachineDoes State, double P, Condition? When = null);

/// <summary>A fault that comes along with another.</summary>
/// <param name="Fault">Fault id.</param>
/// <param name="Factor">By what its odds are multiplied, speaking or silent.</param>
public sealed record Companion(FaultId Fault, double Factor);

/// <summary>What a machine does when it is started. They exclude each other; of two faults the one that stops it sooner
/// shows.</summary>
public enum MachineDoes
{
    /// <summary>Motor and drum turn.</summary>
    Runs,

    /// <summary>The motor alone turns; the drum stands.</summary>
    Stands,

    /// <summary>It hums and does not turn.</summary>
    Hums,

    /// <summary>Nothing at all.</summary>
    Dead,
}
