using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Hosting;

/// <summary>Gives the made-up workshop a past: years of closed jobs, made beside the work while the application is in use already.</summary>
public sealed class DemoYears(
    JobStore store,
    ShopKeeper shop,
    IdrumOptions options,
    TimeProvider clock,
    ILogger<DemoYears> logger
) : BackgroundService
{
    private const int MachinesAYear = 110;

    /// <inheritdoc />
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (!options.Demo || options.Years <= 0 || store.Find(ShopYears.First) is not null)
        {
            return;
        }
        // The first page is not kept waiting for a past.
        await Task.Yield();
        try
        {
            await Task.Run(() => MakeAsync(stoppingToken), stoppingToken);
        }
        catch (InvalidOperationException e)
        {
            logger.LogError(e, "The made-up workshop has a shorter past than it was to have");
        }
    }

    private async Task MakeAsync(CancellationToken cancellation)
    {
        var years = new ShopYears(2, options.Years, (int)(MachinesAYear * options.Years));
        var layouts = shop.Now.Layouts.Select(l => l.Id).ToList();
        foreach (var (id, acts) in years.Jobs(shop.Now, layouts, clock.GetUtcNow(), cancellation))
        {
            await store.ImportAsync(JobArchive.Of(id, acts, []), JobHistory.Of(acts));
            cancellation.ThrowIfCancellationRequested();
        }
    }
}
