using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Security;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Tests;
using Idrum.Web.Devices;

namespace Idrum.Web.Tests;

/// <summary>The server in a process of its own whose clock is moved by hand while it runs: by days and years, over both changes of
/// daylight saving and new year, and back. What measures spans goes on as it is.</summary>
public abstract partial class ClockTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-clock").FullName;
    private readonly CookieContainer cookies = new();
    private Process? server;
    private TimeSpan ahead;
    private X509Certificate2? shown;

    public void Dispose()
    {
        GC.SuppressFinalize(this);
        server?.Kill();
        server?.Dispose();
        shown?.Dispose();
        Directory.Delete(folder, true);
    }

    private DateTimeOffset Now => DateTimeOffset.UtcNow + ahead;

    private string Shift => Path.Combine(folder, "shift");

    /// <summary>The moments the clock is set to, in their order; each by what it does to the one before.</summary>
    private static IEnumerable<(string Name, Func<DateTimeOffset, DateTimeOffset, DateTimeOffset> At)> Moves(
        TimeZoneInfo zone
    )
    {
        yield return ("now", (start, _) => start);
        yield return ("three days", (start, _) => start.AddDays(3));
        yield return ("three hours back", (_, now) => now.AddHours(-3));
        yield return ("fifteen days", (start, _) => start.AddDays(15));
        yield return ("two days back", (_, now) => now.AddDays(-2));
        yield return ("before new year", (_, now) => NewYear(zone, now).AddSeconds(-20));
        yield return ("after new year", (_, now) => now.AddMinutes(1));
        yield return ("before the hour is left out", (_, now) => Change(zone, now, 1).AddSeconds(-20));
        yield return ("after the hour was left out", (_, now) => now.AddMinutes(1));
        yield return ("before the hour comes twice", (_, now) => Change(zone, now, -1).AddSeconds(-20));
        yield return ("after the hour came twice", (_, now) => now.AddMinutes(1));
        yield return ("four hundred days", (start, _) => start.AddDays(400));
        yield return ("eight hundred days", (start, _) => start.AddDays(800));
        // It was wrong all the time.
        yield return ("now again", (start, _) => start.AddMinutes(5));
    }

    private static DateTimeOffset NewYear(TimeZoneInfo zone, DateTimeOffset now)
    {
        var local = new DateTime(TimeZoneInfo.ConvertTime(now, zone).Year + 1, 1, 1);
        return new(local, zone.GetUtcOffset(local));
    }

    /// <summary>The next moment at which the zone's offset grows (1) or shrinks (-1).</summary>
    private static DateTimeOffset Change(TimeZoneInfo zone, DateTimeOffset now, int sign)
    {
        var at = new DateTimeOffset(now.Year, now.Month, now.Day, now.Hour, 0, 0, TimeSpan.Zero);
        while (Math.Sign((zone.GetUtcOffset(at.AddHours(1)) - zone.GetUtcOffset(at)).Ticks) != sign)
        {
            at = at.AddHours(1);
        }
        return at.AddHours(1);
    }

    /// <param name="zoneId">Where the shop is.</param>
    /// <param name="wall">Only what depends on it: new year and the changed hour, by the wall there.</param>
    private protected async Task RunAsync(string zoneId, bool wall = false)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(zoneId);
        var start = DateTimeOffset.UtcNow;
        await File.WriteAllTextAsync(Shift, "+0");
        var (address, network) = await StartAsync(zoneId);
        using var shop = new HttpClient { BaseAddress = address, Timeout = TimeSpan.FromSeconds(60) };
        using var phone = Phone(network);
        await PairAsync(shop, phone);
        var faults = new List<string>();
        var jobs = (await shop.GetFromJsonAsync<JsonElement>("/api/v1/jobs"))
            .EnumerateArray()
            .Select(j => j.GetProperty("number").GetString()!)
            .Order(StringComparer.Ordinal)
            .TakeLast(3)
            .ToList();
        var noted = jobs[0];
        foreach (
            var (name, at) in Moves(zone)
                .Where(m =>
                    !wall
                    || m.Name.StartsWith("now", StringComparison.Ordinal)
                    || m.Name.Contains("year")
                    || m.Name.Contains("hour ")
                )
        )
        {
            ahead = at(start, Now) - DateTimeOffset.UtcNow;
            await File.WriteAllTextAsync(Shift, ahead.TotalSeconds.ToString("+0;-0;+0", CultureInfo.InvariantCulture));
            // A timer of seventy minutes, made by the phone now, by the shop's clock.
            var timer = new TimerStarted($"t-{faults.Count}-{ahead.Ticks}", "glue", 70)
            {
                Id = Guid.NewGuid(),
                At = Now,
            };
            using var kept = await phone.PostAsJsonAsync<JobEvent>(
                $"/api/v1/jobs/{await IdAsync(shop, noted)}/events",
                timer,
                IdrumJson.Options
            );
            if (!kept.IsSuccessStatusCode)
            {
                faults.Add($"{name}: an act is {kept.StatusCode}: {await kept.Content.ReadAsStringAsync()}");
            }
            if (shown is null || shown.NotBefore.ToUniversalTime() > Now || shown.NotAfter.ToUniversalTime() < Now)
            {
                faults.Add($"{name}: a phone is shown a certificate of {shown?.NotBefore:O} to {shown?.NotAfter:O}");
            }
            foreach (var page in Pages(jobs))
            {
                using var answer = await phone.GetAsync(page);
                var text = Tags().Replace(await answer.Content.ReadAsStringAsync(), " ");
                if (answer.StatusCode != HttpStatusCode.OK)
                {
                    faults.Add($"{name}: {page} is {answer.StatusCode}");
                }
                else if (Absurd().Match(text) is { Success: true } odd)
                {
                    faults.Add($"{name}: {page} says {text.Substring(Math.Max(0, odd.Index - 60), 90)}");
                }
            }
            // What runs ends seventy minutes after it was begun, whatever the wall says.
            var home = await phone.GetStringAsync($"/jobs/{noted}/fit");
            var ends = Ends()
                .Matches(home)
                .Select(m =>
                    DateTimeOffset.Parse(WebUtility.HtmlDecode(m.Groups[1].Value), CultureInfo.InvariantCulture)
                );
            if (!ends.Any(e => ((e - timer.At) - TimeSpan.FromMinutes(70)).Duration() < TimeSpan.FromSeconds(2)))
            {
                faults.Add($"{name}: no timer ends seventy minutes on: {string.Join(", ", ends)}");
            }
        }
        Assert.True(faults.Count == 0, string.Join("\n", faults));
        // Told in words, until somebody says that it is right now.
        Assert.Contains("days before the last stored act", await shop.GetStringAsync("/"), StringComparison.Ordinal);
        await FormAsync(shop, "/shop", "/shop/seen", ("of", "clock"));
        Assert.DoesNotContain("before the last stored act", await shop.GetStringAsync("/"), StringComparison.Ordinal);
        server!.Kill();
        await server.WaitForExitAsync();
        // Years behind, as a computer without a clock of its own begins.
        await File.WriteAllTextAsync(Shift, "-400000000");
        ahead = TimeSpan.FromSeconds(-400000000);
        var (_, again) = await StartAsync(zoneId);
        using var later = Phone(again);
        Assert.Equal(HttpStatusCode.OK, (await later.GetAsync("/")).StatusCode);
        Assert.InRange(DateTimeOffset.UtcNow, shown!.NotBefore, shown.NotAfter);
    }

    private static async Task<string> IdAsync(HttpClient shop, string number) =>
        (await shop.GetFromJsonAsync<JsonElement>($"/api/v1/jobs/{number}")).GetProperty("jobId").GetString()!;

    /// <summary>What shows a time of day, a day or a span: of the shop, of each job where it stands, and of one all its records.</summary>
    private static IEnumerable<string> Pages(List<string> jobs) =>
        new[] { "/", "/week", "/week/day", "/stock", "/log", "/shop" }
            .Concat(jobs.Select(j => $"/jobs/{j}"))
            .Concat(new[] { "fit", "close", "report" }.Select(s => $"/jobs/{jobs[0]}/{s}"));

    private HttpClient Phone(Uri network) =>
        new(
            new SocketsHttpHandler
            {
                AllowAutoRedirect = true,
                CookieContainer = cookies,
                PooledConnectionLifetime = TimeSpan.Zero,
                SslOptions = new()
                {
                    RemoteCertificateValidationCallback = (_, certificate, _, _) =>
                    {
                        shown = new X509Certificate2(certificate!);
                        return shown.Issuer.Contains("Idrum shop authority", StringComparison.Ordinal);
                    },
                },
            }
        )
        {
            BaseAddress = network,
            Timeout = TimeSpan.FromSeconds(60),
        };

    private static async Task<string> FormAsync(
        HttpClient client,
        string page,
        string action,
        params (string, string)[] fields
    )
    {
        var token = Token().Match(await client.GetStringAsync(page)).Groups[1].Value;
        var answer = await client.PostAsync(
            action,
            new FormUrlEncodedContent(
                fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
            )
        );
        return await answer.Content.ReadAsStringAsync();
    }

    private static async Task PairAsync(HttpClient shop, HttpClient phone)
    {
        var told = await FormAsync(
            shop,
            "/shop",
            "/shop/pair",
            ("person", "Berta"),
            ("name", "Phone"),
            ("keeps", "true")
        );
        await FormAsync(phone, "/pair", "/pair", ("code", Code().Match(told).Groups[1].Value));
    }

    private async Task<(Uri Shop, Uri Network)> StartAsync(string zone)
    {
        var faker = Directory
            .GetDirectories("/usr/lib", "*-linux-gnu")
            .Select(d => Path.Combine(d, "faketime", "libfaketimeMT.so.1"))
            .FirstOrDefault(File.Exists)
            ?? throw new InvalidOperationException("The clock is moved by libfaketime: install that package.");
        server?.Dispose();
        (server, var shop, var network) = await ServerProcess.StartAsync(
            Path.Combine(folder, "shop"),
            ["--demo", "--lan", "127.0.0.1", "--lan-port", "0", "--trust-port", "0"],
            new Dictionary<string, string>
            {
                ["TZ"] = zone,
                ["LD_PRELOAD"] = faker,
                ["FAKETIME_TIMESTAMP_FILE"] = Shift,
                ["FAKETIME_NO_CACHE"] = "1",
                // Real time is moved, the monotonic clock runs on, as on any computer whose clock is set.
                ["DONT_FAKE_MONOTONIC"] = "1",
            }
        );
        return (shop, network!);
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();

    [GeneratedRegex("class=\"paircode\">([A-Z2-9]{4}-[A-Z2-9]{4})")]
    private static partial Regex Code();

    [GeneratedRegex("data-ends=\"([^\"]+)\"")]
    private static partial Regex Ends();

    [GeneratedRegex("<script.*?</script>|<[^>]+>", RegexOptions.Singleline)]
    private static partial Regex Tags();

    /// <summary>A negative span, or minutes and hours that nobody counts any more.</summary>
    [GeneratedRegex(@"(?<![\w–-])[-−]\d+(\.\d+)? ?(min|minutes|h|hours|days)\b|\b\d{5,} ?(min|minutes|h|hours)\b")]
    private static partial Regex Absurd();
}

/// <summary>Where the hour is changed on Sundays at the end of March and October.</summary>
[Collection("Clock")]
public sealed class ClockInViennaTests : ClockTests
{
    [Fact]
    public Task A_clock_that_is_moved_by_days_and_years_and_back_breaks_nothing() => RunAsync("Europe/Vienna");
}

/// <summary>Where it is changed in March and November, west of Greenwich.</summary>
[Collection("Clock")]
public sealed class ClockInLosAngelesTests : ClockTests
{
    [Fact]
    public Task A_clock_that_is_moved_by_days_and_years_and_back_breaks_nothing() =>
        RunAsync("America/Los_Angeles", !TestSize.Long);
}
