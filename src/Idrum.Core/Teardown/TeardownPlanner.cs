using System.Collections.Concurrent;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>What is wanted: targets to free, from the present state, by chosen ways.</summary>
/// <param name="Targets">Part ids.</param>
/// <param name="Done">Operations already done, in any order.</param>
/// <param name="WaysIn">Way id → operation id; the other options of that way are not used unless already done.</param>
public sealed record TeardownRequest(IReadOnlyList<string> Targets, IReadOnlyList<string> Done, IReadOnlyDictionary<string, string> WaysIn)
{
    /// <summary>Operations that cannot be done on this machine: another way must be taken.</summary>
    public IReadOnlyList<string> Stuck { get; init; } = [];
    /// <summary>Obstacles that are not on this machine: they count as done and do not go back.</summary>
    public IReadOnlyList<string> Absent { get; init; } = [];
    /// <summary>Tools in hand.</summary>
    public IReadOnlyList<string> Hand { get; init; } = [];
    /// <summary>Refit steps (<c>operation/step</c>) done already of operations that are not wholly back; such an operation no longer counts as done.</summary>
    public IReadOnlyCollection<string> StepsIn { get; init; } = [];
}

/// <summary>How far one claim is proved.</summary>
/// <param name="Optimal">True where nothing better exists.</param>
/// <param name="Bound">Nothing can be below this.</param>
/// <param name="Gap">What was found less the bound.</param>
public sealed record Proof(bool Optimal, double Bound, double Gap)
{
    internal static Proof Of(double found, double bound) => new(found <= bound, bound, Math.Round(Math.Max(0, found - bound), 6));
}

/// <summary>Three proofs, said apart.</summary>
/// <param name="Set">The set of operations is cheapest; minutes.</param>
/// <param name="Order">The order of this set has the fewest tool changes.</param>
/// <param name="Refit">The way back has the fewest tool changes of all that keep every constraint.</param>
public sealed record PlanProof(Proof Set, Proof Order, Proof Refit);

/// <summary>A teardown plan.</summary>
public sealed record TeardownPlan
{
    /// <summary>Operations still to do, in order.</summary>
    public required IReadOnlyList<Operation> Removal { get; init; }
    /// <summary>Everything to put back afterwards, in order; includes what was already done.</summary>
    public required IReadOnlyList<RefitMove> Refit { get; init; }
    /// <summary>False where what was done beforehand, which no plan asked for, has no way back; then the way back is empty.</summary>
    public bool WayBack { get; init; } = true;
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
    /// <summary>The proofs.</summary>
    public required PlanProof Proof { get; init; }
}

/// <summary>Plans teardowns of one layout: the cheapest set of operations (typical minutes out and in), the order of it with the fewest
/// tool changes, and the way back with the fewest. Safe for many threads; remembers costs it has worked out.</summary>
public sealed class TeardownPlanner
{
    private const int MostEqual = 64;
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(2);
    private readonly TimeProvider? clock;
    private readonly ConcurrentDictionary<(Goals Open, Bits Done, Bits Banned), CheapestSet.Result?> solved = new();
    private readonly ConcurrentDictionary<string, IReadOnlyList<RefitMove>> refits = new();

    /// <summary>Makes a planner.</summary>
    /// <param name="layout">A layout that keeps <see cref="LayoutRules"/>.</param>
    /// <param name="clock">For the deadline of two seconds; without one there is none.</param>
    public TeardownPlanner(Layout layout, TimeProvider? clock = null)
    {
        Graph = new(layout);
        this.clock = clock;
    }

    /// <summary>The graph it plans on.</summary>
    public PrecedenceGraph Graph { get; }

