namespace Idrum.Core.Drive;

/// <summary>What makes a rhythm.</summary>
public enum Mechanism
{
    /// <summary>The drum, once round.</summary>
    Drum,

    /// <summary>The baffles in it.</summary>
    Baffles,

    /// <summary>The belt's joint, once round its own length.</summary>
    BeltPass,

    /// <summary>A drum roller.</summary>
    Roller,

    /// <summary>The idler pulley.</summary>
    Idler,

    /// <summary>The motor's shaft.</summary>
    Motor,

    /// <summary>The blower's blades.</summary>
    Blades,

    /// <summary>The hum of the mains.</summary>
    Mains,
}

/// <summary>Something of the drive that comes round at a rate of its own.</summary>
/// <param name="Id">drum, baffles, belt, idler, motor, blades or mains; of a roller the part's id.</param>
/// <param name="Name">In the trade's words.</param>
/// <param name="Part">The part that makes it; empty where it is none of the layout's.</param>
/// <param name="PerDrumTurn">How often it comes round in one turn of the drum; null where it does not turn with
/// it.</param>
/// <param name="PerSecond">How often a second, Hz.</param>
/// <param name="Mechanism">What makes the rhythm.</param>
public sealed record RateLine(
    string Id,
    string Name,
    PartId Part,
    double? PerDrumTurn,
    double PerSecond,
    Mechanism Mechanism
);
