using System.Collections.Immutable;
using Idrum.Core.Machines;

namespace Idrum.Core.Supply;

/// <summary>Numbers that single parts are bought and kept by. A part may state its article (<see
/// cref="Part.Article"/>); without one it goes by a number made of its layout and its own id, as all parts did
/// once. What is kept under such a number (the van, orders of earlier jobs, prices paid) moves to the article a part
/// states now.</summary>
public static class ArticleNumbers
{
    /// <summary>The number of a part that states none: end of the layout's id and part id, as in OT50/belt.</summary>
    public static string Own(Layout layout, PartId partId) => $"{layout.Id.Split('-')[^1].ToUpperInvariant()}/{partId}";

    /// <summary>Former number → the articles it may stand for now.</summary>
    /// <param name="layouts">The layouts of the shop as they are now.</param>
    public static ImmutableDictionary<string, ImmutableSortedSet<string>> Former(IEnumerable<Layout> layouts) =>
        layouts
            .SelectMany(l =>
                PartItem
                    .All(l)
                    .SelectMany(i => i.Places.Select(p => (Former: Own(l, p.Id), Now: i.ArticleOn(l))))
                    .Where(n => n.Former != n.Now)
            )
            .GroupBy(n => n.Former)
            .ToImmutableDictionary(g => g.Key, g => g.Select(n => n.Now).ToImmutableSortedSet());

    /// <summary>What is held under present numbers. Where a former number may stand for several articles it stays as
    /// it is: nothing is merged by guess.</summary>
    /// <param name="held">Number → how many.</param>
    /// <param name="former">As <see cref="Former"/> gives it.</param>
    /// <returns>The same by present numbers; and the numbers that may stand for several, with them.</returns>
    public static (IReadOnlyDictionary<string, int> Held, IReadOnlyList<(string Number, string Now)> Unclear) Moved(
        IReadOnlyDictionary<string, int> held,
        ImmutableDictionary<string, ImmutableSortedSet<string>> former
    ) =>
        (
            held.GroupBy(h => Present(h.Key, former)).ToDictionary(g => g.Key, g => g.Sum(h => h.Value)),
            [
                .. held
                    .Keys.Where(k => former.TryGetValue(k, out var now) && now.Count > 1)
                    .Select(k => (k, string.Join(" or ", former[k]))),
            ]
        );

    /// <summary>The present number; the same where there is none or more than one.</summary>
    public static string Present(string number, ImmutableDictionary<string, ImmutableSortedSet<string>> former) =>
        former.TryGetValue(number, out var now) && now.Count == 1 ? now[0] : number;
}
