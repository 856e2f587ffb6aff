using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

// What is measured on the drum as a whole: the gap round its rim, the pull at it.
public static partial class Gauge
{
    /// <summary>The gap split, or null where the places do not tell, which is said.</summary>
    private static RimGap? Split(Task task)
    {
        var places = task.Readings.Select(r => (r.ClockDeg, r.DrumDeg ?? 0, r.Value)).ToList();
        if (
            places.Select(p => (Math.Round(p.ClockDeg), Math.Round(p.Item2))).Distinct().Count() == 1
            && places.Count > 2
        )
        {
            Lacking(task, "All at one place: read round the rim, at the positions of the clock.");
            return null;
        }
        // Begun at a second angle of the drum, the first round alone still tells what it told.
        var first = places.GroupBy(p => p.Item2).MaxBy(g => g.Count())!.ToList();
        if ((RimGap.Of(places, task.Tool) ?? RimGap.Of(first, task.Tool)) is { } gap)
        {
            return gap;
        }
        Lacking(
            task,
            $"Too few places to split it: {RimGap.Fewest} round the clock at least, and the eight again with the drum turned on by 135 degrees."
        );
        return null;
    }

    private const string TurnOn =
        "Turn the drum on by 135 degrees and read again: what stands is not told from what turns yet.";

    /// <summary>Whether the drum stands askew: how far its rim lies in, all round. An end that hangs tips the whole drum: with
    /// the front low the top of the rim comes forward, with the rear low it goes back.</summary>
    private static GaugeResult? Tilt(Task task)
    {
        if (Split(task) is not { } gap)
        {
            return null;
        }
        var limit = LimitOfTilt(task.Protocol, task.Layout);
        var rearLow = gap.Sag.Value > 0;
        var unsplit = gap.Told ? "" : ", with the rim's own wobble in it";
        var end = rearLow ? "rear low" : "front low";
        var result = Judge(
            task,
            [
                new($"{task.Protocol.Quantity} ({end}){unsplit}", gap.Sag with { Value = Math.Abs(gap.Sag.Value) }),
                new("askew to the left" + unsplit, gap.Shift),
                .. gap.Told ? [new NamedValue("rim wobbles", gap.Eccentric)] : Array.Empty<NamedValue>(),
                new("rim warped", gap.Oval),
                new("middle depth", gap.Mean),
            ],
            limit,
            [],
            gap.Odd,
            gap.Told ? "" : TurnOn,
            []
        );
        var wobble = new GaugeLimit("rim wobbles", "mm", 0, 1.5);
        // The rear hangs, or it does not: of the front this check says nothing.
        var bands = Bands(task.Protocol, null, limit);
        var raw = bands.ToDictionary(b => b.Key, b => GaugeMath.Within(gap.Sag, b.Value.Low, b.Value.High));
        var most = Math.Max(1e-300, raw.Values.DefaultIfEmpty(0).Max());
        var speaks = new List<(PartId, double)>();
        foreach (var part in task.Protocol.PartsOf(task.Layout))
        {
            if (part.Kind == PartKinds.Drum)
            {
                if (gap.Told)
                {
                    speaks.Add((part.Id, Math.Max(Factor(gap.Eccentric, wobble), Factor(gap.Oval, wobble))));
                }
            }
            else if (AtRear(task.Layout, part) is { } rear)
            {
                speaks.Add((part.Id, Factor(gap.Sag with { Value = rear ? gap.Sag.Value : -gap.Sag.Value }, limit)));
            }
        }
        var tips =
            result.Verdict == GaugeVerdict.Good ? ""
            : rearLow ? " The rear hangs: the top of the rim lies further in than the bottom."
            : " The front hangs: the top of the rim lies further out than the bottom.";
        return result with
        {
            Say = result.Say + tips,
            SpeaksFor = speaks,
            Likelihoods = raw.ToDictionary(b => b.Key, b => Math.Max(1 / Loudest, b.Value / most)),
        };
    }

    /// <summary>How askew a rim may stand: as far as an end that hangs by the limit of the sag tips it, by the layout's levers
    /// where it has some (rim's radius over its distance from the rear rest).</summary>
    private static GaugeLimit LimitOfTilt(GaugeProtocol protocol, Layout layout) =>
        layout.Drive.Levers is { } l && protocol.Limit is { } own
            ? own with
            {
                Worn = Math.Round(SagLimit * layout.Drive.Drum.DiameterMm / 2 / l.RimToRestMm, 2),
            }
            : protocol.Limit!;

    // An end that hangs by so much is worn, mm: the limit of the gap round the rim.
    private const double SagLimit = 2;

    /// <summary>Whether a part carries the drum at its rear; null where it is not drawn and its kind does not say.</summary>
    private static bool? AtRear(Layout layout, Part part)
    {
        var bounds = layout.Solids.Where(s => s.Part == part.Id && s.At.Count > 0).Select(s => s.Bounds()).ToList();
        return part.Kind is PartKinds.FrontFelt or PartKinds.Glide ? false
            : part.Kind is PartKinds.RearFelt or PartKinds.Sleeve or PartKinds.Cup or PartKinds.BallHitch ? true
            : bounds.Count == 0 || layout.Size.Count != 3 ? null
            : (bounds.Min(b => b.Low[2]) + bounds.Max(b => b.High[2])) / 2 > layout.Size[2] / 2;
    }

