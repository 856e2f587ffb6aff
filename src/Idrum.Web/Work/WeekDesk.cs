using System.Collections.Concurrent;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Shop;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Web.Work;

/// <summary>One thing to have along.</summary>
/// <param name="Name">What it is.</param>
/// <param name="Count">How many.</param>
/// <param name="Here">How many of them are here for it.</param>
/// <param name="ArticleId">The number it is bought by; empty where none is known.</param>
public sealed record ToLoad(string Name, int Count, int Here, string ArticleId)
{
    /// <summary>Where else in the shop some of what lacks is: which place, how many it can give.</summary>
    public IReadOnlyList<(StockPlace Place, int Count)> Elsewhere { get; init; } = [];
}

/// <summary>What one van lacks for the appointments of some days.</summary>
/// <param name="Van">The van; null where nobody is named who drives one.</param>
/// <param name="Persons">Whose appointments these are; empty where nobody is named.</param>
/// <param name="Items">What lacks.</param>
public sealed record VanLacks(StockPlace? Van, IReadOnlyList<string> Persons, IReadOnlyList<ToLoad> Items);

/// <summary>What an appointment wants in the van.</summary>
/// <param name="Items">Thing by thing.</param>
/// <param name="Word">What is to be said of it where there is nothing to list.</param>
public sealed record Loading(IReadOnlyList<ToLoad> Items, string Word)
{
    /// <summary>Whether all is here.</summary>
    public bool Ready => Items.All(i => i.Here >= i.Count);
}

/// <summary>What appointments want, worked out once for a version of the shop, its van and what is known of the machine;
/// one after another behind the pages, which wait for it only as long as they like.</summary>
public sealed class LoadingsKnown : IDisposable
{
    private const int Most = 300;
    private static readonly TimeSpan TryAgain = TimeSpan.FromMinutes(1);
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });
    private readonly ConcurrentDictionary<string, Lazy<Task<Loading>>> coming = new(StringComparer.Ordinal);
    private readonly SemaphoreSlim one = new(1);

    /// <summary>The one known under a key, else the one that is being worked out, else it begins.</summary>
    public Task<Loading> OfAsync(string key, Func<Task<Loading>> work)
    {
        if (known.TryGetValue(key, out Loading? kept) && kept is not null)
        {
            return Task.FromResult(kept);
        }
        if (coming.Count >= Most && !coming.ContainsKey(key))
        {
            return Task.FromResult(Late);
        }
        return coming.GetOrAdd(key, _ => new(() => Task.Run(() => WorkAsync(key, work)))).Value;
    }

    private static Loading Late => new([], "What it wants could not be worked out in time: open the list again later.");

    private async Task<Loading> WorkAsync(string key, Func<Task<Loading>> work)
    {
        await one.WaitAsync();
        try
        {
            return known.Set(key, await work(), new MemoryCacheEntryOptions { Size = 1 });
        }
        catch (TimeoutException)
        {
            return known.Set(
                key,
                Late,
                new MemoryCacheEntryOptions { Size = 1, AbsoluteExpirationRelativeToNow = TryAgain }
            );
        }
        finally
        {
            coming.TryRemove(key, out var _);
            one.Release();
        }
    }

    public void Dispose()
    {
        known.Dispose();
        one.Dispose();
    }
}

/// <summary>A day: its stops person by person, what was called off, what comes due.</summary>
/// <param name="Day">The day.</param>
/// <param name="Persons">Who goes where, in order.</param>
/// <param name="Off">Called off.</param>
/// <param name="Due">What comes due.</param>
public sealed record WeekDay(
    DateOnly Day,
    IReadOnlyList<(string Person, IReadOnlyList<DayStop> Stops)> Persons,
    IReadOnlyList<Booking> Off,
    IReadOnlyList<ComesDue> Due
)
{
    /// <summary>All stops.</summary>
    public IEnumerable<DayStop> Stops => Persons.SelectMany(p => p.Stops);
}

