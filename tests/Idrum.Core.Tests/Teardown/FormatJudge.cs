using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Teardown;

/// <summary>One machine of a layout file, judged by the words of the format alone: what may come out, what may go back.
/// It reads the file with its
/// conditions and shares nothing with the planner.</summary>
/// <param name="file">The layout, its conditions not decided.</param>
/// <param name="facts">Fact id → value; the file's own where not named.</param>
/// <param name="schools">School id → option; the first where not named.</param>
/// <param name="absent">Obstacles said not to be on this machine.</param>
internal sealed class FormatJudge(
    Layout file,
    IReadOnlyDictionary<string, string> facts,
    IReadOnlyDictionary<string, string> schools,
    IReadOnlyCollection<OperationId> absent
)
{
    private readonly Dictionary<OperationId, Operation> byId = file.Operations.ToDictionary(o => o.Id);

    /// <summary>Operations that this machine has.</summary>
    internal IEnumerable<Operation> Here => file.Operations.Where(o => IsHere(o.Id));

    internal bool IsHere(OperationId id) => !absent.Contains(id) && Holds(byId[id].When);

    /// <summary>Steps of an operation on this machine; one that takes all of its own where it has none.</summary>
    internal IReadOnlyList<RefitStep> StepsOf(OperationId id) =>
        byId[id].Refit.Where(s => Holds(s.When)).ToList() is { Count: > 0 } steps
            ? steps
            :
            [
                new RefitStep
                {
                    Id = RefitStep.WholeId,
                    Do = "Put back",
                    Minutes = byId[id].Minutes,
                    Tools = byId[id].Tools,
                },
            ];

    internal bool Holds(Condition? when) =>
        when is null
        || (
            when.Fact is { } fact
                ? (facts.GetValueOrDefault(fact) ?? file.Facts.FirstOrDefault(f => f.Id == fact)?.Value) == when.Is
            : when.School is { } school
                ? (schools.GetValueOrDefault(school) ?? file.Schools.FirstOrDefault(s => s.Id == school)?.Options[0].Id)
                    == when.Is
            : when.All is not null ? when.All.All(Holds)
            : when.Any is not null ? when.Any.Any(Holds)
            : !Holds(when.Not)
        );

    /// <summary>Members of a group that count here. One whose condition does not hold is a way that does not exist
    /// where another member is here;
    /// else it is passed through, as is whatever was said to be absent.</summary>
    private IEnumerable<OperationId> Members(IReadOnlyList<OperationId> group) =>
        group.Any(m => Holds(byId[m].When)) ? group.Where(m => Holds(byId[m].When)) : group;

    /// <summary>Whether a group that stands in the way is served: one of it is out, or is not on this machine and what
    /// stood in its own way is out.</summary>
    internal bool Served(IReadOnlyList<OperationId> group, IReadOnlySet<OperationId> done) => Served(group, done, []);

    private bool Served(IReadOnlyList<OperationId> group, IReadOnlySet<OperationId> done, HashSet<OperationId> path) =>
        Members(group)
            .Any(m =>
                IsHere(m)
                    ? done.Contains(m)
                    : !path.Contains(m) && byId[m].Needs.All(g => Served(g, done, [.. path, m]))
            );

    /// <summary>Whether what prudence wants first was done: one of a group, as far as any of it is here.</summary>
    private bool Prudent(Operation o, IReadOnlySet<OperationId> done) =>
        o.First.All(g => g.Any(m => absent.Contains(m)) || !g.Any(IsHere) || g.Any(m => IsHere(m) && done.Contains(m)));

    /// <summary>Whether an operation may be done.</summary>
    internal bool MayComeOut(OperationId id, IReadOnlySet<OperationId> done, bool prudently) =>
        IsHere(id) && byId[id].Needs.All(g => Served(g, done)) && (!prudently || Prudent(byId[id], done));

    /// <summary>Options of one way that are both in a set.</summary>
    internal bool TwoOfOneWay(IReadOnlySet<OperationId> set) =>
        file.Ways.Any(w => w.Options.Count(o => IsHere(o) && set.Contains(o)) > 1);

    /// <summary>Whether all that steps of a set want out still is in it.</summary>
    internal bool Closed(IReadOnlySet<OperationId> set) =>
        set.All(id => StepsOf(id).SelectMany(s => s.StillOut).All(m => !IsHere(m) || set.Contains(m)));

    /// <summary>Every set of operations that can be done in some order.</summary>
    /// <param name="prudently">With what prudence wants first, or with all of it left out.</param>
    internal List<HashSet<OperationId>> Removable(bool prudently)
    {
        var found = new Dictionary<string, HashSet<OperationId>> { [""] = [] };
        var open = new Queue<HashSet<OperationId>>([
            [],
        ]);
        while (open.TryDequeue(out var set))
        {
            foreach (var o in Here.Where(o => !set.Contains(o.Id) && MayComeOut(o.Id, set, prudently)))
            {
                HashSet<OperationId> more = [.. set, o.Id];
                if (found.TryAdd(string.Join(' ', more.Order()), more))
                {
                    open.Enqueue(more);
                }
            }
        }
        return [.. found.Values];
    }

    /// <summary>Why a step (<c>operation/step</c>) may not be done now, or null.</summary>
    internal string? WhyNotBack(string key, IReadOnlySet<OperationId> removed, IReadOnlySet<string> done)
    {
        var (id, stepId) = (key.Split('/')[0], key.Split('/')[1]);
        var step = StepsOf(id).Single(s => s.Id == stepId);
        bool Out(OperationId op) =>
            removed.Contains(op) && !done.Any(k => k.StartsWith(op + "/", StringComparison.Ordinal));
        bool There(string k) =>
            removed.Contains(k.Split('/')[0]) && StepsOf(k.Split('/')[0]).Any(s => s.Id == k.Split('/')[1]);
        return done.Contains(key) ? "done already"
            : !Reached(id, id, removed, Out, [id]) ? "its place is no longer reached"
            : step.After.Select(s => s.ToString()).FirstOrDefault(k => There(k) && !done.Contains(k)) is { } first
                ? $"comes after {first}"
            : step.Before.Select(s => s.ToString()).FirstOrDefault(k => There(k) && done.Contains(k)) is { } late
                ? $"comes before {late}"
            : step.DirectlyAfter.Length > 0
            && There($"{id}/{step.DirectlyAfter}")
            && !done.Contains($"{id}/{step.DirectlyAfter}")
                ? $"follows {step.DirectlyAfter}"
            : Unheld(removed, done) is { } other && other != key ? $"{other} must follow at once"
            : step.StillOut.FirstOrDefault(o => removed.Contains(o) && !Out(o)) is { } inNow
                ? $"{inNow} must still be out"
            : null;
    }

    /// <summary>A step that follows another at once, where only the other is done; or null.</summary>
    private string? Unheld(IReadOnlySet<OperationId> removed, IReadOnlySet<string> done) =>
        removed
            .SelectMany(id => StepsOf(id).Select(s => (Id: id, Step: s)))
            .Where(x => x.Step.DirectlyAfter.Length > 0)
            .FirstOrDefault(x =>
                done.Contains($"{x.Id}/{x.Step.DirectlyAfter}") && !done.Contains($"{x.Id}/{x.Step.Id}")
            )
            is { Step: not null } open
            ? $"{open.Id}/{open.Step.Id}"
            : null;

    /// <summary>Of each group it was reached through, one really removed member is still out and still reached; what
    /// was passed through is never in the way
    /// itself. A pair that is not mirrored asks for nothing.</summary>
    private bool Reached(
        OperationId root,
        OperationId id,
        IReadOnlySet<OperationId> removed,
        Func<OperationId, bool> still,
        HashSet<OperationId> path
    ) =>
        byId[id]
            .Needs.Select(g =>
                Members(g)
                    .Where(m => removed.Contains(m) || (!IsHere(m) && byId[m].Needs.All(n => Served(n, removed))))
                    .ToList()
            )
            .Where(g => g.Count > 0)
            .All(g =>
                g.Any(m =>
                    !path.Contains(m)
                    && (
                        !removed.Contains(m)
                        || still(m)
                        || file.NotMirrored.Any(p => p.Operation == root && p.Through == m)
                    )
                    && Reached(root, m, removed, still, [.. path, m])
                )
            );

    /// <summary>Keys of all steps of what was removed.</summary>
    internal List<string> KeysOf(IEnumerable<OperationId> removed) =>
        [.. removed.SelectMany(id => StepsOf(id).Select(s => id + "/" + s.Id))];

    /// <summary>Whether what was removed can go back in some order.</summary>
    internal bool HasWayBack(IReadOnlySet<OperationId> removed)
    {
        var keys = KeysOf(removed);
        var dead = new HashSet<string>();
        bool Go(HashSet<string> done) =>
            done.Count == keys.Count
            || (
                dead.Add(string.Join(' ', done.Order(StringComparer.Ordinal)))
                && keys.Any(k => WhyNotBack(k, removed, done) is null && Go([.. done, k]))
            );
        return Go([]);
    }

    /// <summary>Why the orders of a file are not sound on this machine, or null: something can never be done, or
    /// something that can be removed, whatever was
    /// left out of what prudence wants, has no way back.</summary>
    internal string? Unsound()
    {
        var prudent = Removable(true);
        var all = prudent.MaxBy(s => s.Count)!;
        if (Here.FirstOrDefault(o => !all.Contains(o.Id)) is { } never)
        {
            return $"{never.Id} can never be done";
        }
        if (
            file.Parts.FirstOrDefault(p =>
                p.Wears && Holds(p.When) && !Here.Any(o => o.Frees.Contains(p.Id) || o.TakesOff.Contains(p.Id))
            ) is
            { } part
        )
        {
            return $"{part.Id} is freed by nothing";
        }
        if (
            file
                .Ways.SelectMany(w => w.Options.Where(IsHere).Select(o => (Way: w, Option: o)))
                .FirstOrDefault(x =>
                    !prudent.Any(s => s.Contains(x.Option) && !x.Way.Options.Any(o => o != x.Option && s.Contains(o)))
                ) is
            { Option: { } option }
        )
        {
            return $"{option} needs another option of its way";
        }
        if (Here.FirstOrDefault(o => !prudent.Any(s => s.Contains(o.Id) && Closed(s) && !TwoOfOneWay(s))) is { } both)
        {
            return $"{both.Id} needs two options of one way";
        }
        return
            Removable(false).Where(s => s.Count > 0 && Closed(s) && !TwoOfOneWay(s)).FirstOrDefault(s => !HasWayBack(s))
                is { } set
            ? "no way back from " + string.Join(' ', set.Order())
            : null;
    }
}
