using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>Restoring is killed: at each of its steps by its own hand, and at moments drawn at random from outside. Whatever was left,
/// the next start of the server must answer with the shop as it was or with the backup's, whole, and what was set aside must be whole.</summary>
internal static class RestoreKills
{
    internal const string Dying = "restore-and-die";
    private const string Layout = "own.json";
    private const int Longest = 20_000;

    /// <summary>Restores, and kills its own process before the given step; 0 where there is no such step any more.</summary>
    internal static int RestoreAndDie(string file, string folder, int step)
    {
        Console.WriteLine("begins");
        ShopRestore.Restore(file, folder, DateTimeOffset.UtcNow, "", _ =>
        {
            if (step-- == 0)
            {
                Process.GetCurrentProcess().Kill();
                Thread.Sleep(Longest);
            }
        });
        return 0;
    }

    internal static async Task<bool> RunAsync(int kills)
    {
        var home = Directory.CreateTempSubdirectory("idrum-kill-restore").FullName;
        var (shop, file) = (Path.Combine(home, "shop"), Path.Combine(home, "backup.zip"));
        var content = ContentFolder.Read(BenchHost.Content).Read().Shop;
        var jobs = await FilledAsync(shop, file, content);
        var (backup, present) = (Read(Unpacked(home, file), content, jobs), Read(shop, content, jobs));
        if (backup == present)
        {
            throw new InvalidOperationException("The backup and the shop do not differ: nothing could be told.");
        }
        var random = new Random(2026);
        var (ended, steps, undone, finished, whole) = (0, 0, 0, 0, TimeSpan.Zero);
        var wrong = new List<string>();
        for (var round = 0; ended < kills; round++)
        {
            var folder = Path.Combine(home, $"round-{round}");
            Copied(shop, folder);
            var atStep = whole == TimeSpan.Zero;
            using (
                var dying = KillPart.Start(
                    "Idrum.Bench.dll",
                    Dying,
                    file,
                    folder,
                    (atStep ? round : int.MaxValue).ToString(CultureInfo.InvariantCulture)
                )
            )
            {
                await dying.StandardOutput.ReadLineAsync();
                var watch = Stopwatch.StartNew();
                if (!atStep)
                {
                    // From its first word to the end of its work.
                    await Task.Delay(random.NextDouble() * whole);
                    dying.Kill();
                }
                await dying.WaitForExitAsync();
                if (dying.ExitCode == 0 && atStep)
                {
                    (whole, steps) = (watch.Elapsed, round);
                }
                ended += dying.ExitCode == 0 ? 0 : 1;
            }
            using (var server = KillPart.Start("Idrum.Web.dll", "--cold", "--port", "0", "--data", folder))
            {
                using var client = new HttpClient { BaseAddress = await KillPart.AddressAsync(server) };
                var answered = await Task.WhenAll(
                    jobs.Select(
                        (_, n) => client.GetFromJsonAsync<JobArchive>($"/api/v1/jobs/K-{n}/export", IdrumJson.Options)
                    )
                );
                server.Kill();
                await server.WaitForExitAsync();
                var is_ = Read(folder, content, jobs);
                if (is_ != present && is_ != backup)
                {
                    wrong.Add($"round {round}: {is_}");
                }
                // The server told the same as lies there.
                var told = string.Join(" ", answered.Select(a => $"{a!.Events.Count}:{a.Events[^1].Id}"));
                if (!is_.EndsWith(told, StringComparison.Ordinal))
                {
                    wrong.Add($"round {round}: answered {told}");
                }
                undone += is_ == present ? 1 : 0;
                finished += is_ == backup ? 1 : 0;
                if (
                    is_ == backup
                    && (
                        Directory.GetDirectories(folder, "aside-*") is not [var aside]
                        || Read(aside, content, jobs) != present
                    )
                )
                {
                    wrong.Add($"round {round}: what was set aside is not whole");
                }
            }
            Directory.Delete(folder, true);
        }
        Console.WriteLine(
            $"{ended} kills of a restore ({(steps > 0 ? $"one at each of its {steps} steps, the others" : "at its first steps, none")} at random within {whole.TotalMilliseconds:0} ms): {undone} starts with the shop as it was, {finished} with the backup's, {wrong.Count} with neither"
        );
        foreach (var line in wrong.Take(5))
        {
            Console.WriteLine("  " + line);
        }
        Directory.Delete(home, true);
        return wrong.Count == 0;
    }

    /// <summary>Two jobs and a layout of the shop's own, a backup of them, and then more acts and another layout.</summary>
    private static async Task<IReadOnlyList<Guid>> FilledAsync(string folder, string file, ShopSnapshot content)
    {
        Directory.CreateDirectory(Path.Combine(folder, "layouts"));
        IReadOnlyList<Guid> jobs = [Guid.NewGuid(), Guid.NewGuid()];
        using var store = new JobStore(
            Database.Open(Path.Combine(folder, "idrum.db")),
            new(content),
            TimeProvider.System
        );
        Task Append(int job, JobEvent act) =>
            store.AppendAsync(jobs[job], act with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow });
        for (var n = 0; n < 2; n++)
        {
            await Append(n, new JobOpened($"K-{n}", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }));
            for (var note = 0; note < 40; note++)
            {
                await Append(n, new NoteAdded("", $"note {note}"));
            }
        }
        await File.WriteAllTextAsync(Path.Combine(folder, "layouts", Layout), "as it was");
        BackupFormat.Make(folder, file, "", DateTimeOffset.UtcNow);
        await File.WriteAllTextAsync(Path.Combine(folder, "layouts", Layout), "changed since");
        for (var note = 0; note < 7; note++)
        {
            await Append(1, new NoteAdded("", $"later {note}"));
        }
        return jobs;
    }

    private static string Unpacked(string home, string file)
    {
        var folder = Path.Combine(home, "unpacked");
        ShopRestore.Restore(file, folder, DateTimeOffset.UtcNow);
        return folder;
    }

    /// <summary>What a shop holds: its layout, that its chains are whole, and of each job how many acts and which is the last.</summary>
    private static string Read(string folder, ShopSnapshot content, IReadOnlyList<Guid> jobs)
    {
        using var store = new JobStore(
            Database.Open(Path.Combine(folder, "idrum.db")),
            new(content),
            TimeProvider.System
        );
        var layout = File.ReadAllText(Path.Combine(folder, "layouts", Layout));
        var broken = jobs.Any(id => store.Broken(id) is not null) ? "broken" : "whole";
        var acts = jobs.Select(id => store.Find(id)!.Log).Select(log => $"{log.Count}:{log[^1].Id}");
        return $"{layout}, {broken}, {string.Join(" ", acts)}";
    }

    private static void Copied(string from, string to)
    {
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        foreach (var path in Directory.GetFiles(from, "*", SearchOption.AllDirectories))
        {
            var beside = Path.Combine(to, Path.GetRelativePath(from, path));
            Directory.CreateDirectory(Path.GetDirectoryName(beside)!);
            File.Copy(path, beside);
        }
    }
}
