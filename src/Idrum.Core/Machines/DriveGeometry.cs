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
    public required DriveTurns Turns { get; init; }

    /// <summary>Whether the drum must be turned by hand in the running direction only.</summary>
    public bool TurnOnlyForward { get; init; }

    /// <summary>The motor beyond its speed; null where nobody says: <see cref="MotorSpec.Usual"/>.</summary>
    public MotorSpec? Motor { get; init; }

    /// <summary>What the drum carries and how hard it turns; null where nobody says: <see
    /// cref="LoadSpec.Usual"/>.</summary>
    public LoadSpec? Load { get; init; }

    /// <summary>Friction of the belt; null where nobody says: <see cref="FrictionSpec.Usual"/>.</summary>
    public FrictionSpec? Friction { get; init; }

    /// <summary>How the rear shaft or bearing carries the drum, for play at the rim; null where it stands on rollers or
    /// nobody says.</summary>
    public RearLevers? Levers { get; init; }
}

/// <summary>The motor beyond its speed.</summary>
/// <param name="Kg">Mass, kg.</param>
/// <param name="TorqueNm">Torque it gives at its loaded speed, N·m.</param>
/// <param name="RunOhm">Run winding, ohms, low and high.</param>
/// <param name="StartOhm">Start winding, ohms, low and high.</param>
/// <param name="CapacitorUf">Run capacitor, µF; null where it has none.</param>
public sealed record MotorSpec(
    double Kg,
    double TorqueNm,
    IReadOnlyList<double> RunOhm,
    IReadOnlyList<double> StartOhm,
    double? CapacitorUf = null
)
{
    /// <summary>A four-pole motor of some 220 W at its shaft (ω = 2π·1400/60; M = P/ω = 1.5 N·m). Windings of that
    /// size; assumed where a file says nothing.</summary>
    public static MotorSpec Usual { get; } = new(6, 1.5, [15, 35], [15, 45]);
}

/// <summary>What the drum carries and how hard it turns.</summary>
/// <param name="WetKg">A full wet load, kg.</param>
/// <param name="DragNm">Torque that the supports and felts of the empty drum take, N·m at the drum, low and
/// high.</param>
public sealed record LoadSpec(double WetKg, IReadOnlyList<double> DragNm)
{
    /// <summary>Assumed where a file says nothing.</summary>
    public static LoadSpec Usual { get; } = new(9, [1.5, 3]);
}

/// <summary>Coefficients of friction of the belt, low and high: rubber on metal, dry, from glazed to new.</summary>
/// <param name="Ribs">Of a rib's flank; in its groove it acts as µ / sin(groove/2).</param>
/// <param name="Flat">Of back or ribs on a flat face: idler, drum.</param>
public sealed record FrictionSpec(IReadOnlyList<double> Ribs, IReadOnlyList<double> Flat)
{
    /// <summary>Assumed where a file says nothing.</summary>
    public static FrictionSpec Usual { get; } = new([0.3, 0.6], [0.25, 0.5]);
}

/// <summary>Levers from the rear bearing to the rim of the drum, mm: play at the rim is the bearing's play times their
/// ratio.</summary>
/// <param name="BearingToRestMm">From the bearing to where the drum rests at the front.</param>
/// <param name="RimToRestMm">From where the play is felt at the rear rim to the same.</param>
public sealed record RearLevers(double BearingToRestMm, double RimToRestMm);

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
public sealed record RollerPlace(PartId Part, double X, double Y, double DiameterMm);

/// <summary>Which way a drum runs, seen from the door.</summary>
public enum DriveTurns
{
    /// <summary>As the clock.</summary>
    Clockwise,

    /// <summary>Against the clock.</summary>
    Anticlockwise,
}

/// <summary>Ways of keeping a belt tight.</summary>
public enum TensionerKind
{
    /// <summary>An idler hooked into slots, held by the belt alone.</summary>
    LooseIdler,

    /// <summary>An idler on a sprung arm.</summary>
    SprungArm,

    /// <summary>The motor swings, and its pulley with it.</summary>
    HingedMotor,
}

/// <summary>What keeps the belt tight, by its kind.</summary>
public sealed record Tensioner
{
    /// <summary>Which of the three.</summary>
    public required TensionerKind Kind { get; init; }

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

    /// <summary>Where the spring hooks on, along the arm from the pivot, mm; null where nobody says: half-way.</summary>
    public double? SpringOnArmMm { get; init; }

    /// <summary>Pull of the spring before it gives at all, N.</summary>
    public double SpringPreloadN { get; init; }

    /// <summary>Mass of the arm with its pulley, kg; null where nobody says: <see cref="UsualArmKg"/>.</summary>
    public double? ArmKg { get; init; }

    /// <summary>back or ribs: which face of the belt runs on the idler. Empty: back.</summary>
    public string IdlerFace { get; init; } = "";

    /// <summary>Mass of a pressed-steel arm with its pulley where a file says nothing, kg.</summary>
    public const double UsualArmKg = 0.25;

    /// <summary>Where the weight of an arm with its pulley sits, as a share of its length from the pivot: a pulley of two
    /// fifths of the mass at its end, the rest along it.</summary>
    public const double ArmCentre = 0.7;

    /// <summary>How the bracket of a loose idler springs where a file says nothing, N/mm and N at the tight end of its
    /// slot.</summary>
    public const double UsualBracketNPerMm = 0.8,
        UsualBracketN = 12;
}

/// <summary>The belt a layout is built for.</summary>
/// <param name="LengthMm">Length along its pitch line, taken in the middle of its thickness.</param>
/// <param name="WidthMm">Width.</param>
/// <param name="Ribs">Number of ribs.</param>
/// <param name="ThicknessMm">Thickness over the ribs.</param>
/// <param name="RibsToDrum">True where the ribs lie on the drum.</param>
/// <param name="RecessMm">Depth of the drum's recess for the belt; 0 where there is none.</param>
/// <param name="StiffnessN">Pull that would stretch it to twice its length, N (Young's modulus times area of its cords);
/// null where nobody says: <see cref="UsualStiffnessN"/>.</param>
/// <param name="GrooveDeg">Angle of the grooves, degrees; null where nobody says: 40.</param>
public sealed record BeltSpec(
    double LengthMm,
    double WidthMm,
    int Ribs,
    double ThicknessMm,
    bool RibsToDrum,
    double RecessMm = 0,
    double? StiffnessN = null,
    double? GrooveDeg = null
)
{
    /// <summary>Where the drum has a second recess that the belt could be laid into by mistake: door or rear of its own; null
    /// where it has none.</summary>
    public string? OtherRecess { get; init; }

    /// <summary>A polyester-cord ribbed belt of four or five ribs where a file says nothing, N.</summary>
    public const double UsualStiffnessN = 20_000;
}
