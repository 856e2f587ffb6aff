using Idrum.Core.Machines;

namespace Idrum.Core.Drive;

/// <summary>How often each part of a drive comes round: by its diameters, the belt's thickness and creep, and the
/// mains.</summary>
/// <param name="DrumRpm">Turns of the drum, r/min.</param>
/// <param name="MotorRpm">Turns of the motor, r/min.</param>
/// <param name="Hertz">Mains, Hz.</param>
/// <param name="Creep">Share by which the drum lags behind the ratio of the pitch diameters.</param>
/// <param name="Lines">What comes round, slowest first.</param>
public sealed record DriveRates(double DrumRpm, double MotorRpm, int Hertz, double Creep, IReadOnlyList<RateLine> Lines)
{
    /// <summary>Seconds in which the drum turns so often.</summary>
    /// <param name="turns">Turns.</param>
    public double SecondsFor(double turns) => turns * 60 / DrumRpm;

    /// <summary>The line of that id, or null.</summary>
    public RateLine? Find(string id) => Lines.FirstOrDefault(l => l.Id == id);

    /// <summary>Rates of a machine.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz: known, never fitted.</param>
    /// <param name="drumRpm">Turns of the drum where they were counted, r/min; null for those of the motor at this
    /// mains.</param>
    /// <exception cref="ArgumentOutOfRangeException">Mains other than 50 or 60 Hz, or a drum that does not
    /// turn.</exception>
    /// <remarks>
    /// Belt and wheels meet at the belt's pitch line, half a thickness outside each (a recess of the drum taken off):
    /// n_idler / n_drum = D_p / d_p, and so for the pulley. Rollers run on the drum itself: D / d. The belt passes
    /// π·D_p / L times a turn. The drum lags by the belt's elastic creep (T1 − T2) / EA, with T1 − T2 the drag of the
    /// empty drum at its pitch radius (middle of its range): Euler's belt, driven wheel.
    /// </remarks>
    public static DriveRates Of(Layout layout, int hertz, double? drumRpm = null)
    {
        ArgumentOutOfRangeException.ThrowIfEqual(hertz is 50 or 60, false);
        var drive = layout.Drive;
        var drum = BeltPath.PitchDiameterMm(drive.Drum, drive.Belt, true);
        var drag = (drive.Load ?? LoadSpec.Usual).DragNm;
        var pull = (drag[0] + drag[1]) / 2 / (drum / 2000);
        var creep = pull / (drive.Belt.StiffnessN ?? BeltSpec.UsualStiffnessN);
        var motorPerDrum = drum / BeltPath.PitchDiameterMm(drive.MotorPulley, drive.Belt) / (1 - creep);
        var motor = drumRpm * motorPerDrum ?? (hertz == 50 ? drive.MotorRpm50 : drive.MotorRpm60);
        var turns = motor / motorPerDrum;
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(turns);
        var lines = new List<RateLine>();
        void Add(Mechanism of, string id, string name, PartId part, double perTurn) =>
            lines.Add(new(id, name, part, perTurn, perTurn * turns / 60, of));
        string PartOf(string kind) => layout.PartsOfKind([kind]).FirstOrDefault()?.Id ?? "";
        string Named(PartId part, string otherwise) => layout.FindPart(part)?.Name ?? otherwise;

        Add(Mechanism.Drum, "drum", "Drum", PartOf(PartKinds.Drum), 1);
        if (layout.PartsOfKind([PartKinds.Baffle]).Sum(p => p.Count) is > 0 and var baffles)
        {
            Add(Mechanism.Baffles, "baffles", $"{baffles} baffles", PartOf(PartKinds.Baffle), baffles);
        }
        Add(
            Mechanism.BeltPass,
            "belt",
            "Belt, once round",
            PartOf(PartKinds.Belt),
            Math.PI * drum / drive.Belt.LengthMm
        );
        foreach (var roller in drive.Rollers)
        {
            Add(
                Mechanism.Roller,
                roller.Part,
                Named(roller.Part, "Roller"),
                roller.Part,
                drive.Drum.DiameterMm / roller.DiameterMm
            );
        }
        if (drive.Tensioner.Idler is { } idler)
        {
            var part = PartOf(PartKinds.IdlerPulley);
            Add(
                Mechanism.Idler,
                "idler",
                Named(part, "Idler"),
                part,
                drum / BeltPath.PitchDiameterMm(idler, drive.Belt)
            );
        }
        Add(Mechanism.Motor, "motor", "Motor and blower", PartOf(PartKinds.Motor), motorPerDrum);
        if (layout.Air is { Blades: > 0 } air)
        {
            Add(
                Mechanism.Blades,
                "blades",
                "Blades of the blower",
                PartOf(PartKinds.BlowerWheel),
                motorPerDrum * air.Blades
            );
        }
        lines.Add(new("mains", "Hum of the mains, twice", "", null, 2.0 * hertz, Mechanism.Mains));
        return new(turns, motor, hertz, creep, [.. lines.OrderBy(l => l.PerSecond)]);
    }
}
