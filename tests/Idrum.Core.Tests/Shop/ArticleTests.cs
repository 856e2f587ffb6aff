using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>A part is bought and kept by its number: neither a changed price nor other words make it another
/// thing.</summary>
public class ArticleTests
{
    private static readonly Layout Layout = TestShop.Machine("quenby-qd62").Layout;

    /// <summary>The layout with its parts changed.</summary>
    private static Layout With(Func<Part, Part> change, string? id = null) =>
        Layout with
        {
            Id = id ?? Layout.Id,
            Parts = [.. Layout.Parts.Select(change)],
        };

    [Fact]
    public void One_place_at_another_price_or_with_other_words_is_still_the_same_roller()
    {
        var dearer = With(p => p.Id == "rear-roller-left" ? p with { Price = 19, SoldWith = "Single" } : p);
        var item = Assert.Single(PartItem.All(dearer), i => i.Part.Kind == PartKinds.DrumRoller);
        Assert.Equal(4, item.Places.Count);
        Assert.Equal("QD62-ROLLER", item.ArticleOn(dearer));
        Assert.Equal(4, PartItem.Need(dearer, item.Places.Select(p => p.Id))[item.Id]);
        Assert.Empty(PartItem.Unclear(dearer));
        // Where nobody states the article, price and bag are all there is to go by: kept apart, and said.
        var unsaid = With(p => dearer.FindPart(p.Id)! with { Article = "" });
        Assert.Equal(2, PartItem.All(unsaid).Count(i => i.Part.Kind == PartKinds.DrumRoller));
        Assert.Contains(PartItem.Unclear(unsaid), g => g.All(p => p.Kind == PartKinds.DrumRoller) && g.Count == 4);
    }

    [Fact]
    public void A_variant_shares_its_parents_articles_unless_it_brings_another_part()
    {
        string Motor(string id) =>
            PartItem.All(TestShop.Machine(id).Layout).Single(i => i.Part.Kind == PartKinds.Motor).ArticleOn(Layout);
        Assert.Equal(Motor("ostrel-ot50"), Motor("ostrel-ot56"));
        Assert.NotEqual(Motor("quenby-qd62"), Motor("quenby-qd68"));
        // What is sold for two machines has one name and one way of being counted on both.
        var all = TestShop
            .Shop.Layouts.SelectMany(l => PartItem.All(l).Select(i => (Article: i.ArticleOn(l), i)))
            .ToList();
        Assert.All(all.GroupBy(a => a.Article), g =>
            Assert.Single(g.Select(a => (a.i.Part.Kind, a.i.Part.SoldAs, a.i.Part.Price)).Distinct())
        );
    }

    [Fact]
    public void What_lay_in_the_van_under_a_former_number_moves_to_the_article_and_what_is_unclear_stays_and_is_named()
    {
        var former = ArticleNumbers.Former(TestShop.Shop.Layouts);
        var van = new Dictionary<string, int>
        {
            ["QD62/front-roller-left"] = 3,
            ["QD62-ROLLER"] = 1,
            ["OT56/belt"] = 2,
            ["GR"] = 5,
        };
        var (held, unclear) = ArticleNumbers.Moved(van, former);
        Assert.Empty(unclear);
        Assert.Equal(4, held["QD62-ROLLER"]);
        Assert.Equal(2, held["OT50-BELT"]);
        Assert.Equal(5, held["GR"]);
        Assert.Equal(van.Values.Sum(), held.Values.Sum());
        // Two makers may end a layout's id alike: then the old number may be either, and nobody guesses.
        var twin = With(p => p.Article.Length > 0 ? p with { Article = "X" + p.Article } : p, "other-qd62");
        (held, unclear) = ArticleNumbers.Moved(van, ArticleNumbers.Former([.. TestShop.Shop.Layouts, twin]));
        Assert.Equal(3, held["QD62/front-roller-left"]);
        Assert.Equal(1, held["QD62-ROLLER"]);
        Assert.Equal(("QD62/front-roller-left", "QD62-ROLLER or XQD62-ROLLER"), Assert.Single(unclear));
    }

    [Fact]
    public void A_job_pinned_to_a_writing_without_articles_buys_by_the_numbers_of_today()
    {
        var old = With(p => p with { Article = "" });
        var articles = TestShop.Shop.Supplier.For(old, "");
        var single = Assert.Single(articles, a => a.Id == "QD62-ROLLER");
        Assert.True(single.Is("QD62/front-roller-left"));
        Assert.DoesNotContain(articles, a => a.Id.Contains('/', StringComparison.Ordinal));
    }

    [Fact]
    public void What_was_paid_last_is_the_price_by_article_and_only_in_the_shops_currency()
    {
        var at = new DateTimeOffset(2026, 3, 1, 0, 0, 0, TimeSpan.Zero);
        JobLesson Paid(string article, double price, int day, string currency) =>
            new("J-1", "quenby-qd62", 1, "", at, new Dictionary<string, string>(), [], true)
            {
                Paid = [new(article, price, at.AddDays(day), currency)],
            };
        var here = TestShop.Shop.Terms.Currency;
        var shop = TestShop.Shop.Learn([
            Paid("QD62/front-roller-left", 17.5, 1, here),
            Paid("QD62-ROLLER", 18.25, 9, here),
            Paid("QD62-ROLLER", 11, 20, "XYZ"),
            Paid("QD62-BELT", 9, 2, "XYZ"),
        ])(TestShop.Shop);
        Article Single(ShopSnapshot of, string id) => of.Supplier.For(Layout, "").Single(a => a.Id == id);
        Assert.Equal(18.25, Single(shop, "QD62-ROLLER").Price);
        Assert.Equal(at.AddDays(9), Single(shop, "QD62-ROLLER").Paid!.At);
        Assert.Equal(Layout.FindPart("belt")!.Price, Single(shop, "QD62-BELT").Price);
        // The same article at another machine of the shop, in a later snapshot too; and back when it is unlearned.
        var later = shop.With(With(p => p, "own-qd62"));
        Assert.Equal(18.25, Single(later, "QD62-ROLLER").Price);
        Assert.Equal(16, Single(shop.Learn([])(shop), "QD62-ROLLER").Price);
        Assert.Equal(11, Single(shop.Charging(shop.Terms with { Currency = "XYZ" }), "QD62-ROLLER").Price);
    }
}
