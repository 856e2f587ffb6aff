using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>One move of the way back.</summary>
/// <param name="Operation">The operation that goes back.</param>
/// <param name="Step">In this step.</param>
public sealed record RefitMove(Operation Operation, RefitStep Step)
{
    /// <summary>Which step it is.</summary>
    public StepRef Ref => new(Operation.Id, Step.Id);

    /// <summary>The step that must follow at once, or null.</summary>
    public RefitStep? Then => Operation.Steps.FirstOrDefault(s => s.DirectlyAfter == Step.Id);

    /// <summary>Fasteners that go in now.</summary>
    public IEnumerable<FastenerGroup> Fasteners => Operation.FastenersOf(Step);

    /// <summary>Plugs joined now.</summary>
    public IEnumerable<Plug> Plugs => Operation.PlugsOf(Step);
}

/// <summary>Putting back as a problem of its own. A step is done while, of each group its operation was reached through
/// (what was physically
/// in the way), at least one really removed member is still out, and so on transitively; an operation is still out
/// while none of its steps is
/// done. The closure is taken first; then only the pairs listed under <c>notMirrored</c> fall away. <c>after</c>,
/// <c>before</c> and
/// <c>stillOut</c> of the steps come on top. A step that follows another at once (<c>directlyAfter</c>) makes one act
/// with it: what it waits for, the other waits for; while only the other is done, nothing else may be.</summary>
internal sealed class RefitProblem
{
    private readonly PrecedenceGraph graph;
    private readonly Bits removed;
    private readonly Bits passed;
    private readonly RefitMove[] moves;
    private readonly int[] ops;
    private readonly Dictionary<StepRef, int> byKey;
    private readonly Bits[] movesOf;
    private readonly Dictionary<int, Bits> exempt = [];
    private readonly Bits begunBefore;
    private readonly int[] follower;
    private readonly Bits[] before;
    private readonly Bits choices;
    private readonly Bits all;

    /// <param name="graph">The operations.</param>
    /// <param name="removed">Places of the operations that were really removed and go back, in the order they
    /// were.</param>
    /// <param name="stepsIn">Steps of them that are done already.</param>
    internal RefitProblem(PrecedenceGraph graph, IReadOnlyList<int> removed, IReadOnlySet<StepRef>? stepsIn = null)
    {
        this.graph = graph;
        this.removed = Bits.Of(removed) - graph.Virtual;
        // What is not on this machine was passed through where all that stood in its way is out.
        passed = graph.WithPassed(this.removed) & graph.Virtual;
        bool Out(OperationId id) => graph.IndexOf(id) is >= 0 and var k && this.removed.Has(k);
        // Ties go to the plain mirror: what came out last goes back first.
        var every = removed
            .Reverse()
            .Where(op => !graph.Virtual.Has(op))
            .SelectMany(op =>
                graph.Node(op).Steps.Select(s => (Op: op, Move: new RefitMove(graph.Node(op).SeenThrough(Out), s)))
            )
            .ToList();
        var open = every.Where(m => stepsIn?.Contains(m.Move.Ref) != true).ToList();
        moves = [.. open.Select(m => m.Move)];
        ops = [.. open.Select(m => m.Op)];
        all = Bits.UpTo(moves.Length);
        begunBefore = Bits.Of(every.Where(m => stepsIn?.Contains(m.Move.Ref) == true).Select(m => m.Op).Distinct());
        byKey = moves.Select((m, k) => (m.Ref, k)).ToDictionary(p => p.Ref, p => p.k);
        movesOf = new Bits[graph.Count];
        for (var k = 0; k < moves.Length; k++)
        {
            movesOf[ops[k]] = movesOf[ops[k]].With(k);
        }
        foreach (var pair in graph.Layout.NotMirrored)
        {
            var (op, through) = (graph.IndexOf(pair.Operation), graph.IndexOf(pair.Through));
            if (op >= 0 && through >= 0)
            {
                exempt[op] = exempt.GetValueOrDefault(op).With(through);
            }
        }
        before = new Bits[moves.Length];
        foreach (var op in ops.Distinct())
        {
            var mine = movesOf[op];
            var through = Through(op, out var choice) - exempt.GetValueOrDefault(op);
            choices = choice ? choices | mine : choices;
            foreach (var m in through)
            {
                Wait(movesOf[m], mine);
            }
            foreach (var k in mine)
            {
                Wait(Bits.Of(moves[k].Step.Before.Where(byKey.ContainsKey).Select(key => byKey[key])), Bits.Of(k));
                before[k] |= Bits.Of(moves[k].Step.After.Where(byKey.ContainsKey).Select(key => byKey[key]));
                foreach (var m in graph.SetOf(moves[k].Step.StillOut) - graph.Virtual)
                {
                    Wait(movesOf[m], Bits.Of(k));
                }
            }
        }
        follower = new int[moves.Length];
        Array.Fill(follower, -1);
        AtOnce(stepsIn);
    }

