namespace Idrum.Core.Machines;

/// <summary>Geometry of the drive as seen from the door; x to the right, y up, millimetres, in the machine's own
/// space.</summary>
public sealed record DriveGeometry
{
    /// <summary>Motor speed at 50 Hz mains, r/min, loaded.</summary>
    public required double MotorRpm50 { get; init; }

    /// <summary>Motor speed at 60 Hz mains, r/min, loaded.</summary>
    public required double MotorRpm60 { get; init; }

    /// <summary>Drum, where the belt runs.</summary>
    public required Circle Drum { get; init; }

    /// <summary>Motor pulley, over its ribs, in its working position.</summary>
    public required Circle MotorPulley { get; init; }

    /// <summary>What keeps the belt tight.</summary>
    public required Tensioner Tensioner { get; init; }

    /// <summary>Drum rollers; none where the drum runs on a shaft.</summary>
    public IReadOnlyList<RollerPlace> Rollers { get; init; } = [];

    /// <summary>The belt.</summary>
    public required BeltSpec Belt { get; init; }

    /// <summary>clockwise or anticlockwise, seen from the door.</summary>
    public required string Turns { get; init; }

    /// <summary>Whether the drum must be turned by hand in the running direction only.</summary>
    public bool TurnOnlyForward { get; init; }
}

/// <summary>A circle of the drive.</summary>
/// <param name="X">Centre to the right, mm.</param>
/// <param name="Y">Centre up, mm.</param>
/// <param name="DiameterMm">Diameter, mm.</param>
public sealed record Circle(double X, double Y, double DiameterMm);

/// <summary>A drum roller.</summary>
/// <param name="Part">Part id.</param>
/// <param name="X">Centre to the right, mm.</param>
/// <param name="Y">Centre up, mm.</param>
/// <param name="DiameterMm">Diameter, mm.</param>
public sealed record RollerPlace(string Part, double X, double Y, double DiameterMm);

/// <summary>What keeps the belt tight, by its kind.</summary>
public sealed record Tensioner
{
    /// <summary>loose-idler: hooked into slots, held by the belt alone. sprung-arm: idler on a sprung arm.
    /// hinged-motor: the motor swings
    /// and its pulley with it.</summary>
    public required string Kind { get; init; }

    /// <summary>The idler pulley (or a hinged motor's guide pulley) in its working position; null where a hinged motor
    /// has none.</summary>
    public Circle? Idler { get; init; }

    /// <summary>Loose idler: the ends between which its centre can lie.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Slot { get; init; } = [];

    /// <summary>Sprung arm and hinged motor: the pivot.</summary>
    public IReadOnlyList<double> Pivot { get; init; } = [];

    /// <summary>Sprung arm: from the pivot to the idler's centre, mm. Hinged motor: from the pivot to the pulley's
    /// centre.</summary>
    public double LengthMm { get; init; }

    /// <summary>Angles of the arm at its stops, degrees anticlockwise from three o'clock seen from the door; belt
    /// slack, belt tightest.</summary>
    public IReadOnlyList<double> StopsDeg { get; init; } = [];

    /// <summary>Angle at which it can be latched; null where there is no latch.</summary>
    public double? LatchDeg { get; init; }

    /// <summary>Spring rate, N/mm.</summary>
    public double SpringRateNPerMm { get; init; }

    /// <summary>Free length of the spring, mm.</summary>
    public double SpringFreeMm { get; init; }

    /// <summary>Place of the spring on the base, mm.</summary>
    public IReadOnlyList<double> SpringAnchor { get; init; } = [];

    /// <summary>Angle of the arm beyond which the belt switch is open; null where there is no belt switch.</summary>
    public double? SwitchDeg { get; init; }
}

/// <summary>The belt a layout is built for.</summary>
/// <param name="LengthMm">Length along its pitch line, taken in the middle of its thickness.</param>
/// <param name="WidthMm">Width.</param>
/// <param name="Ribs">Number of ribs.</param>
/// <param name="ThicknessMm">Thickness over the ribs.</param>
/// <param name="RibsToDrum">True where the ribs lie on the drum.</param>
/// <param name="RecessMm">Depth of the drum's recess for the belt; 0 where there is none.</param>
public sealed record BeltSpec(
    double LengthMm,
    double WidthMm,
    int Ribs,
    double ThicknessMm,
    bool RibsToDrum,
    double RecessMm = 0
);
