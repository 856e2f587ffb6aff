using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>Glue, grease or ties as they are kept.</summary>
/// <param name="Small">What it is.</param>
/// <param name="Here">Unopened ones.</param>
/// <param name="Opened">Those that are begun, the oldest first.</param>
/// <param name="Jobs">Jobs that took some of it.</param>
/// <param name="Lasts">Jobs that one does for; 0 where none took any.</param>
/// <param name="Point">Order at so many unopened ones, or fewer.</param>
/// <param name="Level">Order up to so many.</param>
public sealed record SmallLine(
    SmallArticle Small,
    int Here,
    IReadOnlyList<BegunOne> Opened,
    int Jobs,
    double Lasts,
    int Point,
    int Level
)
{
    /// <summary>How many to order now.</summary>
    public int Order => Level > 0 && Here <= Point ? Level - Here : 0;
}

/// <summary>One that is begun.</summary>
/// <param name="Number">Its number.</param>
/// <param name="On">The day it was opened.</param>
/// <param name="Place">The van or shelf it is in; null where nobody said.</param>
public sealed record BegunOne(string Number, DateOnly On, string? Place = null);

/// <summary>Tubes, grease and ties: how many are unopened, which are begun and since when.</summary>
public sealed class SmallDesk(
    MoneyDesk money,
    VanDesk vans,
    SettingStore settings,
    ShopKeeper shop,
    StockDesk stock,
    TimeProvider clock
)
{
    /// <summary>Days after which what is begun is asked about: assumed, what the label says goes before.</summary>
    public const int OldDays = 180;

    private const int MostOpened = 60;

    /// <summary>Today, where the shop is.</summary>
    public DateOnly Today => money.Terms.DayOf(clock.GetUtcNow());

    /// <summary>All of them, what is to be ordered first.</summary>
    public IReadOnlyList<SmallLine> Lines(StockDesk.Basis? basis = null)
    {
        var known = shop.Now;
        var (use, van) = basis ?? stock.Read();
        var opened = Opened;
        return
        [
            .. known
                .Supplier.Small.Select(s =>
                {
                    var took = use.Shares.GetValueOrDefault(s.Id) ?? [];
                    var (point, level) = SmallUse.Reorders(took, use.Years, known.Supplier.Days, stock.Service / 100.0);
                    return new SmallLine(
                        s,
                        van.GetValueOrDefault(s.Id),
                        [.. opened.Where(o => o.Number == s.Id).OrderBy(o => o.On)],
                        took.Count,
                        took.Count > 0 ? 1 / took.Average() : 0,
                        point,
                        level
                    );
                })
                .OrderByDescending(l => l.Order > 0),
        ];
    }

    /// <summary>Days on which those of a number that are begun were opened, the oldest first.</summary>
    /// <param name="number">The number.</param>
    /// <param name="place">Where they are; null for all. One of which nobody said where it is counts everywhere.</param>
    public IReadOnlyList<DateOnly> OpenedOf(string number, string? place = null) =>
        [
            .. Opened
                .Where(o => o.Number == number && (place is null || o.Place is null || o.Place == place))
                .Select(o => o.On)
                .Order(),
        ];

    /// <summary>One is opened today: it is no unopened one any more.</summary>
    /// <param name="number">Its number.</param>
    /// <param name="place">Where; null where there is but one place.</param>
    /// <returns>What hinders, by field; empty where it is kept.</returns>
    public IReadOnlyList<FieldError> Open(string number, string? place = null)
    {
        if (shop.Now.Supplier.Small.FirstOrDefault(s => s.Id == number) is not { } small)
        {
            return [new("number", "There is no such article.")];
        }
        var places = vans.Places();
        if ((place is null ? places[0] : places.FirstOrDefault(p => p.Id == place)) is not { } of)
        {
            return [new("place", "There is no such van or shelf.")];
        }
        if (of.Holds.GetValueOrDefault(number) < 1)
        {
            return
            [
                new(
                    number,
                    $"{small.Name}: none is {(places.Count > 1 ? $"in {of.Name}" : "here")} unopened, by what was counted. Count it first."
                ),
            ];
        }
        if (Opened.Count >= MostOpened)
        {
            return [new(number, $"{MostOpened} are begun: say first which are used up.")];
        }
        if (vans.TakeOne(number, of.Id) is { Count: > 0 } wrong)
        {
            return wrong;
        }
        Keep([.. Opened, new(number, Today, of.Id)]);
        return [];
    }

    /// <summary>One that was begun is used up, or thrown away.</summary>
    public void UsedUp(string number, DateOnly on, string? place = null)
    {
        var left = Opened.ToList();
        if (
            left.FindIndex(o => o.Number == number && o.On == on && (place is null || o.Place == place))
            is >= 0
                and var at
        )
        {
            left.RemoveAt(at);
        }
        Keep(left);
    }

    private List<BegunOne> Opened
    {
        get
        {
            try
            {
                return settings.Get(SettingStore.StockOpened) is { Length: > 0 } kept
                    ? JsonSerializer.Deserialize<List<BegunOne>>(kept, IdrumJson.Options)!
                    : [];
            }
            catch (JsonException)
            {
                return [];
            }
        }
    }

    private void Keep(IReadOnlyList<BegunOne> opened) =>
        settings.Set(SettingStore.StockOpened, JsonSerializer.Serialize(opened, IdrumJson.Options));
}
