using Idrum.Core.Logbook;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>What the log says, worked out once after a job was closed or opened again, when somebody asks.</summary>
public sealed class LogDesk : IDisposable
{
    private readonly JobStore jobs;
    private readonly LogbookStore log;
    private readonly LearningStore lessons;
    private readonly ShopKeeper shop;
    private readonly TimeProvider clock;
    private readonly SemaphoreSlim turn = new(1, 1);
    private (ShopFigures Figures, int Change, DateOnly Day)? said;
    private int change;

    public LogDesk(JobStore jobs, LogbookStore log, LearningStore lessons, ShopKeeper shop, TimeProvider clock)
    {
        (this.jobs, this.log, this.lessons, this.shop, this.clock) = (jobs, log, lessons, shop, clock);
        jobs.LessonsChanged += Changed;
    }

    /// <summary>What the log says today.</summary>
    public async Task<ShopFigures> SaysAsync(CancellationToken cancellation)
    {
        await turn.WaitAsync(cancellation);
        try
        {
            var now = clock.GetUtcNow();
            var (seen, day) = (Volatile.Read(ref change), shop.Now.Terms.DayOf(now));
            if (said is { } known && known.Change == seen && known.Day == day)
            {
                return known.Figures;
            }
            var figures = ShopFigures.Of(
                log.Records(cancellation),
                lessons.Lessons(),
                shop.Now.FindLayout,
                now,
                cancellation
            );
            said = (figures, seen, day);
            return figures;
        }
        finally
        {
            turn.Release();
        }
    }

    /// <inheritdoc />
    public void Dispose()
    {
        jobs.LessonsChanged -= Changed;
        turn.Dispose();
    }

    private void Changed() => Interlocked.Increment(ref change);
}
