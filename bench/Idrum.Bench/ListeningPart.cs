using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Recordings of the noise bench over all machines: is the part that sounds named first, and is a sound machine
/// left alone? The right answer and what the geometry leaves together are reckoned here, apart from the
/// analyser.</summary>
internal static class ListeningPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        if (args.Length > 0 && args[0] == "felt")
        {
            return await FeltPart.RunAsync(args[1..]);
        }
        if (args.Length > 0 && args[0] == "grid")
        {
            return await GridAsync(args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 120);
        }
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 500;
        var faultDb = args.Length > 1 ? double.Parse(args[1], CultureInfo.InvariantCulture) : 0;
        var layouts = ContentFolder.Read(BenchHost.Content).Read().Shop.Layouts.ToList();
        var heard = await PlayAsync(layouts, count, faultDb, seed: 1);
        var sound = await PlayAsync(layouts, Math.Max(1, count * 3 / 5), null, seed: 100_001);
        foreach (
            var fault in heard
                .GroupBy(h => h.Fault)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => (g.Key, Right: g.Count(h => h.Right), All: g.Count(), Wrong: g.Where(h => !h.Right)))
        )
        {
            Console.WriteLine(
                $"  {fault.Key, -18} {fault.Right, 4} of {fault.All, 3}   {string.Join(", ", fault.Wrong.GroupBy(w => w.First).Select(w => $"{w.Key} {w.Count()}"))}"
            );
        }
        Console.WriteLine("  named first, by what sounds:");
        foreach (
            var row in heard
                .Concat(sound)
                .GroupBy(h => h.Fault.Split(' ')[0])
                .OrderBy(g => g.Key, StringComparer.Ordinal)
        )
        {
            Console.WriteLine(
                $"  {(row.Key.Length > 0 ? row.Key : "nothing"), -10} {string.Join(", ", row.GroupBy(r => r.First.Length > 0 ? r.First.Split('+')[0] : "none").OrderByDescending(g => g.Count()).Select(g => $"{g.Key} {g.Count()}"))}"
            );
        }
        var right = heard.Count(h => h.Right);
        var falsely = sound.Count(h => h.First.Length > 0);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"listening, {heard.Count} recordings at {faultDb:0} dB on {layouts.Count} machines, speed unknown by 6 %: right part or group first in {100.0 * right / heard.Count:0.0} % (at least 95), {heard.Average(h => h.Size):0.0} parts a group; {sound.Count} recordings of sound machines: {100.0 * falsely / sound.Count:0.0} % called faulty (at most 2): {string.Join(", ", sound.Where(h => h.First.Length > 0).GroupBy(w => w.First).Select(w => $"{w.Key} {w.Count()}"))}"
            )
        );
        var both = await TwoAsync(layouts, Math.Max(1, count / 4));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  two at once, {both.Count} recordings of 30 s: both named in {100.0 * both.Count(b => b) / both.Count:0.0} % (at least 80)"
            )
        );
        var places = await SpotsAsync(layouts, Math.Max(1, count / 4));
        double Share(Func<(bool Own, bool All, bool Named, bool Part), bool> what) =>
            100.0 * places.Count(what) / places.Count;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  four spots, {places.Count} rollers: side and end right in {Share(p => p.Own):0.0} % by the noise's own level (at least 90), {Share(p => p.All):0.0} % by the level of everything; of the twins one named in {Share(p => p.Named):0.0} %, wrongly in {Share(p => p.Named && !p.Part):0.0} %"
            )
        );
        Speed(layouts[0]);
        LongSpeed(layouts[0]);
        // Of a few recordings the bounds are only told.
        return count < 100
            || right >= 0.95 * heard.Count
                && falsely <= 0.02 * sound.Count
                && both.Count(b => b) >= 0.8 * both.Count
                && places.Count(p => p.Own) >= 0.9 * places.Count;
    }

    /// <summary>How often the right part or group is first, by how loud the fault is against all else and how long it was
    /// recorded: quick parts and slow ones apart.</summary>
    private static async Task<bool> GridAsync(int count)
    {
        var layouts = ContentFolder.Read(BenchHost.Content).Read().Shop.Layouts.ToList();
        double[] lengths = [5, 10, 30];
        Console.WriteLine(
            $"  right first of 100, {count} recordings each; quick (roller, idler, motor) / slow (drum, belt), for {string.Join(", ", lengths)} s:"
        );
        foreach (var db in new[] { -12.0, -6, 0, 6 })
        {
            var row = new List<string>();
            foreach (var length in lengths)
            {
                var heard = await PlayAsync(layouts, count, db, seed: 600_001, length);
                string Of(bool slow)
                {
                    var some = heard.Where(h => (h.Fault.Split(' ')[0] is "drum" or "belt-pass") == slow).ToList();
                    return some.Count == 0
                        ? "–"
                        : (100.0 * some.Count(h => h.Right) / some.Count).ToString("0", CultureInfo.InvariantCulture);
                }
                row.Add($"{Of(false)} / {Of(true)}");
            }
            Console.WriteLine($"  {db.ToString("0", CultureInfo.InvariantCulture), 4} dB   {string.Join("   ", row)}");
        }
        return true;
    }

    /// <summary>Half a minute of 48 kHz stereo, read and listened to, beside a bare short-time transform of it.</summary>
    private static void Speed(Layout layout)
    {
        var made = NoiseBench.Render(
            layout,
            new()
            {
                Faults = ["drum-lip"],
                Seconds = BenchHost.Size(45, 6),
                Seed = 1,
            }
        );
        // The same sound, said to be of a half quicker clock: as many samples as the file would have.
        var file = Stereo(made.Samples, 48_000);
        var sources = SoundSource.Of(layout, 60);
        double Median(Action work) =>
            Enumerable
                .Range(0, BenchHost.Size(15, 1))
                .Select(_ =>
                {
                    var watch = System.Diagnostics.Stopwatch.StartNew();
                    work();
                    return watch.Elapsed.TotalMilliseconds;
                })
                .Order()
                .ElementAt(BenchHost.Size(15, 1) / 2);
        var heard = Median(() => SoundAnalysis.Of(WavFile.Read(file).Recording!, sources, new()));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  memory: at most {Peak(() => SoundAnalysis.Of(WavFile.Read(file).Recording!, sources, new())) / (double)file.Length:0.0} times the file while it is read and listened to (at most 6)"
            )
        );
        var bare = Median(() =>
        {
            var samples = WavFile.Read(file).Recording!.Samples;
            var buffer = new MathNet.Numerics.Complex32[4096];
            for (var at = 0; at + buffer.Length <= samples.Length; at += buffer.Length / 2)
            {
                for (var i = 0; i < buffer.Length; i++)
                {
                    buffer[i] = new(samples[at + i], 0);
                }
                MathNet.Numerics.IntegralTransforms.Fourier.Forward(buffer);
            }
        });
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  {made.Samples.Length / 48_000.0:0} s of 48 kHz stereo: read and listened to in {heard:0} ms (at most 600 of half a minute), read and transformed (4096, half overlap) in {bare:0} ms, medians"
            )
        );
    }

    /// <summary>Half an hour of 16 kHz, read and listened through, and how far memory grows meanwhile.</summary>
    private static void LongSpeed(Layout layout)
    {
        var piece = BandEnvelopes.Lowered(
            NoiseBench.Render(
                layout,
                new()
                {
                    Faults = ["drum-lip"],
                    Seconds = BenchHost.Size(60, 7),
                    Seed = 2,
                }
            )
        );
        var times = 30;
        var samples = new float[piece.Samples.Length * times];
        for (var k = 0; k < times; k++)
        {
            piece.Samples.CopyTo(samples, k * piece.Samples.Length);
        }
        var file = WavFile.Write(new(piece.Rate, samples));
        samples = [];
        var sources = SoundSource.Of(layout, 60);
        var watch = System.Diagnostics.Stopwatch.StartNew();
        var course = SoundCourse.Of(WavFile.Read(file).Recording!, sources, new());
        var took = watch.Elapsed.TotalSeconds;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  {course.Seconds / 60:0.0} min of 16 kHz: read and listened through in {took:0.0} s (at most 10 of half an hour), memory {Peak(() => SoundCourse.Of(WavFile.Read(file).Recording!, sources, new())) / (double)file.Length:0.0} times the file (at most 6)"
            )
        );
    }

    /// <summary>How far the heap grows while something is done, bytes: looked at every five milliseconds.</summary>
    private static long Peak(Action work)
    {
        GC.Collect();
        var before = GC.GetTotalMemory(true);
        long most = 0;
        using var done = new ManualResetEventSlim();
        var watcher = new Thread(() =>
        {
            while (!done.Wait(5))
            {
                most = Math.Max(most, GC.GetTotalMemory(false) - before);
            }
        });
        watcher.Start();
        work();
        done.Set();
        watcher.Join();
        return most;
    }

    private static byte[] Stereo(float[] samples, int rate)
    {
        var mono = WavFile.Write(new(rate, samples));
        var file = new byte[44 + 4 * samples.Length];
        mono.AsSpan(0, 44).CopyTo(file);
        BitConverter.TryWriteBytes(file.AsSpan(22), (short)2);
        BitConverter.TryWriteBytes(file.AsSpan(28), rate * 4);
        BitConverter.TryWriteBytes(file.AsSpan(32), (short)4);
        BitConverter.TryWriteBytes(file.AsSpan(40), 4 * samples.Length);
        for (var i = 0; i < samples.Length; i++)
        {
            mono.AsSpan(44 + 2 * i, 2).CopyTo(file.AsSpan(44 + 4 * i));
            mono.AsSpan(44 + 2 * i, 2).CopyTo(file.AsSpan(46 + 4 * i));
        }
        return file;
    }

    /// <summary>Two faults of different sources at once: both are likelier than not, and nothing is named before
    /// them.</summary>
    private static async Task<IReadOnlyList<bool>> TwoAsync(List<Layout> layouts, int count)
    {
        var results = new bool[count];
        await Parallel.ForEachAsync(Enumerable.Range(0, count), (i, stop) =>
        {
            var random = new Random(200_000 + i);
            var layout = layouts[i % layouts.Count];
            var faults = NoiseBench
                .FaultsOf(layout)
                .Where(f => f.Value is not ("roller-seized" or "idler-seized" or "motor-start" or "capacitor-weak"))
                .ToList();
            var one = faults[random.Next(faults.Count)];
            var others = faults.Where(f => Plain(f) != Plain(one)).ToList();
            var two = others[random.Next(others.Count)];
            var recording = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = [one, two],
                    Seconds = 30,
                    Seed = 200_000 + i,
                },
                stop
            );
            var sources = SoundSource.Of(layout, 60);
            var analysis = SoundAnalysis.Of(recording, sources, new(), stop);
            results[i] = new[] { one, two }.All(f =>
                analysis.Groups.Take(2).Any(g => g.Probability > 0.5 && Right(g, f, sources, recording.Seconds))
            );
            return ValueTask.CompletedTask;
        });
        return results;

        // The belt and the drum differ by less than two at once leave to tell.
        static string Plain(string fault) =>
            NoiseBench.MechanismOf(fault) is Mechanism.BeltPass or Mechanism.Drum
                ? "drum"
                : NoiseBench.MechanismOf(fault).Word();
    }

    /// <summary>A roller recorded at the four spots by one phone: is it told where it lies?</summary>
    private static async Task<IReadOnlyList<(bool Own, bool All, bool Named, bool Part)>> SpotsAsync(
        List<Layout> layouts,
        int count
    )
    {
        var rollers = layouts
            .SelectMany(l =>
                SoundSource
                    .Of(l, 60)
                    .Where(s => s.Mechanism == Mechanism.Roller)
                    .SelectMany(s => s.PartIds)
                    .Where(p => SpotPlace.NearestTo(l, p) is not null)
                    .Select(p => (Layout: l, Part: p))
            )
            .ToList();
        string[] faults = ["roller-flat", "roller-dry", "shaft-grooved", "retainer-missing"];
        var results = new (bool, bool, bool, bool)[count];
        await Parallel.ForEachAsync(Enumerable.Range(0, count), (i, stop) =>
        {
            var random = new Random(300_000 + i);
            var (layout, part) = rollers[random.Next(rollers.Count)];
            var fault = faults[random.Next(faults.Length)];
            var sounds = SpotLevels
                .Spots.Select(spot =>
                {
                    var recording = NoiseBench.Render(
                        layout,
                        new()
                        {
                            Faults = [fault],
                            Part = part,
                            Spot = spot,
                            Seed = 300_000 + i,
                        },
                        stop
                    );
                    return new SoundRecorded("", "thump", spot, false)
                    {
                        Heard = HeardInSound.Of(SoundAnalysis.Of(recording, SoundSource.Of(layout, 60), new(), stop)),
                    };
                })
                .ToList();
            var truth = SpotPlace.NearestTo(layout, part);
            var place = HeardPlace.Of(new() { Sounds = [.. sounds] }, layout, 60);
            var all = SpotLevels.Of(sounds.ToDictionary(s => s.Spot, s => s.Heard!.LevelDb))!;
            results[i] = (
                place is not null && $"{place.Levels.End}-{place.Levels.Side}" == truth,
                $"{all.End}-{all.Side}" == truth,
                place?.PartId.IsNone == false,
                place?.PartId == part
            );
            return ValueTask.CompletedTask;
        });
        return results;
    }

    private sealed record Heard(string Fault, bool Right, string First, double Size);

    private static async Task<IReadOnlyList<Heard>> PlayAsync(
        List<Layout> layouts,
        int count,
        double? faultDb,
        int seed,
        double? seconds = null
    )
    {
        var results = new Heard[count];
        await Parallel.ForEachAsync(Enumerable.Range(0, count), (i, stop) =>
        {
            var random = new Random(seed + i);
            var layout = layouts[i % layouts.Count];
            var faults = NoiseBench
                .FaultsOf(layout)
                .Where(f => f.Value is not ("roller-seized" or "idler-seized" or "motor-start" or "capacitor-weak"))
                .ToList();
            var fault = faultDb is null ? (FaultId)"" : faults[random.Next(faults.Count)];
            var mains = random.Next(2) == 0 ? 50 : 60;
            var slow = fault.IsNone
                ? random.Next(2) == 0
                : NoiseBench.MechanismOf(fault) is Mechanism.Drum or Mechanism.BeltPass;
            var recording = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = !fault.IsNone ? [fault] : [],
                    Seconds = seconds ?? (slow ? 30 : 10),
                    Seed = seed + i,
                    MainsHertz = mains,
                    Load = random.Next(3) == 0 ? random.NextDouble() : 0,
                    FaultDb = faultDb ?? 0,
                },
                stop
            );
            var sources = SoundSource.Of(layout, mains);
            var analysis = SoundAnalysis.Of(recording, sources, new(), stop);
            var named = analysis.Groups.FirstOrDefault(g => g.Probability > analysis.None);
            results[i] = new(
                !fault.IsNone ? $"{NoiseBench.MechanismOf(fault).Word()} {fault}" : "",
                !fault.IsNone && named is not null && Right(named, fault, sources, recording.Seconds),
                named is null ? "" : string.Join("+", named.Sources.Select(s => s.Mechanism.Word())),
                named?.PartIds.Count ?? 0
            );
            return ValueTask.CompletedTask;
        });
        return results;
    }

    /// <summary>The source is in the group, and the group holds nothing that speed and resolution would tell from
    /// it.</summary>
    internal static bool Right(SourceGroup group, string fault, IReadOnlyList<SoundSource> sources, double seconds)
    {
        var mechanism = NoiseBench.MechanismOf(fault);
        return sources.Any(truth =>
            truth.Mechanism == mechanism
            && group.Sources.Any(s => s.Id == truth.Id)
            && group.Sources.All(s =>
                s.Id == truth.Id
                || s.Hz / truth.Hz is > 0.94 / 1.06 and < 1.06 / 0.94
                || Math.Abs(s.Hz - truth.Hz) < 1 / seconds
            )
        );
    }
}
