using System.Collections.Concurrent;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Shop;

/// <summary>Everything worked out once for one machine: its layout with the facts set, planner, diagnostician, handbook.</summary>
/// <param name="Layout">The layout as it is on this machine.</param>
/// <param name="Planner">Plans on it.</param>
/// <param name="Diagnostician">Diagnoses on it.</param>
/// <param name="Handbook">Procedures, safety and proofs.</param>
/// <param name="Words">Tools, hazards and other shared words.</param>
public sealed record MachineKnowledge(Layout Layout, TeardownPlanner Planner, Diagnostician Diagnostician, Handbook Handbook, Vocabulary Words)
{
    /// <summary>How many of the shop's closed jobs its minutes rest on; 0 where they are the file's.</summary>
    public int TimedJobs { get; init; }
}

/// <summary>All layouts with what the shop knows. Safe for many threads; remembers what it built.</summary>
/// <param name="layouts">Sound layouts with different ids.</param>
/// <param name="catalog">A sound catalog.</param>
/// <param name="handbook">The handbook.</param>
/// <param name="words">Shared words.</param>
/// <param name="clock">For the deadlines of plans; without one there are none.</param>
public sealed class ShopKnowledge(IReadOnlyList<Layout> layouts, DiagnosisCatalog catalog, Handbook handbook, Vocabulary words, TimeProvider? clock = null)
{
    private static readonly Dictionary<string, string> NoFacts = [];
    private readonly ConcurrentDictionary<string, MachineKnowledge> built = new();

    private readonly ConcurrentDictionary<string, Layout> pinned = new(layouts.ToDictionary(Variants.HashOf, l => l));
    private readonly ConcurrentDictionary<string, FaultModel> bare = new();
    private IReadOnlyList<Layout> present = layouts;
    private Teaching teaching = new(null, 0);

    /// <summary>All layouts as they are now.</summary>
    public IReadOnlyList<Layout> Layouts => present;

    /// <summary>Puts a layout among the present ones; one of the same id gives way to it and is still found by its hash.</summary>
    /// <param name="layout">A sound layout.</param>
    /// <returns>Its hash.</returns>
    public string Take(Layout layout)
    {
        lock (pinned)
        {
            present = [.. present.Where(l => l.Id != layout.Id), layout];
        }
        return Keep(layout);
    }

    /// <summary>Takes a layout from among the present ones; it is still found by its hash.</summary>
    public void Leave(string layoutId)
    {
        lock (pinned)
        {
            present = [.. present.Where(l => l.Id != layoutId)];
        }
    }

    /// <summary>Keeps a writing of a layout that jobs pin, without putting it among the present ones.</summary>
    /// <param name="layout">A sound layout.</param>
    /// <returns>Its hash.</returns>
    public string Keep(Layout layout)
    {
        var hash = Variants.HashOf(layout);
        Keep(layout, hash);
        return hash;
    }

    /// <summary>Keeps a writing under the hash it was stored with.</summary>
    public void Keep(Layout layout, string hash) => pinned.TryAdd(hash, layout);

    /// <summary>Layout files of the shop's own that could not be used.</summary>
    public IReadOnlyList<SetAside> SetAside { get; private set; } = [];

    /// <summary>Takes layout files of the shop's own in; a bad one is set aside with its message and hurts no other.</summary>
    /// <param name="files">File name → text.</param>
    /// <param name="intake">The rules.</param>
    public void TakeFiles(IReadOnlyDictionary<string, string> files, LayoutIntake intake)
    {
        var (read, bad) = new LayoutFiles(intake, files, ParentOf).Read();
        var doubled = read.Where(l => FindLayout(l.Id) is not null).ToList();
        foreach (var layout in read.Except(doubled))
        {
            Take(layout);
        }
        SetAside = [.. bad, .. doubled.Select(l => new SetAside(l.Id, [new("/id", $"The shop has a layout '{l.Id}' already. Give this one an id of its own.")]))];
    }

    /// <summary>Forgets a file that was set aside, once it is taken in another way.</summary>
    public void Settle(SetAside file) => SetAside = [.. SetAside.Where(s => s != file)];

    /// <summary>The layout of that hash, or null.</summary>
    public Layout? FindPinned(string hash) => hash.Length == 0 ? null : pinned.GetValueOrDefault(hash);

    /// <summary>Faults and findings.</summary>
    public DiagnosisCatalog Catalog { get; private set; } = catalog;

    /// <summary>Takes what the shop charges into the sums of diagnosis and onto every page.</summary>
    /// <param name="terms">Sound terms.</param>
    public void Charge(ShopTerms terms)
    {
        Catalog = Catalog with { Costs = Catalog.Costs with { RatePerHour = terms.RatePerHour, TripMinutes = terms.TripMinutes, Currency = terms.Currency } };
        teaching = teaching with { Version = teaching.Version + 1 };
        bare.Clear();
        built.Clear();
    }