    /// <summary>Joins steps that follow one another at once: a step waits for all that the one after it waits for; where
    /// its leader is in already, everything else waits for it.</summary>
    private void AtOnce(IReadOnlySet<StepRef>? stepsIn)
    {
        var pending = Bits.None;
        for (var k = 0; k < moves.Length; k++)
        {
            if (moves[k].Step.DirectlyAfter is not { Length: > 0 } leader)
            {
                continue;
            }
            var at = new StepRef(moves[k].Operation.Id, leader);
            if (byKey.TryGetValue(at, out var head))
            {
                follower[head] = k;
                before[k] = before[k].With(head);
            }
            else if (stepsIn?.Contains(at) == true)
            {
                pending = pending.With(k);
            }
        }
        for (var grew = true; grew; )
        {
            grew = false;
            for (var k = 0; k < moves.Length; k++)
            {
                if (follower[k] >= 0 && before[follower[k]] - Bits.Of(k) - before[k] is { IsEmpty: false } more)
                {
                    before[k] |= more;
                    grew = true;
                }
            }
        }
        if (pending.IsEmpty)
        {
            return;
        }
        var first = pending;
        for (var open = first; !open.IsEmpty; )
        {
            open = open.ToList().Aggregate(Bits.None, (s, k) => s | before[k]) - first;
            first |= open;
        }
        foreach (var k in all - first)
        {
            before[k] |= pending;
        }
    }

    internal int Count => moves.Length;

    /// <summary>Whether placing a step never forbids another.</summary>
    internal bool Monotone => choices.IsEmpty;

    /// <summary>The move of a number.</summary>
    internal RefitMove Move(int k) => moves[k];

    /// <summary>Numbers that must be placed before a number.</summary>
    internal Bits Before(int k) => before[k];

    /// <summary>Moves that must be made before one; empty where it is not among those to make.</summary>
    internal IEnumerable<RefitMove> Before(StepRef step) =>
        byKey.TryGetValue(step, out var k) ? before[k].ToList().Select(Move) : [];

    /// <summary>Steps that may be done now, given what is placed.</summary>
    internal Bits Allowed(Bits placed)
    {
        var may = Bits.None;
        foreach (var k in all - placed)
        {
            may = placed.Covers(before[k]) ? may.With(k) : may;
        }
        if (!may.Meets(choices))
        {
            return may;
        }
        Bits? shared = null;
        var asked = Bits.None;
        foreach (var k in may & choices)
        {
            var op = ops[k];
            if (asked.Has(op))
            {
                continue;
            }
            asked = asked.With(op);
            var reached = exempt.TryGetValue(op, out var free)
                ? Reached(StillOut(placed) | free)
                : shared ??= Reached(StillOut(placed));
            may = reached.Has(op) ? may : may - movesOf[op];
        }
        return may;
    }

    /// <summary>Whether a step may be done now.</summary>
    internal bool Allowed(int k, Bits placed) => Allowed(placed).Has(k);

    /// <summary>Whether the steps have any order at all.</summary>
    /// <param name="stop">Asked at every branch; where it says so, none is found.</param>
    internal bool HasOrder(Func<bool> stop)
    {
        var dead = new HashSet<Bits>();
        return Go(Bits.None);

        // Where placing forbids nothing, whatever may be placed is; else each is tried.
        bool Go(Bits placed)
        {
            while (Allowed(placed) is { IsEmpty: false } may)
            {
                if (Monotone)
                {
                    placed |= may;
                    continue;
                }
                if (!dead.Add(placed) || stop())
                {
                    return false;
                }
                foreach (var k in may)
                {
                    if (Go(placed.With(k)))
                    {
                        return true;
                    }
                }
                return false;
            }
            return placed.Count == moves.Length;
        }
    }

