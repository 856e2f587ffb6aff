using System.Collections.Concurrent;
using System.Globalization;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>What the shop charges, and what its vans hold.</summary>
public sealed class MoneyDesk(SettingStore settings, ShopKeeper shop, JobStore store, TimeProvider clock)
{
    private const string Kept = "shop-terms";
    private const string Counted = "van-counted";
    private readonly ConcurrentDictionary<string, (DateTimeOffset LastAt, IReadOnlyList<OrderLine> Lines)> lines =
        new();

    /// <summary>What is set; the files' own rate and currency where nothing is.</summary>
    public ShopTerms Terms => shop.Now.Terms;

    /// <summary>Tells the shop what was set before.</summary>
    public void Load()
    {
        if (settings.Get(Kept) is { Length: > 0 } text)
        {
            var kept = JsonSerializer.Deserialize<ShopTerms>(text, IdrumJson.Options)!;
            shop.Change(now => now.Charging(kept));
        }
        if (Terms.TimeZone.Length == 0)
        {
            // At the first start the shop is where its computer is.
            var here = Terms with { TimeZone = TimeZoneInfo.Local.HasIanaId ? TimeZoneInfo.Local.Id : "UTC" };
            shop.Change(now => now.Charging(here));
        }
    }

    /// <summary>Where parts are bought.</summary>
    public Supplier Supplier => shop.Now.Supplier;

    /// <summary>How seized wheels behave, and on how many of the shop's own that rests.</summary>
    public (Core.Fitting.WheelOdds Odds, int Tried) Wheel => (shop.Now.Wheel, shop.Now.WheelsTried);

    /// <summary>Keeps what is sound; errors field by field, and nothing is kept where there is one.</summary>
    public IReadOnlyList<FieldError> Keep(ShopTerms wanted)
    {
        var errors = new FieldErrors();
        foreach (var error in wanted.Check())
        {
            errors.Add(error.Pointer, error.Message);
        }
        if (wanted.Currency != Terms.Currency)
        {
            var open = store
                .Open()
                .Select(j => store.Find(j.Number)?.State)
                .Where(s => s?.Estimate is { } e && s.Price is null && e.Sum.Currency != wanted.Currency)
                .Select(s => s!.Number)
                .ToList();
            errors.If(
                open.Count > 0,
                "currency",
                $"{string.Join(", ", open.Take(3))}{(open.Count > 3 ? " and others" : "")}: an estimate stands in {Terms.Currency}. Close {(open.Count == 1 ? "it" : "them")} or give a new price first."
            );
        }
        if (errors.All.Count == 0)
        {
            if (
                !wanted.Van.OrderBy(v => v.Key).SequenceEqual(Van().OrderBy(v => v.Key))
                || settings.Get(Counted).Length == 0
            )
            {
                settings.Set(Counted, clock.GetUtcNow().ToString("O", CultureInfo.InvariantCulture));
            }
            else
            {
                // Nobody counted anew: what was taken since still counts.
                wanted = wanted with { Van = Terms.Van };
            }
            settings.Set(Kept, JsonSerializer.Serialize(wanted, IdrumJson.Options));
            shop.Change(now => now.Charging(wanted));
        }
        return errors.All;
    }

    /// <summary>What the vans hold now: as counted, less what jobs took since, and what came back from them.</summary>
    public IReadOnlyDictionary<string, int> Van()
    {
        var supplier = Supplier;
        var van = ArticleNumbers.Moved(Terms.Van, supplier.Former).Held.ToDictionary();
        var since = DateTimeOffset.TryParse(settings.Get(Counted), CultureInfo.InvariantCulture, out var at)
            ? at
            : DateTimeOffset.MinValue;
        foreach (var line in store.Since(since).SelectMany(LinesOf).Where(l => l.Source == "van" && l.CameAt >= since))
        {
            var article = supplier.Present(line.ArticleId);
            van[article] = Math.Max(0, van.GetValueOrDefault(article) - line.Quantity + line.Returned);
        }
        return van;
    }

    /// <summary>What is counted under numbers that say not clearly what it is: by a former number of several
    /// articles, or by one that no machine and no list of this shop knows.</summary>
    public IReadOnlyList<(string Number, string Now)> UnclearInVan()
    {
        var now = shop.Now;
        var known = now
            .Layouts.SelectMany(l => now.Supplier.For(l, ""))
            .Concat(now.Supplier.Articles)
            .Select(a => a.Id)
            .Concat(now.Supplier.Small.Select(s => s.Id))
            .ToHashSet();
        var (held, unclear) = ArticleNumbers.Moved(Terms.Van, now.Supplier.Former);
        return
        [
            .. unclear,
            .. held
                .Keys.Where(k => !known.Contains(k) && unclear.All(u => u.Number != k))
                .Order(StringComparer.Ordinal)
                .Select(k => (k, "")),
        ];
    }

    /// <summary>Lines of a job from the van; read again only where it changed.</summary>
    private IReadOnlyList<OrderLine> LinesOf(JobSummary job)
    {
        if (!lines.TryGetValue(job.Number, out var known) || known.LastAt != job.LastAt)
        {
            lines[job.Number] = known = (job.LastAt, [.. store.Find(job.Number)?.State.Lines.Values ?? []]);
        }
        return known.Lines;
    }
}
