using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>What a drive is asked with: belt, spring, load and friction.</summary>
/// <param name="BeltMm">Pitch length of the belt without pull, mm.</param>
/// <param name="Ribs">Its ribs.</param>
/// <param name="SpringFactor">Pull of the spring against the layout's, 1 as new.</param>
/// <param name="LoadKg">Wet load, kg.</param>
/// <param name="FrictionFactor">Friction against the layout's, 1 as it says; a glazed belt some 0.6.</param>
public sealed record DriveCase(double BeltMm, int Ribs, double SpringFactor, double LoadKg, double FrictionFactor = 1)
{
    /// <summary>Friction of a glazed belt against one that is not.</summary>
    public const double Glazed = 0.6;

    /// <summary>As the layout has it, with a full wet load.</summary>
    public static DriveCase Of(DriveGeometry drive) =>
        new(drive.Belt.LengthMm, drive.Belt.Ribs, 1, (drive.Load ?? LoadSpec.Usual).WetKg);
}
