using System.Globalization;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Tests;

namespace Idrum.Bench;

/// <summary>The seeded run of mutated requests of the tests, longer.</summary>
internal static class FuzzPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 100_000;
        await using var host = await BenchHost.StartOnNetworkAsync();
        var layouts = Directory
            .GetFiles(Path.Combine(BenchHost.Content, "layouts"))
            .ToDictionary(f => Path.GetFileName(f), File.ReadAllText);
        // Both sides: this computer's, and the network's as a paired phone that keeps the shop, for which nothing is
        // closed.
        var network = new Uri(host.Get<PublicAddress>().Network);
        Memory("before");
        var sound = await RunAsync("loopback", new RequestFuzzer(host.Address, 77, layouts, 2), count / 2, host);
        // Only now: the run before may have revoked whatever was paired.
        var token = host.Get<DeviceStore>().Add("Fuzz", "Nobody", true).Token;
        var gone = host.Get<DeviceStore>().Add("Lost", "Nobody", false);
        host.Get<DeviceStore>().Revoke(gone.Device.DeviceId);
        sound =
            await RunAsync(
                "network, paired",
                new RequestFuzzer(network, 78, layouts, 2) { DeviceToken = token },
                count - count / 2 - 2 * (count / Few),
                host
            )
            & await RunAsync(
                "network, a stranger",
                new RequestFuzzer(network, 79, layouts, 2) { DeviceToken = "" },
                count / Few,
                host
            )
            & await RunAsync(
                "network, revoked",
                new RequestFuzzer(network, 80, layouts, 2) { DeviceToken = gone.Token, Revoked = true },
                count / Few,
                host
            )
            & sound;
        if (count >= 100_000)
        {
            await Task.Delay(Idle);
            Memory($"after {Idle.TotalMinutes:0} idle minutes");
        }
        return sound;
    }

    /// <summary>One in so many is a stranger's or a revoked device's: a wrong code of pairing is answered slowly.</summary>
    private const int Few = 50;

    private static readonly TimeSpan Idle = TimeSpan.FromMinutes(5);

    private static void Memory(string when)
    {
        GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive, true, true);
        GC.WaitForPendingFinalizers();
        Console.WriteLine(
            $"  {when}: {GC.GetTotalMemory(true) / 1e6:0} MB live after a full collection, {Environment.WorkingSet / 1e6:0} MB resident"
        );
    }

    private static async Task<bool> RunAsync(string side, RequestFuzzer fuzzer, int count, BenchHost host)
    {
        var report = await fuzzer.RunAsync(count);
        Console.WriteLine(
            $"{side}: {report.Sent} mutated requests: {string.Join(", ", report.ByStatus.Select(s => $"{(s.Key == 0 ? "not sent or cut off" : s.Key)}: {s.Value}"))}"
        );
        Console.WriteLine($"  faults: {report.Faults.Count}, exceptions logged: {host.Logged.Count}");
        foreach (var fault in report.Faults.Concat(host.Logged).Take(10))
        {
            Console.WriteLine("  " + fault.Split('\n')[0]);
        }
        Memory("then");
        return report.Faults.Count == 0 && host.Logged.Count == 0;
    }
}
