using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>One move of the way back.</summary>
/// <param name="Operation">The operation that goes back.</param>
/// <param name="Step">In this step.</param>
public sealed record RefitMove(Operation Operation, RefitStep Step)
{
    /// <summary><c>operation/step</c>.</summary>
    public string Key => Operation.Id + "/" + Step.Id;

    /// <summary>Fasteners that go in now.</summary>
    public IEnumerable<FastenerGroup> Fasteners => Operation.FastenersOf(Step);

    /// <summary>Plugs joined now.</summary>
    public IEnumerable<Plug> Plugs => Operation.PlugsOf(Step);
}

/// <summary>Putting back as a problem of its own. A step is done while, of each group its operation was reached through (what was physically
/// in the way), at least one really removed member is still out, and so on transitively; an operation is still out while none of its steps is
/// done. The closure is taken first; then only the pairs listed under <c>notMirrored</c> fall away. <c>after</c>, <c>before</c> and
/// <c>stillOut</c> of the steps come on top.</summary>
internal sealed class RefitProblem
{
    private readonly PrecedenceGraph graph;
    private readonly Bits removed;
    private readonly RefitMove[] moves;
    private readonly int[] ops;
    private readonly Dictionary<string, int> byKey;
    private readonly Dictionary<int, Bits> movesOf = [];
    private readonly Dictionary<int, Bits> exempt = [];
    private readonly Bits begunBefore;
    private readonly Bits[] before;
    private readonly bool[] choices;

    /// <param name="graph">The operations.</param>
    /// <param name="removed">Places of the operations that were really removed and go back, in the order they were.</param>
    /// <param name="stepsIn">Steps (<c>operation/step</c>) of them that are done already.</param>
    internal RefitProblem(PrecedenceGraph graph, IReadOnlyList<int> removed, IReadOnlySet<string>? stepsIn = null)
    {
        this.graph = graph;
        this.removed = Bits.Of(removed);
        // Ties go to the plain mirror: what came out last goes back first.
        var all = removed.Reverse().SelectMany(op => graph.Layout.Operations[op].Steps.Select(s => (Op: op, Move: new RefitMove(graph.Layout.Operations[op], s)))).ToList();
        var open = all.Where(m => stepsIn?.Contains(m.Move.Key) != true).ToList();
        moves = [.. open.Select(m => m.Move)];
        ops = [.. open.Select(m => m.Op)];
        begunBefore = Bits.Of(all.Where(m => stepsIn?.Contains(m.Move.Key) == true).Select(m => m.Op).Distinct());
        byKey = moves.Select((m, k) => (m.Key, k)).ToDictionary(p => p.Key, p => p.k);
        for (var k = 0; k < moves.Length; k++)
        {
            movesOf[ops[k]] = movesOf.GetValueOrDefault(ops[k]).With(k);
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
        choices = new bool[moves.Length];
        foreach (var (op, mine) in movesOf)
        {
            var through = Through(op, out var choice) - exempt.GetValueOrDefault(op);
            foreach (var k in mine)
            {
                choices[k] = choice;
                foreach (var m in through)
                {
                    Wait(movesOf.GetValueOrDefault(m), k);
                }
                Wait(Bits.Of(moves[k].Step.Before.Where(byKey.ContainsKey).Select(key => byKey[key])), k);
                before[k] |= Bits.Of(moves[k].Step.After.Where(byKey.ContainsKey).Select(key => byKey[key]));
                foreach (var m in graph.SetOf(moves[k].Step.StillOut))
                {
                    Wait(movesOf.GetValueOrDefault(m), k);
                }
            }
        }
    }

    internal int Count => moves.Length;

    /// <summary>Whether placing a step never forbids another.</summary>
    internal bool Monotone => !choices.Any(c => c);

    /// <summary>The move of a number.</summary>
    internal RefitMove Move(int k) => moves[k];

    /// <summary>Numbers that must be placed before a number.</summary>
    internal Bits Before(int k) => before[k];

    /// <summary>Moves that must be made before one; empty where it is not among those to make.</summary>
    internal IEnumerable<RefitMove> Before(string key) => byKey.TryGetValue(key, out var k) ? before[k].ToList().Select(Move) : [];

    /// <summary>Whether a step may be done now.</summary>
    internal bool Allowed(int k, Bits placed) => placed.Covers(before[k]) && (!choices[k] || Reaches(ops[k], ops[k], placed, Bits.Of(ops[k])));

    /// <summary>Orders the steps with the fewest tool changes.</summary>
    /// <returns>The order, or null where they have none.</returns>
    internal ToolOrder.Result? Order(ulong hand, Func<bool> stop) =>
        ToolOrder.Find([.. moves.Select(m => graph.Choices(m.Step.Tools))], Allowed, Monotone, hand, stop);

    /// <summary>The same with steps done from behind brought together, as far as no tool change is added.</summary>
    internal IReadOnlyList<int> Gathered(IReadOnlyList<int> order) => Walk.Gathered(order, [.. moves.Select(m => graph.Choices(m.Step.Tools))], Allowed,
        k => (moves[k].Step.View.Length > 0 ? moves[k].Step.View : moves[k].Operation.View) == "behind", 0);

    private void Wait(Bits those, int k)
    {
        foreach (var other in those)
        {
            if (other != k)
            {
                before[other] = before[other].With(k);
            }
        }
    }

    /// <summary>Everything an operation is reached through by groups of which one member only was removed; groups with several are told
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
                var members = (group & removed).ToList();
                choice |= members.Count > 1;
                if (members.Count == 1 && !through.Has(members[0]))
                {
                    through = through.With(members[0]);
                    open.Push(members[0]);
                }
            }
        }
        return through - Bits.Of(operation);
    }

    private bool Reaches(int operation, int from, Bits placed, Bits path)
    {
        foreach (var group in graph.InTheWay[operation])
        {
            var members = group & removed;
            if (members.IsEmpty)
            {
                continue;
            }
            var ok = false;
            foreach (var m in members - path)
            {
                ok |= (exempt.GetValueOrDefault(from).Has(m) || !Begun(m, placed)) && Reaches(m, from, placed, path.With(m));
            }
            if (!ok)
            {
                return false;
            }
        }
        return true;
    }

    private bool Begun(int operation, Bits placed) => begunBefore.Has(operation) || movesOf.GetValueOrDefault(operation).Meets(placed);
}