    /// <summary>The handbook.</summary>
    public Handbook Handbook { get; } = handbook;

    /// <summary>Where parts are bought.</summary>
    public Supplier Supplier { get; init; } = Supplier.None;

    /// <summary>Tools, hazards, facts and other words that files share.</summary>
    public Vocabulary Words { get; } = words;

    /// <summary>The layout of that id, or null.</summary>
    public Layout? FindLayout(string id) => Layouts.FirstOrDefault(l => l.Id == id);

    /// <summary>The parent of a variant, for the reader: the writing it pins, or the present one where it pins none.</summary>
    public ParentAnswer ParentOf(LayoutParent parent) => FindPinned(parent.Hash) is { } exact ? new(exact)
        : FindLayout(parent.Id) is not { } present ? new(null, $"The shop has no layout '{FieldErrors.Short(parent.Id)}' to extend.")
        : parent.Hash.Length == 0 ? new(present)
        : new(null, $"'{parent.Id}' is no longer the one this variant was made from. Compare them, then pin its hash {Variants.HashOf(present)}.");

    /// <summary>Knowledge of a layout with its own default facts and schools.</summary>
    public MachineKnowledge For(Layout layout) => For(layout, new Dictionary<string, string>(), new Dictionary<string, string>());

    /// <summary>Knowledge of a layout as it is on one machine and for one repairer.</summary>
    /// <param name="layout">A sound layout.</param>
    /// <param name="facts">Fact id → value.</param>
    /// <param name="schools">School id → option.</param>
    public MachineKnowledge For(Layout layout, IReadOnlyDictionary<string, string> facts, IReadOnlyDictionary<string, string> schools)
    {
        var (learned, version, times) = teaching;
        var key = $"{Variants.HashOf(layout)}|{Said(facts)}|{Said(schools)}|{version}";
        if (built.Count > 2000)
        {
            built.Clear();
        }
        return built.GetOrAdd(key, _ => Build(times?.Apply(layout.For(facts, schools)) ?? layout.For(facts, schools), (learned?.For(layout.Id) ?? Catalog) with { Costs = Catalog.Costs }, Handbook, Words, clock) with { TimedJobs = times?.Jobs.GetValueOrDefault(layout.Id) ?? 0 });
    }

    /// <summary>Counts what changes the answers to a job without an act of its own: prices, rates, what was learned. Whatever is computed of a job holds for this
    /// version of the shop only.</summary>
    public int Version => teaching.Version;

    /// <summary>What the shop's own jobs taught; null where they taught nothing yet.</summary>
    public Learned? Learned => teaching.Learned;

    /// <summary>What they taught of the minutes; null where none was timed.</summary>
    public LearnedTimes? Times => teaching.Times;

    /// <summary>How seized wheels behave, by the files' guess and the shop's own.</summary>
    public WheelOdds Wheel { get; private set; } = WheelOdds.Usual;

    /// <summary>How many of the shop's own wheels that rests on.</summary>
    public int WheelsTried { get; private set; }

    /// <summary>Learns from all closed jobs that count; what was learned before gives way.</summary>
    /// <param name="lessons">Their lessons; none to go by the files alone.</param>
    /// <param name="cancellation">Stops the work; nothing is changed then.</param>
    public void Learn(IReadOnlyList<JobLesson> lessons, CancellationToken cancellation = default)
    {
        var learned = lessons.Count == 0 ? null : Learning.From(Catalog, id => FindLayout(id) is { } layout ? bare.GetOrAdd(Variants.HashOf(layout), _ => new(layout.For(NoFacts, NoFacts), Catalog)) : null, lessons, cancellation);
        teaching = new(learned, teaching.Version + 1, lessons.Any(l => l.Minutes.Count > 0) ? LearnedTimes.From(lessons, FindLayout) : null);
        var wheels = lessons.SelectMany(l => l.Wheels).ToList();
        (Wheel, WheelsTried) = (WheelOdds.Learned([.. wheels.Select(w => (w.Minutes, w.Off))]), wheels.Count);
        built.Clear();
    }

    private sealed record Teaching(Learned? Learned, int Version, LearnedTimes? Times = null);

    private static string Said(IReadOnlyDictionary<string, string> values) => string.Join(',', values.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"{f.Key}={f.Value}"));

    /// <summary>Works out the knowledge of one layout.</summary>
    public static MachineKnowledge Build(Layout layout, DiagnosisCatalog catalog, Handbook handbook, Vocabulary words, TimeProvider? clock = null)
    {
        var planner = new TeardownPlanner(layout, clock);
        return new(layout, planner, new(new FaultModel(layout, catalog), planner), handbook, words);
    }
}
