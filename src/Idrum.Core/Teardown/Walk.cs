using System.Numerics;

namespace Idrum.Core.Teardown;

/// <summary>Brings steps together that are done from the same side of the machine, so that nobody walks round it more
/// often than needed:
/// among orders with the same tool changes the one with fewer walks is taken. A local search; it claims
/// nothing.</summary>
internal static class Walk
{
    private const int MostSteps = 70;

    /// <param name="order">An order that can be done.</param>
    /// <param name="tools">For each step the sets of tools that would do.</param>
    /// <param name="allowed">The steps that may come now, given what is placed.</param>
    /// <param name="behind">Whether a step is done from behind.</param>
    /// <param name="hand">Tools in hand at the start.</param>
    internal static IReadOnlyList<int> Gathered(
        IReadOnlyList<int> order,
        IReadOnlyList<ToolChoice> tools,
        Func<Bits, Bits> allowed,
        Func<int, bool> behind,
        ulong hand
    )
    {
        if (order.Count > MostSteps)
        {
            return order;
        }
        var best = order.ToList();
        var runs = Runs(best, behind);
        if (runs.Count < 3)
        {
            return best;
        }
        var most = Changes(best, tools, hand);
        for (var better = true; better && runs.Count > 2; )
        {
            better = false;
            foreach (var other in Moved(best, runs))
            {
                if (Changes(other, tools, hand) <= most && Possible(other, allowed))
                {
                    (best, runs, better) = (other, Runs(other, behind), true);
                    break;
                }
            }
        }
        return best;
    }

    /// <summary>Steps of one side that follow one another: from, and how many.</summary>
    private static List<(int From, int Count)> Runs(List<int> order, Func<int, bool> behind)
    {
        var runs = new List<(int From, int Count)>();
        for (var i = 0; i < order.Count; i++)
        {
            if (i > 0 && behind(order[i]) == behind(order[i - 1]))
            {
                runs[^1] = runs[^1] with { Count = runs[^1].Count + 1 };
            }
            else
            {
                runs.Add((i, 1));
            }
        }
        return runs;
    }

    /// <summary>Orders in which one run stands at an end of another of its side: each has fewer walks.</summary>
    private static IEnumerable<List<int>> Moved(List<int> order, List<(int From, int Count)> runs)
    {
        for (var r = 0; r < runs.Count; r++)
        {
            for (var q = r % 2; q < runs.Count; q += 2)
            {
                if (q == r)
                {
                    continue;
                }
                foreach (var to in new[] { runs[q].From, runs[q].From + runs[q].Count })
                {
                    var other = new List<int>(order);
                    other.RemoveRange(runs[r].From, runs[r].Count);
                    other.InsertRange(
                        to > runs[r].From ? to - runs[r].Count : to,
                        order.GetRange(runs[r].From, runs[r].Count)
                    );
                    yield return other;
                }
            }
        }
    }

    private static bool Possible(List<int> order, Func<Bits, Bits> allowed)
    {
        var placed = Bits.None;
        foreach (var step in order)
        {
            if (!allowed(placed).Has(step))
            {
                return false;
            }
            placed = placed.With(step);
        }
        return true;
    }

    /// <summary>Fewest tool changes of one order, over the choices of tools.</summary>
    private static int Changes(List<int> order, IReadOnlyList<ToolChoice> tools, ulong hand)
    {
        if (order.TrueForAll(step => tools[step].Sets.Length == 1))
        {
            var sum = 0;
            foreach (var step in order)
            {
                sum += BitOperations.PopCount(tools[step].Sets[0] & ~hand);
                hand = tools[step].Sets[0] == 0 ? hand : tools[step].Sets[0];
            }
            return sum;
        }
        var hands = new Dictionary<ulong, int> { [hand] = 0 };
        foreach (var step in order)
        {
            var next = new Dictionary<ulong, int>();
            foreach (var (held, changes) in hands)
            {
                foreach (var set in tools[step].Sets)
                {
                    var key = set == 0 ? held : set;
                    var sum = changes + BitOperations.PopCount(set & ~held);
                    next[key] = Math.Min(sum, next.GetValueOrDefault(key, int.MaxValue));
                }
            }
            hands = next;
        }
        return hands.Values.Min();
    }
}
