using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;

namespace Idrum.Web.Hosting;

/// <summary>Looks once at the pages that are looked at first, a moment after the start, so that whoever comes first does not wait until
/// all of it is compiled and drawn.</summary>
internal static class WarmUp
{
    // Who opened the page at the start comes first.
    private static readonly TimeSpan Settle = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan Between = TimeSpan.FromMilliseconds(150);
    private const int Machines = 3;

    /// <summary>Begins; nobody waits for it, and what does not answer is passed over.</summary>
    internal static void Begin(IServiceProvider services)
    {
        var life = services.GetRequiredService<IHostApplicationLifetime>();
        _ = Task.Run(() => LookAsync(services, life.ApplicationStopping));
    }

    /// <summary>Looks at all of them, one after the other.</summary>
    internal static async Task LookAsync(IServiceProvider services, CancellationToken stop)
    {
        var clock = services.GetRequiredService<TimeProvider>();
        using var client = new HttpClient { BaseAddress = new(services.GetRequiredService<PublicAddress>().Here) };
        try
        {
            await Task.Delay(Settle, clock, stop);
            foreach (var page in Pages(services).ToList())
            {
                using (await client.GetAsync(page, stop)) { }
                await Task.Delay(Between, clock, stop);
            }
        }
        catch (Exception e) when (e is OperationCanceledException or HttpRequestException)
        {
            // Idrum ends, or does not let this computer in.
        }
    }

    private static IEnumerable<string> Pages(IServiceProvider services)
    {
        yield return "/";
        foreach (var layout in services.GetRequiredService<ShopKeeper>().Now.ByUse.Take(Machines))
        {
            yield return "/machines/" + Uri.EscapeDataString(layout.Id);
        }
        var open = services.GetRequiredService<JobStore>().Open();
        foreach (var station in new[] { Station.Find, Station.Strip, Station.Fit, Station.Rebuild })
        {
            if (open.FirstOrDefault(j => j.Station == station) is { } job)
            {
                var at = "/jobs/" + Uri.EscapeDataString(job.Number) + "/";
                yield return at + station.Word();
                if (station is Station.Strip or Station.Rebuild)
                {
                    yield return at + "floor";
                    yield return at + "package";
                }
            }
        }
        yield return "/week";
        yield return "/logbook";
    }
}
