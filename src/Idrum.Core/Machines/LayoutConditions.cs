using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>The conditions of a layout name facts, values and schools that there are.</summary>
internal static class LayoutConditions
{
    internal static void Check(Layout layout, Vocabulary words, FieldErrors errors)
    {
        void When(string pointer, Condition? when)
        {
            foreach (var c in when?.Inside() ?? [])
            {
                var forms = new object?[] { c.Fact, c.School, c.All, c.Any, c.Not }.Count(f => f is not null);
                errors.If(forms != 1, pointer, "A condition is one of fact, school, all, any, not.");
                if (c.Fact is { } id)
                {
                    var fact = layout.Facts.FirstOrDefault(f => f.Id == id);
                    errors.If(
                        fact is null,
                        pointer,
                        $"There is no fact '{id}'.{Nearest.Hint(id, layout.Facts.Select(f => f.Id))}"
                    );
                    errors.If(
                        fact is not null && words.FindFact(id)?.Values.Any(v => v.Id == c.Is) == false,
                        pointer,
                        $"The fact '{id}' has no value '{c.Is}'.{Nearest.Hint(c.Is ?? "", words.FindFact(id)?.Values.Select(v => v.Id) ?? [])}"
                    );
                }
                if (c.School is { } school)
                {
                    errors.If(
                        layout.Schools.FirstOrDefault(s => s.Id == school)?.Options.Any(o => o.Id == c.Is) != true,
                        pointer,
                        $"There is no school '{school}' with the option '{c.Is}'.{Nearest.Hint(c.Is ?? "", layout.Schools.Where(s => s.Id == school).SelectMany(s => s.Options).Select(o => o.Id))}{Nearest.Hint(school, layout.Schools.Select(s => s.Id))}"
                    );
                }
            }
        }
        foreach (var (p, i) in layout.Parts.Select((p, i) => (p, i)))
        {
            When($"/parts/{i}/when", p.When);
        }
        foreach (var (s, i) in layout.Solids.Select((s, i) => (s, i)))
        {
            When($"/solids/{i}/when", s.When);
        }
        foreach (var (o, i) in layout.Operations.Select((o, i) => (o, i)))
        {
            When($"/operations/{i}/when", o.When);
            void All<T>(string name, IReadOnlyList<T> list, Func<T, Condition?> of)
            {
                for (var k = 0; k < list.Count; k++)
                {
                    When($"/operations/{i}/{name}/{k}/when", of(list[k]));
                }
            }
            All("fasteners", o.Fasteners, f => f.When);
            All("plugs", o.Plugs, p => p.When);
            All("tools", o.Tools, t => t.When);
            All("changes", o.Changes, c => c.When);
            All("refit", o.Refit, s => s.When);
            foreach (var (step, k) in o.Refit.Select((s, k) => (s, k)))
            {
                All($"refit/{k}/tools", step.Tools, t => t.When);
                All($"refit/{k}/changes", step.Changes, c => c.When);
            }
        }
        foreach (var (f, i) in layout.Facts.Select((f, i) => (f, i)))
        {
            var term = words.FindFact(f.Id);
            errors.If(
                term is null,
                $"/facts/{i}/id",
                $"There is no fact '{f.Id}'.{Nearest.Hint(f.Id, words.Facts.Select(x => x.Id))}"
            );
            foreach (
                var (value, at) in term is null
                    ? []
                    : (f.Values ?? [])
                        .Select((v, k) => (v, $"/facts/{i}/values/{k}"))
                        .Append((f.Value, $"/facts/{i}/value"))
                        .Where(v => term.Values.All(x => x.Id != v.Item1))
            )
            {
                errors.Add(
                    at,
                    $"The fact '{f.Id}' has no value '{value}'.{Nearest.Hint(value, term!.Values.Select(v => v.Id))}"
                );
            }
            errors.If(
                f.Values is { Count: > 0 } values && !values.Contains(f.Value),
                $"/facts/{i}/value",
                "The value is not among those met on this layout."
            );
        }
    }
}
