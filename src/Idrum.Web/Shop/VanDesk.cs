using System.Collections.Concurrent;
using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Week;
using Idrum.Storage;

namespace Idrum.Web.Shop;

/// <summary>The shop's vans and shelves: what each holds now, who drives which, what is counted, moved and opened.</summary>
public sealed class VanDesk : IDisposable
{
    private const string Counted = "van-counted";
    private readonly MoneyDesk money;
    private readonly SettingStore settings;
    private readonly ShopKeeper shop;
    private readonly JobStore store;
    private readonly WeekStore week;
    private readonly TimeProvider clock;
    private readonly ConcurrentDictionary<string, (DateTimeOffset LastAt, IReadOnlyList<OrderLine> Lines)> lines =
        new();

    public VanDesk(
        MoneyDesk money,
        SettingStore settings,
        ShopKeeper shop,
        JobStore store,
        WeekStore week,
        TimeProvider clock
    )
    {
        (this.money, this.settings, this.shop, this.store) = (money, settings, shop, store);
        (this.week, this.clock) = (week, clock);
        store.Stored += Changed;
    }

    /// <inheritdoc />
    public void Dispose() => store.Stored -= Changed;

    // An act that is told late leaves the job's last moment as it was.
    private void Changed(Guid job, int version)
    {
        if (store.Find(job) is { State.Number: var number })
        {
            lines.TryRemove(number, out var _);
        }
    }

    /// <summary>All places with what they hold now: as counted, less what jobs took since, and what came back from
    /// them.</summary>
    public IReadOnlyList<StockPlace> Places()
    {
        var supplier = shop.Now.Supplier;
        var places = money.Terms.Places;
        var held = places.Select(p => ArticleNumbers.Moved(p.Holds, supplier.Former).Held.ToDictionary()).ToList();
        var at = places.Select((p, i) => (p.Id, i)).ToDictionary(p => p.Id, p => p.i);
        var whole = CountedAt ?? DateTimeOffset.MinValue;
        // Each from when it was counted itself: what another's count knows nothing of is still taken off.
        var since = places.Select(p => p.CountedAt ?? whole).ToList();
        foreach (var line in store.Since(since.Min()).SelectMany(LinesOf).Where(l => l.Source == BoughtFrom.Van))
        {
            // Logs from when there was one van, and vans that are gone: it is the first one's.
            var place = line.From is { } from ? at.GetValueOrDefault(from.Id) : 0;
            if (line.CameAt < since[place])
            {
                continue;
            }
            var of = held[place];
            var article = supplier.Present(line.ArticleId);
            of[article] = of.GetValueOrDefault(article) - line.Quantity + line.Returned;
        }
        return
        [
            .. places.Select((p, i) => p with { Holds = held[i].ToDictionary(h => h.Key, h => Math.Max(0, h.Value)) }),
        ];
    }

    /// <summary>What all places hold together: the number of an article → how many.</summary>
    public IReadOnlyDictionary<string, int> Together() => StockPlace.Together(Places());

    /// <summary>A place as it is now; null where there is none of that id.</summary>
    public StockPlace? Find(string id) => Places().FirstOrDefault(p => p.Id == id);

    /// <summary>The van a job is done out of: of whoever does it, else of whoever is to go there, else the first.</summary>
    /// <param name="job">Number of the job.</param>
    /// <param name="person">Who does it; empty where nobody is named.</param>
    public StockPlace Of(string job, string person)
    {
        var places = Places();
        return places.Count == 1
            ? places[0]
            : StockPlace.Of(places, person)
                ?? StockPlace.Of(
                    places,
                    [
                        .. week.OfJob(job)
                            .Where(b => b.State != BookingState.Off)
                            .OrderByDescending(b => b.Day)
                            .Select(b => b.Person),
                    ]
                )
                ?? places[0];
    }

