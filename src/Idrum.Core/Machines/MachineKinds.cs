namespace Idrum.Core.Machines;

/// <summary>One kind of machine a layout stands for: facts and schools set one way.</summary>
/// <param name="Facts">Fact id → value, of those that vary and matter.</param>
/// <param name="Schools">School id → option.</param>
/// <param name="Words">How it differs from the machine as the file has it: empty, or " where 'x' is 'y' and …".</param>
public sealed record MachineKind(
    IReadOnlyDictionary<string, string> Facts,
    IReadOnlyDictionary<string, string> Schools,
    string Words
);

/// <summary>The machines that conditions can tell apart.</summary>
public static class MachineKinds
{
    /// <summary>Most combinations of values gone through.</summary>
    public const int Most = 1 << 16;

    /// <summary>One machine for each different way in which the conditions hold or not, the one as the file has it
    /// first.</summary>
    /// <param name="layout">A layout whose conditions name what there is.</param>
    /// <param name="words">Values of facts that a layout does not list.</param>
    /// <param name="conditions">The conditions that are to be told apart; null ones always hold.</param>
    /// <returns>The machines; null where more than <see cref="Most"/> combinations would have to be gone
    /// through.</returns>
    public static IReadOnlyList<MachineKind>? Of(Layout layout, Vocabulary words, IEnumerable<Condition?> conditions)
    {
        var asked = conditions.OfType<Condition>().ToList();
        var named = asked.SelectMany(c => c.Inside()).ToList();
        var facts = named.Select(c => c.Fact).OfType<string>().ToHashSet();
        var schools = named.Select(c => c.School).OfType<string>().ToHashSet();
        var choices = layout
            .Facts.Where(f => f.Varies && facts.Contains(f.Id))
            .Select(f =>
                (
                    f.Id,
                    School: false,
                    Values: (
                        f.Values is { Count: > 0 } met
                            ? met
                            : words.FindFact(f.Id)?.Values.Select(v => v.Id) ?? [f.Value]
                    )
                        .Prepend(f.Value)
                        .Distinct()
                        .ToArray()
                )
            )
            .Concat(
                layout
                    .Schools.Where(s => schools.Contains(s.Id))
                    .Select(s => (s.Id, School: true, Values: s.Options.Select(o => o.Id).Distinct().ToArray()))
            )
            .Where(c => c.Values.Length > 1)
            .ToList();
        if (choices.Aggregate(1L, (n, c) => Math.Min(n * c.Values.Length, int.MaxValue)) > Most)
        {
            return null;
        }
        var given = layout.Facts.ToDictionary(f => f.Id, f => f.Value);
        var taken = layout.Schools.ToDictionary(s => s.Id, s => s.Option.Id);
        var found = new List<MachineKind>();
        var known = new HashSet<string>();
        var pick = new int[choices.Count];
        while (true)
        {
            for (var i = 0; i < pick.Length; i++)
            {
                (choices[i].School ? taken : given)[choices[i].Id] = choices[i].Values[pick[i]];
            }
            if (
                known.Add(
                    string.Concat(
                        asked.Select(c =>
                            c.Holds(id => given.GetValueOrDefault(id), id => taken.GetValueOrDefault(id)) ? '1' : '0'
                        )
                    )
                )
            )
            {
                var differs = choices
                    .Where((_, i) => pick[i] > 0)
                    .Select((c, _) => $"'{c.Id}' is '{(c.School ? taken : given)[c.Id]}'")
                    .ToList();
                found.Add(
                    new(
                        choices.Where(c => !c.School).ToDictionary(c => c.Id, c => given[c.Id]),
                        choices.Where(c => c.School).ToDictionary(c => c.Id, c => taken[c.Id]),
                        differs.Count == 0 ? "" : " where " + string.Join(" and ", differs)
                    )
                );
            }
            var at = 0;
            while (at < pick.Length && ++pick[at] == choices[at].Values.Length)
            {
                pick[at++] = 0;
            }
            if (at == pick.Length)
            {
                return found;
            }
        }
    }
}
