using System.Collections.Concurrent;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>What is wanted: targets to free, from the present state, by chosen ways.</summary>
/// <param name="Targets">Part ids.</param>
/// <param name="Done">Operations already done, in the order they were done.</param>
/// <param name="WaysIn">Way id → operation id; the other options of that way are not used unless already done.</param>
public sealed record TeardownRequest(IReadOnlyList<string> Targets, IReadOnlyList<string> Done, IReadOnlyDictionary<string, string> WaysIn);

/// <summary>Whether a plan is proved.</summary>
/// <param name="Optimal">True where no cheaper set and no order with fewer tool changes exists.</param>
/// <param name="LowerBoundMinutes">No plan can take less.</param>
public sealed record PlanProof(bool Optimal, double LowerBoundMinutes);

/// <summary>A teardown plan.</summary>
public sealed record TeardownPlan
{
    /// <summary>Operations still to do, in order.</summary>
    public required IReadOnlyList<Operation> Removal { get; init; }
    /// <summary>Everything to put back afterwards, in order; includes what was already done.</summary>
    public required IReadOnlyList<Operation> Refit { get; init; }
    /// <summary>Minutes out and in of the operations still to do.</summary>
    public required double Minutes { get; init; }
    /// <summary>Minutes of the removal alone, with spread.</summary>
    public required Spread RemovalMinutes { get; init; }
    /// <summary>Minutes of the whole refit, with spread.</summary>
    public required Spread RefitMinutes { get; init; }
    /// <summary>Tool changes while removing.</summary>
    public required int ToolChanges { get; init; }
    /// <summary>Tool changes while putting back.</summary>
    public required int RefitToolChanges { get; init; }
    /// <summary>The proof.</summary>
    public required PlanProof Proof { get; init; }
}

/// <summary>Plans teardowns of one layout: the cheapest set of operations (typical minutes out and in), and among the
/// cheapest sets the order with the fewest tool changes. Safe for many threads; remembers costs it has worked out.</summary>
public sealed class TeardownPlanner
{
    private const int MaxStates = 200_000;
    private readonly ConcurrentDictionary<(string Goals, ulong Done, ulong Banned), double?> costs = new();

    /// <summary>Makes a planner.</summary>
    /// <param name="layout">A layout that keeps <see cref="LayoutRules"/>.</param>
    public TeardownPlanner(Layout layout) => Graph = new(layout);

    /// <summary>The graph it plans on.</summary>
    public PrecedenceGraph Graph { get; }

    /// <summary>Plans.</summary>
    /// <returns>The plan, or null where the targets cannot be reached by the ways chosen.</returns>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public TeardownPlan? Plan(TeardownRequest request)
    {
        var layout = Graph.Layout;
        var goals = GoalsOf(request.Targets);
        foreach (var id in request.Done.Where(id => Graph.IndexOf(id) < 0))
        {
            throw new ArgumentException($"There is no operation '{id}'.", nameof(request));
        }
        var done = Graph.MaskOf(request.Done);
        var found = CheapestSet.Find(Graph, goals, done, Banned(request.WaysIn, done), MaxStates);
        if (found is null)
        {
            return null;
        }
        var (set, order) = found.Sets
            .Select(s => (Set: s, Order: ToolOrder.Find(s, Graph.Tools, (i, placed) => Graph.Allowed(i, placed | done))))
            .MinBy(p => p.Order.Changes);
        var removal = order.Order.Select(i => layout.Operations[i]).ToList();
        int[] all = [.. request.Done.Select(Graph.IndexOf), .. order.Order];
        var refit = RefitOrder.Find(layout, Graph.Tools, all);
        return new()
        {
            Removal = removal,
            Refit = [.. refit.Order.Select(i => layout.Operations[i])],
            Minutes = found.Cost / 100.0,
            RemovalMinutes = removal.Aggregate(new Spread(), (sum, o) => sum + o.Minutes.Out),
            RefitMinutes = refit.Order.Aggregate(new Spread(), (sum, i) => sum + layout.Operations[i].Minutes.In),
            ToolChanges = order.Changes,
            RefitToolChanges = refit.Changes,
            Proof = new(found.Optimal && order.Optimal && refit.Optimal, found.LowerBound / 100.0),
        };
    }

