using System.Globalization;
using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

public static partial class Gauge
{
    // Between two readings of the same thing nothing is said of a part that is half a limit beyond it.
    private static Dictionary<string, (double Low, double High)> Bands(
        GaugeProtocol protocol,
        Part? part,
        GaugeLimit limit
    )
    {
        var span = Math.Abs(limit.Worn - limit.New);
        var good = (
            Math.Min(limit.New, limit.Worn) - (limit.Worn > limit.New ? 0.25 * span : 0),
            Math.Max(limit.New, limit.Worn) + (limit.Worn > limit.New ? 0 : 0.25 * span)
        );
        var bad =
            limit.Worn > limit.New
                ? (limit.Worn, limit.Worn + 1.5 * span)
                : (Math.Max(0, limit.Worn - span), limit.Worn);
        var gone = 0.15 * limit.Worn;
        return protocol.FindingOf(part) switch
        {
            "roller-tread" => new Dictionary<string, (double, double)> { ["round"] = good, ["flat"] = bad },
            "roller-rock" or "idler-rock" => new Dictionary<string, (double, double)>
            {
                ["firm"] = good,
                ["play"] = bad,
            },
            "shaft-look" => new Dictionary<string, (double, double)> { ["smooth"] = good, ["grooved"] = bad },
            "rear-shaft-look" => new Dictionary<string, (double, double)> { ["smooth"] = good, ["scored"] = bad },
            "arm-feel" => new Dictionary<string, (double, double)> { ["good"] = good, ["weak"] = bad },
            "spring-length" => new Dictionary<string, (double, double)> { ["right"] = good, ["long"] = bad },
            "rear-lift" => new Dictionary<string, (double, double)> { ["firm"] = good, ["drops"] = bad },
            "front-felt-look" => new Dictionary<string, (double, double)>
            {
                ["thick"] = good,
                ["thin"] = (gone, limit.Worn),
                ["gone"] = (-0.2, gone),
            },
            // A worn rear felt is through or folded: a thickness speaks for the one, not against the other.
            "rear-felt-look" => new Dictionary<string, (double, double)>
            {
                ["good"] = good,
                ["folded"] = good,
                ["through"] = bad,
            },
            "glides-look" => new Dictionary<string, (double, double)>
            {
                ["thick"] = good,
                ["worn"] = (gone, limit.Worn),
                ["off"] = (-0.2, gone),
            },
            "rim-gap" => new Dictionary<string, (double, double)>
            {
                ["even"] = (-limit.Worn, limit.Worn),
                ["gap"] = (limit.Worn, limit.Worn * 5),
            },
            "drum-count" => new Dictionary<string, (double, double)>
            {
                ["right"] = (-4, limit.Worn),
                ["slow"] = (limit.Worn, 40),
            },
            "hood-air" => new Dictionary<string, (double, double)>
            {
                ["strong"] = (60, 120),
                ["weak"] = (15, 60),
                ["none"] = (-5, 15),
            },
            _ => new Dictionary<string, (double, double)>(),
        };
    }

    private static GaugeResult? Lacking(Task task, string say)
    {
        task.Errors.Add("readings", say);
        return null;
    }

