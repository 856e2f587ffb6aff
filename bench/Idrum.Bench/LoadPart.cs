using System.Diagnostics;
using System.Globalization;
using System.Text;

namespace Idrum.Bench;

/// <summary>Eight mixed users: they read pages, answer checks with acts of their own jobs, ask the API for advice and
/// plans never asked
/// for before. The page's 99th percentile stays at or under 100 ms, or ten times what an empty page then
/// takes.</summary>
internal static class LoadPart
{
    internal static async Task<bool> RunAsync(string[] args)
    {
        var seconds = args.Length > 0 ? int.Parse(args[0], CultureInfo.InvariantCulture) : 180;
        await using var host = await BenchHost.StartAsync();
        using var client = new HttpClient { BaseAddress = host.Address };
        var (pages, empty, advice, acts) = (
            new List<double>(),
            new List<double>(),
            new List<double>(),
            new List<double>()
        );
        var end = DateTime.UtcNow.AddSeconds(seconds);
        var findings = new[] { "squeal", "chirp", "thump", "rumble", "rattle", "grind", "streaks" };
        async Task<double> TimeAsync(Func<Task<HttpResponseMessage>> send, List<double> into)
        {
            var watch = Stopwatch.GetTimestamp();
            using var answer = await send();
            await answer.Content.ReadAsByteArrayAsync();
            var took = Stopwatch.GetElapsedTime(watch).TotalMilliseconds;
            lock (into)
            {
                into.Add(took);
            }
            if ((int)answer.StatusCode >= 500)
            {
                Console.WriteLine($"{(int)answer.StatusCode} {answer.RequestMessage?.RequestUri}");
            }
            return took;
        }
        await Task.WhenAll(
            Enumerable
                .Range(0, 8)
                .Select(user =>
                    Task.Run(async () =>
                    {
                        var random = new Random(user);
                        var jobId = Guid.NewGuid();
                        var layout = user % 2 == 0 ? "quenby-qd62" : "ostrel-ot50";
                        HttpContent Json(string json) => new StringContent(json, Encoding.UTF8, "application/json");
                        Task<HttpResponseMessage> Act(string fields) =>
                            client.PostAsync(
                                $"/api/v1/jobs/{jobId}/events",
                                Json($"{{\"id\":\"{Guid.NewGuid()}\",{fields}}}")
                            );
                        await Act(
                            $"\"kind\":\"opened\",\"number\":\"L-{user}\",\"machine\":{{\"layoutId\":\"{layout}\",\"place\":\"Load\"}}"
                        );
                        while (DateTime.UtcNow < end)
                        {
                            await TimeAsync(() => client.GetAsync("/pulse"), empty);
                            var finding = findings[random.Next(findings.Length)];
                            await TimeAsync(
                                () =>
                                    Act(
                                        $"\"kind\":\"complaint-stated\",\"findings\":[\"{finding}\"],\"words\":\"{random.Next()}\""
                                    ),
                                acts
                            );
                            foreach (
                                var page in new[]
                                {
                                    $"L-{user}/find",
                                    "J-0148/strip",
                                    "J-0149/floor",
                                    $"L-{user}/complaint",
                                    "J-0138/report",
                                }
                            )
                            {
                                await TimeAsync(
                                    () => client.GetAsync("/jobs/" + page),
                                    page.EndsWith("/find", StringComparison.Ordinal) ? advice : pages
                                );
                            }
                            await TimeAsync(
                                () =>
                                    client.PostAsync(
                                        "/api/v1/diagnosis",
                                        Json(
                                            $"{{\"layoutId\":\"{layout}\",\"findings\":{{\"{finding}\":\"yes\"}},\"wear\":{(0.2 + random.NextDouble()).ToString(CultureInfo.InvariantCulture)}}}"
                                        )
                                    ),
                                advice
                            );
                            await Task.Delay(random.Next(20, 200));
                        }
                    })
                )
        );
        var bound = Math.Max(100, 10 * BenchHost.At(empty, 0.99));
        var page99 = BenchHost.At(pages, 0.99);
        void Say(string what, List<double> times) =>
            Console.WriteLine(
                $"{what, -34} {times.Count, 6}  median {BenchHost.At(times, 0.5), 7:0.0}  99th {BenchHost.At(times, 0.99), 7:0.0}  worst {BenchHost.At(times, 1), 7:0.0} ms"
            );
        Console.WriteLine($"8 mixed users, {seconds} s");
        Say("empty page", empty);
        Say("pages", pages);
        Say("pages with new advice, and advice", advice);
        Say("acts stored", acts);
        Console.WriteLine(
            $"page, 99th percentile: {page99:0.0} ms, at most {bound:0} ms; errors logged: {host.Logged.Count}"
        );
        return page99 <= bound && host.Logged.Count == 0;
    }
}
