using Idrum.Core.Diagnosis;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>Learns from closed jobs: at the start, and in the background whenever one is closed or opened
/// again.</summary>
public sealed class LearningDesk(
    JobStore jobs,
    LearningStore store,
    ShopKeeper shop,
    TimeProvider clock,
    ILogger<LearningDesk> log
) : BackgroundService
{
    private readonly SemaphoreSlim changed = new(0, 1);
    private readonly Lock learning = new();

    /// <summary>Since when jobs count; null for all.</summary>
    public DateTimeOffset? Since => store.Since;

    /// <summary>How many closed jobs do not count.</summary>
    public int PassedOver { get; private set; }

    /// <summary>Goes by the files alone from now on; what is closed later teaches again.</summary>
    public void Reset()
    {
        store.SetSince(clock.GetUtcNow());
        Learn(CancellationToken.None);
    }

    /// <summary>Takes all closed jobs into account again.</summary>
    public void Restore()
    {
        store.SetSince(null);
        Learn(CancellationToken.None);
    }

    /// <summary>Ends once what closed jobs teach is known: until then no page that goes by it answers.</summary>
    public Task Ready { get; private set; } = Task.CompletedTask;

    /// <summary>Jobs from which on the first learning does not hold up the start.</summary>
    private const int AtOnce = 20;

    /// <summary>Learns at the start: at once in a small shop; beside the start in a large one.</summary>
    public void Begin()
    {
        if (store.Count <= AtOnce)
        {
            Learn(CancellationToken.None);
        }
        else
        {
            Ready = Task.Run(() => Learn(CancellationToken.None));
        }
    }

    /// <summary>Learns from all jobs that count, now.</summary>
    public void Learn(CancellationToken cancellation)
    {
        lock (learning)
        {
            var counted = store.Lessons(since: store.Since);
            PassedOver = store.Count - counted.Count;
            shop.Change(shop.Now.Learn(counted, cancellation));
        }
    }

    /// <inheritdoc/>
    public override Task StartAsync(CancellationToken cancellationToken)
    {
        jobs.LessonsChanged += Wake;
        return base.StartAsync(cancellationToken);
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        jobs.LessonsChanged -= Wake;
        changed.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            await changed.WaitAsync(stoppingToken);
            try
            {
                await Task.Run(() => Learn(stoppingToken), stoppingToken);
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                // What was learned before stays; no job stops for it.
                log.LogError(e, "Nothing could be learned from the closed jobs");
            }
        }
    }

    private void Wake()
    {
        if (changed.CurrentCount == 0)
        {
            try
            {
                changed.Release();
            }
            catch (SemaphoreFullException)
            {
                // Another woke it just now.
            }
        }
    }
}