/// <summary>The week: appointments, how the days go, what comes due, what is to be in the van.</summary>
public sealed class WeekDesk(
    WeekStore week,
    JobStore store,
    LogbookStore log,
    ShopSnapshot shop,
    MoneyDesk money,
    VanDesk vans,
    SettingStore settings,
    WorkGate gate,
    LoadingsKnown known,
    TimeProvider clock
)
{
    /// <summary>Days looked at at once.</summary>
    public const int Days = 7;

    private const int UsualBegin = 8 * 60;
    private const int AskedLate = 14;
    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(400);

    private readonly Dictionary<string, IReadOnlyList<Article>> articles = [];

    /// <summary>The shop's day.</summary>
    public DateOnly Today => shop.Terms.DayOf(clock.GetUtcNow());

    /// <summary>When the day begins, minutes after midnight.</summary>
    public int Begins
    {
        get =>
            int.TryParse(settings.Get(SettingStore.DayBegins), out var kept) && kept is >= 0 and < 1440
                ? kept
                : UsualBegin;
        set => settings.Set(SettingStore.DayBegins, value.ToString(System.Globalization.CultureInfo.InvariantCulture));
    }

    /// <summary>Whether somebody was there: it was said, or its job is closed.</summary>
    public bool Over(Booking booking) =>
        booking.State == BookingState.Done
        || booking.JobNumber.Length > 0 && store.Find(booking.JobNumber)?.State.Closed is not null;

    /// <summary>Appointments of today that are still to come.</summary>
    public IReadOnlyList<Booking> StillToday() =>
        [.. week.Between(Today, Today).Where(b => b.State == BookingState.Planned && !Over(b))];

    /// <summary>Days from one on.</summary>
    public IReadOnlyList<WeekDay> From(DateOnly first, int days = Days)
    {
        var last = first.AddDays(days - 1);
        var bookings = week.Between(first, last).ToLookup(b => b.Day);
        var due = Due(first, last).ToLookup(d => d.Day < first ? first : d.Day);
        return
        [
            .. Enumerable
                .Range(0, days)
                .Select(first.AddDays)
                .Select(day => new WeekDay(
                    day,
                    [
                        .. bookings[day]
                            .Where(b => b.State != BookingState.Off)
                            .GroupBy(b => b.Person)
                            .OrderBy(g => g.Key, StringComparer.Ordinal)
                            .Select(g => (g.Key, DayCourse.Of([.. g], Begins))),
                    ],
                    [.. bookings[day].Where(b => b.State == BookingState.Off)],
                    [.. due[day]]
                )),
        ];
    }

    /// <summary>What comes due between two days and was not seen to; what fell due before stays due today.</summary>
    public IReadOnlyList<ComesDue> Due(DateOnly first, DateOnly last)
    {
        var now = clock.GetUtcNow();
        var zone = shop.Terms.Zone;
        DateTimeOffset Of(DateOnly day) =>
            new(day.ToDateTime(TimeOnly.MinValue), zone.GetUtcOffset(day.ToDateTime(TimeOnly.MinValue)));
        var months = shop.Terms.WarrantyMonths;
        // Closed a week ago or a little more, or as long ago as the warranty is; a day more to both sides.
        var closed = log.ClosedBetween(
                Of(first.AddDays(-AskedLate - CustomerWord.AskAfterDays - 1)),
                Of(last.AddDays(1))
            )
            .Concat(
                months > 0
                    ? log.ClosedBetween(
                        Of(first.AddMonths(-months).AddDays(-2)),
                        Of(last.AddMonths(-months).AddDays(2))
                    )
                    : []
            )
            .DistinctBy(r => r.Number)
            .SelectMany(r => ComesDue.OfClosed(r.Number, r.ClosedAt, r.HandedOver, shop.Terms));
        var done = week.Done(first.AddDays(-AskedLate), last);
        return
        [
            .. store
                .Open()
                // A closed job too may have something to send back.
                .Concat(store.ToReturn())
                .DistinctBy(j => j.Number)
                .Select(j => store.Find(j.Number)?.State)
                .OfType<JobState>()
                .Where(s => s.Unknown.Count == 0)
                .SelectMany(s => ComesDue.Of(s, shop.MachineOf(s), shop.Terms, now))
                .Concat(closed)
                .DistinctBy(d => (d.JobNumber, d.Kind, d.Day, d.Text))
                .Where(d => !done.Contains((d.JobNumber, d.Kind.Stored(), d.Day)))
                .Where(d =>
                    d.Day <= last
                    && (
                        d.Day >= first
                        // Not done on its day it is still to be done, but not for ever, and not in weeks gone by.
                        || first <= Today
                            && Today <= last
                            && d.Day >= first.AddDays(-AskedLate)
                            && d.Kind is not DueKind.WarrantyEnds
                    )
                )
                .OrderBy(d => d.Day),
        ];
    }

    /// <summary>What appointments want in the van, as far as it is known within the time a page has; what lacks is worked
    /// out behind it and is there when the page asks again.</summary>
    public async Task<IReadOnlyDictionary<Guid, Loading>> LoadsAsync(
        IEnumerable<Booking> bookings,
        CancellationToken stop
    )
    {
        var asked = bookings.DistinctBy(b => b.Id).Select(b => (b.Id, Load: LoadAsync(b))).ToList();
        await Task.WhenAny(Task.WhenAll(asked.Select(a => a.Load)), Task.Delay(Patience, clock, stop));
        stop.ThrowIfCancellationRequested();
        return asked.Where(a => a.Load.IsCompleted).ToDictionary(a => a.Id, a => a.Load.GetAwaiter().GetResult());
    }

    // What an appointment wants in the van: of its job where there is one, else by what was told.
    private Task<Loading> LoadAsync(Booking booking)
    {
        if (booking.JobNumber.Length > 0 && store.Find(booking.JobNumber) is { State: var state } job)
        {
            if (state.Closed is not null)
            {
                return Of("The job is closed.");
            }
            if (state.Targets.Count > 0)
            {
                var layout = shop.MachineOf(state).Layout;
                return Task.FromResult(
                    new Loading(
                        [
                            .. Supplies
                                .Rows(state, layout)
                                .Where(r => r.Needed > r.Fitted && r.Item.Part.Price > 0)
                                .Select(r => new ToLoad(
                                    r.Item.Name,
                                    r.Needed - r.Fitted,
                                    Math.Min(
                                        r.Needed - r.Fitted,
                                        r.Here
                                            + Supplier.InVan(
                                                r.Item,
                                                ArticlesOf(layout, state.Machine.Tag),
                                                HoldsFor(booking)
                                            )
                                    ),
                                    ArticleOf(r.Item, ArticlesOf(layout, state.Machine.Tag))
                                )),
                        ],
                        "Nothing is wanted for it."
                    )
                );
            }
            return known.OfAsync($"{shop.Version} {VanNow(booking)} {job.JobId} {job.Version}", () => gate.RunAsync(
                    _ =>
                    {
                        var machine = shop.MachineOf(state);
                        var evidence = SeenEvidence.Of(state, machine);
                        return Advised(
                            machine,
                            QuestionOfJob.Of(state, machine, evidence),
                            state.Machine.Tag,
                            HoldsFor(booking)
                        );
                    },
                    CancellationToken.None
                ));
        }
        if (shop.FindLayout(booking.LayoutId) is not { } layoutKnown)
        {
            return Of("Which machine it is is not known: ask for its tag.");
        }
        if (booking.Complaints.Count == 0)
        {
            return Of("What it does is not known.");
        }
        return known.OfAsync(
            $"{shop.Version} {VanNow(booking)} {layoutKnown.Id} {string.Join(' ', booking.Complaints.Order(StringComparer.Ordinal))} {booking.AgeYears}",
            () => gate.RunAsync(_ => AdvisedByWord(booking, layoutKnown), CancellationToken.None)
        );
    }

    private static Task<Loading> Of(string word) => Task.FromResult(new Loading([], word));

    // By what was said on the telephone alone.
    private Loading AdvisedByWord(Booking booking, Core.Machines.Layout layout)
    {
        var machine = shop.For(layout);
        var told = booking.Complaints.ToDictionary(c => c, c => shop.Catalog.FindFinding(c)?.Outcomes[^1].Id ?? "yes");
        return Advised(
            machine,
            new(told, [], JobState.WearOf(booking.AgeYears, null), ComplaintsTold: true),
            "",
            HoldsFor(booking)
        );
    }

    /// <summary>All vans and shelves, as they are now.</summary>
    public IReadOnlyList<StockPlace> Places => places ??= vans.Places();

    private IReadOnlyList<StockPlace>? places;

    /// <summary>The van somebody goes there with; null in a shop of several where nobody is named who drives one.</summary>
    public StockPlace? VanOf(Booking booking) => Places.Count == 1 ? Places[0] : StockPlace.Of(Places, booking.Person);

    // What may be taken along: what is in the van; where nobody knows which, what is in any of them.
    private IReadOnlyDictionary<string, int> HoldsFor(Booking booking) =>
        VanOf(booking)?.Holds ?? StockPlace.Together(Places);

    // What is in the van, as one word: another van, other advice.
    private string VanNow(Booking booking) =>
        string.Join(
            ',',
            HoldsFor(booking).OrderBy(v => v.Key, StringComparer.Ordinal).Select(v => $"{v.Key}:{v.Value}")
        );

    /// <summary>What each van lacks for the appointments of some days, those of one van counted together.</summary>
    /// <param name="bookings">The appointments.</param>
    /// <param name="loads">What each wants, as far as it is known.</param>
    /// <returns>A van each that lacks something; those of whom nobody knows with which last.</returns>
    public IReadOnlyList<VanLacks> Lacking(IEnumerable<Booking> bookings, IReadOnlyDictionary<Guid, Loading> loads)
    {
        // What one van takes of another's is not there for a third any more; its own appointments come first.
        var byVan = bookings
            .Where(b => loads.ContainsKey(b.Id))
            .GroupBy(b => VanOf(b)?.Id ?? "")
            .OrderBy(g => g.Key.Length == 0)
            .Select(g =>
                (
                    Van: Places.FirstOrDefault(p => p.Id == g.Key),
                    Persons: g.Select(b => b.Person).Where(p => p.Length > 0).Distinct().Order().ToList(),
                    Wanted: g.SelectMany(b => loads[b.Id].Items)
                        .Where(i => i.ArticleId.Length > 0)
                        .GroupBy(i => i.ArticleId)
                        .ToDictionary(i => i.Key, i => (i.First().Name, Count: i.Sum(n => n.Count)))
                )
            )
            .ToList();
        var spare = Places.ToDictionary(
            p => p.Id,
            p =>
            {
                var own = byVan.FirstOrDefault(v => v.Van?.Id == p.Id).Wanted;
                return p.Holds.ToDictionary(
                    h => h.Key,
                    h => Math.Max(0, h.Value - (own?.GetValueOrDefault(h.Key).Count ?? 0))
                );
            }
        );
        var lacks = new List<VanLacks>();
        foreach (var (van, persons, wanted) in byVan)
        {
            var items = new List<ToLoad>();
            foreach (var (article, (name, count)) in wanted.OrderBy(w => w.Value.Name, StringComparer.Ordinal))
            {
                var here = van?.Holds.GetValueOrDefault(article) ?? spare.Values.Sum(s => s.GetValueOrDefault(article));
                var lacking = count - here;
                if (lacking <= 0)
                {
                    continue;
                }
                var elsewhere = new List<(StockPlace, int)>();
                foreach (var other in van is null ? [] : Places.Where(p => p.Id != van.Id))
                {
                    var gives = Math.Min(lacking, spare[other.Id].GetValueOrDefault(article));
                    if (gives > 0)
                    {
                        elsewhere.Add((other, gives));
                        spare[other.Id][article] -= gives;
                        lacking -= gives;
                    }
                }
                items.Add(new(name, count, here, article) { Elsewhere = elsewhere });
            }
            if (items.Count > 0)
            {
                lacks.Add(new(van, persons, items));
            }
        }
        return lacks;
    }

    private Loading Advised(
        MachineKnowledge machine,
        Core.Diagnosis.DiagnosisRequest question,
        string tag,
        IReadOnlyDictionary<string, int> van
    )
    {
        var have = ArticlesOf(machine.Layout, tag);
        var (belief, _) = machine.Diagnostician.Believe(question);
        int InVan(PartItem item) => Supplier.InVan(item, have, van);
        var advice = TakeAlong.Of(belief, machine.Layout, shop.Terms, money.Supplier.ReturnShare, InVan, i =>
            money.Supplier.MisfitOf(i, have)
        );
        return new(
            [
                .. advice
                    .Items.Where(i => i.Take)
                    .Select(i => new ToLoad(
                        i.Item.Name,
                        i.Count,
                        Math.Min(i.Count, InVan(i.Item)),
                        ArticleOf(i.Item, have)
                    )),
            ],
            "By what was told nothing is worth taking along."
        );
    }

    private IReadOnlyList<Article> ArticlesOf(Core.Machines.Layout layout, string tag)
    {
        var key = layout.Id + "\n" + tag;
        lock (articles)
        {
            return articles.TryGetValue(key, out var known) ? known : articles[key] = money.Supplier.For(layout, tag);
        }
    }

    private static string ArticleOf(PartItem item, IReadOnlyList<Article> have) =>
        have.Where(a => a.Covers.ContainsKey(item.Id)).MinBy(a => a.Covers.Values.Sum())?.Id ?? "";
}
