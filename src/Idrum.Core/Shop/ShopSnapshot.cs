using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Identify;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Shop;

/// <summary>All that the shop knows at one moment: content, layouts, supplier, what it charges, what its jobs taught.
/// Never changed: what the shop learns or takes in
/// makes a new one (<see cref="ShopKeeper"/>). Whatever is computed of a job holds for one version of the job and one
/// of these.</summary>
public sealed record ShopSnapshot
{
    private static readonly Dictionary<string, string> NoFacts = [];
    private readonly TimeProvider? clock;

    /// <summary>Makes the first one of a shop.</summary>
    /// <param name="layouts">Sound layouts with different ids.</param>
    /// <param name="catalog">A sound catalog.</param>
    /// <param name="handbook">The handbook.</param>
    /// <param name="words">Shared words.</param>
    /// <param name="clock">For the deadlines of plans; without one there are none.</param>
    public ShopSnapshot(
        IReadOnlyList<Layout> layouts,
        DiagnosisCatalog catalog,
        Handbook handbook,
        Vocabulary words,
        TimeProvider? clock = null
    )
    {
        (Layouts, Catalog, Handbook, Words) = ([.. layouts], catalog, handbook, words);
        this.clock = clock;
        Kept = layouts.ToImmutableDictionary(Variants.HashOf);
        Terms = new ShopTerms
        {
            RatePerHour = catalog.Costs.RatePerHour,
            TripMinutes = catalog.Costs.TripMinutes,
            Currency = catalog.Costs.Currency,
        };
    }

    /// <summary>Rises by one with every change; whoever keeps what was computed of a job keeps this with it.</summary>
    public int Version { get; internal init; }

    /// <summary>All layouts as they are now.</summary>
    public IReadOnlyList<Layout> Layouts { get; private init; }

    /// <summary>Whether the shop meets such machines, as far as it said.</summary>
    public bool Meets(Layout layout) => !Terms.Unmet.Contains(layout.Id);

    /// <summary>All layouts, those first that the shop meets; else in their own order.</summary>
    public IReadOnlyList<Layout> ByUse => [.. Layouts.OrderBy(l => Meets(l) ? 0 : 1)];

    /// <summary>What tells from outside which machine stands there; what the shop does not meet is four times less likely before
    /// anything is seen.</summary>
    public IdentificationKey Key => new(Layouts, Words, [.. Layouts.Select(l => Meets(l) ? 1.0 : UnmetWeight)]);

    private const double UnmetWeight = 0.25;

    /// <summary>Every writing of a layout that some job may pin, by its hash.</summary>
    private ImmutableDictionary<string, Layout> Kept { get; init; }

    /// <summary>Layout files of the shop's own that could not be used.</summary>
    public IReadOnlyList<SetAside> SetAside { get; private init; } = [];

    /// <summary>Faults and findings, with what the shop charges in their sums.</summary>
    public DiagnosisCatalog Catalog { get; private init; }

    /// <summary>The handbook.</summary>
    public Handbook Handbook { get; }

    /// <summary>Where parts are bought.</summary>
    public Supplier Supplier
    {
        get;
        init => field = value with { Former = ArticleNumbers.Former(Layouts), Paid = PaidIn(Terms.Currency) };
    } = Supplier.None;

    /// <summary>What was paid last for each article, as closed jobs tell, in whatever currency.</summary>
    private ImmutableList<PaidPrice> Bills { get; init; } = [];

    /// <summary>The last price of each article; what was paid in another currency tells nothing.</summary>
    private ImmutableDictionary<string, PaidPrice> PaidIn(string currency)
    {
        var former = ArticleNumbers.Former(Layouts);
        return Bills
            .Where(b => b.Currency == currency)
            .GroupBy(b => ArticleNumbers.Present(b.ArticleId, former))
            .ToImmutableDictionary(g => g.Key, g => g.MaxBy(b => b.At)! with { ArticleId = g.Key });
    }

