using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>What closed jobs used in the years looked at.</summary>
/// <param name="Years">Over how many years they tell of it.</param>
/// <param name="Asked">Number of an article → how many each job took of it that took any.</param>
/// <param name="Shares">Number of glue, grease or ties → the share of one that each job took that took any.</param>
public sealed record StockUse(
    double Years,
    IReadOnlyDictionary<string, List<int>> Asked,
    IReadOnlyDictionary<string, List<double>> Shares
);

/// <summary>What closed jobs used, worked out once until a job is closed or opened again, a day is over, or machines, supplier
/// or handbook change.</summary>
public sealed class UseDesk : IDisposable
{
    private readonly JobStore jobs;
    private readonly LogbookStore log;
    private readonly ShopKeeper shop;
    private readonly TimeProvider clock;
    private readonly Lock turn = new();
    private (StockUse Use, int Change, DateOnly Day, ShopSnapshot Of)? known;
    private int change;

    public UseDesk(JobStore jobs, LogbookStore log, ShopKeeper shop, TimeProvider clock)
    {
        (this.jobs, this.log, this.shop, this.clock) = (jobs, log, shop, clock);
        jobs.LessonsChanged += Changed;
    }

    /// <summary>What was used, as far as it is known today.</summary>
    public StockUse Read(CancellationToken cancellation = default)
    {
        lock (turn)
        {
            var (now, seen, of) = (clock.GetUtcNow(), Volatile.Read(ref change), shop.Now);
            var day = of.Terms.DayOf(now);
            if (
                known is { } kept
                && kept.Change == seen
                && kept.Day == day
                && ReferenceEquals(kept.Of.Layouts, of.Layouts)
                && ReferenceEquals(kept.Of.Supplier, of.Supplier)
                && ReferenceEquals(kept.Of.Handbook, of.Handbook)
            )
            {
                return kept.Use;
            }
            var use = Of(of, now, cancellation);
            known = (use, seen, day, of);
            return use;
        }
    }

    /// <inheritdoc />
    public void Dispose() => jobs.LessonsChanged -= Changed;

    private void Changed() => Interlocked.Increment(ref change);

    private StockUse Of(ShopSnapshot of, DateTimeOffset now, CancellationToken cancellation)
    {
        var since = now.AddDays(-365.25 * StockDesk.Years);
        var records = log.Records(cancellation).Where(r => r.ClosedAt >= since).ToList();
        var asked = new Dictionary<string, List<int>>();
        var shares = of.Supplier.Small.ToDictionary(s => s.Id, _ => new List<double>());
        // Part → number of its article, once a layout, however many jobs there were on it.
        var numbers = new Dictionary<string, Dictionary<PartId, string>>();
        foreach (var record in records)
        {
            cancellation.ThrowIfCancellationRequested();
            if (of.FindLayout(record.LayoutId) is not { } layout)
            {
                continue;
            }
            if (!numbers.TryGetValue(layout.Id, out var named))
            {
                named = numbers[layout.Id] = NumbersOf(layout, of.Supplier);
            }
            foreach (
                var taken in record
                    .Changed.Where(part => named.ContainsKey(part.PartId))
                    .GroupBy(part => named[part.PartId], part => part.Units)
            )
            {
                (asked.TryGetValue(taken.Key, out var each) ? each : asked[taken.Key] = []).Add(taken.Sum());
            }
            List<Part> parts = [.. record.Changed.Select(c => layout.FindPart(c.PartId)).OfType<Part>()];
            foreach (var small in of.Supplier.Small)
            {
                if (SmallUse.Of(small, layout, parts, of.Handbook) is > 0 and var share)
                {
                    shares[small.Id].Add(share);
                }
            }
        }
        return new(StockDesk.YearsOf(records, now), asked, shares);
    }

    /// <summary>Part → number of the article it is bought as, of those that wear.</summary>
    private static Dictionary<PartId, string> NumbersOf(Layout layout, Supplier supplier)
    {
        var items = PartItem.All(layout).ToDictionary(i => i.Id);
        return layout
            .Parts.Where(p => items.ContainsKey(PartItem.Of(layout, p.Id)))
            .ToDictionary(p => p.Id, p => supplier.Present(items[PartItem.Of(layout, p.Id)].ArticleOn(layout)));
    }
}
