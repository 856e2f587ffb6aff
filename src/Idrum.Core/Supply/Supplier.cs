using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Supply;

/// <summary>Where parts are bought, and on what terms; as read from <c>content/supplier.json</c>. Money in the shop's
/// currency.</summary>
public sealed record Supplier
{
    /// <summary>Its name.</summary>
    public required string Name { get; init; }

    /// <summary>Days until an order comes.</summary>
    public required int Days { get; init; }

    /// <summary>Goods below this value cost the surcharge.</summary>
    public double Minimum { get; init; }

    /// <summary>Charge on an order below the minimum.</summary>
    public double Surcharge { get; init; }

    /// <summary>Probability that what comes does not fit, where an article says nothing else.</summary>
    public double Misfit { get; init; }

    /// <summary>Days within which it is taken back.</summary>
    public int ReturnDays { get; init; }

    /// <summary>Share of the price that is lost when it is sent back.</summary>
    public double ReturnShare { get; init; }

    /// <summary>Glue, grease, ties.</summary>
    public IReadOnlyList<SmallArticle> Small { get; init; } = [];

    /// <summary>Kits, assemblies and alternatives; a single of each part can always be had.</summary>
    public IReadOnlyList<Article> Articles { get; init; } = [];

    /// <summary>Former numbers of single parts → articles they may stand for now.</summary>
    [JsonIgnore]
    public ImmutableDictionary<string, ImmutableSortedSet<string>> Former { get; init; } =
        ImmutableDictionary<string, ImmutableSortedSet<string>>.Empty;

    /// <summary>What the shop paid last: article → price of one and when. It goes before the price of the
    /// list.</summary>
    [JsonIgnore]
    public ImmutableDictionary<string, PaidPrice> Paid { get; init; } = ImmutableDictionary<string, PaidPrice>.Empty;

    /// <summary>The number something is kept by now.</summary>
    public string Present(string articleId) => ArticleNumbers.Present(articleId, Former);

    /// <summary>None: every part can be had as a single, in two days.</summary>
    public static Supplier None { get; } = new() { Name = "Supplier", Days = 2 };

    /// <summary>Everything that can be had for a machine: kits and alternatives of the list and a single of each kind
    /// of part.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="tag">Its tag; the number it ends with tells which of two articles it takes. Empty where it was not
    /// read: then both are named.</param>
    public IReadOnlyList<Article> For(Layout layout, string tag)
    {
        var number = NumberOf(tag);
        // A part the layout of this machine lacks cannot be fitted: the kit is not for it.
        var listed = Articles
            .Where(a => a.Layouts.Contains(layout.Id) || layout.From is { } parent && a.Layouts.Contains(parent.Id))
            .Where(a => a.Covers.Keys.All(id => layout.FindPart(id) is not null))
            .Where(a => a.Serials is not { } s || number is not { } n || n >= s.From && n <= s.To)
            .Select(a =>
                a with
                {
                    Covers = a
                        .Covers.GroupBy(c => PartItem.Of(layout, c.Key))
                        .ToDictionary(g => g.Key, g => g.Sum(c => c.Value)),
                }
            )
            .ToList();
        // Sold by number or by way of fitting it, a part has articles of its own.
        var split = listed
            .Where(a => a.Covers.Count == 1 && (a.Serials is not null || a.Way.Length > 0 && a.Differs.Length == 0))
            .Select(a => a.Covers.Keys.First())
            .ToHashSet();
        var singles = PartItem
            .All(layout)
            .Where(i => !split.Contains(i.Id))
            .Select(i => new Article
            {
                Id = Present(i.ArticleOn(layout)),
                Formerly = [.. i.Places.Select(p => ArticleNumbers.Own(layout, p.Id))],
                Name = i.Name,
                Layouts = [layout.Id],
                Covers = new Dictionary<PartId, int> { [i.Id] = 1 },
                Price = i.Part.Price,
                Bag = i.Part.SoldWith,
                Bulk = i.Part.Kind is PartKinds.Motor or PartKinds.Drum,
            });
        return
        [
            .. singles
                // What the list names by the same number stands there with what the supplier says of it.
                .Where(s => listed.All(l => l.Id != s.Id))
                .Concat(listed)
                .Select(a => Paid.TryGetValue(a.Id, out var paid) ? a with { Price = paid.Price, Paid = paid } : a),
        ];
    }

