using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Shop;

/// <summary>What is sold for a machine: four rollers are four, a tag decides between two motors, half a tube of contact
/// cement does for a felt.</summary>
public class SupplierTests
{
    private static readonly Supplier Supplier = TestShop.Shop.Supplier;

    private static Layout Layout(string id) => TestShop.Machine(id).Layout;

    [Fact]
    public void The_price_list_is_sound_and_has_a_single_of_everything_that_wears_and_a_kit_for_every_machine()
    {
        Assert.Empty(Supplier.Check(TestShop.Shop.FindLayout, TestShop.Shop.Words, TestShop.Shop.Handbook));
        Assert.All(Supplier.Articles.SelectMany(a => a.Layouts), id => Assert.NotNull(TestShop.Shop.FindLayout(id)));
        foreach (var layout in TestShop.Shop.Layouts.Select(l => Layout(l.Id)))
        {
            var articles = Supplier.For(layout, "");
            Assert.Empty(articles.GroupBy(a => a.Id).Where(g => g.Count() > 1).Select(g => g.Key));
            // Every wear part can be bought by itself: nobody buys a set for one roller.
            Assert.All(layout.Parts.Where(p => p.Wears), p =>
                Assert.Contains(articles, a =>
                    a.Covers.Count == 1 && a.Covers.GetValueOrDefault(PartItem.Of(layout, p.Id)) == 1
                )
            );
            Assert.Contains(articles, a => a.Covers.Count > 1);
            // A kit is worth its name: not dearer than its singles, unless it is something else.
            Assert.All(articles.Where(a => a.Covers.Values.Sum() > 1 && a.Differs.Length == 0), a =>
                Assert.True(a.Price <= a.Covers.Sum(c => c.Value * layout.FindPart(c.Key)!.Price) + 3, a.Id)
            );
        }
    }

    [Fact]
    public void Four_rollers_are_four_of_one_thing_and_a_pair_of_glides_is_one_set()
    {
        var qd62 = Layout("quenby-qd62");
        var need = PartItem.Need(
            qd62,
            ["front-roller-left", "front-roller-right", "rear-roller-left", "rear-roller-right", "belt"]
        );
        Assert.Equal(4, need["front-roller-left"]);
        Assert.Equal(1, need["belt"]);
        Assert.Equal(2, need.Count);
        Assert.Equal("Roller", PartItem.All(qd62).First(i => i.Id == "front-roller-left").Name);
        Assert.Equal(1, PartItem.Need(Layout("marlune-mg61"), ["glides"])["glides"]);
        // Named twice it is needed once.
        Assert.Equal(1, PartItem.Need(qd62, ["belt", "belt"])["belt"]);
    }

    [Theory]
    [InlineData("OT50-2207", "OT50-M1", "OT50-M2")]
    [InlineData("OT50-3100", "OT50-M2", "OT50-M1")]
    public void The_number_on_the_tag_decides_which_motor_fits(string tag, string fits, string other)
    {
        var ids = Supplier.For(Layout("ostrel-ot50"), tag).Select(a => a.Id).ToList();
        Assert.Contains(fits, ids);
        Assert.DoesNotContain(other, ids);
        Assert.DoesNotContain("OT50-MOTOR", ids);
    }

    [Fact]
    public void Without_the_tag_both_motors_are_named()
    {
        var ids = Supplier.For(Layout("ostrel-ot50"), "").Select(a => a.Id).ToList();
        Assert.Contains("OT50-M1", ids);
        Assert.Contains("OT50-M2", ids);
        Assert.Equal(2207, Supplier.NumberOf("OT50-2207"));
        Assert.Null(Supplier.NumberOf("no number"));
        Assert.Null(Supplier.NumberOf("12345678901234567890"));
    }

    [Fact]
    public void About_half_a_tube_of_contact_cement_does_for_a_felt_and_three_felts_take_two()
    {
        var (layout, handbook) = (Layout("ostrel-ot50"), TestShop.Shop.Handbook);
        var cement = handbook.Adhesives.First(a => a.Id == "contact-cement");
        Assert.InRange(Supplier.FeltDm2(layout) * cement.MillilitresPerDm2 / cement.TubeMillilitres, 0.35, 0.65);
        Assert.Equal(1, cement.Tubes(Supplier.FeltDm2(layout)));
        Assert.Equal(2, cement.Tubes(3 * Supplier.FeltDm2(layout)));
        var small = Supplier.SmallFor(
            layout,
            [layout.FindPart("front-felt")!],
            handbook,
            new Dictionary<PartId, string>()
        );
        Assert.Contains(small, s => s.Article.Adhesive == "contact-cement" && s.Count == 1);
        // Whatever way a felt is glued, its tube can be had.
        Assert.All(handbook.Adhesives, a => Assert.Contains(Supplier.Small, s => s.Adhesive == a.Id));
        Assert.All(layout.Parts.Where(p => handbook.For(p.Kind)?.Glues == true), p =>
            Assert.NotEmpty(Supplier.SmallFor(layout, [p], handbook, new Dictionary<PartId, string>()))
        );
        Assert.Empty(Supplier.SmallFor(layout, [layout.FindPart("belt")!], handbook, new Dictionary<PartId, string>()));
    }

    [Fact]
    public void A_list_that_cannot_be_is_named_at_its_field()
    {
        Article article = new()
        {
            Id = "x",
            Name = "x",
            Layouts = ["ostrel-ot50", "nowhere"],
            Covers = new Dictionary<PartId, int> { ["ghost"] = 0 },
            Price = -1,
            Misfit = 2,
            Serials = new(9, 3),
        };
        var errors = (Supplier with { Days = -1, Misfit = 1.5, Articles = [article, article with { Price = 1 }] })
            .Check(TestShop.Shop.FindLayout, TestShop.Shop.Words, TestShop.Shop.Handbook)
            .Select(e => e.Pointer)
            .ToHashSet();
        foreach (
            var pointer in new[]
            {
                "/days",
                "/misfit",
                "/articles",
                "/articles/0/price",
                "/articles/0/covers",
                "/articles/0/misfit",
                "/articles/0/serials",
                "/articles/0/layouts",
            }
        )
        {
            Assert.Contains(pointer, errors);
        }
    }
}
