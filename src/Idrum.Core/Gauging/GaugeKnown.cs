using System.Globalization;
using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

// What is known by more than one number: a belt, windings, an outlet, a stream of air.
public static partial class Gauge
{
    private static GaugeResult? Belt(Task task)
    {
        var (length, ribs) = (task.Mean("length"), task.At("ribs"));
        if (length is not { } mm)
        {
            return Lacking(task, "Its length, once round.");
        }
        var own = task.Layout.Drive.Belt;
        double? One(string at) => task.At(at) is { Count: > 0 } values ? values.Average() : null;
        var hand = BeltInHand.Of(
            task.Layout,
            task.Context.Layouts,
            mm.Value,
            ribs.Count > 0 ? Math.Round(ribs[^1]) : null,
            One("width"),
            One("thickness"),
            true,
            false
        );
        var long_ = (mm.Value / own.LengthMm - 1) * 100;
        var u = mm.U / own.LengthMm * 100;
        var stretched = GaugeMath.Below(new(long_, "%", u, mm.Freedom), DriveRules.BeltStretch * 100);
        var p = hand.Right ? 1 - stretched : Math.Max(Sure, 1 - stretched);
        return new()
        {
            Protocol = task.Protocol,
            Part = task.Part,
            Values = [new("length", mm), new("longer than its number", new(long_, "%", u, mm.Freedom))],
            Limit = new("longer than its number", "%", 0, DriveRules.BeltStretch * 100),
            Probability = p,
            Verdict =
                !hand.Right || p >= Sure ? GaugeVerdict.Replace
                : p > 1 - Sure || long_ >= WatchFrom * 1.5 ? GaugeVerdict.Watch
                : GaugeVerdict.Good,
            GuardBand = 1.2816 * u,
            Say = hand.Say,
            NextReading = ribs.Count == 0 ? "Count its ribs too." : "",
            Likelihoods = new Dictionary<string, double>
            {
                ["right"] = hand.Right ? 1 : 1 / Loudest,
                ["wrong"] = hand.Right ? 1 / Loudest : 1,
            },
            SpeaksFor = task.Part is { } part ? [(part.Id, hand.Right ? 1 / Loudest : Loudest)] : [],
            Outliers = task.Odd,
        };
    }

    private static GaugeResult? Windings(Task task)
    {
        var motor = task.Layout.Drive.Motor ?? MotorSpec.Usual;
        var leads = task.Mean("leads")?.Value ?? 0;
        var said = new List<string>();
        var values = new List<NamedValue>();
        bool Open(string at) => task.Readings.Any(r => r.At.Id == at && (r.Open || r.Value > 1e4));
        foreach (
            var (at, name, range) in new[]
            {
                ("run", "run winding", motor.RunOhm),
                ("start", "start winding", motor.StartOhm),
            }
        )
        {
            if (Open(at))
            {
                said.Add($"the {name} is open");
                continue;
            }
            if (task.Mean(at) is not { } read)
            {
                continue;
            }
            var ohm = read with { Value = read.Value - leads };
            values.Add(new(name, ohm));
            // A winding whose spread lies across an edge of the sheet is not called off.
            if (ohm.Value + 2 * ohm.U < range[0])
            {
                said.Add(ohm.Value < 0.2 * range[0] ? $"the {name} is shorted" : $"the {name} is below its sheet");
            }
            else if (ohm.Value - 2 * ohm.U > range[1])
            {
                said.Add($"the {name} is above its sheet");
            }
        }
        const double ToFrame = 1e6;
        if (task.At("frame") is { Count: > 0 } frame && frame.Min() < ToFrame)
        {
            said.Insert(0, "a winding touches the frame: it is not run again");
        }
        if (values.Count == 0 && said.Count == 0)
        {
            return Lacking(task, "Read the run and the start winding.");
        }
        var limit = new GaugeLimit("run winding", "Ω", motor.RunOhm[0], motor.RunOhm[1]);
        if (values.Count == 0)
        {
            values.Add(new("resistance", new(task.At("frame").DefaultIfEmpty(0).Min(), "Ω", 0)));
        }
        var off = said.Count > 0;
        var whole = task.Lacks is null;
        return new()
        {
            Protocol = task.Protocol,
            Part = task.Part,
            Values = values,
            Limit = limit,
            Probability = off ? 0.97 : 0.03,
            Verdict =
                off ? GaugeVerdict.Replace
                : whole ? GaugeVerdict.Good
                : GaugeVerdict.Watch,
            Say =
                off ? $"Not as its sheet says: {string.Join("; ", said)}."
                : whole ? "As its sheet says."
                : "As its sheet says, so far.",
            NextReading = task.Lacks is { } lacks ? $"{lacks.Name}: {lacks.Do}" : "",
            Likelihoods = new Dictionary<string, double>
            {
                ["right"] = off ? 0.03 : 1,
                ["off"] =
                    off ? 1
                    : whole ? 0.06
                    : 0.3,
            },
            SpeaksFor = task.Part is { } part
                ?
                [
                    (
                        part.Id,
                        off ? Loudest
                        : whole ? 0.06
                        : 0.3
                    ),
                ]
                : [],
        };
    }

