namespace Idrum.Core.Fitting;

/// <content>The beginnings of a schedule that are branched on.</content>
public sealed partial class ScheduleSearch
{
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
        private readonly UInt128 done;

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
            done = parent.done | (UInt128.One << chore);
            start = [.. parent.start];
            (lastOne, lastTwo) = (parent.lastOne, parent.lastTwo);
            var both = search.persons[chore] == 2;
            var (one, two) =
                both ? (lastOne, lastTwo)
                : second ? (lastTwo, -1)
                : (lastOne, -1);
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

        /// <summary>What tells how a beginning goes on: what is done, and in which order from the first chore that a
        /// longest wait may still move; with it
        /// when the done before that are over, when the moved ones and the rest start at the earliest and, for two,
        /// when hands are free. Null where it
        /// cannot be compared.</summary>
        public (string Key, int[] Front)? Front()
        {
            var (s, two) = (search, search.problem.Persons == 2);
            var from = count;
            for (var moved = true; moved; )
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
                    front[0] = Math.Max(
                        front[0],
                        start[order[k]] + s.takes[order[k]] + s.problem.Chores[order[k]].Tail
                    );
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
                (front[at], front[at + 1]) = (
                    Math.Min(EndOn(lastOne), EndOn(lastTwo)),
                    Math.Max(EndOn(lastOne), EndOn(lastTwo))
                );
            }
            return (
                string.Create(null, stackalloc char[80], $"{done:x} ")
                    + new string([.. order[from..].Select(c => (char)('0' + c))]),
                front
            );
        }

        /// <summary>Whether a chore that is done may be moved on by one that is not, or by one done from a place of the
        /// order on.</summary>
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

        private bool Done(int chore) => ((done >> chore) & 1) != 0;

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

        /// <summary>Two chores with nothing between them and the rest may change places: only one order is
        /// tried.</summary>
        private bool Twin(int j) =>
            search.problem.Persons == 1 && count > 0 && search.free[j] && search.free[Last] && j < Last;

        /// <summary>The order with one more chore: by whom, where there are two; none where lags are then broken or it
        /// is too late.</summary>
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
                var next =
                    s.problem.Persons == 1
                        ? start[Last] + s.takes[Last]
                        : Math.Max(start[Last], Math.Min(EndOn(lastOne), EndOn(lastTwo)));
                for (var j = 0; j < n; j++)
                {
                    if (!Done(j))
                    {
                        moved |= Raise(
                            j,
                            s.persons[j] == 2 ? Math.Max(next, Math.Max(EndOn(lastOne), EndOn(lastTwo))) : next
                        );
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

        /// <summary>Whether what must begin by a time of day, or within a longest wait after a chore that is done, has
        /// room there for one person, beside
        /// what came since: by earliest due time, where it is at all (Jackson's rule). Holds however late that chore is
        /// moved, as all of it comes after.</summary>
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
            return least == int.MaxValue
                ? 0
                : (int)((EndOn(lastOne) + EndOn(lastTwo) + need + 1) / 2) + Math.Max(0, least);
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
                    else if (
                        chosen < 0
                        || search.tail[j] - search.takes[j] > search.tail[chosen] - search.takes[chosen]
                    )
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
