namespace Idrum.Core.Machines;

/// <summary>Geometry of the drive as seen from the door; x to the right, y down, millimetres.</summary>
public sealed record DriveGeometry
{
    /// <summary>Motor speed at 50 Hz mains, r/min, loaded.</summary>
    public required double MotorRpm50 { get; init; }
    /// <summary>Motor speed at 60 Hz mains, r/min, loaded.</summary>
    public required double MotorRpm60 { get; init; }
    /// <summary>Drum, where the belt runs.</summary>
    public required Circle Drum { get; init; }
    /// <summary>Motor pulley.</summary>
    public required Circle MotorPulley { get; init; }
    /// <summary>Idler pulley in its working position.</summary>
    public required Circle Idler { get; init; }
    /// <summary>Diameter of the drum rollers; 0 where there are none.</summary>
    public double RollerDiameterMm { get; init; }
    /// <summary>The belt.</summary>
    public required BeltSpec Belt { get; init; }
    /// <summary>Whether a switch opens when the belt is gone.</summary>
    public bool BeltSwitch { get; init; }
    /// <summary>clockwise or anticlockwise, seen from the door.</summary>
    public required string Turns { get; init; }
    /// <summary>Whether the drum must be turned by hand in the running direction only.</summary>
    public bool TurnOnlyForward { get; init; }
}

/// <summary>A circle on the drawing.</summary>
/// <param name="X">Centre to the right, mm.</param>
/// <param name="Y">Centre down, mm.</param>
/// <param name="DiameterMm">Diameter, mm.</param>
public sealed record Circle(double X, double Y, double DiameterMm);

/// <summary>The belt a layout is built for.</summary>
/// <param name="LengthMm">Inside length under tension.</param>
/// <param name="WidthMm">Width.</param>
/// <param name="Ribs">Number of ribs.</param>
/// <param name="ThicknessMm">Thickness over the ribs.</param>
/// <param name="RibsToDrum">True where the ribs lie on the drum.</param>
public sealed record BeltSpec(double LengthMm, double WidthMm, int Ribs, double ThicknessMm, bool RibsToDrum);