    /// <summary>Plans, within two seconds; what is not proved by then is said with its bound.</summary>
    /// <param name="request">What is wanted.</param>
    /// <param name="cancellation">Stops the planning.</param>
    /// <returns>The plan, or null where the targets cannot be reached by the ways chosen.</returns>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public TeardownPlan? Plan(TeardownRequest request, CancellationToken cancellation = default)
    {
        var layout = Graph.Layout;
        var late = Late();
        Func<bool> Until(double share) => () =>
        {
            cancellation.ThrowIfCancellationRequested();
            return late(share);
        };
        foreach (var id in request.Done.Concat(request.Stuck).Concat(request.Absent).Where(id => Graph.IndexOf(id) < 0))
        {
            throw new ArgumentException($"There is no operation '{id}'.", nameof(request));
        }
        var outNow = Graph.SetOf(request.Done);
        var partly = Graph.SetOf(request.StepsIn.Select(s => s.Split('/')[0])) & outNow;
        var done = outNow - partly;
        var absent = Graph.SetOf(request.Absent) - outNow;
        var have = done | absent;
        var banned = Banned(request.WaysIn, have) | (Graph.SetOf(request.Stuck) - done);
        var goals = GoalsOf(request.Targets);
        if (CheapestSet.Find(Graph, goals, have, banned, Until(0.5)) is not { } found)
        {
            return null;
        }
        // Every set that costs as little may be taken; the one whose order changes tools least often is.
        var (equal, all) = found.Optimal ? EqualSets.Find(Graph, goals, have, Graph.Reachable - banned - have, found.Set, MostEqual, Until(0.6)) : ([found.Set], false);
        var hand = Graph.ToolMask(request.Hand);
        var (taken, order) = (found.Set, Ordered(found.Set, have, hand, Until(0.75)));
        var fewest = order.LowerBound;
        foreach (var other in equal.Skip(1))
        {
            var ordered = Ordered(other, have, hand, Until(0.75));
            fewest = Math.Min(fewest, ordered.LowerBound);
            if (ordered.Changes < order.Changes)
            {
                (taken, order) = (other, ordered);
            }
        }
        // Where there may be more such sets, nothing is claimed over orders.
        fewest = all ? fewest : 0;
        var set = taken.ToList();
        var removal = Walk.Gathered(order.Order, [.. set.Select(i => Graph.Tools[i])], May(set, have), k => layout.Operations[set[k]].View == "behind", hand)
            .Select(k => layout.Operations[set[k]]).ToList();
        var opened = request.Done.Where(id => !taken.Has(Graph.IndexOf(id))).Concat(removal.Select(o => o.Id)).ToList();
        var problem = new RefitProblem(Graph, [.. opened.Select(Graph.IndexOf)], StepsIn(request.StepsIn, taken));
        var wayBack = problem.Order(0, Until(1));
        var back = wayBack ?? new([], 0, 0);
        var home = problem.Gathered(back.Order);
        return new()
        {
            Removal = removal,
            WayBack = wayBack is not null,
            Refit = [.. home.Select(problem.Move)],
            Minutes = found.Cost / 100.0,
            RemovalMinutes = removal.Aggregate(new Spread(), (sum, o) => sum + o.Minutes),
            RefitMinutes = back.Order.Aggregate(new Spread(), (sum, k) => sum + problem.Move(k).Step.Minutes),
            ToolChanges = order.Changes,
            RefitToolChanges = back.Changes,
            Proof = new(Proof.Of(found.Cost / 100.0, found.LowerBound / 100.0), Proof.Of(order.Changes, fewest), Proof.Of(back.Changes, back.LowerBound)),
        };
    }

    private Func<int, Bits, bool> May(List<int> set, Bits have) => (k, placed) =>
    {
        var before = have;
        foreach (var p in placed)
        {
            before = before.With(set[p]);
        }
        return Graph.Allowed(set[k], before);
    };

    private ToolOrder.Result Ordered(Bits operations, Bits have, ulong hand, Func<bool> stop)
    {
        var set = operations.ToList();
        return ToolOrder.Find([.. set.Select(i => Graph.Tools[i])], May(set, have), true, hand, stop) ?? throw new InvalidOperationException("The set has no order.");
    }

