using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>What the shop charges.</summary>
public sealed class MoneyDesk(SettingStore settings, ShopKeeper shop, JobStore store)
{
    private const string Kept = "shop-terms";

    /// <summary>What is set; the files' own rate and currency where nothing is.</summary>
    public ShopTerms Terms => shop.Now.Terms;

    /// <summary>Tells the shop what was set before.</summary>
    public void Load()
    {
        if (settings.Get(Kept) is { Length: > 0 } text)
        {
            var kept = JsonSerializer.Deserialize<ShopTerms>(text, IdrumJson.Options)!.WithPlaces();
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
            lock (Writing)
            {
                // What the vans hold is counted elsewhere.
                Write(wanted with { Places = Terms.Places });
            }
        }
        return errors.All;
    }

    /// <summary>Held by whoever reads terms to write them changed.</summary>
    internal Lock Writing { get; } = new();

    /// <summary>Keeps terms that were looked at, and tells the shop.</summary>
    internal void Write(ShopTerms terms)
    {
        settings.Set(Kept, JsonSerializer.Serialize(terms, IdrumJson.Options));
        shop.Change(now => now.Charging(terms));
    }
}
