using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Shop;

namespace Idrum.Web.Hosting;

/// <summary>Fills an empty shop with the made-up workshop; a shop that already has jobs is left as it is.</summary>
public static class DemoShop
{
    public static async Task FillAsync(
        JobStore store,
        MoneyDesk money,
        VanDesk vans,
        WeekStore week,
        ShopSnapshot shop,
        string contentFolder,
        DateTimeOffset now
    )
    {
        if (store.List().Count > 0)
        {
            return;
        }
        var scripts = JsonSerializer.Deserialize<List<JobScript>>(
            await File.ReadAllTextAsync(Path.Combine(contentFolder, "demo/shop.json")),
            IdrumJson.Options
        )!;
        var terms = JsonSerializer.Deserialize<ShopTerms>(
            await File.ReadAllTextAsync(Path.Combine(contentFolder, "demo/terms.json")),
            IdrumJson.Options
        )!;
        if (money.Keep(terms).Concat(vans.Keep(terms.Places)).FirstOrDefault() is { } wrong)
        {
            throw new InvalidDataException($"demo/terms.json: {wrong.Pointer} {wrong.Message}");
        }
        var random = new Random(1);
        foreach (var script in scripts)
        {
            var bytes = new byte[16];
            random.NextBytes(bytes);
            var events = JobWalk.Events(script, shop, now, random);
            if (
                await store.ImportAsync(JobArchive.Of(new Guid(bytes), events, []), JobHistory.Of(events))
                is [var error, ..]
            )
            {
                throw new InvalidDataException($"demo/shop.json: {script.Number}: {error.Pointer} {error.Message}");
            }
        }
        var today = money.Terms.DayOf(now);
        var bookings = JsonSerializer
            .Deserialize<List<DemoBooking>>(
                await File.ReadAllTextAsync(Path.Combine(contentFolder, "demo/week.json")),
                IdrumJson.Options
            )!
            .Select((b, i) => (b.Booking, Day: today.AddDays(b.DayOn), Id: new Guid(i + 1, 0, 0, new byte[8])))
            .Select(b => b.Booking with { Id = b.Id, Uid = b.Id + "@idrum", Day = b.Day })
            .ToList();
        if (bookings.SelectMany(b => b.Check(shop, today)).FirstOrDefault() is { } bad)
        {
            throw new InvalidDataException($"demo/week.json: {bad.Pointer} {bad.Message}");
        }
        week.Keep(bookings);
    }

    /// <summary>An appointment of the demo, so many days from today.</summary>
    private sealed record DemoBooking(int DayOn, Booking Booking);
}
