using Idrum.Core.Listening;

namespace Idrum.Core.Practice;

/// <summary>What is asked of the noise bench.</summary>
public sealed record NoiseOrder
{
    /// <summary>Ids of the faults that are to be heard; none for a machine that is sound.</summary>
    public IReadOnlyList<FaultId> Faults { get; init; } = [];

    /// <summary>Length, s.</summary>
    public double Seconds { get; init; } = 10;

    /// <summary>What else is drawn: speed, room, microphone, load.</summary>
    public int Seed { get; init; }

    /// <summary>Turns of the drum, r/min; null for those of the mains, up to 6 % off by the seed.</summary>
    public double? DrumRpm { get; init; }

    /// <summary>Mains, 50 or 60 Hz.</summary>
    public int MainsHertz { get; init; } = 60;

    /// <summary>Warmth of what runs dry, 0 cold to 1 warm: dry bearings sing when warm.</summary>
    public double Warmth { get; init; } = 0.7;

    /// <summary>Load in the drum, 0 to 1.</summary>
    public double Load { get; init; }

    /// <summary>Turned by hand with the supply off: no motor, no blower, an uneven turn.</summary>
    public bool ByHand { get; init; }

    /// <summary>The belt is slipped off: what it drives is still; as loud as with the belt on and the same seed.</summary>
    public bool BeltOff { get; init; }

    /// <summary>Where the phone is held, one of <see cref="SpotLevels.Spots"/>; empty for where all is heard alike.</summary>
    public string Spot { get; init; } = "";

    /// <summary>Which part the faults sit at, where it is one of theirs; empty for one drawn by the seed.</summary>
    public PartId Part { get; init; } = "";

    /// <summary>The sound of the faults against all else, dB of the root mean squares over the whole; null for the
    /// faults alone.</summary>
    public double? FaultDb { get; init; } = 0;

    /// <summary>When the faults begin to be heard, s; they grow over <see cref="NoiseBench.GrowsSeconds"/>.</summary>
    public double BeginsAt { get; init; }

    /// <summary>When the door is opened, s: the motor is cut, and all that turns runs down; null where it runs to the
    /// end.</summary>
    public double? OpensAt { get; init; }

    /// <summary>How long the drum takes to stand then, s.</summary>
    public double RunDownSeconds { get; init; } = 2.5;
}
