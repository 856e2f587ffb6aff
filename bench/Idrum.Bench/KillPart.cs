using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Bench;

/// <summary>The server is killed again and again while four writers send acts and backups are made: no acknowledged act
/// may be lost, none doubled,
/// and every backup must restore to a beginning of each log that holds all that was acknowledged before it
/// began.</summary>
internal static class KillPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        var (kills, acts) = (
            args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 50,
            args.Length > 1 ? int.Parse(args[1], CultureInfo.InvariantCulture) : 10_000
        );
        var folder = Directory.CreateTempSubdirectory("idrum-kill").FullName;
        var backups = Directory.CreateTempSubdirectory("idrum-kill-backups").FullName;
        var writers = Enumerable.Range(0, 4).Select(n => new Writer(n)).ToArray();
        var made = new List<(string File, int[] Acknowledged)>();
        var failedBackups = 0;
        for (var round = 0; round <= kills; round++)
        {
            using var server = Start("Idrum.Web.dll", "--cold", "--port", "0", "--data", folder);
            var address = await AddressAsync(server);
            using var stop = new CancellationTokenSource();
            var target = round == kills ? acts : Math.Min(Math.Max(1, acts - 200), (round + 1) * acts / (kills + 1));
            var backing = Task.Run(async () =>
            {
                for (var n = 0; !stop.IsCancellationRequested; n++)
                {
                    var file = Path.Combine(backups, $"{round}-{n}.zip");
                    var acknowledged = writers.Select(w => w.Acknowledged).ToArray();
                    try
                    {
                        BackupFormat.Make(folder, file, "", DateTimeOffset.UtcNow);
                        made.Add((file, acknowledged));
                    }
                    catch (Exception e) when (e is IOException or InvalidDataException)
                    {
                        failedBackups++;
                    }
                    await Task.Delay(700);
                }
            });
            var writing = writers
                .Select(w => w.WriteAsync(address, () => writers.Sum(x => x.Acknowledged) < target, stop.Token))
                .ToArray();
            while (writers.Sum(w => w.Acknowledged) < target)
            {
                await Task.Delay(5);
            }
            server.Kill();
            await server.WaitForExitAsync();
            await stop.CancelAsync();
            await Task.WhenAll(writing);
            await backing;
        }
        var (lost, doubled) = (0, 0);
        var shop = ContentFolder.Read(BenchHost.Content).Read().Shop;
        using (
            var store = new JobStore(Database.Open(Path.Combine(folder, "idrum.db")), new(shop), TimeProvider.System)
        )
        {
            foreach (var writer in writers)
            {
                var ids = store.Find(writer.JobId)!.Log.Select(e => e.Id).ToList();
                lost += writer.Sent.Take(writer.Acknowledged).Count(id => !ids.Contains(id));
                doubled += ids.Count - ids.Distinct().Count();
            }
        }
        var wrong = made.Count(m => !Restores(m.File, m.Acknowledged, writers, shop));
        Console.WriteLine(
            $"{kills} kills, {writers.Sum(w => w.Acknowledged)} acknowledged acts by four writers: lost {lost}, doubled {doubled}"
        );
        Console.WriteLine(
            $"{made.Count} backups made meanwhile ({failedBackups} said they could not), restored and compared: {wrong} wrong"
        );
        Directory.Delete(folder, true);
        Directory.Delete(backups, true);
        return await RestoreKills.RunAsync(kills) && lost == 0 && doubled == 0 && wrong == 0 && made.Count > 0;
    }

    /// <summary>Starts a program that lies beside this one, in a process of its own.</summary>
    internal static Process Start(string program, params string[] args) =>
        Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [
                    // As it lies here, its own list of parts is not beside it.
                    "exec",
                    "--depsfile",
                    Path.Combine(AppContext.BaseDirectory, "Idrum.Bench.deps.json"),
                    Path.Combine(AppContext.BaseDirectory, program),
                    .. args,
                ]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;

    /// <summary>A backup's logs are beginnings of what was sent, and hold all that was acknowledged before it was
    /// begun.</summary>
    private static bool Restores(string file, int[] acknowledged, Writer[] writers, ShopSnapshot shop)
    {
        var scratch = Directory.CreateTempSubdirectory("idrum-restored").FullName;
        try
        {
            ShopRestore.Restore(file, scratch, DateTimeOffset.UtcNow);
            using var store = new JobStore(
                Database.Open(Path.Combine(scratch, "idrum.db")),
                new(shop),
                TimeProvider.System
            );
            return writers.All(w =>
                store.Find(w.JobId) is { } job
                    ? job.Log.Select(e => e.Id).SequenceEqual(w.Sent.Take(job.Log.Count))
                        && job.Log.Count >= acknowledged[w.Place]
                        && store.Broken(w.JobId) is null
                    : acknowledged[w.Place] == 0
            );
        }
        finally
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            Directory.Delete(scratch, true);
        }
    }

    internal static async Task<Uri> AddressAsync(Process server)
    {
        while (await server.StandardOutput.ReadLineAsync() is { } line)
        {
            if (line.Contains("ready at ", StringComparison.Ordinal))
            {
                return new(line.Split("ready at ")[1].Split(' ')[0]);
            }
        }
        throw new InvalidOperationException($"The server did not start: {await server.StandardError.ReadToEndAsync()}");
    }

    /// <summary>Sends acts to a job of its own, in order; what was not acknowledged is sent again with the same id, as
    /// a phone does.</summary>
    private sealed class Writer(int place)
    {
        internal int Place => place;

        internal Guid JobId { get; } = Guid.NewGuid();

        internal List<Guid> Sent { get; } = [];

        internal int Acknowledged { get; private set; }

        internal async Task WriteAsync(Uri address, Func<bool> on, CancellationToken stop)
        {
            using var client = new HttpClient { BaseAddress = address };
            while (on() && !stop.IsCancellationRequested)
            {
                if (Sent.Count == Acknowledged)
                {
                    Sent.Add(Guid.NewGuid());
                }
                JobEvent act =
                    Acknowledged == 0
                        ? new JobOpened($"K-{place}", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" })
                        {
                            Id = Sent[0],
                            At = DateTimeOffset.UtcNow,
                        }
                        : new NoteAdded("", $"note {Acknowledged}")
                        {
                            Id = Sent[Acknowledged],
                            At = DateTimeOffset.UtcNow,
                        };
                try
                {
                    using var answer = await client.PostAsJsonAsync(
                        $"/api/v1/jobs/{JobId}/events",
                        act,
                        IdrumJson.Options,
                        stop
                    );
                    if (answer.IsSuccessStatusCode)
                    {
                        Acknowledged++;
                    }
                }
                catch (Exception e) when (e is HttpRequestException or OperationCanceledException)
                {
                    return;
                }
            }
        }
    }
}
