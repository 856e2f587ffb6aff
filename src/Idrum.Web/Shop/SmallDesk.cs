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
/// <param name="Opened">Days on which those that are begun were opened, the oldest first.</param>
/// <param name="Jobs">Jobs that took some of it.</param>
/// <param name="Lasts">Jobs that one does for; 0 where none took any.</param>
/// <param name="Point">Order at so many unopened ones, or fewer.</param>
/// <param name="Level">Order up to so many.</param>
public sealed record SmallLine(
    SmallArticle Small,
    int Here,
    IReadOnlyList<DateOnly> Opened,
    int Jobs,
    double Lasts,
    int Point,
    int Level
)
{
    /// <summary>How many to order now.</summary>
    public int Order => Level > 0 && Here <= Point ? Level - Here : 0;
}

/// <summary>Tubes, grease and ties: how many are unopened, which are begun and since when.</summary>
public sealed class SmallDesk(
    MoneyDesk money,
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
        var (records, years, van) = basis ?? stock.Read();
        var opened = Opened;
        var shares = known.Supplier.Small.ToDictionary(s => s.Id, _ => new List<double>());
        foreach (var record in records)
        {
            if (known.FindLayout(record.LayoutId) is not { } layout)
            {
                continue;
            }
            List<Part> parts = [.. record.Changed.Select(c => layout.FindPart(c.PartId)).OfType<Part>()];
            foreach (var small in known.Supplier.Small)
            {
                if (SmallUse.Of(small, layout, parts, known.Handbook) is > 0 and var share)
                {
                    shares[small.Id].Add(share);
                }
            }
        }
        return
        [
            .. known
                .Supplier.Small.Select(s =>
                {
                    var took = shares[s.Id];
                    var (point, level) = SmallUse.Reorders(took, years, known.Supplier.Days, stock.Service / 100.0);
                    return new SmallLine(
                        s,
                        van.GetValueOrDefault(s.Id),
                        [.. opened.Where(o => o.Number == s.Id).Select(o => o.On).Order()],
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
    public IReadOnlyList<DateOnly> OpenedOf(string number) =>
        [.. Opened.Where(o => o.Number == number).Select(o => o.On).Order()];

    /// <summary>One is opened today: it is no unopened one any more.</summary>
    /// <returns>What hinders, by field; empty where it is kept.</returns>
    public IReadOnlyList<FieldError> Open(string number)
    {
        if (shop.Now.Supplier.Small.FirstOrDefault(s => s.Id == number) is not { } small)
        {
            return [new("number", "There is no such article.")];
        }
        var van = money.Van().ToDictionary();
        if (van.GetValueOrDefault(number) < 1)
        {
            return [new(number, $"{small.Name}: none is here unopened, by what was counted. Count it first.")];
        }
        if (Opened.Count >= MostOpened)
        {
            return [new(number, $"{MostOpened} are begun: say first which are used up.")];
        }
        van[number]--;
        if (money.Keep(money.Terms with { Van = van.Where(v => v.Value > 0).ToDictionary() }) is { Count: > 0 } wrong)
        {
            return wrong;
        }
        Keep([.. Opened, new(number, Today)]);
        return [];
    }

    /// <summary>One that was begun is used up, or thrown away.</summary>
    public void UsedUp(string number, DateOnly on)
    {
        var left = Opened.ToList();
        left.Remove(new(number, on));
        Keep(left);
    }

    private sealed record OpenedOne(string Number, DateOnly On);

    private List<OpenedOne> Opened
    {
        get
        {
            try
            {
                return settings.Get(SettingStore.StockOpened) is { Length: > 0 } kept
                    ? JsonSerializer.Deserialize<List<OpenedOne>>(kept, IdrumJson.Options)!
                    : [];
            }
            catch (JsonException)
            {
                return [];
            }
        }
    }

    private void Keep(IReadOnlyList<OpenedOne> opened) =>
        settings.Set(SettingStore.StockOpened, JsonSerializer.Serialize(opened, IdrumJson.Options));
}
