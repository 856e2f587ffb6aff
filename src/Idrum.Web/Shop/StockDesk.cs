using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>One article the shop uses or keeps.</summary>
/// <param name="Number">Its number.</param>
/// <param name="Name">What it is.</param>
/// <param name="Here">How many are here, all vans and shelves together.</param>
/// <param name="Asked">How many went in, in the time looked at.</param>
/// <param name="AJob">How many one job takes, in the middle: they come in pairs or sets.</param>
/// <param name="When">When to order again, and up to how many.</param>
public sealed record StockLine(string Number, string Name, int Here, int Asked, int AJob, Reorder When)
{
    /// <summary>How many to order now.</summary>
    public int Order => Here <= When.Point && When.Level > 0 ? When.Level - Here : 0;
}

/// <summary>What is kept, against what is used: read off what closed jobs changed.</summary>
public sealed class StockDesk(UseDesk use, VanDesk vans, SettingStore settings, ShopKeeper shop)
{
    /// <summary>Shares of those asked for that may be wanted here.</summary>
    public static IReadOnlyList<int> Services { get; } = [80, 90, 95, 98];

    /// <summary>Years of closed jobs that are looked at.</summary>
    internal const double Years = 2;

    private const double LeastYears = 0.25;

    /// <summary>Percent of those asked for that are to be here.</summary>
    public int Service
    {
        get =>
            int.TryParse(settings.Get(SettingStore.StockService), out var kept) && Services.Contains(kept) ? kept : 90;
        set =>
            settings.Set(SettingStore.StockService, value.ToString(System.Globalization.CultureInfo.InvariantCulture));
    }

    /// <summary>Over how many years use was counted, as far as the log goes.</summary>
    public double Counted { get; private set; }

    /// <summary>Over how many years records tell of use.</summary>
    internal static double YearsOf(IReadOnlyCollection<JobRecord> records, DateTimeOffset now) =>
        records.Count == 0
            ? LeastYears
            : Math.Clamp((now - records.Min(r => r.OpenedAt)).TotalDays / 365.25, LeastYears, Years);

    /// <summary>What is read once for a page: what closed jobs used, and what vans and shelves hold together.</summary>
    /// <param name="Use">What was used.</param>
    /// <param name="Van">Number of an article → how many are here.</param>
    public sealed record Basis(StockUse Use, IReadOnlyDictionary<string, int> Van);

    /// <summary>Reads it.</summary>
    public Basis Read(CancellationToken cancellation = default) => new(use.Read(cancellation), vans.Together());

    /// <summary>All articles that were used or are kept, what is to be ordered first.</summary>
    public IReadOnlyList<StockLine> Lines(Basis? basis = null)
    {
        var known = shop.Now;
        var (used, van) = basis ?? Read();
        (Counted, var asked) = (used.Years, used.Asked);
        var names = new Dictionary<string, string>();
        foreach (var layout in known.Layouts)
        {
            foreach (var item in PartItem.All(layout))
            {
                names.TryAdd(item.ArticleOn(layout), $"{item.Name}, {layout.Title}");
            }
        }
        foreach (var article in known.Supplier.Articles)
        {
            names.TryAdd(article.Id, article.Name);
        }
        return
        [
            .. asked
                .Keys.Union(van.Keys)
                // Glue, grease and ties are kept by themselves.
                .Where(n => known.Supplier.Small.All(s => s.Id != n))
                .Select(n =>
                    Line(
                        n,
                        names.GetValueOrDefault(n, n),
                        van.GetValueOrDefault(n),
                        asked.GetValueOrDefault(n) ?? [],
                        known.Supplier.Days
                    )
                )
                .OrderByDescending(l => l.Order)
                .ThenByDescending(l => l.Asked)
                .ThenBy(l => l.Name, StringComparer.Ordinal),
        ];
    }

    private StockLine Line(string number, string name, int here, List<int> jobs, double days)
    {
        var (when, aJob) = Reorder.OfJobs(jobs, Counted, days, Service / 100.0);
        return new(number, name, here, jobs.Sum(), aJob, when);
    }
}
