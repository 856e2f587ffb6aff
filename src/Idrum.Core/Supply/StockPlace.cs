using System.Collections.Immutable;
using Idrum.Core.Basics;

namespace Idrum.Core.Supply;

/// <summary>Where articles are kept and counted: a van, or the shelf of the shop.</summary>
/// <param name="Id">Stands for it in the log, whatever it is called later.</param>
/// <param name="Name">What it is called.</param>
public sealed record StockPlace(string Id, string Name)
{
    /// <summary>Most places of a shop.</summary>
    public const int Most = 12;

    private const int MostOfOne = 999;
    private const int NameLength = 40;
    private const int PersonLength = 60;

    /// <summary>The one place of a shop that named none.</summary>
    public static StockPlace Only { get; } = new("van-1", "the van");

    /// <summary>Who drives it; nobody drives a shelf.</summary>
    public IReadOnlyList<string> Drivers { get; init; } = [];

    /// <summary>The supplier's number → how many.</summary>
    public IReadOnlyDictionary<string, int> Holds { get; init; } = ImmutableDictionary<string, int>.Empty;

    /// <summary>When it was counted last; null where that is known for the whole shop only.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    )]
    public DateTimeOffset? CountedAt { get; init; }

    /// <summary>Its name at the head of a sentence.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public string Named => Name.Length > 0 ? char.ToUpperInvariant(Name[0]) + Name[1..] : "";

    /// <summary>Whether a person drives it.</summary>
    public bool DrivenBy(string person) =>
        person.Length > 0 && Drivers.Any(d => string.Equals(d, person.Trim(), StringComparison.OrdinalIgnoreCase));

    /// <summary>The place of the first of some persons who drives one; null where none does.</summary>
    /// <param name="places">The shop's places.</param>
    /// <param name="persons">Persons, whoever counts most first; empty for nobody.</param>
    public static StockPlace? Of(IReadOnlyList<StockPlace> places, params ReadOnlySpan<string> persons)
    {
        foreach (var person in persons)
        {
            if (places.FirstOrDefault(p => p.DrivenBy(person)) is { } place)
            {
                return place;
            }
        }
        return null;
    }

    /// <summary>What all of them hold together.</summary>
    public static IReadOnlyDictionary<string, int> Together(IEnumerable<StockPlace> places) =>
        places.SelectMany(p => p.Holds).GroupBy(h => h.Key).ToDictionary(g => g.Key, g => g.Sum(h => h.Value));

    /// <summary>The places of a shop, looked at: one at least, each with a name of its own, nobody in two.</summary>
    /// <param name="places">The places.</param>
    /// <param name="errors">What is wrong with them, under the field it is of.</param>
    public static void Check(IReadOnlyList<StockPlace> places, FieldErrors errors)
    {
        errors.If(places.Count is < 1 or > Most, "vans", $"1 to {Most} vans and shelves.");
        foreach (var name in Twice(places.Select(p => p.Name)))
        {
            errors.Add("vans", $"'{FieldErrors.Short(name)}' is the name of two: call them by different names.");
        }
        errors.If(places.DistinctBy(p => p.Id).Count() < places.Count, "vans", "Two have the same id.");
        foreach (var person in Twice(places.SelectMany(p => p.Drivers)))
        {
            errors.Add(
                "drivers",
                $"{FieldErrors.Short(person)} cannot drive two: what is taken out of the van must be out of one."
            );
        }
        foreach (var place in places)
        {
            errors.Text(place.Id, "vans", FieldErrors.ShortText, true);
            errors.Text(place.Name, "vans", NameLength, true);
            errors.If(place.Drivers.Count > 40, "drivers", "40 names at most.");
            foreach (var person in place.Drivers)
            {
                errors.Text(person, "drivers", PersonLength, true);
            }
            errors.If(place.Holds.Count > 300, "holds", "300 articles at most.");
            foreach (var (article, n) in place.Holds)
            {
                errors.Text(article, "holds", FieldErrors.ShortText, true);
                errors.If(
                    n is < -MostOfOne or > MostOfOne,
                    "holds",
                    $"{FieldErrors.Short(article)}: 0 to {MostOfOne} of it."
                );
            }
        }
    }

    private static IEnumerable<string> Twice(IEnumerable<string> names) =>
        names.GroupBy(n => n.Trim(), StringComparer.OrdinalIgnoreCase).Where(g => g.Skip(1).Any()).Select(g => g.Key);
}

/// <summary>Which van, or shelf, something was taken from, as the log keeps it.</summary>
/// <param name="Id">Of the place.</param>
/// <param name="Name">What it was called then.</param>
public sealed record TakenFrom(string Id, string Name);
