using Idrum.Core.Drive;
using Idrum.Core.Gauging;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Practice;

/// <summary>Calliper, ruler, scale, meter, clamp, watch and anemometer that read from a machine with hidden faults: each
/// with its step, its own lasting error, the hand's spread and now and then a slip of the eye. The same seed reads the same
/// machine.</summary>
/// <param name="machine">The machine.</param>
/// <param name="faults">Fault ids that are hidden in it.</param>
/// <param name="seed">Which machine, tools and hand.</param>
public sealed class SimulatedTools(MachineKnowledge machine, IReadOnlyCollection<FaultId> faults, int seed)
{
    /// <summary>One reading in so many is misread.</summary>
    public const int MisreadOneIn = 40;

    /// <summary>What the machine answers to the check that a reading answers too: place of the outcome, 0 the sound one. Eye and tool
    /// are of one machine: what is seen flat is not measured round. Null: the hidden faults alone say it.</summary>
    public Func<string, int>? Shows { get; init; }

    /// <summary>One reading.</summary>
    /// <param name="protocol">How.</param>
    /// <param name="part">On which part; null for the machine.</param>
    /// <param name="position">Where.</param>
    /// <param name="drumDeg">How far the drum is turned.</param>
    /// <param name="number">Which reading of the job: each has its own spread.</param>
    /// <param name="renewed">Whether the part is new.</param>
    /// <returns>In the position's unit; null where the circuit is open.</returns>
    public double? Read(
        GaugeProtocol protocol,
        Part? part,
        GaugePosition position,
        double drumDeg,
        int number,
        bool renewed
    )
    {
        var tool = machine.Handbook.Gauging.InstrumentOf(protocol);
        if (Truth(protocol, part, position, drumDeg, renewed) is not { } truth)
        {
            return null;
        }
        if (position.Id == "label" || position.Unit == "ribs")
        {
            return truth;
        }
        var lasting = (2 * Random($"tool {tool.Id}").NextDouble() - 1) * tool.Error;
        var hand = Random($"hand {protocol.Id} {part?.Id} {position.Id} {drumDeg} {number}");
        var read = truth + lasting + Normal.Sample(hand, 0, tool.Repeat);
        if (hand.Next(MisreadOneIn) == 0)
        {
            read += (hand.Next(2) == 0 ? 1 : -1) * 10 * tool.Resolution;
        }
        return Math.Round(Math.Max(0, Math.Round(read / tool.Resolution) * tool.Resolution), 3);
    }

    // Stable over runs and machines, unlike a string's own hash.
    private Random Random(string of) => new(of.Aggregate(seed, (h, c) => unchecked(h * 31 + c)));

    private bool Has(params FaultId[] any) => any.Any(faults.Contains);

    // How far off the machine is in what a protocol reads: what it shows to the eye, else whether a fault of it is there.
    private int Off(GaugeProtocol protocol, Part? part, params FaultId[] any) =>
        Shows is { } shows && protocol.FindingOf(part) is { Length: > 0 } id ? shows(id)
        : Has(any) ? 1
        : 0;

    // Of several alike one is worn, which one the seed says.
    private bool Worn(GaugeProtocol protocol, Part? part, bool renewed, params FaultId[] any)
    {
        if (part is null || renewed || Off(protocol, part, any) == 0)
        {
            return false;
        }
        var alike = machine.Layout.PartsOfKind([part.Kind]).ToList();
        return alike[Random("which " + part.Kind).Next(alike.Count)] == part;
    }

