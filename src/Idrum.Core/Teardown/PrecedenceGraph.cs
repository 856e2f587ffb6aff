using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>The AND/OR graph of a layout's removal operations: an operation may be done when of each of its groups at
/// least one
/// operation has been done. After Homem de Mello and Sanderson, "AND/OR graph representation of assembly plans", IEEE
/// Trans. Robotics and Automation 6(2), 1990.</summary>
/// <remarks>An obstacle that is not on this machine stays in the graph as a node that costs nothing and happens by
/// itself as soon as what stood
/// in its way is out: it is passed through, and what needed it waits for what it waited for.</remarks>
public sealed class PrecedenceGraph
{
    private readonly Dictionary<OperationId, int> index;
    private readonly IReadOnlyList<Operation> nodes;
    private readonly Dictionary<string, int> toolIndex;

    /// <summary>Builds the graph.</summary>
    /// <param name="layout">A layout with unique ids and no dangling ones, its conditions decided.</param>
    /// <param name="absent">Operations of it that are obstacles this machine does not have; unknown ids are passed
    /// over.</param>
    /// <param name="leftOut">Operations that only prudence wanted first and the repairer left out: no group of <see
    /// cref="Operation.First"/> asks for them.</param>
    /// <exception cref="ArgumentException">More than <see cref="Layout.MostOperations"/> operations.</exception>
    public PrecedenceGraph(
        Layout layout,
        IEnumerable<OperationId>? absent = null,
        IEnumerable<OperationId>? leftOut = null
    )
    {
        nodes = [.. layout.Operations, .. layout.Passed];
        if (nodes.Count > Layout.MostOperations)
        {
            throw new ArgumentException(
                $"A layout may have {Layout.MostOperations} operations at most.",
                nameof(layout)
            );
        }
        Layout = layout;
        index = nodes.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        Absent = SetOf(absent ?? []) & Bits.UpTo(layout.Operations.Count);
        Virtual = Absent | Bits.Of(Enumerable.Range(layout.Operations.Count, layout.Passed.Count));
        InTheWay = [.. nodes.Select(o => o.Needs.Select(SetOf).ToArray())];
        LeftOut = SetOf(leftOut ?? []);
        // Prudence asks for what is here: of a group with an obstacle that is not, it asks nothing.
        var settled = Absent | LeftOut;
        Needs =
        [
            .. nodes.Select(
                (o, i) =>
                    Virtual.Has(i)
                        ? InTheWay[i]
                        : InTheWay[i].Concat(o.First.Select(SetOf).Where(g => !g.Meets(settled))).ToArray()
            ),
        ];
        var stillOut = nodes
            .Select(
                (o, i) =>
                    Virtual.Has(i)
                        ? Bits.None
                        : Bits.Of(o.Steps.SelectMany(s => s.StillOut).Select(IndexOf).Where(k => k >= 0 && k != i))
                            - Virtual
            )
            .ToArray();
        StillOut = stillOut;
        SetNeeds =
        [
            .. nodes.Select((_, i) => Needs[i].Concat(stillOut[i].ToList().Select(Bits.Of)).Distinct().ToArray()),
        ];
        OrderedNeeds = WithOrder(stillOut);
        Cost = [.. nodes.Select((o, i) => Virtual.Has(i) ? 0 : (long)Math.Round(100 * o.TypicalMinutes))];
        ToolIds =
        [
            .. layout
                .Operations.SelectMany(o => o.Tools.Concat(o.Steps.SelectMany(s => s.Tools)))
                .SelectMany(t => t.Any)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
        toolIndex = ToolIds.Select((t, i) => (t, i)).ToDictionary(p => p.t, p => p.i);
        Tools = [.. nodes.Select((o, i) => Virtual.Has(i) ? ToolChoice.None : Choices(o.Tools))];
        Reachable = Doable(Bits.UpTo(nodes.Count), Bits.None);
    }

    /// <summary>The layout it was made of.</summary>
    public Layout Layout { get; }

    /// <summary>How many nodes there are: operations of the layout, then those passed through by a condition.</summary>
    public int Count => nodes.Count;

    /// <summary>Operations of the layout said to be no obstacle on this machine.</summary>
    public Bits Absent { get; }

    /// <summary>Operations that only prudence wanted first and that were left out.</summary>
    public Bits LeftOut { get; }

    /// <summary>Nodes that are passed through: no act, no minutes, nothing to put back.</summary>
    public Bits Virtual { get; }

    /// <summary>For each node the groups physically in its way: what the way back mirrors.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> InTheWay { get; }

    /// <summary>For each node the groups of alternatives that come before it: what is in the way and what prudence
    /// wants first.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> Needs { get; }

    /// <summary>For each node what its refit steps want to be out still: it joins the plan, in no order on the way
    /// out.</summary>
    public IReadOnlyList<Bits> StillOut { get; }

    /// <summary><see cref="Needs"/> with <see cref="StillOut"/>: what joins the plan with it.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> SetNeeds { get; }

    /// <summary><see cref="Needs"/> with those of <see cref="StillOut"/> that may be thought to come before without
    /// losing any set: no circle of
    /// needs leads back from them.</summary>
    public IReadOnlyList<IReadOnlyList<Bits>> OrderedNeeds { get; }

    /// <summary>Typical minutes out plus in, in hundredths, so that sums compare exactly.</summary>
    public IReadOnlyList<long> Cost { get; }

    /// <summary>Tools in the order of the bits of <see cref="Tools"/>.</summary>
    public IReadOnlyList<string> ToolIds { get; }

    /// <summary>For each node the sets of tools that would do.</summary>
    public IReadOnlyList<ToolChoice> Tools { get; }

    /// <summary>Nodes that can ever be done.</summary>
    public Bits Reachable { get; }

    /// <summary>Place of an operation, or -1.</summary>
    public int IndexOf(OperationId operationId) => index.GetValueOrDefault(operationId, -1);

    /// <summary>The operation of a node.</summary>
    public Operation Node(int i) => nodes[i];

    /// <summary>Set of operation ids; unknown ids are passed over.</summary>
    public Bits SetOf(IEnumerable<OperationId> operationIds) =>
        Bits.Of(operationIds.Select(IndexOf).Where(i => i >= 0));

    /// <summary>Bits of tool ids; unknown ones are passed over.</summary>
    public ulong ToolMask(IEnumerable<string> tools) =>
        tools.Aggregate(0UL, (m, id) => toolIndex.TryGetValue(id, out var t) ? m | 1UL << t : m);

    /// <summary>Sets of tools that would do for a step.</summary>
    public ToolChoice Choices(IReadOnlyList<ToolUse> tools) => ToolChoice.Of(tools, t => ToolMask([t]));

    /// <summary>Nodes after any one of which the part can be replaced. Where something that is here frees it, what is
    /// not here by a condition does not.</summary>
    public Bits FreeingOperations(PartId partId)
    {
        var freeing = Bits.Of(
            Enumerable
                .Range(0, nodes.Count)
                .Where(i => nodes[i].Frees.Contains(partId) || nodes[i].TakesOff.Contains(partId))
        );
        var here = freeing & Bits.UpTo(Layout.Operations.Count);
        return here.IsEmpty ? freeing : here;
    }

    /// <summary>The part of a set that can be done in some order, starting from what is done, with all that joins the
    /// plan.</summary>
    public Bits Orderable(Bits set, Bits done) => InOrder(set, done, OrderedNeeds);

    /// <summary>The part of a set that a repairer can do in some order, starting from what is done.</summary>
    public Bits Doable(Bits set, Bits done) => InOrder(set, done, Needs);

    /// <summary>The part of a set that can be done in some order where everything that only prudence wants first is
    /// left out.</summary>
    public Bits Possible(Bits set, Bits done) => InOrder(set, done, InTheWay);

    /// <summary>What is done, with all that is passed through once it is.</summary>
    /// <param name="done">Operations that are out.</param>
    public Bits WithPassed(Bits done) => Virtual.IsEmpty ? done : done | InOrder(Virtual, done, InTheWay);

    /// <summary>Whether a node may be done when these are done, these with what is passed through.</summary>
    public bool Allowed(int i, Bits done) => Served(Needs[i], done);

    /// <summary>Operations that are missing before one may be done: of each group that lacks, what would serve it; what
    /// is passed through is
    /// named by what stands behind it.</summary>
    /// <param name="groups">Groups of the operation, from <see cref="InTheWay"/> or <see cref="Needs"/>.</param>
    /// <param name="done">What is out.</param>
    public IReadOnlyList<Bits> Missing(IEnumerable<Bits> groups, Bits done)
    {
        var have = WithPassed(done);
        var missing = new List<Bits>();
        var seen = Bits.None;
        var open = new Queue<Bits>(groups);
        while (open.TryDequeue(out var group))
        {
            if (group.Meets(have))
            {
                continue;
            }
            var real = group - Virtual;
            if (!real.IsEmpty)
            {
                missing.Add(real);
            }
            foreach (var v in (group & Virtual) - seen)
            {
                seen = seen.With(v);
                if (real.IsEmpty)
                {
                    foreach (var behind in InTheWay[v])
                    {
                        open.Enqueue(behind);
                    }
                }
            }
        }
        return [.. missing.Distinct()];
    }

    /// <summary>Minutes, in hundredths, of a set.</summary>
    public long CostOf(Bits set)
    {
        var sum = 0L;
        foreach (var i in set)
        {
            sum += Cost[i];
        }
        return sum;
    }

    private static Bits InOrder(Bits set, Bits done, IReadOnlyList<IReadOnlyList<Bits>> needs)
    {
        var placed = Bits.None;
        for (var grew = true; grew; )
        {
            grew = false;
            foreach (var i in set - placed)
            {
                if (Served(needs[i], placed | done))
                {
                    placed = placed.With(i);
                    grew = true;
                }
            }
        }
        return placed;
    }

    private static bool Served(IReadOnlyList<Bits> groups, Bits done)
    {
        for (var g = 0; g < groups.Count; g++)
        {
            if (!groups[g].Meets(done))
            {
                return false;
            }
        }
        return true;
    }

    /// <summary>What may stand before an operation in some set, followed to its end. What a step wants out still is
    /// taken as coming before only where
    /// it does not itself follow from the operation: then every set that holds both has an order with it
    /// first.</summary>
    private IReadOnlyList<Bits>[] WithOrder(Bits[] stillOut)
    {
        var ahead = Needs.Select(groups => groups.Aggregate(Bits.None, (s, g) => s | g)).ToArray();
        var before = new IReadOnlyList<Bits>[nodes.Count];
        var reach = new Bits[nodes.Count];
        for (var i = 0; i < nodes.Count; i++)
        {
            reach[i] = Reach(i, ahead);
        }
        for (var i = 0; i < nodes.Count; i++)
        {
            var taken = new List<Bits>();
            foreach (var m in stillOut[i])
            {
                if (reach[m].Has(i))
                {
                    continue;
                }
                taken.Add(Bits.Of(m));
                if (!ahead[i].Has(m))
                {
                    ahead[i] = ahead[i].With(m);
                    for (var k = 0; k < nodes.Count; k++)
                    {
                        reach[k] = k == i || reach[k].Has(i) ? reach[k] | reach[m].With(m) : reach[k];
                    }
                }
            }
            before[i] = [.. Needs[i].Concat(taken).Distinct()];
        }
        return before;
    }

    private static Bits Reach(int from, Bits[] ahead)
    {
        var reached = Bits.None;
        var open = new Stack<int>([from]);
        while (open.TryPop(out var i))
        {
            foreach (var k in ahead[i] - reached)
            {
                reached = reached.With(k);
                open.Push(k);
            }
        }
        return reached;
    }
}
