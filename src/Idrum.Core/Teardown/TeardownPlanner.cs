using System.Collections.Concurrent;
using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>What is wanted: targets to free, from the present state, by chosen ways.</summary>
/// <param name="Targets">Part ids.</param>
/// <param name="Done">Operations already done, in any order.</param>
/// <param name="WaysIn">Way id → operation id; the other options of that way are not used unless already done.</param>
public sealed record TeardownRequest(
    IReadOnlyList<PartId> Targets,
    IReadOnlyList<OperationId> Done,
    IReadOnlyDictionary<string, OperationId> WaysIn
)
{
    /// <summary>Operations that cannot be done on this machine: another way must be taken.</summary>
    public IReadOnlyList<OperationId> Stuck { get; init; } = [];

    /// <summary>Obstacles that are not on this machine: they take no act and do not go back; what stood in their way
    /// stands in the way of what
    /// needed them.</summary>
    public IReadOnlyList<OperationId> Absent { get; init; } = [];

    /// <summary>What only prudence wanted first and was left out.</summary>
    public IReadOnlyList<OperationId> LeftOut { get; init; } = [];

    /// <summary>Tools in hand.</summary>
    public IReadOnlyList<string> Hand { get; init; } = [];

    /// <summary>Refit steps (<c>operation/step</c>) done already of operations that are not wholly back; such an
    /// operation no longer counts as done.</summary>
    public IReadOnlyCollection<StepRef> StepsIn { get; init; } = [];
}

/// <summary>How far one claim is proved.</summary>
/// <param name="Optimal">True where nothing better exists.</param>
/// <param name="Bound">Nothing can be below this.</param>
/// <param name="Gap">What was found less the bound.</param>
public sealed record Optimality(bool Optimal, double Bound, double Gap)
{
    /// <summary>What was found beside what nothing can be below.</summary>
    public static Optimality Of(double found, double bound) =>
        new(found <= bound, bound, Math.Round(Math.Max(0, found - bound), 6));
}

/// <summary>Three proofs, said apart.</summary>
/// <param name="Set">The set of operations is cheapest; minutes.</param>
/// <param name="Order">The order of this set has the fewest tool changes.</param>
/// <param name="Refit">The way back has the fewest tool changes of all that keep every constraint.</param>
public sealed record PlanProof(Optimality Set, Optimality Order, Optimality Refit);

/// <summary>A teardown plan.</summary>
public sealed record TeardownPlan
{
    /// <summary>Operations still to do, in order.</summary>
    public required IReadOnlyList<Operation> Removal { get; init; }

    /// <summary>Everything to put back afterwards, in order; includes what was already done.</summary>
    public required IReadOnlyList<RefitMove> Refit { get; init; }

    /// <summary>False where what was done beforehand, which no plan asked for, has no way back; then the way back is
    /// empty.</summary>
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

/// <summary>Plans teardowns of one layout: the cheapest set of operations (typical minutes out and in), the order of it
/// with the fewest
/// tool changes, and the way back with the fewest. Safe for many threads; remembers costs it has worked out.</summary>
public sealed class TeardownPlanner
{
    private const int MostEqual = 64;
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(2);
    private const int MostSiblings = 200;
    private readonly TimeProvider? clock;
    private readonly ConcurrentDictionary<(Goals Open, Bits Done, Bits Banned), CheapestSet.Result?> solved = new();
    private readonly ConcurrentDictionary<string, IReadOnlyList<RefitMove>> refits = new();
    private readonly ConcurrentDictionary<(Bits Absent, Bits LeftOut), TeardownPlanner> siblings;

    /// <summary>Makes a planner.</summary>
    /// <param name="layout">A layout that keeps <see cref="LayoutRules"/>.</param>
    /// <param name="clock">For the deadline of two seconds; without one there is none.</param>
    public TeardownPlanner(Layout layout, TimeProvider? clock = null)
        : this(new PrecedenceGraph(layout), clock, new()) { }

    private TeardownPlanner(
        PrecedenceGraph graph,
        TimeProvider? clock,
        ConcurrentDictionary<(Bits, Bits), TeardownPlanner> siblings
    )
    {
        Graph = graph;
        this.clock = clock;
        this.siblings = siblings;
        siblings.TryAdd((graph.Absent, graph.LeftOut), this);
    }

    /// <summary>Measures its deadlines; null where there are none.</summary>
    internal TimeProvider? Clock => clock;