    /// <summary>Glue, grease and ties for parts, by the ways they are fitted.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="parts">Parts that are changed.</param>
    /// <param name="handbook">How.</param>
    /// <param name="ways">Part id → way it is fitted by, where it is not the usual one.</param>
    public IReadOnlyList<(SmallArticle Article, int Count, string For)> SmallFor(
        Layout layout,
        IReadOnlyList<Part> parts,
        Handbook handbook,
        IReadOnlyDictionary<PartId, string> ways
    )
    {
        var glued = parts
            .Select(p => (Part: p, Way: handbook.For(p.Kind)?.School(ways.GetValueOrDefault(p.Id, ""))))
            .Where(p => p.Way?.Adhesive.Length > 0)
            .GroupBy(p => p.Way!.Adhesive);
        var tubes = glued.SelectMany(g =>
            Small
                .Where(s => s.Adhesive == g.Key)
                .Take(1)
                .Select(s =>
                    (
                        s,
                        handbook.Adhesives.First(a => a.Id == g.Key).Tubes(g.Sum(p => FeltDm2(layout))),
                        string.Join(", ", g.Select(p => p.Part.Name.Inside()))
                    )
                )
        );
        var rest = Small
            .Where(s => s.Adhesive.Length == 0)
            .Select(s =>
                (
                    s,
                    1,
                    string.Join(
                        ", ",
                        parts.Where(p => s.Kinds.Contains(p.Kind)).Select(p => p.Name.Inside()).Distinct()
                    )
                )
            )
            .Where(s => s.Item3.Length > 0);
        return [.. tubes.Concat(rest)];
    }

    /// <summary>How many of a thing a van holds, sets counted.</summary>
    /// <param name="item">The thing.</param>
    /// <param name="articles">What can be had for its machine.</param>
    /// <param name="van">Number of an article → how many the van holds.</param>
    public static int InVan(PartItem item, IEnumerable<Article> articles, IReadOnlyDictionary<string, int> van) =>
        articles.Where(a => a.Covers.ContainsKey(item.Id)).Sum(a => a.Covers[item.Id] * van.GetValueOrDefault(a.Id));

    /// <summary>Probability that one of a thing, bought as usual, does not fit. Where the number on the tag tells which
    /// of several is the right one and was
    /// not read, each of them is as likely.</summary>
    /// <param name="item">The thing.</param>
    /// <param name="articles">What can be had for the machine.</param>
    public double MisfitOf(PartItem item, IReadOnlyList<Article> articles)
    {
        var usual = articles
            .Where(a => a.Covers.Count == 1 && a.Covers.ContainsKey(item.Id) && a.Differs.Length == 0)
            .ToList();
        return usual.Count == 0
            ? Misfit
            : 1 - (1 - usual.Max(a => a.Misfit ?? Misfit)) / Math.Max(1, usual.Count(a => a.Serials is not null));
    }

    /// <summary>Glued area of one felt, dm²: round the drum, as wide as the layout says: half a tube of contact cement
    /// does for the usual four centimetres.</summary>
    public static double FeltDm2(Layout layout) =>
        Math.PI
        * layout.Drive.Drum.DiameterMm
        / 100
        * (layout.GlueWidthMm > 0 ? layout.GlueWidthMm : Layout.UsualGlueMm)
        / 100;

    /// <summary>The number a tag ends with, or null.</summary>
    public static int? NumberOf(string tag)
    {
        var digits = new string([.. tag.Reverse().TakeWhile(char.IsAsciiDigit).Reverse()]);
        return digits.Length is > 0 and < 7
            ? int.Parse(digits, System.Globalization.CultureInfo.InvariantCulture)
            : null;
    }

