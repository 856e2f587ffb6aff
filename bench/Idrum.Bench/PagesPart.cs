using System.Diagnostics;

namespace Idrum.Bench;

/// <summary>Pages of a job drawn anew, beside an empty page of the same host, for one user and for eight.</summary>
internal static class PagesPart
{
    private const double Bound = 8;
    private static readonly string[] Pages =
    [
        "J-0151/complaint",
        "J-0147/find",
        "J-0148/strip",
        "J-0149/floor",
        "J-0144/fit",
        "J-0149/rebuild",
        "J-0150/prove",
        "J-0138/close",
        "J-0138/report",
    ];

    internal static async Task<bool> RunAsync(string[] args)
    {
        await using var host = await BenchHost.StartAsync();
        using var client = new HttpClient { BaseAddress = host.Address };
        string[] paths = ["/pulse", .. Pages.Select(p => "/jobs/" + p)];
        // The runtime recompiles hot code in pauses; all pages are brought there before any is measured.
        for (var round = 0; round < BenchHost.Size(12, 1); round++)
        {
            await MeasureAsync(client, paths, 1, BenchHost.Size(40, 1));
            await Task.Delay(250);
        }
        var ok = true;
        foreach (var users in new[] { 1, 8 })
        {
            var times = await MeasureAsync(client, paths, users, BenchHost.Size(users == 1 ? 400 : 120, 2));
            var (m, p) = (BenchHost.At(times["/pulse"], 0.5), BenchHost.At(times["/pulse"], 0.95));
            Console.WriteLine(
                $"{users} user{(users == 1 ? "" : "s")}: empty page {m:0.000} ms median, {p:0.000} ms 95th; a page of a job at most {Bound} times that"
            );
            foreach (var path in paths.Skip(1))
            {
                var (a, b) = (BenchHost.At(times[path], 0.5), BenchHost.At(times[path], 0.95));
                ok &= a <= Bound * m && b <= Bound * p;
                Console.WriteLine(
                    $"  {path, -24} {a, 7:0.000} ms {a / m, 5:0.0} ×   95th {b, 7:0.000} ms {b / p, 5:0.0} ×"
                );
            }
        }
        return ok;
    }

    /// <summary>Each user asks for all pages in turn; the empty page is one of them, so that all are measured under the
    /// same load.</summary>
    private static async Task<Dictionary<string, List<double>>> MeasureAsync(
        HttpClient client,
        string[] paths,
        int users,
        int rounds
    )
    {
        var times = paths.ToDictionary(p => p, _ => new List<double>());
        await Task.WhenAll(
            Enumerable
                .Range(0, users)
                .Select(u =>
                    Task.Run(async () =>
                    {
                        for (var round = 0; round < rounds; round++)
                        {
                            for (var i = 0; i < paths.Length; i++)
                            {
                                var path = paths[(i + u) % paths.Length];
                                var watch = Stopwatch.GetTimestamp();
                                await client.GetByteArrayAsync(path);
                                var took = Stopwatch.GetElapsedTime(watch).TotalMilliseconds;
                                lock (times)
                                {
                                    times[path].Add(took);
                                }
                            }
                        }
                    })
                )
        );
        return times;
    }
}
