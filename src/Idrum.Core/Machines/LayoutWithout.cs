namespace Idrum.Core.Machines;

/// <summary>A layout without operations that a machine does not have. They are passed through: what stood in their way
/// stands in the way of what
/// needed them, and nothing else of the file names them any more.</summary>
public static class LayoutWithout
{
    private const int MostGroups = 40;

    /// <summary>The layout without them.</summary>
    /// <param name="layout">The layout; its conditions may be decided or not.</param>
    /// <param name="gone">Ids of operations; unknown ones are passed over.</param>
    /// <returns>The layout. Whether it is sound, who takes it in finds out: where one of them alone frees a part that
    /// wears, it is not.</returns>
    public static Layout Of(Layout layout, IReadOnlySet<OperationId> gone)
    {
        IReadOnlyList<StepRef> Still(IReadOnlyList<StepRef> steps) =>
            [.. steps.Where(s => !gone.Contains(s.Operation))];
        IReadOnlyList<IReadOnlyList<OperationId>> Passed(IReadOnlyList<IReadOnlyList<OperationId>> groups) =>
            PassedThrough(layout, groups, gone);
        return layout with
        {
            Operations =
            [
                .. layout
                    .Operations.Where(o => !gone.Contains(o.Id))
                    .Select(o => o with { Needs = Passed(o.Needs) })
                    .Select(o =>
                        o with
                        {
                            // Prudence asks for nothing that is not there.
                            First = [.. o.First.Where(g => !g.Any(gone.Contains))],
                            SeenFrom = [.. o.SeenFrom.Where(s => o.Needs.Any(g => g.Contains(s.Through)))],
                            Fasteners =
                            [
                                .. o.Fasteners.Select(f =>
                                    gone.Contains(f.LeftInTill)
                                        ? f with
                                        {
                                            LeftIn = 0,
                                            LeftInTill = "",
                                            LeftInAt = [],
                                        }
                                        : f
                                ),
                            ],
                            Refit =
                            [
                                .. o.Refit.Select(s =>
                                    s with
                                    {
                                        After = Still(s.After),
                                        Before = Still(s.Before),
                                        StillOut = [.. s.StillOut.Where(x => !gone.Contains(x))],
                                    }
                                ),
                            ],
                        }
                    ),
            ],
            Parts = [.. layout.Parts.Select(p => p with { SeenAfter = Passed(p.SeenAfter) })],
            Ways =
            [
                .. layout
                    .Ways.Select(w => w with { Options = [.. w.Options.Where(o => !gone.Contains(o))] })
                    .Where(w => w.Options.Count > 1),
            ],
            NotMirrored = [.. layout.NotMirrored.Where(n => !gone.Contains(n.Operation) && !gone.Contains(n.Through))],
        };
    }

    /// <summary>Groups of alternatives with whatever is gone replaced by what stood in its way: a group that asked for
    /// it or another asks, for each group
    /// of its needs, for a member of that or the other.</summary>
    private static List<IReadOnlyList<OperationId>> PassedThrough(
        Layout layout,
        IReadOnlyList<IReadOnlyList<OperationId>> groups,
        IReadOnlySet<OperationId> gone
    )
    {
        var done = new List<IReadOnlyList<OperationId>>();
        var open = new Stack<(IReadOnlyList<OperationId> Group, IReadOnlyList<OperationId> Behind)>(
            groups.Reverse().Select(g => (g, (IReadOnlyList<OperationId>)[]))
        );
        while (open.TryPop(out var next))
        {
            if (next.Group.FirstOrDefault(gone.Contains) is not { } id)
            {
                var group = next.Group.Distinct().ToList();
                if (!done.Any(d => d.All(group.Contains)))
                {
                    done.RemoveAll(d => group.TrueForAll(d.Contains));
                    done.Add(group);
                }
                continue;
            }
            // Nothing stood in its way: the group asks for nothing. What is met again behind itself never opens.
            foreach (var needs in layout.FindOperation(id)?.Needs ?? [])
            {
                IReadOnlyList<OperationId> behind = [.. next.Behind, id];
                if (done.Count + open.Count > MostGroups * Math.Max(1, groups.Count))
                {
                    break;
                }
                open.Push(([.. next.Group.Where(m => m != id), .. needs.Where(m => !behind.Contains(m))], behind));
            }
        }
        return done;
    }
}
