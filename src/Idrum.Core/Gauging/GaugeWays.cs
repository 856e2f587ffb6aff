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
            // Askew by the rear's hanging; by the front's it is on the other side of zero.
            "rear-lift" when protocol.Reduce == Reduction.RimAxial => new Dictionary<string, (double, double)>
            {
                ["firm"] = (-limit.Worn * 5, limit.Worn),
                ["drops"] = (limit.Worn, limit.Worn * 5),
            },
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
            case Reduction.Range:
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
            case Reduction.HalfDifference:
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
            case Reduction.Lever:
            {
                var read = GaugeMath.Mean(all, tool);
                var levers = layout.Drive.Levers;
                q = GaugeMath.Sum([(read, levers is { } l ? l.BearingToRestMm / l.RimToRestMm : 1)], "mm");
                more.Add(new("lift at the rear edge", read));
                break;
            }
            case Reduction.PinPull:
            {
                var rest = DriveRun.Of(layout.Drive).Rest;
                var should = DriveStand.Push(rest.Drive, 1) / layout.Drive.Tensioner.LengthMm / DriveStand.Gravity;
                q = GaugeMath.Mean(all, tool);
                limit = new(protocol.Quantity, "kg", should, should * (1 + BeltVariant.WeakSpring) / 2);
                break;
            }
            case Reduction.Slip:
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
            case Reduction.Capacitor:
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
            case Reduction.Amps:
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
}
