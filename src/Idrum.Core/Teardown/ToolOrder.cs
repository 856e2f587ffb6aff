using System.Numerics;

namespace Idrum.Core.Teardown;

/// <summary>Orders a set of steps with the fewest tool changes: dynamic programming over what is already placed and which
/// tools are in hand (Held and Karp's scheme under precedence constraints). Ties go to the order of the layout.</summary>
/// <remarks>A tool change is taking up a tool that the last step with tools did not use; steps by bare hand leave the tools
/// where they are. A step that needs no change and leaves the hand as it is can be placed at once without loss.</remarks>
internal static class ToolOrder
{
    internal sealed record Result(IReadOnlyList<int> Order, int Changes, bool Optimal);

    /// <param name="set">Steps to place, one bit each.</param>
    /// <param name="tools">Tools of each step.</param>
    /// <param name="allowed">Whether a step may come now, given what is placed.</param>
    /// <param name="maxStates">Where to stop and go on greedily.</param>
    internal static Result Find(ulong set, IReadOnlyList<ulong> tools, Func<int, ulong, bool> allowed, int maxStates = 400_000)
    {
        var memo = new Dictionary<(ulong Placed, ulong Hand), int>();
        var cut = false;
        int Best(ulong placed, ulong hand)
        {
            if (placed == set)
            {
                return 0;
            }
            if (memo.TryGetValue((placed, hand), out var known))
            {
                return known;
            }
            if (memo.Count >= maxStates)
            {
                cut = true;
                return BitOperations.PopCount(set & ~placed);
            }
            var best = int.MaxValue / 2;
            foreach (var (step, change, nextHand) in Choices(placed, hand))
            {
                best = Math.Min(best, change + Best(placed | 1UL << step, nextHand));
            }
            return memo[(placed, hand)] = best;
        }
        List<(int Step, int Change, ulong Hand)> Choices(ulong placed, ulong hand)
        {
            var choices = new List<(int, int, ulong)>();
            for (var rest = set & ~placed; rest != 0; rest &= rest - 1)
            {
                var step = BitOperations.TrailingZeroCount(rest);
                if (!allowed(step, placed))
                {
                    continue;
                }
                if (tools[step] == 0 || tools[step] == hand)
                {
                    return [(step, 0, hand)];
                }
                choices.Add((step, BitOperations.PopCount(tools[step] & ~hand), tools[step]));
            }
            return choices;
        }

        var order = new List<int>();
        var total = 0;
        ulong at = 0, inHand = 0;
        while (at != set)
        {
            var options = Choices(at, inHand);
            if (options.Count == 0)
            {
                throw new InvalidOperationException("The set of steps has no order.");
            }
            var (step, change, hand) = options.MinBy(o => o.Change + Best(at | 1UL << o.Step, o.Hand));
            order.Add(step);
            total += change;
            at |= 1UL << step;
            inHand = hand;
        }
        return new(order, total, !cut);
    }
}