    private double? Truth(GaugeProtocol protocol, Part? part, GaugePosition position, double drumDeg, bool renewed)
    {
        var (layout, drive) = (machine.Layout, machine.Layout.Drive);
        var limit = protocol.LimitOf(part);
        // Sound parts have some wear of their own.
        var own = Random($"wear {part?.Id} {protocol.Id}").NextDouble() * (renewed ? 0 : 0.35);
        double Towards(bool worn) => limit!.New + (worn ? 1.5 + own : own) * (limit.Worn - limit.New);
        switch (protocol.Id)
        {
            case "roller":
            {
                var across = drive.Rollers.FirstOrDefault(r => r.Part == part!.Id)?.DiameterMm ?? 76;
                var flat = Towards(Worn(protocol, part, renewed, "roller-flat"));
                return position.Id == "smallest" ? across - 0.1 - flat : across - 0.1;
            }
            case "roller-wobble":
                return Worn(protocol, part, renewed, "roller-dry", "retainer-missing") ? 2 : 0.3 + own;
            case "shaft":
                return position.Id == "beside"
                    ? 12
                    : 12 - 2 * Towards(Worn(protocol, part, renewed, "shaft-grooved", "rear-shaft-worn"));
            case "idler-play":
                return Worn(protocol, part, renewed, "idler-loose", "idler-dry") ? 1.8 : 0.3 + own;
            case "idler-pull":
            {
                var rest = DriveRun.Of(drive).Rest.Drive;
                var pull = DriveStand.Push(rest, 1) / drive.Tensioner.LengthMm / DriveStand.Gravity;
                return pull * (Worn(protocol, part, renewed, "spring-off", "arm-bent") ? 0.6 : 1 - own / 10);
            }
            case "rear-support":
            {
                var play = Towards(Worn(protocol, part, renewed, "sleeve-worn", "cup-worn", "ball-worn"));
                return drive.Levers is { } l ? play * l.RimToRestMm / l.BearingToRestMm : play;
            }
            case "front-felt" or "rear-felt" or "glide":
                return Worn(protocol, part, renewed, "front-felt-worn", "rear-felt-worn", "glides-worn")
                    ? limit!.Worn * 0.5
                    : Towards(false);
            case "rim-gap":
            {
                var clock = (RimGap.ClockDeg(position.Id) ?? 0) * Math.PI / 180;
                var on = clock - drumDeg * Math.PI / 180;
                var bent = Has("drum-lip");
                var off = Off(protocol, part, "front-felt-worn", "glides-worn", "glide-off") > 0;
                var sag = off && !(bent && !Has("front-felt-worn", "glides-worn", "glide-off")) ? 3.2 : 0.4;
                var eccentric = bent && (off || Shows is null) ? 2.4 : 0.3;
                return 6 + sag * Math.Cos(clock) + eccentric * Math.Cos(on - 1);
            }
            case "felt-size":
            {
                var round = Math.PI * drive.Drum.DiameterMm;
                return position.Id == "drum" ? round : round / (1.025 + own / 20);
            }
            case "rim-axial":
            {
                var clock = (RimGap.ClockDeg(position.Id) ?? 0) * Math.PI / 180;
                var on = clock - drumDeg * Math.PI / 180;
                // An end that hangs tips the drum about the other.
                var per = drive.Drum.DiameterMm / 2 / (drive.Levers?.RimToRestMm ?? 530);
                var front = Has("front-felt-worn", "glides-worn", "glide-off") ? 3.2 : 0.3;
                var rear = Has("sleeve-worn", "cup-worn", "ball-worn", "rear-felt-worn") ? 3.2 : 0.3;
                var wobble = Has("drum-lip") ? 2.2 : 0.3;
                return 14 + (rear - front) * per * Math.Cos(clock) + wobble * Math.Cos(on - 2);
            }
            case "rim-pull":
            {
                var drag = (drive.Load ?? LoadSpec.Usual).DragNm;
                var off = Off(protocol, part, "roller-seized", "rear-felt-folded", "glide-off");
                var support = (drag[0] + drag[1]) / 2 * (off == 1 ? 2.4 : 0.8);
                var motor =
                    (drag[0] + drag[1]) / 2 * (Has("idler-seized", "motor-bearings", "blower-blocked") ? 1.6 : 0.2);
                var turning =
                    position.Id == "off" ? support
                    : off == 2 || Shows is null && Has("belt-broken", "belt-off") ? support * 0.3
                    : support + motor;
                return turning / (DriveStand.Gravity * drive.Drum.DiameterMm / 2000);
            }
            case "belt":
                return position.Id switch
                {
                    "length" => drive.Belt.LengthMm
                        + (
                            Off(protocol, part, "belt-wrong") > 0 ? 24
                            : Has("belt-worn") ? drive.Belt.LengthMm * 0.018
                            : drive.Belt.LengthMm * 0.006
                        ),
                    "ribs" => drive.Belt.Ribs,
                    "width" => drive.Belt.WidthMm,
                    _ => drive.Belt.ThicknessMm,
                };
            case "slip":
                return 1200
                    / (
                        DriveRates.Of(layout, 50).DrumRpm
                        * (1 - (Off(protocol, part, "belt-worn", "belt-wrong") > 0 && !renewed ? 0.11 : 0.01))
                    );
            case "windings":
            {
                var motor = drive.Motor ?? MotorSpec.Usual;
                return position.Id switch
                {
                    "leads" => 0.3,
                    "frame" => null,
                    "run" => 0.3 + (motor.RunOhm[0] + motor.RunOhm[1]) / 2,
                    _ => Worn(protocol, part, renewed, "motor-start")
                        ? null
                        : 0.3 + (motor.StartOhm[0] + motor.StartOhm[1]) / 2,
                };
            }
            case "capacitor":
                return position.Id switch
                {
                    "volts" => 0,
                    "label" => drive.Motor?.CapacitorUf ?? 8,
                    _ => (drive.Motor?.CapacitorUf ?? 8)
                        * (Worn(protocol, part, renewed, "capacitor-weak") ? 0.7 : 0.98),
                };
            case "amps":
                return position.Id == "label" ? 2.4
                    : Worn(protocol, part, renewed, "motor-bearings") ? 3.3
                    : 2.3;
            case "outlet":
                return Off(protocol, part, "no-supply") > 0 ? 0
                    : position.Id is "leg-1" or "leg-2" ? 119
                    : position.Id == "load" ? 233
                    : 238;
            case "air":
            {
                var share = Off(protocol, part, "lint-path", "blower-blocked") switch
                {
                    0 => 0.95,
                    1 => 0.35,
                    _ => 0.05,
                };
                var mean = (layout.Air?.NominalM3h ?? 170) * 0.8 * share / (Math.PI / 4 * 0.01 * 3600);
                return position.Id == "middle" ? mean * 1.25
                    : position.Id == "edge" ? mean * 0.92
                    : mean * 1.25 * (Has("lint-path") ? 2 : 1.05);
            }
            default:
                return null;
        }
    }
}