    /// <summary>Orders the way back of operations that are out.</summary>
    /// <param name="removed">Operation ids in the order they were done; unknown ids are passed over.</param>
    /// <param name="stepsIn">Steps (<c>operation/step</c>) of them that are done already.</param>
    public IReadOnlyList<RefitMove> Refit(IEnumerable<string> removed, IReadOnlyCollection<string> stepsIn)
    {
        int[] places = [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)];
        if (refits.Count > 5000)
        {
            refits.Clear();
        }
        return refits.GetOrAdd($"{string.Join(',', places)}|{string.Join(',', stepsIn.Order(StringComparer.Ordinal))}", _ =>
        {
            var problem = new RefitProblem(Graph, places, stepsIn.ToHashSet());
            var late = Late();
            var order = problem.Order(0, () => late(1)) ?? throw new InvalidOperationException("The way back has no order.");
            return [.. problem.Gathered(order.Order).Select(problem.Move)];
        });
    }

    /// <summary>Why a refit step may not be done yet: the moves that come first; empty where it may. A step whose way in would be
    /// blocked by what is back already waits for nothing that is named, and is told of by <paramref name="blocked"/>.</summary>
    /// <param name="key"><c>operation/step</c> of the one to do.</param>
    /// <param name="removed">All that are out, in the order they were done; contains its operation.</param>
    /// <param name="stepsIn">Steps done already of operations that are out.</param>
    /// <param name="blocked">Whether no way to its place is open.</param>
    public IReadOnlyList<RefitMove> RefitFirst(string key, IReadOnlyList<string> removed, IReadOnlyCollection<string> stepsIn, out bool blocked)
    {
        var problem = new RefitProblem(Graph, [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)], stepsIn.ToHashSet());
        var first = problem.Before(key).ToList();
        var k = Enumerable.Range(0, problem.Count).FirstOrDefault(i => problem.Move(i).Key == key, -1);
        blocked = first.Count == 0 && k >= 0 && !problem.Allowed(k, Bits.None);
        return first;
    }

    /// <summary>Minutes out and in to reach one of each group from the present state.</summary>
    /// <param name="groups">Groups of operation ids; one of each must be done.</param>
    /// <param name="done">Operations already done.</param>
    /// <returns>Minutes, or null where it cannot be reached.</returns>
    public double? MinutesTo(IReadOnlyList<IReadOnlyList<string>> groups, Bits done) => Cost([.. groups.Select(Graph.SetOf)], done, Bits.None);

    /// <summary>Operations opened by the cheapest way to one of each group, with what is done.</summary>
    public Bits StateAfter(IReadOnlyList<IReadOnlyList<string>> groups, Bits done) => done | Cheapest([.. groups.Select(Graph.SetOf)], done);

    /// <summary>Minutes out and in to free parts from the present state.</summary>
    /// <returns>Minutes, or null where one cannot be freed.</returns>
    public double? MinutesToFree(IEnumerable<string> partIds, Bits done) => Cost([.. GoalsOf(partIds)], done, Bits.None);

    /// <summary>The same by the ways chosen.</summary>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public double? MinutesToFree(IEnumerable<string> partIds, Bits done, IReadOnlyDictionary<string, string> waysIn) =>
        Cost([.. GoalsOf(partIds)], done, Banned(waysIn, done));

    /// <summary>Operations opened by the cheapest way to free parts, with what is done.</summary>
    public Bits StateAfterFreeing(IEnumerable<string> partIds, Bits done) => done | Cheapest(GoalsOf(partIds), done);

    /// <summary>Whether a share of the deadline, counted from now, is over.</summary>
    private Func<double, bool> Late()
    {
        var started = clock?.GetTimestamp() ?? 0;
        return share => clock is not null && clock.GetElapsedTime(started) > Deadline * share;
    }

    /// <summary>Steps done already, without those of operations that come out again.</summary>
    private HashSet<string> StepsIn(IEnumerable<string> keys, Bits again) => [.. keys.Where(k => !again.Has(Math.Max(0, Graph.IndexOf(k.Split('/')[0]))))];

    private Bits Cheapest(IReadOnlyList<Bits> goals, Bits done) => Solve([.. goals], done, Bits.None)?.Set ?? Bits.None;

    private double? Cost(Bits[] goals, Bits done, Bits banned) => Solve(goals, done, banned)?.Cost / 100.0;

    private CheapestSet.Result? Solve(Bits[] goals, Bits done, Bits banned)
    {
        // Goals served already ask for nothing; of the others the same set is asked for from many sides.
        Bits[] open = [.. goals.Where(g => !g.Meets(done)).Distinct().OrderBy(g => g.GetHashCode())];
        if (open.Length == 0)
        {
            return new(Bits.None, 0, 0, true);
        }
        var key = (new Goals(open), done, banned);
        if (!solved.TryGetValue(key, out var found))
        {
            if (solved.Count > 50_000)
            {
                solved.Clear();
            }
            var late = Late();
            solved[key] = found = CheapestSet.Find(Graph, open, done, banned, () => late(1));
        }
        return found;
    }

    /// <summary>Groups of operations, the same where all of them are.</summary>
    private readonly record struct Goals(Bits[] Groups)
    {
        public bool Equals(Goals other) => Groups.AsSpan().SequenceEqual(other.Groups);

        public override int GetHashCode() => Groups.Aggregate(17, HashCode.Combine);
    }

    /// <summary>Options not chosen, as far as they are not done already.</summary>
    private Bits Banned(IReadOnlyDictionary<string, string> waysIn, Bits done)
    {
        var banned = Bits.None;
        foreach (var (way, choice) in waysIn)
        {
            var options = Graph.Layout.Ways.FirstOrDefault(w => w.Id == way)?.Options
                ?? throw new ArgumentException($"There is no way '{way}'.", nameof(waysIn));
            if (!options.Contains(choice))
            {
                throw new ArgumentException($"'{choice}' is not an option of the way '{way}'.", nameof(waysIn));
            }
            banned |= Graph.SetOf(options.Where(o => o != choice));
        }
        return banned - done;
    }

    /// <summary>A part that nothing frees (a foot, the cabinet) is worked on where it stands and asks for no operation.</summary>
    private List<Bits> GoalsOf(IEnumerable<string> partIds) => [.. partIds.Select(GoalOf).Where(g => !g.IsEmpty)];

    private Bits GoalOf(string partId) => Graph.Layout.FindPart(partId) is null
        ? throw new ArgumentException($"There is no part '{partId}'.", nameof(partId))
        : Bits.Of(Graph.FreeingOperations(partId));
}