    private static GaugeResult? Plain(Task task)
    {
        var (protocol, layout, tool) = (task.Protocol, task.Layout, task.Tool);
        var limit = protocol.LimitOf(task.Part);
        var all = task.Readings.Select(r => r.Value).ToList();
        IReadOnlyList<int> odd = task.Odd;
        Measured q;
        var more = new List<NamedValue>();
        var next = "";
        switch (protocol.Reduce)
        {
            case "range":
            {
                if (all.Count < 2)
                {
                    return Lacking(task, "One more: the largest and the smallest are wanted.");
                }
                // Largest and smallest of readings that scatter lie apart even on a round roller: what the hand alone
                // would spread them by is taken off in squares (expected range of n).
                var named = (Large: task.Mean("largest"), Small: task.Mean("smallest"));
                if (named is ({ } large, { } small))
                {
                    q = GaugeMath.Sum([(large, 1), (small, -1)], "mm");
                    more.Add(new("largest", large));
                    more.Add(new("smallest", small));
                }
                else
                {
                    double[] spread = [0, 0, 1.13, 1.69, 2.06, 2.33, 2.53, 2.7, 2.85, 2.97, 3.08];
                    var hand = spread[Math.Min(all.Count, spread.Length - 1)] * tool.Repeat;
                    var range = all.Max() - all.Min();
                    var one = GaugeMath.Mean([all[0]], tool);
                    q = new(
                        Math.Sqrt(Math.Max(0, range * range - hand * hand)),
                        "mm",
                        Math.Sqrt(2) * one.U,
                        Instrument.RepeatFreedom
                    );
                    // Largest and smallest are meant to differ.
                    odd = [];
                }
                break;
            }
            case "half-difference":
            {
                if ((task.Mean("beside"), task.Mean("groove")) is not ({ } beside, { } groove))
                {
                    return Lacking(
                        task,
                        $"Read it {(task.At("beside").Count == 0 ? "beside the wear" : "in the groove")} too."
                    );
                }
                q = GaugeMath.Sum([(beside, 0.5), (groove, -0.5)], "mm");
                more.Add(new("beside the wear", beside));
                more.Add(new("in the groove", groove));
                break;
            }
            case "lever":
            {
                var read = GaugeMath.Mean(all, tool);
                var levers = layout.Drive.Levers;
                q = GaugeMath.Sum([(read, levers is { } l ? l.BearingToRestMm / l.RimToRestMm : 1)], "mm");
                more.Add(new("lift at the rear edge", read));
                break;
            }
            case "pin-pull":
            {
                var rest = DriveRun.Of(layout.Drive).Rest;
                var should = DriveStand.Push(rest.Drive, 1) / layout.Drive.Tensioner.LengthMm / DriveStand.Gravity;
                q = GaugeMath.Mean(all, tool);
                limit = new(protocol.Quantity, "kg", should, should * (1 + BeltVariant.WeakSpring) / 2);
                break;
            }
            case "slip":
            {
                var seconds = GaugeMath.Mean(all, tool);
                var rates = DriveRates.Of(layout, task.Context.MainsHertz);
                var turns = 1200 / seconds.Value;
                // Motors differ by some per cent from each other: half of two to four as one standard deviation.
                const double MotorSpread = 1.5;
                var slow = (1 - turns / rates.DrumRpm) * 100;
                q = new(slow, "%", double.Hypot(MotorSpread, seconds.U / seconds.Value * 100), seconds.Freedom);
                more.Add(new("drum, turns a minute", new(turns, "r/min", turns * seconds.U / seconds.Value)));
                break;
            }
            case "capacitor":
            {
                if (task.At("volts") is not { Count: > 0 } volts)
                {
                    return Lacking(task, "Measure first that it is empty: volts left after the resistor.");
                }
                if (volts[^1] >= 5)
                {
                    return Lacking(
                        task,
                        "It still holds charge: discharge it through the resistor again, and measure again."
                    );
                }
                if ((task.Mean("label"), task.Mean("capacity")) is not ({ Value: > 0 } label, { } capacity))
                {
                    return Lacking(
                        task,
                        task.At("label").Count == 0 ? "What is printed on it?" : "Its capacity, one lead off."
                    );
                }
                var off = (capacity.Value / label.Value - 1) * 100;
                q = new(Math.Abs(off), "%", capacity.U / label.Value * 100, capacity.Freedom);
                more.Add(new("capacity", capacity));
                break;
            }
            case "amps":
            {
                if ((task.Mean("label"), task.Mean("running")) is not ({ Value: > 0 } label, { } running))
                {
                    return Lacking(
                        task,
                        task.At("label").Count == 0 ? "What is printed on the motor?" : "Read it running."
                    );
                }
                q = new((running.Value / label.Value - 1) * 100, "%", running.U / label.Value * 100, running.Freedom);
                more.Add(new("running", running));
                break;
            }
            default:
                q = GaugeMath.Mean(all, tool);
                break;
        }
        limit ??= new(protocol.Quantity, q.Unit, 0, 1);
        return Judge(
            task,
            [new(protocol.Quantity, q), .. more],
            limit,
            Bands(protocol, task.Part, limit),
            odd,
            next,
            protocol.Whole ? [.. protocol.PartsOf(layout).Select(p => p.Id)] : null
        );
    }

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
                !hand.Right || p >= Sure ? "replace"
                : p > 1 - Sure || long_ >= WatchFrom * 1.5 ? "watch"
                : "good",
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
                off ? "replace"
                : whole ? "good"
                : "watch",
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
            Verdict = wrong is null ? "good" : "replace",
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
            "good" => "Clear",
            "watch" => "Weak",
            _ => "Blocked",
        };
        return result with
        {
            Say =
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{word}: {flow}, {share.Value:0} % of what the duct should pass."
                ) + (result.Verdict == "good" ? "" : say),
            NextReading =
                result.NextReading.Length > 0 ? result.NextReading
                : result.Verdict != "good" && task.Mean("screen-out") is null
                    ? "The middle once more without the screen."
                : "",
            SpeaksFor = [.. task.Protocol.PartsOf(task.Layout).Select(p => (p.Id, Factor(share, limit)))],
        };
    }
}