    /// <summary>Keeps what was counted, what places are called and who drives them; errors field by field, and nothing is
    /// kept where there is one.</summary>
    /// <param name="wanted">All places, with what they hold.</param>
    public IReadOnlyList<FieldError> Keep(IReadOnlyList<StockPlace> wanted)
    {
        lock (money.Writing)
        {
            var (now, errors) = (Places(), new FieldErrors());
            StockPlace.Check(wanted, errors);
            foreach (
                var (name, n) in wanted.SelectMany(p => p.Holds.Where(h => h.Value < 0).Select(h => (h.Key, h.Value)))
            )
            {
                errors.Add("holds", $"{FieldErrors.Short(name)}: 0 to 999 of it.");
            }
            foreach (var gone in now.Where(p => wanted.All(w => w.Id != p.Id)))
            {
                errors.If(
                    Held(gone).Count > 0,
                    "vans",
                    $"{gone.Named} still holds {Held(gone).Sum(h => h.Value)}: move what is in it, or count it to nothing, first."
                );
            }
            if (errors.All.Count > 0)
            {
                return errors.All;
            }
            var counted = clock.GetUtcNow();
            wanted =
            [
                .. wanted.Select(w =>
                    now.FirstOrDefault(p => p.Id == w.Id) is { } was
                    && Held(was).SequenceEqual(Held(w))
                    && (was.CountedAt ?? CountedAt) is { } before
                        // Nobody counted it anew: what was taken since still counts.
                        ? w with
                        {
                            Holds = money.Terms.Places.First(p => p.Id == w.Id).Holds,
                            CountedAt = before,
                        }
                        : w with
                        {
                            Holds = Held(w).ToDictionary(),
                            CountedAt = counted,
                        }
                ),
            ];
            money.Write(money.Terms with { Places = wanted });
            return [];
        }
    }

    /// <summary>Moves some of an article from one place to another. What was counted stays counted then: acts that come
    /// in late are still taken off.</summary>
    /// <returns>What hinders; empty where it is moved.</returns>
    public IReadOnlyList<FieldError> Move(string article, string from, string to, int count)
    {
        lock (money.Writing)
        {
            var places = Places();
            if (from == to || places.FirstOrDefault(p => p.Id == from) is not { } source || places.All(p => p.Id != to))
            {
                return [new("vans", "From one van or shelf to another: one of them is not there.")];
            }
            var held = source.Holds.GetValueOrDefault(article);
            if (count < 1 || held < count)
            {
                return
                [
                    new(
                        "holds",
                        held == 0
                            ? $"{source.Named} holds none of it."
                            : $"{source.Named} holds {held} of it: 1 to {held} can be moved."
                    ),
                ];
            }
            return Shift(article, (from, -count), (to, count));
        }
    }

    /// <summary>One less of an article in a place, as where it is opened.</summary>
    internal IReadOnlyList<FieldError> TakeOne(string article, string place)
    {
        lock (money.Writing)
        {
            return Shift(article, (place, -1));
        }
    }

    private IReadOnlyList<FieldError> Shift(string article, params (string Place, int By)[] shifts)
    {
        var supplier = shop.Now.Supplier;
        List<StockPlace> places = [.. money.Terms.Places];
        foreach (var (place, by) in shifts)
        {
            var i = places.FindIndex(p => p.Id == place);
            var holds = ArticleNumbers.Moved(places[i].Holds, supplier.Former).Held.ToDictionary();
            holds[article] = holds.GetValueOrDefault(article) + by;
            places[i] = places[i] with { Holds = holds };
        }
        var errors = new FieldErrors();
        StockPlace.Check(places, errors);
        if (errors.All.Count == 0)
        {
            money.Write(money.Terms with { Places = places });
        }
        return errors.All;
    }

    /// <summary>What is counted under numbers that say not clearly what it is: by a former number of several
    /// articles, or by one that no machine and no list of this shop knows.</summary>
    public IReadOnlyList<(string Number, string Now)> Unclear()
    {
        var now = shop.Now;
        var known = now
            .Layouts.SelectMany(l => now.Supplier.For(l, ""))
            .Concat(now.Supplier.Articles)
            .Select(a => a.Id)
            .Concat(now.Supplier.Small.Select(s => s.Id))
            .ToHashSet();
        var (held, unclear) = ArticleNumbers.Moved(StockPlace.Together(money.Terms.Places), now.Supplier.Former);
        return
        [
            .. unclear,
            .. held
                .Keys.Where(k => !known.Contains(k) && unclear.All(u => u.Number != k))
                .Order(StringComparer.Ordinal)
                .Select(k => (k, "")),
        ];
    }

    private DateTimeOffset? CountedAt =>
        DateTimeOffset.TryParse(settings.Get(Counted), CultureInfo.InvariantCulture, out var at) ? at : null;

    /// <summary>What is there of a place at all, by number.</summary>
    private static IReadOnlyList<KeyValuePair<string, int>> Held(StockPlace place) =>
        [.. place.Holds.Where(h => h.Value > 0).OrderBy(h => h.Key, StringComparer.Ordinal)];

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
