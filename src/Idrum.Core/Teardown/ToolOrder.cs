using System.Numerics;

namespace Idrum.Core.Teardown;

/// <summary>Orders steps with the fewest tool changes: A* over what is placed and which tools are in hand.</summary>
/// <remarks>A tool change is taking up a tool that the last step with tools did not use; steps by bare hand leave the tools where they
/// are. The bound counts the tools still needed that are not in hand: each must be taken up once more at least. Where a step that has
/// been placed never forbids another, a step that needs no change is placed at once without loss (dominance), and of steps with the same
/// tools it does not matter which comes first (symmetry).</remarks>
internal sealed class ToolOrder
{
    /// <param name="Order">Steps in order.</param>
    /// <param name="Changes">Tool changes.</param>
    /// <param name="LowerBound">No order has fewer.</param>
    internal sealed record Result(IReadOnlyList<int> Order, int Changes, int LowerBound)
    {
        internal bool Optimal => Changes == LowerBound;
    }

    private const int MostNodes = 30_000;

    private sealed record Node(Bits Placed, ulong Hand, int Changes, Node? Before, int[] Steps);

    private readonly int n;
    private readonly IReadOnlyList<ulong[]> tools;
    private readonly int[] kinds;
    private readonly ulong[] surely;
    private readonly Func<int, Bits, bool> allowed;
    private readonly bool monotone;
    private readonly Bits all;

    private ToolOrder(IReadOnlyList<ulong[]> tools, Func<int, Bits, bool> allowed, bool monotone)
    {
        n = tools.Count;
        this.tools = tools;
        var known = new Dictionary<string, int>();
        kinds = [.. tools.Select(t => string.Join(',', t)).Select(k => known.TryGetValue(k, out var kind) ? kind : known[k] = known.Count)];
        surely = [.. tools.Select(t => t.Aggregate(ulong.MaxValue, (s, o) => s & o))];
        this.allowed = allowed;
        this.monotone = monotone;
        all = Bits.UpTo(n);
    }

    /// <param name="tools">For each step the sets of tools that would do, the usual one first; ties go to the step named first.</param>
    /// <param name="allowed">Whether a step may come now, given what is placed.</param>
    /// <param name="monotone">Whether placing a step never forbids another.</param>
    /// <param name="hand">Tools in hand at the start.</param>
    /// <param name="stop">Whether to stop and say the bound reached.</param>
    /// <returns>The order, or null where the steps have none.</returns>
    internal static Result? Find(IReadOnlyList<ulong[]> tools, Func<int, Bits, bool> allowed, bool monotone, ulong hand, Func<bool> stop) =>
        new ToolOrder(tools, allowed, monotone).Search(hand, stop);

    private Result? Search(ulong hand, Func<bool> stop)
    {
        var start = Closed(new(Bits.None, hand, 0, null, []));
        var best = Dive(start);
        var queue = new PriorityQueue<Node, (int, int, int)>();
        var known = new Dictionary<(Bits, ulong), int> { [(start.Placed, start.Hand)] = 0 };
        var order = 0;
        queue.Enqueue(start, (Bound(start), 0, 0));
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
                known[key] = next.Changes;
                queue.Enqueue(next, (Bound(next), -next.Placed.Count, order++));
            }
        }
        return best is null ? null : Told(best, best.Changes);
    }

    private IEnumerable<Node> Choices(Node node)
    {
        var tried = new HashSet<int>();
        foreach (var step in all - node.Placed)
        {
            if (!allowed(step, node.Placed) || monotone && !tried.Add(kinds[step]))
            {
                continue;
            }
            foreach (var set in tools[step])
            {
                yield return Closed(Place(node, step, set));
            }
        }
    }

    private static Node Place(Node node, int step, ulong set) => new(node.Placed.With(step), set == 0 ? node.Hand : set,
        node.Changes + BitOperations.PopCount(set & ~node.Hand), node, [step]);

    /// <summary>With every step placed that costs nothing and leaves the hand as it is.</summary>
    private Node Closed(Node node)
    {
        if (!monotone)
        {
            return node;
        }
        var placed = node.Placed;
        List<int>? more = null;
        for (var grew = true; grew;)
        {
            grew = false;
            foreach (var step in all - placed)
            {
                if (Free(step, node.Hand) && allowed(step, placed))
                {
                    placed = placed.With(step);
                    (more ??= []).Add(step);
                    grew = true;
                }
            }
        }
        return more is null ? node : node with { Placed = placed, Steps = [.. node.Steps, .. more] };
    }

    private bool Free(int step, ulong hand)
    {
        foreach (var set in tools[step])
        {
            if (set == 0 || set == hand)
            {
                return true;
            }
        }
        return false;
    }

    private int Bound(Node node)
    {
        var needed = 0UL;
        foreach (var step in all - node.Placed)
        {
            needed |= surely[step];
        }
        return node.Changes + BitOperations.PopCount(needed & ~node.Hand);
    }

    /// <summary>Straight to the end from a node: always the step of fewest changes, of these the one whose tools serve most.</summary>
    private Node? Dive(Node node)
    {
        while (node.Placed != all)
        {
            Node? pick = null;
            foreach (var next in Choices(node))
            {
                if (pick is null || (next.Changes, -next.Placed.Count).CompareTo((pick.Changes, -pick.Placed.Count)) < 0)
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
            if (dead.Contains(node.Placed) || dead.Count > 50_000)
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

    private static Result Told(Node end, int bound)
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
