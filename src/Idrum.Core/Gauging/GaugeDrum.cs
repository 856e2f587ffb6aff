using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

// What is measured on the drum as a whole: the gap round its rim, the pull at it.
public static partial class Gauge
{
    private static GaugeResult? Gap(Task task)
    {
        var places = task.Readings.Select(r => (r.ClockDeg, r.DrumDeg ?? 0, r.Value)).ToList();
        if (
            places.Select(p => (Math.Round(p.ClockDeg), Math.Round(p.Item2))).Distinct().Count() == 1
            && places.Count > 2
        )
        {
            return Lacking(task, "All at one place: read round the rim, at the positions of the clock.");
        }
        // Begun at a second angle of the drum, the first round alone still tells what it told.
        var first = places.GroupBy(p => p.Item2).MaxBy(g => g.Count())!.ToList();
        if ((RimGap.Of(places, task.Tool) ?? RimGap.Of(first, task.Tool)) is not { } gap)
        {
            return Lacking(
                task,
                $"Too few places to split it: {RimGap.Fewest} round the clock at least, and the eight again with the drum turned on by 135 degrees."
            );
        }
        var limit = task.Protocol.LimitOf(null)!;
        var unsplit = gap.Told ? "" : ", with the drum's own runout in it";
        var next = gap.Told
            ? ""
            : "Turn the drum on by 135 degrees and read again: what sags is not told from what turns yet.";
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
            .Where(p => p.Kind != "drum")
            .Select(p => (p.Id, Factor(gap.Sag, limit)))
            .Concat(
                gap.Told
                    ? task
                        .Protocol.PartsOf(task.Layout)
                        .Where(p => p.Kind == "drum")
                        .Select(p => (p.Id, Math.Max(Factor(gap.Eccentric, round), Factor(gap.Oval, round))))
                    : []
            );
        return result with { SpeaksFor = [.. speaks] };
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
        var speaks = new List<(string, double)>();
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
