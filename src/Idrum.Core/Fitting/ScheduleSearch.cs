using System.Diagnostics;

namespace Idrum.Core.Fitting;

/// <summary>Puts chores in time for one or two persons so that the last is over as early as can be: branch and bound over the orders of their
/// starts. Least and longest waits are kept as longest paths (a longest wait is an arc back with negative length); after Brucker, Hilbig and
/// Hurink, "A branch and bound algorithm for a single-machine scheduling problem with positive and negative time-lags", Discrete Applied
/// Mathematics 94 (1999). Bound for one person: the rest done in pieces, always what has the longest tail (Jackson's preemptive rule).</summary>
public sealed class ScheduleSearch
{
    private const int None = int.MinValue / 4;
    private const int MostKept = 200_000;
    private readonly ScheduleProblem problem;
    private readonly int n;
    private readonly int[] takes;
    private readonly int[] persons;
    // Longest paths from start to start; None where there is no path.
    private readonly int[,] path;
    // Seconds from a start to the end of everything that follows from it.
    private readonly int[] tail;
    private readonly int[] first;
    // Latest start, for its own sake and for what follows; MaxValue where there is none.
    private readonly int[] latest;
    private readonly bool[] free;
    private readonly bool circle;
    private readonly CancellationToken cancellation;
    private readonly long ends;
    private int best = int.MaxValue;
    private int[]? bestStarts;
    private bool stopped;
    private bool anyWill;
    private long nodes;
    // Beginnings gone through: what is done → when what may still move starts.
    private readonly Dictionary<string, List<int[]>> seen = [];
    private int kept;

