using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Supply;

/// <summary>One thing that is bought: parts of a machine that are the same part in different places, as its rollers
/// are.</summary>
/// <param name="Id">Id of the first of its parts.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Part">The first of its parts.</param>
/// <param name="Places">All of them.</param>
public sealed record PartItem(PartId Id, string Name, Part Part, IReadOnlyList<Part> Places)
{
    private static readonly string[] Sides = ["left", "right", "front", "rear", "upper", "lower"];

    /// <summary>All that wears and is sold on this machine.</summary>
    public static IReadOnlyList<PartItem> All(Layout layout) =>
        [
            .. layout
                .Parts.Where(p => p.Wears && p.Price > 0)
                .GroupBy(Key)
                .Select(g => new PartItem(g.First().Id, NameOf([.. g]), g.First(), [.. g])),
        ];

    /// <summary>The thing a part is one of; its own id where it is not sold.</summary>
    public static PartId Of(Layout layout, PartId partId) =>
        layout.FindPart(partId) is { } part
        && layout.Parts.FirstOrDefault(p => p.Wears && p.Price > 0 && Key(p).Equals(Key(part))) is { } first
            ? first.Id
            : partId;

    /// <summary>How many of it one place takes: as many as it has where singles are sold, one set or assembly
    /// else.</summary>
    public static int Units(Part part) => part.SoldAs == SoldAs.Single ? part.Count : 1;

    /// <summary>How many of each thing some parts need: thing → count.</summary>
    public static IReadOnlyDictionary<PartId, int> Need(Layout layout, IEnumerable<PartId> partIds) =>
        partIds
            .Distinct()
            .Select(layout.FindPart)
            .OfType<Part>()
            .Where(p => p.Price > 0 && p.Wears)
            .GroupBy(p => Of(layout, p.Id))
            .ToDictionary(g => g.Key, g => g.Sum(Units));

    /// <summary>The number it is bought by.</summary>
    public string ArticleOn(Layout layout) => Part.Article.Length > 0 ? Part.Article : ArticleNumbers.Own(layout, Id);

    /// <summary>Parts of one kind that state no article and differ in price or bag alone: one thing or two, the file
    /// does not say, so they are kept apart.</summary>
    public static IReadOnlyList<IReadOnlyList<Part>> Unclear(Layout layout) =>
        [
            .. layout
                .Parts.Where(p => p.Wears && p.Price > 0 && p.Article.Length == 0)
                .GroupBy(p => (p.Kind, p.SoldAs))
                .Where(g => g.Select(Key).Distinct().Skip(1).Any())
                .Select(g => g.ToList()),
        ];

    private static object Key(Part p) => p.Article.Length > 0 ? p.Article : (p.Kind, p.Price, p.SoldAs, p.SoldWith);

    private static string NameOf(IReadOnlyList<Part> places)
    {
        if (places.Count == 1)
        {
            return places[0].Name;
        }
        // "Rear left roller" and "Front right roller" are one roller.
        var words = places[0]
            .Name.Split(' ')
            .Where(w =>
                !Sides.Contains(w.ToLowerInvariant())
                || places.All(p => p.Name.Contains(w, StringComparison.OrdinalIgnoreCase))
            )
            .ToArray();
        var name = string.Join(' ', words);
        return name.Length == 0 ? places[0].Name : char.ToUpperInvariant(name[0]) + name[1..];
    }
}