    /// <summary>Tools, hazards, facts and other words that files share.</summary>
    public Vocabulary Words { get; }

    /// <summary>What the shop charges and holds; the files' own rate and currency where nothing is set.</summary>
    public ShopTerms Terms { get; private init; }

    /// <summary>What the shop's own jobs taught; null where they taught nothing yet.</summary>
    public Learned? Learned { get; private init; }

    /// <summary>What they taught of the minutes; null where none was timed.</summary>
    public LearnedTimes? Times { get; private init; }

    /// <summary>How seized wheels behave, by the files' guess and the shop's own.</summary>
    public WheelOdds Wheel { get; private init; } = WheelOdds.Usual;

    /// <summary>How many of the shop's own wheels that rests on.</summary>
    public int WheelsTried { get; private init; }

    private MachineCache Built { get; init; } = new();

    /// <summary>The layout of that id, or null.</summary>
    public Layout? FindLayout(string id) => Layouts.FirstOrDefault(l => l.Id == id);

    /// <summary>The layout of that hash, or null.</summary>
    public Layout? FindPinned(string hash) => hash.Length == 0 ? null : Kept.GetValueOrDefault(hash);

    /// <summary>The parent of a variant, for the reader: the writing it pins, or the present one where it pins
    /// none.</summary>
    public ParentAnswer ParentOf(LayoutParent parent) =>
        FindPinned(parent.Hash) is { } exact ? new(exact)
        : FindLayout(parent.Id) is not { } present
            ? new(null, $"The shop has no layout '{FieldErrors.Short(parent.Id)}' to extend.")
        : parent.Hash.Length == 0 ? new(present)
        : new(
            null,
            $"'{parent.Id}' is no longer the one this variant was made from. Compare them, then pin its hash {Variants.HashOf(present)}."
        );

    /// <summary>Knowledge of a layout by the files alone, whatever the shop has learned: what is practised stays the same.</summary>
    public MachineKnowledge ByFiles(Layout layout) =>
        Built.Get("files/" + Variants.HashOf(layout), NoFacts, NoFacts, () =>
            MachineKnowledge.Of(layout.For(NoFacts, NoFacts), Catalog, Handbook, Words, clock)
        );

    /// <summary>Knowledge of a layout with its own default facts and schools.</summary>
    public MachineKnowledge For(Layout layout) => For(layout, NoFacts, NoFacts);

    /// <summary>Knowledge of a layout as it is on one machine and for one repairer; kept for the next who
    /// asks.</summary>
    /// <param name="layout">A sound layout.</param>
    /// <param name="facts">Fact id → value.</param>
    /// <param name="schools">School id → option.</param>
    public MachineKnowledge For(
        Layout layout,
        IReadOnlyDictionary<string, string> facts,
        IReadOnlyDictionary<string, string> schools
    ) => Built.Get(Variants.HashOf(layout), facts, schools, () =>
        {
            var here = layout.For(facts, schools);
            return MachineKnowledge.Of(
                Times?.Apply(here) ?? here,
                (Learned?.For(layout.Id) ?? Catalog) with
                {
                    Costs = Catalog.Costs,
                },
                Handbook,
                Words,
                clock
            ) with
            {
                TimedJobs = Times?.Jobs.GetValueOrDefault(layout.Id) ?? 0,
            };
        });

    /// <summary>With a layout among the present ones; one of the same id gives way to it and is still found by its
    /// hash.</summary>
    /// <param name="layout">A sound layout.</param>
    public ShopSnapshot With(Layout layout) =>
        Keeping(layout) with
        {
            Layouts = [.. Layouts.Where(l => l.Id != layout.Id), layout],
            // Numbers of articles stand in layouts.
            Supplier = Supplier,
        };

    /// <summary>Without a layout among the present ones; it is still found by its hash.</summary>
    /// <param name="layoutId">Its id.</param>
    public ShopSnapshot Without(string layoutId) =>
        this with
        {
            Layouts = [.. Layouts.Where(l => l.Id != layoutId)],
            Supplier = Supplier,
        };

