using System.Globalization;
using Idrum.Web.Tests;

namespace Idrum.Bench;

/// <summary>The seeded run of mutated requests of the tests, longer.</summary>
internal static class FuzzPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        var count = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 100_000;
        await using var host = await BenchHost.StartAsync();
        var layouts = Directory.GetFiles(Path.Combine(BenchHost.Content, "layouts")).ToDictionary(f => Path.GetFileName(f), File.ReadAllText);
        var report = await new RequestFuzzer(host.Address, 77, layouts, 2).RunAsync(count);
        Console.WriteLine($"{report.Sent} mutated requests: {string.Join(", ", report.ByStatus.Select(s => $"{(s.Key == 0 ? "not sent or cut off" : s.Key)}: {s.Value}"))}");
        Console.WriteLine($"faults: {report.Faults.Count}, exceptions logged: {host.Logged.Count}");
        foreach (var fault in report.Faults.Concat(host.Logged).Take(10))
        {
            Console.WriteLine("  " + fault.Split('\n')[0]);
        }
        return report.Faults.Count == 0 && host.Logged.Count == 0;
    }
}