    private static GaugeResult? Gap(Task task)
    {
        if (Split(task) is not { } gap)
        {
            return null;
        }
        var limit = task.Protocol.LimitOf(null)!;
        var unsplit = gap.Told ? "" : ", with the drum's own runout in it";
        var next = gap.Told ? "" : TurnOn;
        var result = Judge(
            task,
            [
                new(task.Protocol.Quantity + unsplit, gap.Sag),
                new("to the left" + unsplit, gap.Shift),
                .. gap.Told ? [new NamedValue("rim off its axis", gap.Eccentric)] : Array.Empty<NamedValue>(),
                new("rim oval", gap.Oval),
                new("middle gap", gap.Mean),
            ],
            limit,
            Bands(task.Protocol, null, limit),
            gap.Odd,
            next,
            []
        );
        var round = new GaugeLimit("rim off its axis", "mm", 0, 1.5);
        var speaks = task
            .Protocol.PartsOf(task.Layout)
            .Where(p => p.Kind != PartKinds.Drum)
            .Select(p => (p.Id, Factor(gap.Sag, limit)))
            .Concat(
                gap.Told
                    ? task
                        .Protocol.PartsOf(task.Layout)
                        .Where(p => p.Kind == PartKinds.Drum)
                        .Select(p => (p.Id, Math.Max(Factor(gap.Eccentric, round), Factor(gap.Oval, round))))
                    : []
            );
        return result with { SpeaksFor = [.. speaks] };
    }

    /// <summary>A felt ring that is drawn on the drum's rear edge: how much smaller it is than the drum. What is not smaller lies
    /// loose and folds.</summary>
    private static GaugeResult? Stretch(Task task)
    {
        if (task.Mean("felt") is not { } felt)
        {
            return Lacking(task, "Once round the felt's inner edge, as it lies.");
        }
        // Where nobody measured round the drum, the layout's diameter stands, to a millimetre.
        var drum = task.Mean("drum") ?? new(Math.PI * task.Layout.Drive.Drum.DiameterMm, "mm", Math.PI / Math.Sqrt(3));
        var ratio = drum.Value / felt.Value;
        var stretch = new Measured(
            (ratio - 1) * 100,
            "%",
            100 * ratio * double.Hypot(felt.U / felt.Value, drum.U / drum.Value),
            felt.Freedom
        );
        var result = Judge(
            task,
            [new(task.Protocol.Quantity, stretch), new("round the felt", felt), new("round the drum", drum)],
            task.Protocol.LimitOf(task.Part)!,
            [],
            task.Odd,
            task.Mean("drum") is null
                ? "Round the drum too, where it sits: the layout's diameter is not measured."
                : "",
            []
        );
        return result with
        {
            // It is of the felt that goes on, not of the one that wore.
            Say = result.Verdict switch
            {
                GaugeVerdict.Good => $"Smaller than the drum by {stretch}: it is drawn on and holds.",
                GaugeVerdict.Replace =>
                    $"No smaller than the drum ({stretch}): it would lie loose and fold. Another felt, or the other edge.",
                _ => $"Hardly smaller than the drum ({stretch}): read both again, and compare it with the old one.",
            },
        };
    }

    private static GaugeResult? Torque(Task task)
    {
        if (task.Mean("on") is not { } on)
        {
            return Lacking(task, "Read it with the belt on.");
        }
        // At the drum's rim, kg on the scale to newton metres at the axis.
        var arm = DriveStand.Gravity * task.Layout.Drive.Drum.DiameterMm / 2000;
        var with = GaugeMath.Sum([(on, arm)], "N·m");
        var values = new List<NamedValue> { new("drag of the drum, belt on", with) };
        var drag = (task.Layout.Drive.Load ?? LoadSpec.Usual).DragNm;
        var limit = new GaugeLimit(task.Protocol.Quantity, "N·m", drag[1], drag[1] * 1.5);
        string[] supports = ["drum-roller", "front-felt", "rear-felt", "glide", "sleeve", "cup"];
        var speaks = new List<(PartId, double)>();
        if (task.Mean("off") is { } off)
        {
            var without = GaugeMath.Sum([(off, arm)], "N·m");
            var rest = GaugeMath.Sum([(on, arm), (off, -arm)], "N·m");
            values.Add(new("belt off: supports and felts", without));
            values.Add(new("belt's share: idler, motor, blower", rest));
            speaks.AddRange(
                task.Protocol.PartsOf(task.Layout)
                    .Select(p =>
                        (
                            p.Id,
                            supports.Contains(p.Kind)
                                ? Factor(without, limit)
                                : Factor(rest, limit with { New = 0, Worn = drag[1] * 0.5 })
                        )
                    )
            );
        }
        return Judge(
            task,
            values,
            limit,
            new Dictionary<string, (double, double)>
            {
                ["free"] = (0, 0.35 * drag[0]),
                ["normal"] = (0.35 * drag[0], limit.Worn),
                ["stiff"] = (limit.Worn, 5 * drag[1]),
            },
            task.Odd,
            task.Mean("off") is null ? "With the belt off the pulley too: it tells support from drive." : "",
            []
        ) with
        {
            SpeaksFor = speaks,
        };
    }
}