    /// <summary>Orders the steps with the fewest tool changes.</summary>
    /// <returns>The order, or null where they have none.</returns>
    internal ToolOrder.Result? Order(ulong hand, Func<bool> stop) =>
        ToolOrder.Find(Tools, Allowed, Monotone, hand, stop) is { } found
            ? found with
            {
                Order = Together(found.Order),
            }
            : null;

    /// <summary>The same with steps done from behind brought together, as far as no tool change is added.</summary>
    internal IReadOnlyList<int> Gathered(IReadOnlyList<int> order) =>
        Together(
            Walk.Gathered(
                order,
                Tools,
                Allowed,
                k => (moves[k].Step.View.Length > 0 ? moves[k].Step.View : moves[k].Operation.View) == "behind",
                0
            )
        );

    /// <summary>An order with each step that follows another at once right behind it. It may stand there: the other waited
    /// for all that it waits for.</summary>
    private IReadOnlyList<int> Together(IReadOnlyList<int> order)
    {
        var follows = Bits.Of(follower.Where(k => k >= 0));
        return follows.IsEmpty ? order : [.. order.Where(k => !follows.Has(k)).SelectMany(Chain)];
    }

    /// <summary>A step and those that follow it at once.</summary>
    private IEnumerable<int> Chain(int k)
    {
        for (; k >= 0; k = follower[k])
        {
            yield return k;
        }
    }

    /// <summary>What each step is done with. The first of several at once is done with what the last with tools needs: by
    /// the rules of a file those before it are done by bare hand or with the same; the others then change
    /// nothing.</summary>
    private ToolChoice[] Tools
    {
        get
        {
            ToolChoice[] own = [.. moves.Select(m => graph.Choices(m.Step.Tools))];
            ToolChoice[] told = [.. own];
            foreach (var k in follower.Where(k => k >= 0))
            {
                told[k] = ToolChoice.None;
            }
            foreach (var k in Enumerable.Range(0, moves.Length).Except(follower))
            {
                told[k] = Chain(k).Select(m => own[m]).LastOrDefault(t => t.Sets is not [0]) ?? ToolChoice.None;
            }
            return told;
        }
    }

    /// <summary>Steps wait for all of those.</summary>
    private void Wait(Bits those, Bits waited)
    {
        foreach (var other in those)
        {
            before[other] |= waited - Bits.Of(other);
        }
    }

    /// <summary>Members of a group that count on the way back: those really removed, and those passed
    /// through.</summary>
    private Bits Members(Bits group) => group & (removed | passed);

    /// <summary>Everything an operation is reached through by groups of which one member only counts; groups with
    /// several are told
    /// of, for they are looked at in the state.</summary>
    private Bits Through(int operation, out bool choice)
    {
        var through = Bits.None;
        choice = false;
        var open = new Stack<int>([operation]);
        while (open.TryPop(out var next))
        {
            foreach (var group in graph.InTheWay[next])
            {
                var members = Members(group);
                if (members.Count > 1)
                {
                    choice = true;
                }
                else if (!(members - through).IsEmpty)
                {
                    through |= members;
                    open.Push(members.ToList()[0]);
                }
            }
        }
        return through - Bits.Of(operation) - graph.Virtual;
    }

    /// <summary>Removed operations of which no step is back.</summary>
    private Bits StillOut(Bits placed)
    {
        var still = Bits.None;
        foreach (var op in removed - begunBefore)
        {
            still = movesOf[op].Meets(placed) ? still : still.With(op);
        }
        return still;
    }

    /// <summary>Operations whose place can be got at: of each group with members that count, one is open, and its own
    /// place can be got at. The least
    /// set of which that is true (a Horn closure), so that nothing rests on itself.</summary>
    /// <param name="open">Operations that leave the way open.</param>
    private Bits Reached(Bits open)
    {
        var ways = open | passed;
        var reached = Bits.None;
        for (var grew = true; grew; )
        {
            grew = false;
            foreach (var op in (removed | passed) - reached)
            {
                var ok = true;
                foreach (var group in graph.InTheWay[op])
                {
                    var members = Members(group);
                    ok &= members.IsEmpty || members.Meets(ways & reached);
                }
                if (ok)
                {
                    reached = reached.With(op);
                    grew = true;
                }
            }
        }
        return reached;
    }
}
