using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>What a belt lies round.</summary>
public enum DriveWheel
{
    /// <summary>The drum.</summary>
    Drum,

    /// <summary>The idler, or a hinged motor's guide pulley.</summary>
    Idler,

    /// <summary>The motor's pulley.</summary>
    Pulley,
}

/// <summary>A wheel on the belt's way.</summary>
/// <param name="Name">Which.</param>
/// <param name="Outside">True where it lies outside the loop.</param>
public readonly record struct CourseWheel(DriveWheel Name, bool Outside);

/// <summary>Which wheels the belt passes, in which order, and which face of it lies where.</summary>
/// <param name="Wheels">In order.</param>
/// <param name="Clockwise">Which way round the loop is walked.</param>
/// <param name="RibsIn">True where the ribs are on the inner side of the loop.</param>
public sealed record CourseShape(IReadOnlyList<CourseWheel> Wheels, bool Clockwise, bool RibsIn)
{
    /// <summary>The right one.</summary>
    public static CourseShape Right(DriveGeometry drive) =>
        new(
            drive.Tensioner.Idler is null
                ? [new(DriveWheel.Drum, false), new(DriveWheel.Pulley, false)]
                : [new(DriveWheel.Drum, false), new(DriveWheel.Idler, true), new(DriveWheel.Pulley, false)],
            BeltPath.ClockwiseOf(drive),
            drive.Belt.RibsToDrum
        );

    /// <summary>Whether a wheel is on it.</summary>
    public bool Has(DriveWheel wheel) => Wheels.Any(w => w.Name == wheel);

    /// <summary>Its course with the tensioner where the drive has it.</summary>
    /// <exception cref="ArgumentException">Two wheels that follow each other overlap.</exception>
    public BeltPath Path(DriveGeometry drive) =>
        BeltPath.Through([.. Wheels.Select(w => (CircleOf(drive, w.Name), w.Outside))], Clockwise);

    /// <summary>A wheel at the belt's pitch line.</summary>
    internal static Circle CircleOf(DriveGeometry drive, DriveWheel wheel)
    {
        var circle = wheel switch
        {
            DriveWheel.Drum => drive.Drum,
            DriveWheel.Pulley => drive.MotorPulley,
            _ => drive.Tensioner.Idler!,
        };
        return circle with { DiameterMm = BeltPath.PitchDiameterMm(circle, drive.Belt, wheel == DriveWheel.Drum) };
    }

    /// <summary>Whether the ribs lie on a wheel.</summary>
    public bool RibsOn(DriveWheel wheel) => Wheels.First(w => w.Name == wheel).Outside != RibsIn;
}
