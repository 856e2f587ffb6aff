using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>What the orders of a layout must keep: no precondition cycle, every wear part reachable on every kind of machine its facts
/// make, a way back that has an order whatever was removed.</summary>
public static class TeardownRules
{
    private const int MostMachines = 64;

    /// <summary>Checks a layout that keeps <see cref="LayoutRules"/>.</summary>
    /// <returns>All errors, empty where the orders are sound.</returns>
    /// <param name="layout">The layout.</param>
    /// <param name="vocabulary">Values of the facts.</param>
    /// <param name="cancellation">Stops the search.</param>
    public static IReadOnlyList<FieldError> Check(Layout layout, Vocabulary vocabulary, CancellationToken cancellation = default)
    {
        var errors = new FieldErrors();
        var place = layout.Operations.Select((o, i) => (o.Id, i)).ToDictionary(p => p.Id, p => p.i);
        foreach (var (facts, schools, words) in Machines(layout, vocabulary))
        {
            var machine = layout.For(facts, schools);
            var graph = new PrecedenceGraph(machine);
            var stuck = (Bits.UpTo(machine.Operations.Count) - graph.Reachable).ToList();
            if (stuck.Count > 0)
            {
                var cycle = Cycle(graph, stuck);
                errors.Add($"/operations/{place[machine.Operations[cycle[0]].Id]}/needs",
                    $"Can never be done{words}: the preconditions run in a circle: {string.Join(" → ", cycle.Append(cycle[0]).Select(i => $"'{machine.Operations[i].Id}'"))}.");
                return errors.All;
            }
            foreach (var part in machine.Parts.Where(p => p.Wears && graph.FreeingOperations(p.Id).All(o => !graph.Reachable.Has(o))))
            {
                errors.Add($"/parts/{layout.Parts.ToList().FindIndex(p => p.Id == part.Id)}", $"The part '{part.Id}' wears, but no operation frees it{words}.");
            }
            if (errors.All.Count == 0 && WayBackSearch.Fault(graph, cancellation) is { } fault)
            {
                errors.Add($"/operations/{place[fault.Operation]}/refit", fault.Message + words + ".");
            }
            if (errors.All.Count > 0)
            {
                return errors.All;
            }
        }
        return errors.All;
    }

    /// <summary>Every machine its facts and schools make, where these are few; else the machine as the file has it, then each pair of
    /// values the other way.</summary>
    private static IEnumerable<(Dictionary<string, string> Facts, Dictionary<string, string> Schools, string Words)> Machines(Layout layout, Vocabulary words)
    {
        var choices = layout.Facts.Where(f => f.Varies).Select(f => (f.Id, School: false, Values: (f.Values is { Count: > 0 } met ? met : words.FindFact(f.Id)?.Values.Select(v => v.Id) ?? [f.Value]).OrderBy(v => v != f.Value).ToArray()))
            .Concat(layout.Schools.Select(s => (s.Id, School: true, Values: s.Options.Select(o => o.Id).ToArray()))).Where(c => c.Values.Length > 1 && Matters(layout, c.Id, c.School)).ToList();
        var all = choices.Aggregate(1L, (n, c) => Math.Min(n * c.Values.Length, int.MaxValue));
        IEnumerable<int[]> picks = all <= MostMachines ? All(choices.Select(c => c.Values.Length).ToArray()) : Pairs(choices.Select(c => c.Values.Length).ToArray());
        foreach (var pick in picks)
        {
            var (facts, schools, said) = (new Dictionary<string, string>(), new Dictionary<string, string>(), new List<string>());
            for (var i = 0; i < choices.Count; i++)
            {
                (choices[i].School ? schools : facts)[choices[i].Id] = choices[i].Values[pick[i]];
                if (pick[i] > 0)
                {
                    said.Add($"'{choices[i].Id}' is '{choices[i].Values[pick[i]]}'");
                }
            }
            yield return (facts, schools, said.Count == 0 ? "" : " where " + string.Join(" and ", said));
        }
    }

    private static bool Matters(Layout layout, string id, bool school)
    {
        bool Named(Condition? c) => c?.Inside().Any(x => (school ? x.School : x.Fact) == id) == true;
        return layout.Parts.Any(p => Named(p.When)) || layout.Operations.Any(o => Named(o.When) || o.Refit.Any(s => Named(s.When)
            || s.Tools.Any(t => Named(t.When))) || o.Tools.Any(t => Named(t.When)));
    }

    private static IEnumerable<int[]> All(int[] sizes)
    {
        var pick = new int[sizes.Length];
        while (true)
        {
            yield return [.. pick];
            var i = 0;
            while (i < sizes.Length && ++pick[i] == sizes[i])
            {
                pick[i++] = 0;
            }
            if (i == sizes.Length)
            {
                yield break;
            }
        }
    }

    private static IEnumerable<int[]> Pairs(int[] sizes)
    {
        yield return new int[sizes.Length];
        for (var a = 0; a < sizes.Length; a++)
        {
            for (var va = 1; va < sizes[a]; va++)
            {
                for (var b = a; b < sizes.Length; b++)
                {
                    for (var vb = 1; vb < (b == a ? 2 : sizes[b]); vb++)
                    {
                        var pick = new int[sizes.Length];
                        (pick[a], pick[b]) = (va, b == a ? va : vb);
                        yield return pick;
                    }
                }
            }
        }
    }

    /// <summary>Operations that wait for one another in a circle, in order.</summary>
    private static List<int> Cycle(PrecedenceGraph graph, List<int> stuck)
    {
        var among = Bits.Of(stuck);
        var path = new List<int>();
        var at = stuck[0];
        while (!path.Contains(at))
        {
            path.Add(at);
            // Each of them waits for a group of which no member can be done; a member of it is the next.
            at = graph.SetNeeds[at].First(g => !g.Meets(graph.Reachable)).ToList().First(among.Has);
        }
        return path[path.IndexOf(at)..];
    }
}
