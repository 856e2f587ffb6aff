using Idrum.Core.Teardown;

namespace Idrum.Core.Machines;

/// <summary>What a layout must keep beyond its schema: unique ids, no dangling id, no precondition cycle, every wear part
/// reachable, a drawing whose shapes belong to parts.</summary>
public static class LayoutRules
{
    /// <summary>Checks a layout that fits the schema.</summary>
    /// <returns>All errors, empty where the layout is sound.</returns>
    public static IReadOnlyList<FieldError> Check(Layout layout)
    {
        var errors = new List<FieldError>();
        if (layout.Format != "idrum-layout" || layout.Version != 1)
        {
            errors.Add(new("/version", "This is not an idrum-layout file of version 1."));
        }
        Unique(errors, "/facts", layout.Facts.Select(f => f.Id));
        Unique(errors, "/parts", layout.Parts.Select(p => p.Id));
        Unique(errors, "/operations", layout.Operations.Select(o => o.Id));
        Unique(errors, "/operations/*/fasteners", layout.Operations.SelectMany(o => o.Fasteners).Select(f => f.Id));
        Unique(errors, "/operations/*/plugs", layout.Operations.SelectMany(o => o.Plugs).Select(p => p.Id));
        if (errors.Count > 0)
        {
            return errors;
        }
        if (layout.Operations.SelectMany(o => o.Tools).Distinct().Count() is > PrecedenceGraph.MostTools and var tools)
        {
            errors.Add(new("/operations/*/tools", $"{tools} different tools; {PrecedenceGraph.MostTools} at most."));
        }
        CheckReferences(layout, errors);
        CheckTimes(layout, errors);
        if (errors.Count == 0)
        {
            CheckOrder(layout, errors);
        }
        return errors;
    }

    private static void Unique(List<FieldError> errors, string pointer, IEnumerable<string> ids) =>
        errors.AddRange(ids.GroupBy(i => i).Where(g => g.Count() > 1)
            .Select(g => new FieldError(pointer, $"The id '{g.Key}' stands {g.Count()} times; an id must be unique.")));

    private static void CheckReferences(Layout layout, List<FieldError> errors)
    {
        void Operation(string pointer, string id)
        {
            if (layout.FindOperation(id) is null)
            {
                errors.Add(new(pointer, $"There is no operation '{id}'."));
            }
        }
        void Part(string pointer, string id)
        {
            if (layout.FindPart(id) is null)
            {
                errors.Add(new(pointer, $"There is no part '{id}'."));
            }
        }
        void Fact(string pointer, Condition? when)
        {
            if (when is not null && layout.Facts.All(f => f.Id != when.Fact))
            {
                errors.Add(new(pointer, $"There is no fact '{when.Fact}'."));
            }
        }
        for (var i = 0; i < layout.Parts.Count; i++)
        {
            Fact($"/parts/{i}/when", layout.Parts[i].When);
            Groups($"/parts/{i}/seenAfter", layout.Parts[i].SeenAfter);
        }
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            var o = layout.Operations[i];
            Fact($"/operations/{i}/when", o.When);
            Groups($"/operations/{i}/needs", o.Needs);
            Each($"/operations/{i}/takesOff", o.TakesOff, Part);
            Each($"/operations/{i}/loosens", o.Loosens, Part);
            Each($"/operations/{i}/frees", o.Frees, Part);
            Each($"/operations/{i}/refit/before", o.Refit.Before, Operation);
        }
        for (var i = 0; i < layout.Ways.Count; i++)
        {
            Each($"/ways/{i}/options", layout.Ways[i].Options, Operation);
        }
        var marked = layout.Operations.SelectMany(o => o.Fasteners.Select(f => f.Id).Concat(o.Plugs.Select(p => p.Id))).ToHashSet();
        foreach (var (name, view) in new[] { ("side", layout.Drawing.Side), ("front", layout.Drawing.Front) })
        {
            for (var i = 0; i < view.Shapes.Count; i++)
            {
                Part($"/drawing/{name}/shapes/{i}/part", view.Shapes[i].Part);
            }
            for (var i = 0; i < view.Marks.Count; i++)
            {
                if (!marked.Contains(view.Marks[i].Of))
                {
                    errors.Add(new($"/drawing/{name}/marks/{i}/of", $"There is no fastener or plug '{view.Marks[i].Of}'."));
                }
            }
        }

        void Groups(string pointer, IReadOnlyList<IReadOnlyList<string>> groups)
        {
            for (var g = 0; g < groups.Count; g++)
            {
                Each($"{pointer}/{g}", groups[g], Operation);
            }
        }
        static void Each(string pointer, IReadOnlyList<string> ids, Action<string, string> check)
        {
            for (var k = 0; k < ids.Count; k++)
            {
                check($"{pointer}/{k}", ids[k]);
            }
        }
    }

    private static void CheckTimes(Layout layout, List<FieldError> errors)
    {
        for (var i = 0; i < layout.Operations.Count; i++)
        {
            foreach (var (name, t) in new[] { ("out", layout.Operations[i].Minutes.Out), ("in", layout.Operations[i].Minutes.In) })
            {
                if (!(t.Low >= 0 && t.Low <= t.Typical && t.Typical <= t.High && t.High <= 240))
                {
                    errors.Add(new($"/operations/{i}/minutes/{name}", "Times must rise from low to high, none below 0 or above 240 minutes."));
                }
            }
        }
    }

    private static void CheckOrder(Layout layout, List<FieldError> errors)
    {
        var graph = new PrecedenceGraph(layout);
        var stuck = Enumerable.Range(0, layout.Operations.Count).Where(i => !graph.Reachable[i]).ToList();
        foreach (var i in stuck)
        {
            errors.Add(new($"/operations/{i}/needs",
                $"'{layout.Operations[i].Id}' can never be done: its preconditions run in a circle with {string.Join(", ", stuck.Where(k => k != i).Select(k => $"'{layout.Operations[k].Id}'").DefaultIfEmpty("itself"))}."));
        }
        CheckWearParts(layout, layout, graph, "", errors);
        foreach (var fact in layout.Facts.Where(f => f.Varies && errors.Count == 0))
        {
            foreach (var holds in new[] { true, false })
            {
                var machine = layout.For(new Dictionary<string, bool> { [fact.Id] = holds });
                CheckWearParts(layout, machine, new PrecedenceGraph(machine), $" where '{fact.Id}' is {(holds ? "so" : "not so")}", errors);
            }
        }
        if (errors.Count == 0 && RefitOrder.FindCycle(layout, [.. Enumerable.Range(0, layout.Operations.Count)]) is { Count: > 0 } cycle)
        {
            errors.Add(new($"/operations/{cycle[0]}/refit/before",
                $"The refit order runs in a circle: {string.Join(" → ", cycle.Select(k => layout.Operations[k].Id))}."));
        }
    }
    /// <summary>Every wear part of a machine of this layout can be got at.</summary>
    private static void CheckWearParts(Layout layout, Layout machine, PrecedenceGraph graph, string where, List<FieldError> errors)
    {
        foreach (var part in machine.Parts.Where(p => p.Wears && graph.FreeingOperations(p.Id).All(o => !graph.Reachable[o])))
        {
            var i = layout.Parts.Select(p => p.Id).ToList().IndexOf(part.Id);
            errors.Add(new($"/parts/{i}", $"The part '{part.Id}' wears, but no operation frees it{where}."));
        }
    }
}
