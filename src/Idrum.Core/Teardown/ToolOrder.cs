using System.Numerics;

namespace Idrum.Core.Teardown;

/// <summary>Orders steps with the fewest tool changes: A* over what is placed and which tools are in hand.</summary>
/// <remarks>A tool change is taking up a tool that the last step with tools did not use; steps by bare hand leave the
/// tools where they
/// are. Two bounds, the larger counts: the tools still needed that are not in hand, each taken up once more at least;
/// and of the kinds of step
/// still to come (steps with the same choices are one kind) what entering each costs at least from any other, only one
/// of them being entered from
/// the hand as it is. Where a step that has been placed never forbids another, a step that needs no change is placed at
/// once without loss
/// (dominance), and of steps of one kind it does not matter which comes first (symmetry).</remarks>
internal sealed class ToolOrder
{
    /// <param name="Order">Steps in order.</param>
    /// <param name="Changes">Tool changes.</param>
    /// <param name="LowerBound">No order has fewer.</param>
    internal sealed record Result(IReadOnlyList<int> Order, int Changes, int LowerBound)
    {
        internal bool Optimal => Changes == LowerBound;
    }

    private const int MostNodes = 150_000;

    private sealed record Node(Bits Placed, ulong Hand, int Changes, Node? Before, int[] Steps);

    private readonly int n;
    private readonly ToolChoice[] tools;
    private readonly int[] kindOf;
    private readonly ulong[][] kinds;
    private readonly int[] entry;
    private readonly bool complete;
    private readonly Func<Bits, Bits> allowed;
    private readonly Func<bool> stop;
    private readonly bool monotone;
    private readonly Bits all;
    private readonly Dictionary<ulong, (Bits Free, int[] Cost)> hands = [];

    private ToolOrder(ToolChoice[] tools, Func<Bits, Bits> allowed, bool monotone, Func<bool> stop)
    {
        n = tools.Length;
        this.tools = tools;
        this.allowed = allowed;
        this.monotone = monotone;
        this.stop = stop;
        complete = tools.All(t => t.Complete);
        var known = new Dictionary<string, int>();
        kindOf =
        [
            .. tools
                .Select(t => string.Join(',', t.Sets))
                .Select(k => known.TryGetValue(k, out var kind) ? kind : known[k] = known.Count),
        ];
        kinds = [.. Enumerable.Range(0, known.Count).Select(k => tools[Array.IndexOf(kindOf, k)].Sets)];
        entry = [.. Enumerable.Range(0, kinds.Length).Select(Entry)];
        all = Bits.UpTo(n);
    }

    /// <param name="tools">For each step the sets of tools that would do; ties go to the step named first.</param>
    /// <param name="allowed">The steps that may come now, given what is placed.</param>
    /// <param name="monotone">Whether placing a step never forbids another.</param>
    /// <param name="hand">Tools in hand at the start.</param>
    /// <param name="stop">Whether to stop and say the bound reached.</param>
    /// <returns>The order, or null where the steps have none, or none was found in time.</returns>
    internal static Result? Find(
        ToolChoice[] tools,
        Func<Bits, Bits> allowed,
        bool monotone,
        ulong hand,
        Func<bool> stop
    ) => new ToolOrder(tools, allowed, monotone, stop).Search(hand);

    private Result? Search(ulong hand)
    {
        var start = Closed(new(Bits.None, hand, 0, null, []));
        var root = Bound(start);
        // Where choices were left out, what was searched through is not all: then only the bound of the start counts.
        Result Told(Node end, int bound) => OrderOf(end, complete ? bound : Math.Min(bound, root));
        var best = Dive(start);
        var queue = new PriorityQueue<Node, (int, int, int)>();
        var known = new Dictionary<(Bits, ulong), int> { [(start.Placed, start.Hand)] = 0 };
        var order = 0;
        queue.Enqueue(start, (root, 0, 0));
        var dives = 0;
        while (queue.TryDequeue(out var node, out var priority))
        {
            if (best is not null && priority.Item1 >= best.Changes)
            {
                return Told(best, best.Changes);
            }
            if (node.Placed == all)
            {
                return Told(node, node.Changes);
            }
            if (known[(node.Placed, node.Hand)] < node.Changes)
            {
                continue;
            }
            if (order > MostNodes || stop())
            {
                return best is null ? null : Told(best, priority.Item1);
            }
            if (++dives % 256 == 0 && Dive(node) is { } found && (best is null || found.Changes < best.Changes))
            {
                best = found;
            }
            foreach (var next in Choices(node))
            {
                var key = (next.Placed, next.Hand);
                if (known.TryGetValue(key, out var g) && g <= next.Changes)
                {
                    continue;
                }
                var bound = Bound(next);
                if (best is not null && bound >= best.Changes)
                {
                    continue;
                }
                known[key] = next.Changes;
                queue.Enqueue(next, (bound, -next.Placed.Count, order++));
            }
        }
        return best is null ? null : Told(best, best.Changes);
    }