    /// <summary>The graph it plans on.</summary>
    public PrecedenceGraph Graph { get; }

    /// <summary>The planner of the same machine where some obstacles are not there and some of what prudence wants was
    /// left out; remembered.</summary>
    /// <param name="absent">Operations that are not on this machine; unknown ids are passed over.</param>
    /// <param name="leftOut">Operations that were left out.</param>
    public TeardownPlanner Without(IEnumerable<OperationId> absent, IEnumerable<OperationId> leftOut)
    {
        var key = (Graph.SetOf(absent) & Bits.UpTo(Graph.Layout.Operations.Count), Graph.SetOf(leftOut));
        if (siblings.TryGetValue(key, out var known))
        {
            return known;
        }
        if (siblings.Count > MostSiblings)
        {
            siblings.Clear();
        }
        return new(
            new PrecedenceGraph(
                Graph.Layout,
                key.Item1.ToList().Select(i => Graph.Node(i).Id),
                key.Item2.ToList().Select(i => Graph.Node(i).Id)
            ),
            clock,
            siblings
        );
    }

    /// <summary>Plans, within two seconds; what is not proved by then is said with its bound.</summary>
    /// <param name="request">What is wanted.</param>
    /// <param name="cancellation">Stops the planning.</param>
    /// <returns>The plan, or null where the targets cannot be reached by the ways chosen.</returns>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    /// <exception cref="TimeoutException">Nothing was found in time.</exception>
    public TeardownPlan? Plan(TeardownRequest request, CancellationToken cancellation = default)
    {
        foreach (
            var id in request
                .Done.Concat(request.Stuck)
                .Concat(request.Absent)
                .Concat(request.LeftOut)
                .Where(id => Graph.Layout.FindOperation(id) is null)
        )
        {
            throw new ArgumentException($"There is no operation '{id}'.", nameof(request));
        }
        return Without(request.Absent.Except(request.Done), request.LeftOut.Except(request.Done))
            .PlanHere(request, cancellation);
    }

    private TeardownPlan? PlanHere(TeardownRequest request, CancellationToken cancellation)
    {
        var layout = Graph.Layout;
        var late = Late();
        Func<bool> Until(double share) =>
            () =>
            {
                cancellation.ThrowIfCancellationRequested();
                return late(share);
            };
        var outNow = Graph.SetOf(request.Done);
        var partly = Graph.SetOf(request.StepsIn.Select(s => s.Operation)) & outNow;
        var done = outNow - partly;
        var have = Graph.WithPassed(done);
        var banned = Banned(request.WaysIn, done) | (Graph.SetOf(request.Stuck) - done);
        var goals = GoalsOf(request.Targets);
        bool GoesBack(Bits set) =>
            ProblemOf(request, set, [.. request.Done, .. set.ToList().Select(i => Graph.Node(i).Id)])
                .HasOrder(Until(0.5));
        if (SetConstraints.Find(Graph, goals, done, banned, Until(0.4)) is not { } answer)
        {
            return null;
        }
        // In a sound file every set that a plan takes out goes back. What is not on a machine, or was done before
        // anybody planned, may make others possible.
        var bounds = !Graph.Virtual.IsEmpty || request.Done.Count > 0;
        if (
            bounds
            && !GoesBack(answer.Found.Set)
            && SetConstraints.Find(Graph, goals, done, banned, Until(0.5), GoesBack) is { } other
        )
        {
            answer = other;
        }
        var found = answer.Found;
        // Every set that costs as little may be taken; the one whose order changes tools least often is.
        var (equal, all) = found.Optimal
            ? EqualSets.Find(
                Graph,
                goals,
                have,
                Graph.Reachable - banned - have,
                found.Set,
                MostEqual,
                answer.Ways,
                Until(0.6)
            )
            : ([found.Set], false);
        var hand = Graph.ToolMask(request.Hand);
        var (taken, order) = (found.Set, Ordered(found.Set, have, hand, Until(0.75)));
        var fewest = order.LowerBound;
        foreach (var same in equal.Skip(1).Where(s => !bounds || GoesBack(s)))
        {
            var ordered = Ordered(same, have, hand, Until(0.75));
            fewest = Math.Min(fewest, ordered.LowerBound);
            if (ordered.Changes < order.Changes)
            {
                (taken, order) = (same, ordered);
            }
        }
        // Where there may be more such sets, nothing is claimed over orders.
        fewest = all ? fewest : 0;
        var rules = new RemovalOrder(Graph, taken, have);
        var open = taken | done;
        var seen = rules
            .Set.Select(i => Graph.Node(i).SeenThrough(id => Graph.IndexOf(id) is >= 0 and var k && open.Has(k)))
            .ToArray();
        var removal = Walk.Gathered(order.Order, Tools(rules), rules.Allowed, k => seen[k].View == "behind", hand)
            .Select(k => seen[k])
            .ToList();
        var problem = ProblemOf(
            request,
            taken,
            [.. request.Done.Where(id => !taken.Has(Graph.IndexOf(id))), .. removal.Select(o => o.Id)]
        );
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
            Proof = new(
                Optimality.Of(found.Cost / 100.0, found.LowerBound / 100.0),
                Optimality.Of(order.Changes, fewest),
                Optimality.Of(back.Changes, back.LowerBound)
            ),
        };
    }

