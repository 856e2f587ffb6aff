using Idrum.Core.Basics;

namespace Idrum.Core.Fitting;

/// <summary>Puts chores in time for one or two persons so that the last is over as early as can be: branch and bound
/// over the orders of their
/// starts. Least and longest waits are kept as longest paths (a longest wait is an arc back with negative length);
/// after Brucker, Hilbig and
/// Hurink, "A branch and bound algorithm for a single-machine scheduling problem with positive and negative time-lags",
/// Discrete Applied
/// Mathematics 94 (1999). Bound for one person: the rest done in pieces, always what has the longest tail (Jackson's
/// preemptive rule).</summary>
public sealed partial class ScheduleSearch
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
    private readonly Allowance allowance;
    private int best = int.MaxValue;
    private int[]? bestStarts;
    private bool stopped;
    private bool anyWill;
    private long nodes;

    // Beginnings gone through: what is done → when what may still move starts.
    private readonly Dictionary<string, List<int[]>> seen = [];
    private int kept;

    private ScheduleSearch(ScheduleProblem problem, Allowance allowance, CancellationToken cancellation)
    {
        this.problem = problem;
        this.cancellation = cancellation;
        this.allowance = allowance;
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
                if (path[i, k] == None)
                    continue;
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
        tail =
        [
            .. Enumerable
                .Range(0, n)
                .Select(i => Enumerable.Range(0, n).Where(j => path[i, j] != None).Max(j => path[i, j] + own[j])),
        ];
        latest =
        [
            .. Enumerable
                .Range(0, n)
                .Select(i =>
                    Enumerable
                        .Range(0, n)
                        .Where(j => path[i, j] != None && problem.Chores[j].Until is not null)
                        .Select(j => problem.Chores[j].Until!.Value - path[i, j])
                        .DefaultIfEmpty(int.MaxValue)
                        .Min()
                ),
        ];
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
    /// <param name="keep">Order shown until now, chore ids: it stays unless another is over a minute or more earlier.
    /// Chores it does not name are free.</param>
    /// <param name="limit">How long to search, by the clock of the problem or by work; when it is over the best so far is
    /// given with its bound. Null: 100 ms.</param>
    /// <param name="cancellation">Ends it with <see cref="OperationCanceledException"/>.</param>
    /// <param name="explain">Where there is no way: whether to look for the lag that breaks it.</param>
    /// <exception cref="ArgumentException">The problem is none.</exception>
    public static Schedule Solve(
        ScheduleProblem problem,
        IReadOnlyList<string>? keep = null,
        TimeSpan? limit = null,
        bool explain = true,
        CancellationToken cancellation = default
    ) =>
        Solve(
            problem,
            keep,
            new Allowance(problem.Clock, limit ?? TimeSpan.FromMilliseconds(100)),
            explain,
            cancellation
        );

    /// <summary>The same with an allowance that several searches share.</summary>
    internal static Schedule Solve(
        ScheduleProblem problem,
        IReadOnlyList<string>? keep,
        Allowance allowance,
        bool explain,
        CancellationToken cancellation
    )
    {
        if (problem.Check() is { Count: > 0 } faults)
        {
            throw new ArgumentException(faults[0].Pointer + ": " + faults[0].Message, nameof(problem));
        }
        if (problem.Chores.Count == 0)
        {
            return new([], 0, 0, true);
        }
        var search = new ScheduleSearch(problem, allowance, cancellation);
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
            return new(
                [],
                -1,
                search.circle ? 0 : search.RootBound(),
                !search.stopped,
                search.stopped || !explain ? null : BrokenLag(problem, cancellation)
            );
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
        var search = new ScheduleSearch(problem, new(null, Timeout.InfiniteTimeSpan), default);
        return !search.circle && search.StartsInOrder(order) is { } starts
            ? new(search.Items(starts), search.EndOf(starts), search.RootBound(), false)
            : null;
    }

    /// <summary>A lag whose longest wait breaks it: without it there is a way.</summary>
    private static TimeLag? BrokenLag(ScheduleProblem problem, CancellationToken cancellation)
    {
        foreach (var lag in problem.Lags.Where(l => l.Max is not null))
        {
            var without = problem with
            {
                Lags = [.. problem.Lags.Select(l => ReferenceEquals(l, lag) ? l with { Max = null } : l)],
            };
            var search = new ScheduleSearch(without, new(problem.Clock, TimeSpan.FromMilliseconds(200)), cancellation)
            {
                anyWill = true,
            };
            search.Run();
            if (search.bestStarts is not null)
            {
                return lag;
            }
        }
        return null;
    }

    private List<ScheduledChore> Items(int[] starts) =>
        [
            .. Enumerable
                .Range(0, n)
                .OrderBy(i => starts[i])
                .ThenBy(i => starts[i] + takes[i])
                .Select(i => new ScheduledChore(problem.Chores[i].Id, starts[i], starts[i] + takes[i])),
        ];

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
            allowance.Spend(256);
            stopped |= allowance.Over;
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
        var children = node.Open()
            .SelectMany(node.Children)
            .Select(c => (Node: c, Bound: c.Bound()))
            .Where(c => c.Bound < best)
            .OrderBy(c => c.Bound)
            .ThenBy(c => c.Node.Start(c.Node.Last))
            .ThenByDescending(c => tail[c.Node.Last])
            .ToList();
        foreach (var (child, bound) in children)
        {
            if (bound < best)
            {
                Branch(child);
            }
        }
    }

    /// <summary>Whether another beginning with the same chores was gone through after which nothing starts later: then
    /// whatever follows here follows there
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
}