    private static GaugeResult? Outlet(Task task)
    {
        if (task.Mean("across") is not { } across)
        {
            return Lacking(task, "Across first: leg to leg, or line to neutral.");
        }
        var (one, two, load) = (task.Mean("leg-1"), task.Mean("leg-2"), task.Mean("load"));
        var values = new List<NamedValue> { new("across", across) };
        var legs = new[] { one, two }.OfType<Measured>().ToList();
        values.AddRange(legs.Select((l, i) => new NamedValue(i == 0 ? "first leg" : "second leg", l)));
        string? wrong = null;
        var note = "";
        if (legs.Count > 0)
        {
            if (legs.Exists(l => l.Value is not (>= 110 and <= 127)))
            {
                wrong = legs.Exists(l => l.Value < 20)
                    ? "One leg is dead: half the supply is still live. Handed over."
                    : "A leg is not at 110 to 127 V. Handed over.";
            }
            else if (across.Value is >= 200 and < 218)
            {
                note = " Fed from three phases: it heats slower, no fault.";
            }
            else if (across.Value is not (>= 220 and <= 250))
            {
                wrong = "Both legs stand, and across it is not 220 to 250 V. Handed over.";
            }
        }
        else if (across.Value is not (>= 207 and <= 253))
        {
            wrong = across.Value < 20 ? "No supply. Handed over." : "Not at 207 to 253 V. Handed over.";
        }
        if (load is { } loaded && across.Value > 0)
        {
            var sag = (1 - loaded.Value / across.Value) * 100;
            values.Add(new("lost under load", new(sag, "%", 100 * across.U / across.Value)));
            wrong ??=
                sag > 5
                    ? string.Create(
                        CultureInfo.InvariantCulture,
                        $"It loses {sag:0.0} % under load: a bad joint or a thin line. Handed over."
                    )
                    : null;
        }
        var dead = across.Value < 20 || legs.Exists(l => l.Value < 20);
        return new()
        {
            Protocol = task.Protocol,
            Part = null,
            Values = values,
            Limit = new("across", "V", 230, 207),
            Probability = wrong is null ? 0.02 : 0.98,
            Verdict = wrong is null ? GaugeVerdict.Good : GaugeVerdict.Replace,
            Say = wrong ?? "The supply is right." + note,
            NextReading = wrong is null && load is null ? "Under load too, where it is allowed." : "",
            Likelihoods = new Dictionary<string, double>
            {
                ["good"] = dead ? 1 / Loudest : 1,
                ["dead"] = dead ? 1 : 1 / Loudest,
            },
        };
    }

    private static GaugeResult? Air(Task task)
    {
        if (task.Mean("middle") is not { } middle)
        {
            return Lacking(task, "In the middle of the hood first.");
        }
        // A pipe of 100 mm: in its middle the air is some quarter quicker than on average.
        const double Pipe = Math.PI / 4 * 0.1 * 0.1 * 3600;
        const double MiddleOverMean = 1.25;
        var edge = task.Mean("edge");
        var speed = edge is { } e
            ? GaugeMath.Sum([(middle, 0.25), (e, 0.75)], "m/s")
            : GaugeMath.Sum([(middle, 1 / MiddleOverMean)], "m/s");
        if (edge is null)
        {
            // The shape of the stream is a guess then.
            speed = speed with { U = double.Hypot(speed.U, 0.1 * speed.Value) };
        }
        // A usual duct leaves some four fifths of what the blower gives in the open.
        const double Duct = 0.8;
        var nominal = (task.Layout.Air?.NominalM3h ?? 170) * Duct;
        var flow = GaugeMath.Sum([(speed, Pipe)], "m³/h");
        var share = GaugeMath.Sum([(flow, 100 / nominal)], "%");
        var values = new List<NamedValue> { new("air against what the blower gives", share), new("air", flow) };
        var limit = task.Protocol.LimitOf(null)!;
        var say = "";
        if (task.Mean("screen-out") is { } @out)
        {
            var gain = (@out.Value / Math.Max(0.1, middle.Value) - 1) * 100;
            values.Add(new("more without the screen", new(gain, "%", 100 * middle.U / Math.Max(0.1, middle.Value))));
            say = gain > 25 ? " Much more without the screen: wash it." : " The screen is not it: duct or blower.";
        }
        var result = Judge(task, values, limit, Bands(task.Protocol, null, limit), task.Odd, "", []);
        var word = result.Verdict switch
        {
            GaugeVerdict.Good => "Clear",
            GaugeVerdict.Watch => "Weak",
            _ => "Blocked",
        };
        return result with
        {
            Say =
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{word}: {flow}, {share.Value:0} % of what the duct should pass."
                ) + (result.Verdict == GaugeVerdict.Good ? "" : say),
            NextReading =
                result.NextReading.Length > 0 ? result.NextReading
                : result.Verdict != GaugeVerdict.Good && task.Mean("screen-out") is null
                    ? "The middle once more without the screen."
                : "",
            SpeaksFor = [.. task.Protocol.PartsOf(task.Layout).Select(p => (p.Id, Factor(share, limit)))],
        };
    }
}