    /// <summary>Errors in the file.</summary>
    /// <param name="find">The layout of an id, or null.</param>
    /// <param name="words">Kinds of part.</param>
    /// <param name="handbook">Adhesives.</param>
    public IReadOnlyList<FieldError> Check(Func<string, Layout?> find, Vocabulary words, Handbook handbook)
    {
        var errors = new FieldErrors();
        errors.Range(Days, "/days", 0, 365);
        errors.Range(Minimum, "/minimum", 0, 10_000);
        errors.Range(Surcharge, "/surcharge", 0, 10_000);
        errors.Range(Misfit, "/misfit", 0, 1);
        errors.Range(ReturnDays, "/returnDays", 0, 365);
        errors.Range(ReturnShare, "/returnShare", 0, 1);
        foreach (
            var twice in Articles
                .Select(a => a.Id)
                .Concat(Small.Select(s => s.Id))
                .GroupBy(i => i)
                .Where(g => g.Count() > 1)
        )
        {
            errors.Add("/articles", $"'{twice.Key}' stands twice.");
        }
        for (var i = 0; i < Small.Count; i++)
        {
            errors.Range(Small[i].Price, $"/small/{i}/price", 0, 10_000);
            errors.Range(Small[i].Jobs, $"/small/{i}/jobs", 1, 1000);
            errors.If(
                Small[i].Adhesive.Length > 0 && handbook.Adhesives.All(a => a.Id != Small[i].Adhesive),
                $"/small/{i}/adhesive",
                $"There is no adhesive '{Small[i].Adhesive}'."
            );
            errors.If(
                Small[i].Kinds.Any(k => !words.HasPartKind(k)),
                $"/small/{i}/kinds",
                "There is no such kind of part."
            );
        }
        for (var i = 0; i < Articles.Count; i++)
        {
            var (a, at) = (Articles[i], $"/articles/{i}");
            errors.Range(a.Price, at + "/price", 0, 100_000);
            errors.If(
                a.Covers.Count == 0 || a.Covers.Values.Any(n => n is < 1 or > 99),
                at + "/covers",
                "It is for one to 99 of each of its parts."
            );
            errors.If(a.Misfit is < 0 or > 1, at + "/misfit", "A probability lies between 0 and 1.");
            errors.If(
                a.Serials is { } s && (s.From < 0 || s.To < s.From),
                at + "/serials",
                "Numbers run from the smaller to the larger."
            );
            foreach (var id in a.Layouts)
            {
                // It may be for machines this shop has never had.
                errors.If(
                    find(id) is { } layout && a.Covers.Keys.Any(p => layout.FindPart(p) is null),
                    at + "/layouts",
                    $"'{id}' has not all of its parts."
                );
                errors.If(
                    a.Way.Length > 0
                        && find(id) is { } machine
                        && !a.Covers.Keys.Any(p =>
                            machine.FindPart(p) is { } part
                            && handbook.For(part.Kind)?.Schools.Any(s => s.Id == a.Way) == true
                        ),
                    at + "/way",
                    $"None of its parts is fitted by a way '{FieldErrors.Short(a.Way)}'."
                );
            }
        }
        return errors.All;
    }
}

/// <summary>Something that is sold: a single, a set, a kit, an assembly, an alternative.</summary>
public sealed record Article
{
    /// <summary>The supplier's number.</summary>
    public required string Id { get; init; }

    /// <summary>Numbers it was kept by before it had one of its own.</summary>
    [JsonIgnore]
    public IReadOnlyList<string> Formerly { get; init; } = [];

    /// <summary>What was paid for it last, where its price is that; null where it is the list's.</summary>
    [JsonIgnore]
    public PaidPrice? Paid { get; init; }

    /// <summary>Whether it is kept, or was once, by that number.</summary>
    public bool Is(string number) => Id == number || Formerly.Contains(number);

    /// <summary>What it is.</summary>
    public required string Name { get; init; }

    /// <summary>Layouts it is for.</summary>
    public IReadOnlyList<string> Layouts { get; init; } = [];

    /// <summary>Part id → how many of it.</summary>
    public required IReadOnlyDictionary<PartId, int> Covers { get; init; }

    /// <summary>Price of one.</summary>
    public required double Price { get; init; }

    /// <summary>What is in its bag, in words.</summary>
    public string Bag { get; init; } = "";

    /// <summary>Small parts it brings.</summary>
    public IReadOnlyList<string> Brings { get; init; } = [];

    /// <summary>Small parts of the old one that it makes needless: they do not come over.</summary>
    public IReadOnlyList<string> Replaces { get; init; } = [];

    /// <summary>The way of fitting it that it is for, as the handbook names it; empty where it is fitted as
    /// usual.</summary>
    public string Way { get; init; } = "";

    /// <summary>How it differs from the usual one; empty where it is that.</summary>
    public string Differs { get; init; } = "";

    /// <summary>What its plug is like beside the old one.</summary>
    public string Connector { get; init; } = "";

    /// <summary>Numbers of the machines it is for; null where it is for all.</summary>
    public SerialRange? Serials { get; init; }

    /// <summary>Probability that it does not fit; null for the supplier's.</summary>
    public double? Misfit { get; init; }

    /// <summary>Whether it takes room in a van.</summary>
    public bool Bulk { get; init; }
}

/// <summary>Numbers on the tag.</summary>
/// <param name="From">The first.</param>
/// <param name="To">The last.</param>
public sealed record SerialRange(int From, int To);

/// <summary>Glue, grease, ties.</summary>
public sealed record SmallArticle
{
    /// <summary>The supplier's number.</summary>
    public required string Id { get; init; }

    /// <summary>What it is.</summary>
    public required string Name { get; init; }

    /// <summary>The adhesive it is; empty where it is none.</summary>
    public string Adhesive { get; init; } = "";

    /// <summary>Kinds of part it goes with.</summary>
    public IReadOnlyList<string> Kinds { get; init; } = [];

    /// <summary>Jobs that one does for; of an adhesive it follows from what is glued.</summary>
    public double Jobs { get; init; } = 1;

    /// <summary>Price of one.</summary>
    public required double Price { get; init; }
}
