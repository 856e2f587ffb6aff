using Idrum.Core.Basics;
using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>What the orders of a layout must keep, on every kind of machine its conditions can tell apart: no
/// precondition cycle, every wear part
/// reachable, no way that needs another option of itself, no part taken off twice, a way back that has an order
/// whatever was removed.</summary>
public static class TeardownRules
{
    private static readonly TimeSpan Deadline = TimeSpan.FromSeconds(3);

    /// <summary>Checks a layout that keeps <see cref="LayoutRules"/>.</summary>
    /// <param name="layout">The layout.</param>
    /// <param name="vocabulary">Values of the facts.</param>
    /// <param name="clock">For the deadline of three seconds; without one there is none. What was not searched by then
    /// is refused as not proved.</param>
    /// <param name="cancellation">Stops the search.</param>
    /// <returns>All errors, empty where the orders are sound.</returns>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public static IReadOnlyList<FieldError> Check(
        Layout layout,
        Vocabulary vocabulary,
        TimeProvider? clock = null,
        CancellationToken cancellation = default
    )
    {
        var started = clock?.GetTimestamp() ?? 0;
        bool Late()
        {
            cancellation.ThrowIfCancellationRequested();
            return clock is not null && clock.GetElapsedTime(started) > Deadline;
        }
        var errors = new FieldErrors();
        if (
            MachineKinds.Of(
                layout,
                vocabulary,
                layout
                    .Parts.Select(p => p.When)
                    .Concat(layout.Operations.SelectMany(o => o.Refit.Select(s => s.When).Prepend(o.When)))
            )
            is not { } machines
        )
        {
            errors.Add(
                "/facts",
                $"Not proved: the conditions of operations and refit steps make more than {MachineKinds.Most} combinations of facts and schools."
            );
            return errors.All;
        }
        foreach (var kind in machines)
        {
            if (Late())
            {
                errors.Add(
                    "/operations",
                    $"Not proved in time: {machines.Count} different machines follow from the conditions."
                );
                return errors.All;
            }
            CheckMachine(layout, layout.For(kind.Facts, kind.Schools), kind.Words, errors, Late);
            if (errors.All.Count > 0)
            {
                return errors.All;
            }
        }
        return errors.All;
    }

    private static void CheckMachine(Layout layout, Layout machine, string words, FieldErrors errors, Func<bool> late)
    {
        int Place(OperationId operationId) => layout.Operations.ToList().FindIndex(o => o.Id == operationId);
        var graph = new PrecedenceGraph(machine);
        var stuck = (Bits.UpTo(graph.Count) - graph.Virtual - graph.Reachable).ToList();
        if (stuck.Count > 0)
        {
            var cycle = Cycle(graph, stuck);
            errors.Add(
                $"/operations/{Place(graph.Node(cycle[0]).Id)}/needs",
                $"Can never be done{words}: the preconditions run in a circle: {string.Join(" → ", cycle.Append(cycle[0]).Select(i => $"'{graph.Node(i).Id}'"))}."
            );
            return;
        }
        foreach (
            var part in machine.Parts.Where(p =>
                p.Wears && !(graph.FreeingOperations(p.Id) - graph.Virtual).Meets(graph.Reachable)
            )
        )
        {
            errors.Add(
                $"/parts/{layout.Parts.ToList().FindIndex(p => p.Id == part.Id)}",
                $"The part '{part.Id}' wears, but no operation frees it{words}."
            );
        }
        CheckWays(layout, machine, graph, words, errors, Place, late);
        CheckTakenTwice(machine, words, errors, Place);
        CheckLeftIn(layout, machine, graph, words, errors, Place);
        if (errors.All.Count == 0 && WayBackSearch.Fault(graph, late) is { } fault)
        {
            errors.Add($"/operations/{Place(fault.Operation)}/refit", fault.Message + words + ".");
        }
    }

    /// <summary>An option of a way can be taken without another of the same way.</summary>
    private static void CheckWays(
        Layout layout,
        Layout machine,
        PrecedenceGraph graph,
        string words,
        FieldErrors errors,
        Func<OperationId, int> place,
        Func<bool> late
    )
    {
        foreach (var way in machine.Ways)
        {
            var options = graph.SetOf(way.Options);
            foreach (var option in options)
            {
                if (!graph.Doable(Bits.UpTo(graph.Count) - options.Without(option), Bits.None).Has(option))
                {
                    errors.Add(
                        $"/ways/{layout.Ways.ToList().FindIndex(w => w.Id == way.Id)}/options",
                        $"The option '{graph.Node(option).Id}' needs another option of the same way{words}."
                    );
                }
            }
        }
        // What can be done only where two options of one way are is done by nobody: they exclude each other.
        foreach (
            var i in machine.Ways.Count == 0 || errors.All.Count > 0
                ? Bits.None
                : Bits.UpTo(graph.Count) - graph.Virtual
        )
        {
            if (SetConstraints.Find(graph, [Bits.Of(i)], Bits.None, Bits.None, late) is { Excludes: false })
            {
                errors.Add(
                    $"/operations/{place(graph.Node(i).Id)}/needs",
                    $"'{graph.Node(i).Id}' can be done only where two options of one way are{words}; they exclude each other."
                );
            }
        }
    }

    /// <summary>A part is taken off once, unless by options of one way.</summary>
    private static void CheckTakenTwice(Layout machine, string words, FieldErrors errors, Func<OperationId, int> place)
    {
        foreach (
            var takers in machine
                .Operations.SelectMany(o => o.TakesOff.Distinct().Select(p => (Part: p, o.Id)))
                .GroupBy(t => t.Part)
                .Where(g => g.Count() > 1)
        )
        {
            var ids = takers.Select(t => t.Id).ToList();
            foreach (var (second, i) in ids.Select((id, i) => (id, i)).Skip(1))
            {
                if (
                    ids.Take(i)
                        .FirstOrDefault(first =>
                            !machine.Ways.Any(w => w.Options.Contains(first) && w.Options.Contains(second))
                        ) is
                    { } twice
                )
                {
                    errors.Add(
                        $"/operations/{place(second)}/takesOff/{machine.FindOperation(second)!.TakesOff.ToList().IndexOf(takers.Key)}",
                        $"'{takers.Key}' is taken off at '{twice}' already{words}; only options of one way may both take it off."
                    );
                }
            }
        }
    }

    /// <summary>The screw that stays in comes out after the others of its group.</summary>
    private static void CheckLeftIn(
        Layout layout,
        Layout machine,
        PrecedenceGraph graph,
        string words,
        FieldErrors errors,
        Func<OperationId, int> place
    )
    {
        foreach (var operation in machine.Operations)
        {
            foreach (
                var group in operation.Fasteners.Where(f =>
                    f.LeftIn > 0 && graph.IndexOf(f.LeftInTill) is >= 0 and var till && !graph.Virtual.Has(till)
                )
            )
            {
                var till = graph.IndexOf(group.LeftInTill);
                if (!graph.Doable(Bits.UpTo(graph.Count).Without(till), Bits.None).Has(graph.IndexOf(operation.Id)))
                {
                    var k = layout.FindOperation(operation.Id)!.Fasteners.ToList().FindIndex(f => f.Id == group.Id);
                    errors.Add(
                        $"/operations/{place(operation.Id)}/fasteners/{k}/leftInTill",
                        $"'{group.LeftInTill}' comes before '{operation.Id}'{words}; the one left in comes out at a later operation."
                    );
                }
            }
        }
    }

    /// <summary>Operations that wait for one another in a circle, in order.</summary>
    private static List<int> Cycle(PrecedenceGraph graph, List<int> stuck)
    {
        var path = new List<int>();
        var at = stuck[0];
        while (!path.Contains(at))
        {
            path.Add(at);
            // Each of them waits for a group of which no member can be done; a member of it is the next.
            at = graph.Needs[at].First(g => !g.Meets(graph.Reachable)).ToList()[0];
        }
        return path[path.IndexOf(at)..];
    }
}
