using System.Collections.Immutable;
using Idrum.Core.Machines;

namespace Idrum.Core.Ledger;

/// <summary>Which tray compartment a group of fasteners gets: one of its own, for two lengths of one step must not lie
/// together.</summary>
public static class TrayPlan
{
    /// <summary>Letters that cannot be taken for a figure: no I and no O.</summary>
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ";

    /// <summary>Letter of the n-th tray: A … Z without I and O, then AA, AB …</summary>
    /// <param name="n">Trays before it; 0 or more.</param>
    public static string Letter(int n) =>
        n < Letters.Length ? Letters[n].ToString() : Letter(n / Letters.Length - 1) + Letter(n % Letters.Length);

    /// <summary>Compartments for groups that come out, in the order of their ids; a group that has one keeps
    /// it.</summary>
    /// <param name="groups">Ids of groups of which something comes out.</param>
    /// <param name="used">Trays given out so far.</param>
    /// <param name="input">What was done so far.</param>
    /// <param name="laid">Group id → letter where it was laid, as far as that was said; null where nothing was.</param>
    /// <returns>Group id → letter.</returns>
    public static ImmutableSortedDictionary<string, string> Assign(
        IEnumerable<string> groups,
        int used,
        LedgerInput input,
        IReadOnlyDictionary<string, string>? laid = null
    )
    {
        var trays = ImmutableSortedDictionary<string, string>.Empty;
        foreach (var id in groups.Order(StringComparer.Ordinal))
        {
            trays = trays.Add(
                id,
                input.TrayOf(id) is { Length: > 0 } known ? known
                    : laid?.GetValueOrDefault(id) is { } said && IndexOf(said) >= 0 ? said
                    : Letter(used++)
            );
        }
        return trays;
    }

    /// <summary>How many trays were given out when those of these letters are: one more than the last of them.</summary>
    public static int UsedWith(int used, IEnumerable<string> letters) =>
        letters.Select(l => IndexOf(l) + 1).Append(used).Max();

    /// <summary>Which tray a letter is, from 0; -1 where it is none of the first six hundred.</summary>
    public static int IndexOf(string letter)
    {
        if (letter.Length is 0 or > 2 || letter.Any(c => !Letters.Contains(c)))
        {
            return -1;
        }
        return letter.Length == 1
            ? Letters.IndexOf(letter[0])
            : (Letters.IndexOf(letter[0]) + 1) * Letters.Length + Letters.IndexOf(letter[1]);
    }

    /// <summary>Compartments of steps, as they will be if they are done in this order.</summary>
    /// <param name="input">What was done and counted so far.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="used">Trays given out so far.</param>
    /// <param name="steps">Steps planned, in order.</param>
    /// <returns>Operation id → group id → letter.</returns>
    public static IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> Of(
        LedgerInput input,
        Layout layout,
        int used,
        IReadOnlyList<Operation> steps
    )
    {
        var given = new Dictionary<string, string>();
        var trays = new Dictionary<string, IReadOnlyDictionary<string, string>>();
        foreach (var step in steps)
        {
            var here = new SortedDictionary<string, string>(StringComparer.Ordinal);
            foreach (
                var (group, _) in layout
                    .CountedAt(step)
                    .Where(c => input.ExpectedAt(step, c.Group, c.Count) > 0)
                    .OrderBy(c => c.Group.Id, StringComparer.Ordinal)
            )
            {
                here[group.Id] = given.TryGetValue(group.Id, out var letter)
                    ? letter
                    : given[group.Id] = input.TrayOf(group.Id) is { Length: > 0 } known ? known : Letter(used++);
            }
            trays[step.Id] = here;
        }
        return trays;
    }
}