    /// <summary>Orders the refit of operations that are out.</summary>
    /// <param name="removed">Operation ids in the order they were done; unknown ids are passed over.</param>
    public IReadOnlyList<Operation> Refit(IEnumerable<string> removed)
    {
        int[] places = [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)];
        return [.. RefitOrder.Find(Graph.Layout, Graph.Tools, places).Order.Select(i => Graph.Layout.Operations[i])];
    }

    /// <summary>Operations that must be back before this one may be.</summary>
    /// <param name="operationId">The one to put back.</param>
    /// <param name="removed">All that are out, in the order they were done; contains it.</param>
    public IReadOnlyList<Operation> RefitFirst(string operationId, IReadOnlyList<string> removed)
    {
        var constraints = RefitOrder.Constraints(Graph.Layout, [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)]);
        var mask = constraints.GetValueOrDefault(Graph.IndexOf(operationId));
        return [.. Graph.Layout.Operations.Where((_, i) => (mask >> i & 1) == 1)];
    }

    /// <summary>Minutes out and in to reach one of each group from the present state.</summary>
    /// <param name="groups">Groups of operation ids; one of each must be done.</param>
    /// <param name="done">Operations already done.</param>
    /// <returns>Minutes, or null where it cannot be reached.</returns>
    public double? MinutesTo(IReadOnlyList<IReadOnlyList<string>> groups, ulong done) =>
        Cost([.. groups.Select(Graph.MaskOf)], done, 0);

    /// <summary>Operations opened by the cheapest way to one of each group, as a bit set with what is done.</summary>
    public ulong StateAfter(IReadOnlyList<IReadOnlyList<string>> groups, ulong done) =>
        done | (CheapestSet.Find(Graph, [.. groups.Select(Graph.MaskOf)], done, 0, MaxStates)?.Sets[0] ?? 0);

    /// <summary>Minutes out and in to free parts from the present state.</summary>
    /// <param name="partIds">Parts to free.</param>
    /// <param name="done">Operations already done, as a bit set.</param>
    /// <returns>Minutes, or null where one cannot be freed.</returns>
    public double? MinutesToFree(IEnumerable<string> partIds, ulong done) => Cost([.. GoalsOf(partIds)], done, 0);

    /// <summary>The same by the ways chosen.</summary>
    /// <param name="partIds">Parts to free.</param>
    /// <param name="done">Operations already done, as a bit set.</param>
    /// <param name="waysIn">Way id → operation chosen.</param>
    /// <returns>Minutes, or null where one cannot be freed by these ways.</returns>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public double? MinutesToFree(IEnumerable<string> partIds, ulong done, IReadOnlyDictionary<string, string> waysIn) =>
        Cost([.. GoalsOf(partIds)], done, Banned(waysIn, done));

    /// <summary>Operations opened by the cheapest way to free parts, as a bit set with what is done.</summary>
    public ulong StateAfterFreeing(IEnumerable<string> partIds, ulong done) =>
        done | (CheapestSet.Find(Graph, GoalsOf(partIds), done, 0, MaxStates)?.Sets[0] ?? 0);

    private double? Cost(ulong[] goals, ulong done, ulong banned)
    {
        Array.Sort(goals);
        var key = (string.Join(',', goals), done, banned);
        if (!costs.TryGetValue(key, out var minutes))
        {
            if (costs.Count > 50_000)
            {
                costs.Clear();
            }
            minutes = CheapestSet.Find(Graph, goals, done, banned, MaxStates)?.Cost / 100.0;
            costs[key] = minutes;
        }
        return minutes;
    }

    /// <summary>Options not chosen, as far as they are not done already.</summary>
    private ulong Banned(IReadOnlyDictionary<string, string> waysIn, ulong done)
    {
        var banned = 0UL;
        foreach (var (way, choice) in waysIn)
        {
            var options = Graph.Layout.Ways.FirstOrDefault(w => w.Id == way)?.Options
                ?? throw new ArgumentException($"There is no way '{way}'.", nameof(waysIn));
            if (!options.Contains(choice))
            {
                throw new ArgumentException($"'{choice}' is not an option of the way '{way}'.", nameof(waysIn));
            }
            banned |= Graph.MaskOf(options.Where(o => o != choice));
        }
        return banned & ~done;
    }

    /// <summary>A part that nothing frees (a foot, the cabinet) is worked on where it stands and asks for no operation.</summary>
    private List<ulong> GoalsOf(IEnumerable<string> partIds) => [.. partIds.Select(GoalOf).Where(g => g != 0)];

    private ulong GoalOf(string partId) => Graph.Layout.FindPart(partId) is null
        ? throw new ArgumentException($"There is no part '{partId}'.", nameof(partId))
        : Graph.FreeingOperations(partId).Aggregate(0UL, (m, i) => m | 1UL << i);
}