    /// <summary>With a writing of a layout that jobs pin, not among the present ones.</summary>
    /// <param name="layout">A sound layout.</param>
    public ShopSnapshot Keeping(Layout layout) => Keeping([(Variants.HashOf(layout), layout)]);

    /// <summary>With writings under the hashes they were stored with.</summary>
    /// <param name="writings">Hash and layout.</param>
    public ShopSnapshot Keeping(IEnumerable<(string Hash, Layout Layout)> writings) =>
        this with
        {
            Kept = Kept.AddRange(
                writings
                    .Where(w => !Kept.ContainsKey(w.Hash))
                    .DistinctBy(w => w.Hash)
                    .Select(w => KeyValuePair.Create(w.Hash, w.Layout))
            ),
        };

    /// <summary>With the layout files of the shop's own; a bad one is set aside with its message and hurts no
    /// other.</summary>
    /// <param name="files">File name → text.</param>
    /// <param name="intake">The rules.</param>
    public ShopSnapshot WithFiles(IReadOnlyDictionary<string, string> files, LayoutIntake intake)
    {
        var (read, bad) = new LayoutFiles(intake, files, ParentOf).Read();
        var doubled = read.Where(l => FindLayout(l.Id) is not null).ToList();
        return read.Except(doubled).Aggregate(this, (shop, layout) => shop.With(layout)) with
        {
            SetAside =
            [
                .. bad,
                .. doubled.Select(l => new SetAside(
                    l.Id,
                    [new("/id", $"The shop has a layout '{l.Id}' already. Give this one an id of its own.")]
                )),
            ],
        };
    }

    /// <summary>Without a file that was set aside, once it is taken in another way.</summary>
    /// <param name="file">The file.</param>
    public ShopSnapshot Settled(SetAside file) => this with { SetAside = [.. SetAside.Where(s => s != file)] };

    /// <summary>With what the shop charges, in the sums of diagnosis and on every page.</summary>
    /// <param name="terms">Sound terms.</param>
    public ShopSnapshot Charging(ShopTerms terms) =>
        this with
        {
            Terms = terms,
            Catalog = Catalog with
            {
                Costs = Catalog.Costs with
                {
                    RatePerHour = terms.RatePerHour,
                    TripMinutes = terms.TripMinutes,
                    Currency = terms.Currency,
                },
            },
            Built = new(),
            Supplier = Supplier,
        };

    /// <summary>What closed jobs teach, worked out from this snapshot's files; what was learned before gives
    /// way.</summary>
    /// <param name="lessons">Lessons of all jobs that count; none to go by the files alone.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <returns>What makes the next snapshot of it.</returns>
    /// <exception cref="OperationCanceledException">The work was stopped.</exception>
    public Func<ShopSnapshot, ShopSnapshot> Learn(
        IReadOnlyList<JobLesson> lessons,
        CancellationToken cancellation = default
    )
    {
        var bare = new Dictionary<string, FaultModel?>();
        FaultModel? ModelOf(string id) =>
            bare.TryGetValue(id, out var known)
                ? known
                : bare[id] = FindLayout(id) is { } layout ? new(layout.For(NoFacts, NoFacts), Catalog) : null;
        var learned = lessons.Count == 0 ? null : Learning.From(Catalog, ModelOf, lessons, cancellation);
        var times = lessons.Any(l => l.Minutes.Count > 0) ? LearnedTimes.From(lessons, FindLayout) : null;
        var wheels = lessons.SelectMany(l => l.Wheels).ToList();
        var odds = WheelOdds.Learned([.. wheels.Select(w => (w.Minutes, w.Off))]);
        ImmutableList<PaidPrice> bills = [.. lessons.SelectMany(l => l.Paid)];
        return shop =>
            shop with
            {
                Bills = bills,
                Supplier = shop.Supplier,
                Learned = learned,
                Times = times,
                Wheel = odds,
                WheelsTried = wheels.Count,
                Built = new(),
            };
    }
}
