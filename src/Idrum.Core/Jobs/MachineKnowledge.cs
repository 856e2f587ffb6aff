using System.Collections.Concurrent;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs;

/// <summary>Everything worked out once for one machine: its layout with the facts set, planner, diagnostician, handbook.</summary>
/// <param name="Layout">The layout as it is on this machine.</param>
/// <param name="Planner">Plans on it.</param>
/// <param name="Diagnostician">Diagnoses on it.</param>
/// <param name="Handbook">Procedures, safety, tools and proofs.</param>
public sealed record MachineKnowledge(Layout Layout, TeardownPlanner Planner, Diagnostician Diagnostician, Handbook Handbook);

/// <summary>All layouts with what the shop knows. Safe for many threads; remembers what it built.</summary>
/// <param name="layouts">Sound layouts with different ids.</param>
/// <param name="catalog">A sound catalog.</param>
/// <param name="handbook">The handbook.</param>
public sealed class ShopKnowledge(IReadOnlyList<Layout> layouts, DiagnosisCatalog catalog, Handbook handbook)
{
    private readonly ConcurrentDictionary<string, MachineKnowledge> built = new();

    /// <summary>All layouts.</summary>
    public IReadOnlyList<Layout> Layouts { get; } = layouts;

    /// <summary>Faults and findings.</summary>
    public DiagnosisCatalog Catalog { get; } = catalog;

    /// <summary>The handbook.</summary>
    public Handbook Handbook { get; } = handbook;

    /// <summary>The layout of that id, or null.</summary>
    public Layout? FindLayout(string id) => Layouts.FirstOrDefault(l => l.Id == id);

    /// <summary>Knowledge of a job's machine.</summary>
    /// <exception cref="ArgumentException">The shop has no such layout.</exception>
    public MachineKnowledge For(JobState state) => FindLayout(state.Machine.LayoutId) is { } layout
        ? For(layout, state.FactsOf(layout))
        : throw new ArgumentException($"The shop has no layout '{state.Machine.LayoutId}'.", nameof(state));

    /// <summary>Knowledge of a layout with its own default facts.</summary>
    public MachineKnowledge For(Layout layout) => For(layout, new Dictionary<string, bool>());

    private MachineKnowledge For(Layout layout, IReadOnlyDictionary<string, bool> facts)
    {
        var key = layout.Id + "|" + string.Join(',', facts.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"{f.Key}={f.Value}"));
        return built.GetOrAdd(key, _ => Build(layout.For(facts), Catalog, Handbook));
    }

    /// <summary>Works out the knowledge of one layout.</summary>
    public static MachineKnowledge Build(Layout layout, DiagnosisCatalog catalog, Handbook handbook)
    {
        var planner = new TeardownPlanner(layout);
        return new(layout, planner, new(new(layout, catalog), planner), handbook);
    }
}