    private IEnumerable<Node> Choices(Node node)
    {
        var tried = Bits.None;
        foreach (var step in allowed(node.Placed))
        {
            if (monotone)
            {
                if (tried.Has(kindOf[step]))
                {
                    continue;
                }
                tried = tried.With(kindOf[step]);
            }
            foreach (var set in tools[step].Sets)
            {
                yield return Closed(Place(node, step, set));
            }
        }
    }

    private static Node Place(Node node, int step, ulong set) =>
        new(
            node.Placed.With(step),
            set == 0 ? node.Hand : set,
            node.Changes + BitOperations.PopCount(set & ~node.Hand),
            node,
            [step]
        );

    /// <summary>With every step placed that costs nothing and leaves the hand as it is.</summary>
    private Node Closed(Node node)
    {
        if (!monotone)
        {
            return node;
        }
        var placed = node.Placed;
        var free = With(node.Hand).Free;
        List<int>? more = null;
        while (free.Meets(all - placed))
        {
            var add = allowed(placed) & free;
            if (add.IsEmpty)
            {
                break;
            }
            placed |= add;
            (more ??= []).AddRange(add.ToList());
        }
        return more is null ? node : node with { Placed = placed, Steps = [.. node.Steps, .. more] };
    }

    /// <summary>Steps that need no change with these tools in hand, and what entering each kind costs from
    /// it.</summary>
    private (Bits Free, int[] Cost) With(ulong hand)
    {
        if (hands.TryGetValue(hand, out var known))
        {
            return known;
        }
        var free = Bits.Of(Enumerable.Range(0, n).Where(step => tools[step].Sets.Any(set => set == 0 || set == hand)));
        return hands[hand] = (free, [.. kinds.Select(sets => sets.Min(set => BitOperations.PopCount(set & ~hand)))]);
    }

    /// <summary>What entering a kind costs at least, from any step of another kind; nothing where not all of its
    /// choices are looked at.</summary>
    private int Entry(int kind)
    {
        if (!complete)
        {
            return 0;
        }
        var least = int.MaxValue;
        for (var other = 0; other < kinds.Length; other++)
        {
            foreach (var from in other == kind ? [] : kinds[other])
            {
                foreach (var set in kinds[kind])
                {
                    least = from == 0 ? least : Math.Min(least, BitOperations.PopCount(set & ~from));
                }
            }
        }
        return least == int.MaxValue ? kinds[kind].Min(BitOperations.PopCount) : least;
    }

    private int Bound(Node node)
    {
        var (needed, seen, sum, saved) = (0UL, Bits.None, 0, 0);
        var cost = With(node.Hand).Cost;
        foreach (var step in all - node.Placed)
        {
            needed |= tools[step].Surely;
            var kind = kindOf[step];
            if (seen.Has(kind))
            {
                continue;
            }
            seen = seen.With(kind);
            sum += entry[kind];
            saved = Math.Max(saved, entry[kind] - cost[kind]);
        }
        return node.Changes + Math.Max(BitOperations.PopCount(needed & ~node.Hand), sum - saved);
    }

    /// <summary>Straight to the end from a node: always the step of fewest changes, of these the one whose tools serve
    /// most.</summary>
    private Node? Dive(Node node)
    {
        while (node.Placed != all)
        {
            Node? pick = null;
            foreach (var next in Choices(node))
            {
                if (
                    pick is null
                    || (next.Changes, -next.Placed.Count).CompareTo((pick.Changes, -pick.Placed.Count)) < 0
                )
                {
                    pick = next;
                }
            }
            if (pick is null)
            {
                return monotone ? null : Backtrack(node);
            }
            node = pick;
        }
        return node;
    }

    /// <summary>Any order at all, where placing may forbid: depth first over all.</summary>
    private Node? Backtrack(Node from)
    {
        var root = from;
        while (root.Before is not null)
        {
            root = root.Before;
        }
        var dead = new HashSet<Bits>();
        Node? Go(Node node)
        {
            if (node.Placed == all)
            {
                return node;
            }
            if (dead.Contains(node.Placed) || dead.Count > 50_000 || dead.Count % 64 == 63 && stop())
            {
                return null;
            }
            foreach (var next in Choices(node))
            {
                if (Go(next) is { } found)
                {
                    return found;
                }
            }
            dead.Add(node.Placed);
            return null;
        }
        return Go(root);
    }

    private static Result OrderOf(Node end, int bound)
    {
        var order = new List<int[]>();
        for (Node? at = end; at is not null; at = at.Before)
        {
            order.Add(at.Steps);
        }
        order.Reverse();
        return new([.. order.SelectMany(s => s)], end.Changes, Math.Min(bound, end.Changes));
    }
}