    private RefitProblem ProblemOf(TeardownRequest request, Bits taken, IReadOnlyList<OperationId> opened) =>
        new(Graph, [.. opened.Distinct().Select(Graph.IndexOf)], StepsIn(request.StepsIn, taken));

    private ToolChoice[] Tools(RemovalOrder rules) => [.. rules.Set.Select(i => Graph.Tools[i])];

    private ToolOrder.Result Ordered(Bits operations, Bits have, ulong hand, Func<bool> stop)
    {
        var rules = new RemovalOrder(Graph, operations, have);
        return ToolOrder.Find(Tools(rules), rules.Allowed, true, hand, stop)
            ?? throw new InvalidOperationException("The set has no order.");
    }

    /// <summary>Orders the way back of operations that are out.</summary>
    /// <param name="removed">Operation ids in the order they were done; unknown ids are passed over.</param>
    /// <param name="stepsIn">Steps of them that are done already.</param>
    /// <returns>The steps in order; empty where nothing is out, and where what is out has no way back.</returns>
    /// <exception cref="TimeoutException">No way back was found within <see cref="Deadline"/>.</exception>
    public IReadOnlyList<RefitMove> Refit(IEnumerable<OperationId> removed, IReadOnlyCollection<StepRef> stepsIn)
    {
        int[] places = [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)];
        if (refits.Count > 5000)
        {
            refits.Clear();
        }
        var key = $"{string.Join(',', places)}|{string.Join(',', stepsIn.Order())}";
        if (refits.TryGetValue(key, out var known))
        {
            return known;
        }
        var problem = new RefitProblem(Graph, places, stepsIn.ToHashSet());
        var late = Late();
        var order = problem.Order(0, () => late(1));
        IReadOnlyList<RefitMove> found =
            order is not null ? [.. problem.Gathered(order.Order).Select(problem.Move)]
            : late(1) ? throw new TimeoutException("No way back was found in time.")
            : [];
        if (order is not { Optimal: false })
        {
            // What a deadline cut short is not kept.
            refits[key] = found;
        }
        return found;
    }

    /// <summary>Why a refit step may not be done yet: the moves that come first; empty where it may. A step whose way
    /// in would be
    /// blocked by what is back already waits for nothing that is named, and is told of by <paramref
    /// name="blocked"/>.</summary>
    /// <param name="step">The one to do.</param>
    /// <param name="removed">All that are out, in the order they were done; contains its operation.</param>
    /// <param name="stepsIn">Steps done already of operations that are out.</param>
    /// <param name="blocked">Whether no way to its place is open.</param>
    public IReadOnlyList<RefitMove> RefitFirst(
        StepRef step,
        IReadOnlyList<OperationId> removed,
        IReadOnlyCollection<StepRef> stepsIn,
        out bool blocked
    )
    {
        var problem = new RefitProblem(
            Graph,
            [.. removed.Select(Graph.IndexOf).Where(i => i >= 0)],
            stepsIn.ToHashSet()
        );
        var first = problem.Before(step).ToList();
        var k = Enumerable.Range(0, problem.Count).FirstOrDefault(i => problem.Move(i).Ref == step, -1);
        blocked = first.Count == 0 && k >= 0 && !problem.Allowed(k, Bits.None);
        return first;
    }

    /// <summary>Whether parts can be freed at all by the ways chosen, on a closed machine: asked of the graph, without
    /// planning.</summary>
    /// <param name="partIds">The parts.</param>
    /// <param name="waysIn">Way id → option.</param>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public bool CanReach(IEnumerable<PartId> partIds, IReadOnlyDictionary<string, OperationId> waysIn)
    {
        // The largest set that holds together by itself: if it does not serve the parts, no smaller one does. That two
        // options of one way are not taken
        // together is a wish, given up where nothing else serves.
        var (set, before) = (Graph.Reachable - Banned(waysIn, Bits.None), Bits.UpTo(Graph.Count));
        while (set != before)
        {
            before = set;
            set = Graph.Doable(set, Bits.None);
            set = Bits.Of(set.ToList().Where(i => (Graph.StillOut[i] - set).IsEmpty));
        }
        return GoalsOf(partIds).All(g => g.Meets(set));
    }

    /// <summary>Minutes out and in to reach one of each group from the present state.</summary>
    /// <param name="groups">Groups of operation ids; one of each must be done.</param>
    /// <param name="done">Operations already done.</param>
    /// <returns>Minutes, or null where it cannot be reached.</returns>
    public double? MinutesTo(IReadOnlyList<IReadOnlyList<OperationId>> groups, Bits done) =>
        Cost([.. groups.Select(Graph.SetOf)], done, Bits.None);

    /// <summary>Operations opened by the cheapest way to one of each group, with what is done.</summary>
    public Bits StateAfter(IReadOnlyList<IReadOnlyList<OperationId>> groups, Bits done) =>
        done | Cheapest([.. groups.Select(Graph.SetOf)], done);

    /// <summary>Minutes out and in to free parts from the present state.</summary>
    /// <returns>Minutes, or null where one cannot be freed.</returns>
    public double? MinutesToFree(IEnumerable<PartId> partIds, Bits done) =>
        Cost([.. GoalsOf(partIds)], done, Bits.None);

    /// <summary>The same by the ways chosen.</summary>
    /// <exception cref="ArgumentException">An id is not the layout's.</exception>
    public double? MinutesToFree(
        IEnumerable<PartId> partIds,
        Bits done,
        IReadOnlyDictionary<string, OperationId> waysIn
    ) => Cost([.. GoalsOf(partIds)], done, Banned(waysIn, done));

    /// <summary>Operations opened by the cheapest way to free parts, with what is done.</summary>
    public Bits StateAfterFreeing(IEnumerable<PartId> partIds, Bits done) => done | Cheapest(GoalsOf(partIds), done);

    /// <summary>Whether a share of the deadline, counted from now, is over.</summary>
    private Func<double, bool> Late()
    {
        var started = clock?.GetTimestamp() ?? 0;
        return share => clock is not null && clock.GetElapsedTime(started) > Deadline * share;
    }

    /// <summary>Steps done already, without those of operations that come out again.</summary>
    private HashSet<StepRef> StepsIn(IEnumerable<StepRef> steps, Bits again) =>
        [.. steps.Where(s => !again.Has(Math.Max(0, Graph.IndexOf(s.Operation))))];

    private Bits Cheapest(IReadOnlyList<Bits> goals, Bits done) => Solve([.. goals], done, Bits.None)?.Set ?? Bits.None;

    private double? Cost(Bits[] goals, Bits done, Bits banned) => Solve(goals, done, banned)?.Cost / 100.0;

    private CheapestSet.Result? Solve(Bits[] goals, Bits done, Bits banned)
    {
        // Goals served already ask for nothing; of the others the same set is asked for from many sides.
        var have = Graph.WithPassed(done);
        Bits[] open = [.. goals.Where(g => !g.Meets(have)).Distinct().OrderBy(g => g.GetHashCode())];
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
            found = SetConstraints.Find(Graph, open, done, banned, () => late(1))?.Found;
            if (found is not { Optimal: false })
            {
                // What a deadline cut short is not kept.
                solved[key] = found;
            }
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
    private Bits Banned(IReadOnlyDictionary<string, OperationId> waysIn, Bits done)
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

    /// <summary>A part that nothing frees (a foot, the cabinet) is worked on where it stands and asks for no
    /// operation.</summary>
    private List<Bits> GoalsOf(IEnumerable<PartId> partIds) => [.. partIds.Select(GoalOf).Where(g => !g.IsEmpty)];

    private Bits GoalOf(PartId partId) =>
        Graph.Layout.FindPart(partId) is null
            ? throw new ArgumentException($"There is no part '{partId}'.", nameof(partId))
            : Graph.FreeingOperations(partId);
}