    private ScheduleSearch(ScheduleProblem problem, TimeSpan limit, CancellationToken cancellation)
    {
        this.problem = problem;
        this.cancellation = cancellation;
        ends = limit == Timeout.InfiniteTimeSpan ? long.MaxValue : Stopwatch.GetTimestamp() + (long)(limit.TotalSeconds * Stopwatch.Frequency);
        n = problem.Chores.Count;
        takes = [.. problem.Chores.Select(c => c.Seconds)];
        persons = [.. problem.Chores.Select(c => c.Persons)];
        path = new int[n, n];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
            {
                path[i, j] = i == j ? 0 : None;
            }
        }
        var at = problem.Chores.Select((c, i) => (c.Id, i)).ToDictionary(x => x.Id, x => x.i);
        free = [.. problem.Chores.Select(c => c is { From: 0, Until: null, Tail: 0 })];
        foreach (var lag in problem.Lags)
        {
            var (i, j) = (at[lag.From], at[lag.To]);
            path[i, j] = Math.Max(path[i, j], takes[i] + lag.Min);
            if (lag.Max is { } max)
            {
                path[j, i] = Math.Max(path[j, i], -takes[i] - max);
            }
            free[i] = free[j] = false;
        }
        for (var k = 0; k < n; k++)
        {
            for (var i = 0; i < n; i++)
            {
                if (path[i, k] == None) continue;
                for (var j = 0; j < n; j++)
                {
                    if (path[k, j] != None)
                    {
                        path[i, j] = Math.Max(path[i, j], path[i, k] + path[k, j]);
                    }
                }
            }
        }
        circle = Enumerable.Range(0, n).Any(i => path[i, i] > 0);
        var own = problem.Chores.Select(c => c.Seconds + c.Tail).ToArray();
        tail = [.. Enumerable.Range(0, n).Select(i => Enumerable.Range(0, n).Where(j => path[i, j] != None).Max(j => path[i, j] + own[j]))];
        latest = [.. Enumerable.Range(0, n).Select(i => Enumerable.Range(0, n).Where(j => path[i, j] != None && problem.Chores[j].Until is not null)
            .Select(j => problem.Chores[j].Until!.Value - path[i, j]).DefaultIfEmpty(int.MaxValue).Min())];
        first = new int[n];
        for (var i = 0; i < n; i++)
        {
            for (var j = 0; j < n; j++)
            {
                if (path[i, j] != None)
                {
                    first[j] = Math.Max(first[j], problem.Chores[i].From + path[i, j]);
                }
            }
        }
    }

    /// <summary>The earliest schedule.</summary>
    /// <param name="problem">Chores and lags; checked before, see <see cref="ScheduleProblem.Check"/>.</param>
    /// <param name="keep">Order shown until now, chore ids: it stays unless another is over a minute or more earlier. Chores it does not name are free.</param>
    /// <param name="limit">How long to search; when it is over the best so far is given with its bound. Null: 100 ms.</param>
    /// <param name="cancellation">Ends it with <see cref="OperationCanceledException"/>.</param>
    /// <param name="explain">Where there is no way: whether to look for the lag that breaks it.</param>
    /// <exception cref="ArgumentException">The problem is none.</exception>
    public static Schedule Solve(ScheduleProblem problem, IReadOnlyList<string>? keep = null, TimeSpan? limit = null, bool explain = true, CancellationToken cancellation = default)
    {
        if (problem.Check() is { Count: > 0 } faults)
        {
            throw new ArgumentException(faults[0].Pointer + ": " + faults[0].Message, nameof(problem));
        }
        if (problem.Chores.Count == 0)
        {
            return new([], 0, 0, true);
        }
        var search = new ScheduleSearch(problem, limit ?? TimeSpan.FromMilliseconds(100), cancellation);
        int[]? kept = null;
        var keptEnd = int.MaxValue;
        if (keep is not null && !search.circle)
        {
            kept = search.StartsInOrder(keep);
            if (kept is not null)
            {
                keptEnd = search.EndOf(kept);
                (search.best, search.bestStarts) = (keptEnd, kept);
            }
        }
        search.Run();
        var bound = search.stopped ? Math.Min(search.RootBound(), search.best) : search.best;
        if (search.bestStarts is null)
        {
            return new([], -1, search.circle ? 0 : search.RootBound(), !search.stopped, search.stopped || !explain ? null : BrokenLag(problem, cancellation));
        }
        var starts = kept is not null && keptEnd - search.best < 60 ? kept : search.bestStarts;
        var end = search.EndOf(starts);
        return new(search.Items(starts), end, bound, !search.stopped && end == search.best);
    }

    /// <summary>When the chores are done in an order that is given; null where lags then cannot be kept.</summary>
    /// <param name="problem">Chores and lags.</param>
    /// <param name="order">Chore ids in the order of their starts.</param>
    public static Schedule? InOrder(ScheduleProblem problem, IReadOnlyList<string> order)
    {
        var search = new ScheduleSearch(problem, Timeout.InfiniteTimeSpan, default);
        return !search.circle && search.StartsInOrder(order) is { } starts ? new(search.Items(starts), search.EndOf(starts), search.RootBound(), false) : null;
    }

    /// <summary>A lag whose longest wait breaks it: without it there is a way.</summary>
    private static TimeLag? BrokenLag(ScheduleProblem problem, CancellationToken cancellation)
    {
        foreach (var lag in problem.Lags.Where(l => l.Max is not null))
        {
            var without = problem with { Lags = [.. problem.Lags.Select(l => ReferenceEquals(l, lag) ? l with { Max = null } : l)] };
            var search = new ScheduleSearch(without, TimeSpan.FromMilliseconds(200), cancellation) { anyWill = true };
            search.Run();
            if (search.bestStarts is not null)
            {
                return lag;
            }
        }
        return null;
    }

    private List<ScheduledChore> Items(int[] starts) =>
        [.. Enumerable.Range(0, n).OrderBy(i => starts[i]).ThenBy(i => starts[i] + takes[i]).Select(i => new ScheduledChore(problem.Chores[i].Id, starts[i], starts[i] + takes[i]))];

    private int EndOf(int[] starts) => Enumerable.Range(0, n).Max(i => starts[i] + takes[i] + problem.Chores[i].Tail);

    private int RootBound() => new Node(this).Bound();

    private void Run()
    {
        if (!circle)
        {
            Branch(new Node(this));
        }
    }

    private int[]? StartsInOrder(IReadOnlyList<string> order)
    {
        var at = problem.Chores.Select((c, i) => (c.Id, i)).ToDictionary(x => x.Id, x => x.i);
        var row = order.Where(at.ContainsKey).Select(id => at[id]).Distinct().ToList();
        if (row.Count < n)
        {
            return null;
        }
        var node = new Node(this);
        foreach (var chore in row)
        {
            // The person who is free first takes it.
            var next = node.Children(chore).OrderBy(c => c.Start(chore)).FirstOrDefault();
            if (next is null)
            {
                return null;
            }
            node = next;
        }
        return node.Starts;
    }

    private void Branch(Node node)
    {
        if ((++nodes & 255) == 0)
        {
            cancellation.ThrowIfCancellationRequested();
            stopped |= Stopwatch.GetTimestamp() > ends;
        }
        if (stopped || anyWill && bestStarts is not null)
        {
            return;
        }
        if (node.Complete)
        {
            var end = EndOf(node.Starts);
            if (end < best)
            {
                (best, bestStarts) = (end, [.. node.Starts]);
            }
            return;
        }
        if (Seen(node))
        {
            return;
        }
        var children = node.Open().SelectMany(node.Children).Select(c => (Node: c, Bound: c.Bound())).Where(c => c.Bound < best)
            .OrderBy(c => c.Bound).ThenBy(c => c.Node.Start(c.Node.Last)).ThenByDescending(c => tail[c.Node.Last]).ToList();
        foreach (var (child, bound) in children)
        {
            if (bound < best)
            {
                Branch(child);
            }
        }
    }

    /// <summary>Whether another beginning with the same chores was gone through after which nothing starts later: then whatever follows here follows there
    /// as early.</summary>
    private bool Seen(Node node)
    {
        if (node.Front() is not var (key, front))
        {
            return false;
        }
        if (!seen.TryGetValue(key, out var others))
        {
            seen[key] = others = [];
        }
        foreach (var other in others)
        {
            var later = false;
            for (var i = 0; i < front.Length && !later; i++)
            {
                later = other[i] > front[i];
            }
            if (!later)
            {
                return true;
            }
        }
        if (kept < MostKept)
        {
            kept++;
            others.Add(front);
        }
        return false;
    }

    /// <summary>Chores put in the order of their starts so far, with the earliest start of every chore.</summary>
    private sealed class Node
    {
        private readonly ScheduleSearch search;
        private readonly int[] order;
        private readonly int[] start;
        // What each chore of the order comes after on the hands that do it; −1 where nothing.
        private readonly int[] afterOne;
        private readonly int[] afterTwo;
        private readonly int lastOne = -1;
        private readonly int lastTwo = -1;
        private readonly int count;
        private readonly ulong done;

        public Node(ScheduleSearch search)
        {
            this.search = search;
            order = [];
            start = [.. search.first];
            afterOne = afterTwo = [];
        }

        private Node(Node parent, int chore, bool second)
        {
            search = parent.search;
            count = parent.count + 1;
            order = [.. parent.order, chore];
            done = parent.done | (1UL << chore);
            start = [.. parent.start];
            (lastOne, lastTwo) = (parent.lastOne, parent.lastTwo);
            var both = search.persons[chore] == 2;
            var (one, two) = both ? (lastOne, lastTwo) : second ? (lastTwo, -1) : (lastOne, -1);
            afterOne = [.. parent.afterOne, one];
            afterTwo = [.. parent.afterTwo, two];
            if (both || !second)
            {
                lastOne = chore;
            }
            if (both || second)
            {
                lastTwo = chore;
            }
        }

        public int[] Starts => start;

        /// <summary>What tells how a beginning goes on: what is done, and in which order from the first chore that a longest wait may still move; with it
        /// when the done before that are over, when the moved ones and the rest start at the earliest and, for two, when hands are free. Null where it
        /// cannot be compared.</summary>
        public (string Key, int[] Front)? Front()
        {
            var (s, two) = (search, search.problem.Persons == 2);
            var from = count;
            for (var moved = true; moved;)
            {
                moved = false;
                for (var k = 0; k < from; k++)
                {
                    if (Moves(order[k], from))
                    {
                        (from, moved) = (k, true);
                    }
                }
            }
            if (from == 0 || two && from < count)
            {
                return null;
            }
            var front = new int[s.n - from + (two ? 3 : 1)];
            var at = 1;
            for (var k = 0; k < count; k++)
            {
                if (k < from)
                {
                    front[0] = Math.Max(front[0], start[order[k]] + s.takes[order[k]] + s.problem.Chores[order[k]].Tail);
                }
                else
                {
                    front[at++] = start[order[k]];
                }
            }
            for (var j = 0; j < s.n; j++)
            {
                if (!Done(j))
                {
                    front[at++] = start[j];
                }
            }
            if (two)
            {
                (front[at], front[at + 1]) = (Math.Min(EndOn(lastOne), EndOn(lastTwo)), Math.Max(EndOn(lastOne), EndOn(lastTwo)));
            }
            return (string.Create(null, stackalloc char[64], $"{done:x} ") + new string([.. order[from..].Select(c => (char)('0' + c))]), front);
        }

        /// <summary>Whether a chore that is done may be moved on by one that is not, or by one done from a place of the order on.</summary>
        private bool Moves(int chore, int from)
        {
            for (var j = 0; j < search.n; j++)
            {
                if (!Done(j) && search.path[j, chore] != None)
                {
                    return true;
                }
            }
            for (var k = from; k < count; k++)
            {
                if (search.path[order[k], chore] != None)
                {
                    return true;
                }
            }
            return false;
        }

        public bool Complete => count == search.n;

        public int Last => order[^1];

        public int Start(int chore) => start[chore];

        private bool Done(int chore) => (done >> chore & 1) != 0;

        /// <summary>Chores that may start next: none that waits for one that has not started.</summary>
        public IEnumerable<int> Open()
        {
            for (var j = 0; j < search.n; j++)
            {
                if (!Done(j) && !Waits(j) && !Twin(j))
                {
                    yield return j;
                }
            }
        }

        private bool Waits(int j)
        {
            for (var i = 0; i < search.n; i++)
            {
                if (i != j && !Done(i) && (search.path[i, j] > 0 || search.path[i, j] == 0 && search.path[j, i] < 0))
                {
                    return true;
                }
            }
            return false;
        }

        /// <summary>Two chores with nothing between them and the rest may change places: only one order is tried.</summary>
        private bool Twin(int j) => search.problem.Persons == 1 && count > 0 && search.free[j] && search.free[Last] && j < Last;

        /// <summary>The order with one more chore: by whom, where there are two; none where lags are then broken or it is too late.</summary>
        public IEnumerable<Node> Children(int chore)
        {
            var one = new Node(this, chore, false);
            if (one.Settle())
            {
                yield return one;
            }
            if (search.problem.Persons == 2 && search.persons[chore] == 1 && lastOne != lastTwo)
            {
                var two = new Node(this, chore, true);
                if (two.Settle())
                {
                    yield return two;
                }
            }
        }

        /// <summary>Moves starts up until all is kept; false where that has no end or comes too late.</summary>
        private bool Settle()
        {
            var (s, n) = (search, search.n);
            for (var round = 0; round <= n + 1; round++)
            {
                var moved = false;
                for (var k = 0; k < count; k++)
                {
                    var chore = order[k];
                    var from = k > 0 ? start[order[k - 1]] : 0;
                    if (afterOne[k] >= 0)
                    {
                        from = Math.Max(from, start[afterOne[k]] + s.takes[afterOne[k]]);
                    }
                    if (afterTwo[k] >= 0)
                    {
                        from = Math.Max(from, start[afterTwo[k]] + s.takes[afterTwo[k]]);
                    }
                    moved |= Raise(chore, from);
                }
                var next = s.problem.Persons == 1 ? start[Last] + s.takes[Last]
                    : Math.Max(start[Last], Math.Min(EndOn(lastOne), EndOn(lastTwo)));
                for (var j = 0; j < n; j++)
                {
                    if (!Done(j))
                    {
                        moved |= Raise(j, s.persons[j] == 2 ? Math.Max(next, Math.Max(EndOn(lastOne), EndOn(lastTwo))) : next);
                    }
                }
                if (!moved)
                {
                    return s.problem.Persons == 2 || Fits();
                }
                for (var j = 0; j < n; j++)
                {
                    if (start[j] > s.latest[j] || (long)start[j] + s.tail[j] >= s.best)
                    {
                        return false;
                    }
                }
            }
            return false;
        }

        /// <summary>Whether what must begin by a time of day, or within a longest wait after a chore that is done, has room there for one person, beside
        /// what came since: by earliest due time, where it is at all (Jackson's rule). Holds however late that chore is moved, as all of it comes after.</summary>
        private bool Fits()
        {
            var s = search;
            Span<(int Due, int Takes)> due = stackalloc (int, int)[s.n];
            var timed = 0;
            for (var j = 0; j < s.n; j++)
            {
                if (!Done(j) && s.latest[j] != int.MaxValue)
                {
                    due[timed++] = (s.latest[j] + s.takes[j], s.takes[j]);
                }
            }
            if (!InTime(due[..timed], EndOn(lastOne)))
            {
                return false;
            }
            var since = 0;
            for (var k = count - 1; k >= 0; k--)
            {
                var from = order[k];
                var waits = 0;
                for (var j = 0; j < s.n; j++)
                {
                    if (!Done(j) && s.path[j, from] != None)
                    {
                        // Latest end, counted from the end of the chore.
                        due[waits++] = (-s.path[j, from] - s.takes[from] + s.takes[j], s.takes[j]);
                    }
                }
                if (!InTime(due[..waits], since))
                {
                    return false;
                }
                since += s.takes[from];
            }
            return true;
        }

        private static bool InTime(Span<(int Due, int Takes)> rest, int end)
        {
            rest.Sort(static (a, b) => a.Due.CompareTo(b.Due));
            foreach (var (due, takes) in rest)
            {
                end += takes;
                if (end > due)
                {
                    return false;
                }
            }
            return true;
        }

        private int EndOn(int last) => last < 0 ? 0 : start[last] + search.takes[last];

        private bool Raise(int chore, int to)
        {
            if (to <= start[chore])
            {
                return false;
            }
            for (var j = 0; j < search.n; j++)
            {
                if (search.path[chore, j] != None)
                {
                    start[j] = Math.Max(start[j], to + search.path[chore, j]);
                }
            }
            return true;
        }

        /// <summary>No schedule that begins like this is over before.</summary>
        public int Bound()
        {
            var s = search;
            var bound = 0;
            for (var j = 0; j < s.n; j++)
            {
                bound = Math.Max(bound, start[j] + s.tail[j]);
            }
            return Math.Max(bound, s.problem.Persons == 1 ? InPieces() : ByTwo());
        }

        /// <summary>The rest by two: together they need half of what it takes.</summary>
        private int ByTwo()
        {
            var (need, least) = (0L, int.MaxValue);
            for (var j = 0; j < search.n; j++)
            {
                if (!Done(j))
                {
                    need += (long)search.takes[j] * search.persons[j];
                    least = Math.Min(least, search.tail[j] - search.takes[j]);
                }
            }
            return least == int.MaxValue ? 0 : (int)((EndOn(lastOne) + EndOn(lastTwo) + need + 1) / 2) + Math.Max(0, least);
        }

        /// <summary>The rest by one, done in pieces, always what is there and has the longest tail.</summary>
        private int InPieces()
        {
            var n = search.n;
            Span<int> left = stackalloc int[n];
            var (rest, time) = (0, int.MaxValue);
            for (var j = 0; j < n; j++)
            {
                left[j] = Done(j) ? -1 : search.takes[j];
                if (!Done(j))
                {
                    rest++;
                    time = Math.Min(time, start[j]);
                }
            }
            var bound = 0;
            while (rest > 0)
            {
                var (chosen, next) = (-1, int.MaxValue);
                for (var j = 0; j < n; j++)
                {
                    if (left[j] < 0)
                    {
                        continue;
                    }
                    if (start[j] > time)
                    {
                        next = Math.Min(next, start[j]);
                    }
                    else if (chosen < 0 || search.tail[j] - search.takes[j] > search.tail[chosen] - search.takes[chosen])
                    {
                        chosen = j;
                    }
                }
                if (chosen < 0)
                {
                    time = next;
                    continue;
                }
                var run = Math.Min(left[chosen], next - time);
                time += run;
                left[chosen] -= run;
                if (left[chosen] == 0)
                {
                    bound = Math.Max(bound, time + search.tail[chosen] - search.takes[chosen]);
                    left[chosen] = -1;
                    rest--;
                }
            }
            return bound;
        }
    }
}
