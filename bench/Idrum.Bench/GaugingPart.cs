using System.Diagnostics;
using System.Globalization;
using Idrum.Core.Drive;
using Idrum.Core.Gauging;
using Idrum.Core.Machines;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Parts of known wear, measured with three readings and judged, beside the same tool read once and held against
/// the limit by eye; the drive's equilibrium beside a plain minimiser of its energy.</summary>
internal static class GaugingPart
{
    private const int MisreadOneIn = 40;

    internal static bool Run(string[] args)
    {
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 4000;
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        var book = shop.Handbook.Gauging;
        var random = new Random(20261130);
        var cases = shop
            .Layouts.SelectMany(l =>
                book.Protocols.Where(p =>
                        !p.Whole && p.Reduce is Reduction.Mean or Reduction.Lever or Reduction.HalfDifference && p.On(l)
                    )
                    .SelectMany(p => p.PartsOf(l).Select(part => (Layout: l, Protocol: p, Part: part)))
            )
            .ToList();
        int wornCalledGood = 0,
            soundReplaced = 0,
            watched = 0,
            eyeGood = 0,
            eyeReplaced = 0,
            worn = 0,
            asked = 0;
        for (var i = 0; i < count; i++)
        {
            var (layout, protocol, part) = cases[random.Next(cases.Count)];
            var tool = book.InstrumentOf(protocol);
            var limit = protocol.LimitOf(part)!;
            // From new to six tenths beyond the limit, evenly.
            var way = random.NextDouble() * 1.6;
            var truth = Math.Max(0, limit.New + way * (limit.Worn - limit.New));
            var gone = (truth - limit.Worn) * Math.Sign(limit.Worn - limit.New) > 0;
            var lasting = (2 * random.NextDouble() - 1) * tool.Error;
            double Shows(double value)
            {
                var spread =
                    Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
                var shown = Math.Round((value + lasting + tool.Repeat * spread) / tool.Resolution) * tool.Resolution;
                return Math.Max(0, random.Next(MisreadOneIn) == 0 ? shown + 10 * tool.Resolution : shown);
            }
            var levers = layout.Drive.Levers is { } l ? l.RimToRestMm / l.BearingToRestMm : 1;
            List<GaugeReading> Readings(int n) =>
                protocol.Reduce switch
                {
                    Reduction.HalfDifference =>
                    [
                        .. Enumerable.Range(0, n).Select(_ => new GaugeReading(Shows(12), "", "beside")),
                        .. Enumerable.Range(0, n).Select(_ => new GaugeReading(Shows(12 - 2 * truth), "", "groove")),
                    ],
                    Reduction.Lever => [.. Enumerable.Range(0, n).Select(_ => new GaugeReading(Shows(truth * levers)))],
                    _ => [.. Enumerable.Range(0, n).Select(_ => new GaugeReading(Shows(truth)))],
                };
            var readings = Readings(3);
            GaugeResult? Ask() => Gauge.Of(protocol, layout, part, readings, new(book, [layout], 50)).Result;
            var result = Ask();
            if (result is { Outliers.Count: > 0 })
            {
                asked++;
                foreach (var odd in result.Outliers.Reverse())
                {
                    readings.RemoveAt(odd);
                }
                result = Ask();
            }
            // By eye: the first reading against the limit.
            var once = Gauge.Of(protocol, layout, part, Readings(1), new(book, [layout], 50)).Result;
            if (result is null || once is null)
            {
                continue;
            }
            worn += gone ? 1 : 0;
            watched += result.Verdict == GaugeVerdict.Watch ? 1 : 0;
            wornCalledGood += gone && result.Verdict == GaugeVerdict.Good ? 1 : 0;
            soundReplaced += !gone && result.Verdict == GaugeVerdict.Replace ? 1 : 0;
            eyeGood += gone && once.Probability < 0.5 ? 1 : 0;
            eyeReplaced += !gone && once.Probability >= 0.5 ? 1 : 0;
        }
        var sound = count - worn;
        double Of(int n, int all) => 100.0 * n / Math.Max(1, all);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"gauging, {count} parts on {shop.Layouts.Count} machines, wear even from new to 1.6 of the limit: worn called good {Of(wornCalledGood, worn):0.0} % (by eye, once: {Of(eyeGood, worn):0.0}), sound replaced {Of(soundReplaced, sound):0.0} % (by eye: {Of(eyeReplaced, sound):0.0}), watched {Of(watched, count):0.0} %, asked about a reading {Of(asked, count):0.0} %"
            )
        );
        var layoutOf = shop.Layouts.First(l => l.Id == "ostrel-or70");
        var model = Median(25, () => DriveRun.Of(layoutOf.Drive));
        var minimiser = Median(9, () => Least(layoutOf.Drive));
        var off = Math.Abs(DriveRun.Of(layoutOf.Drive).Rest.Share - Least(layoutOf.Drive)) * 41;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  a drive question: {model:0.00} ms (at most 5) beside a minimiser of the energy at rest alone: {minimiser:0.00} ms; they agree within {off:0.0000} degrees"
            )
        );
        return wornCalledGood <= eyeGood && soundReplaced <= eyeReplaced && model <= 5 && off <= 0.01;
    }

    private static double Median(int times, Action run)
    {
        run();
        return Enumerable
            .Range(0, times)
            .Select(_ =>
            {
                var from = Stopwatch.GetTimestamp();
                run();
                return Stopwatch.GetElapsedTime(from).TotalMilliseconds;
            })
            .Order()
            .ElementAt(times / 2);
    }

    // Spring, weight and stretched belt of a sprung arm.
    private static double Least(DriveGeometry drive)
    {
        var t = drive.Tensioner;
        double Energy(double share)
        {
            var placed = BeltFit.At(drive, share);
            var stretch = Math.Max(0, BeltPath.Of(placed).LengthMm - drive.Belt.LengthMm);
            var end = placed.Tensioner.Idler!;
            var along = (t.SpringOnArmMm ?? t.LengthMm / 2) / t.LengthMm;
            var drawn = Math.Max(
                0,
                double.Hypot(
                    t.Pivot[0] + along * (end.X - t.Pivot[0]) - t.SpringAnchor[0],
                    t.Pivot[1] + along * (end.Y - t.Pivot[1]) - t.SpringAnchor[1]
                ) - t.SpringFreeMm
            );
            return drive.Belt.StiffnessN!.Value / (2 * drive.Belt.LengthMm) * stretch * stretch
                + t.SpringPreloadN * drawn
                + t.SpringRateNPerMm * drawn * drawn / 2
                + (t.ArmKg ?? 0.25) * 9.80665 * Tensioner.ArmCentre * (end.Y - t.Pivot[1]);
        }
        var coarse = Enumerable.Range(0, 401).Select(k => k / 400.0).MinBy(Energy);
        var (a, b) = (coarse - 0.0025, coarse + 0.0025);
        var golden = (Math.Sqrt(5) - 1) / 2;
        for (var i = 0; i < 50; i++)
        {
            var (c, d) = (b - golden * (b - a), a + golden * (b - a));
            (a, b) = Energy(c) < Energy(d) ? (a, d) : (c, b);
        }
        return (a + b) / 2;
    }
}
