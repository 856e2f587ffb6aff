using System.Collections.Immutable;
using System.Text.Json.Nodes;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Tests.Jobs;

namespace Idrum.Core.Tests.Machines;

public class VariantTests
{
    private static Layout Parent => TestShop.Shop.FindLayout("ostrel-ot50")!;

    private static string Variant(string body, string id = "ostrel-ot50b", string parent = "ostrel-ot50") =>
        $$"""{"format":"idrum-layout","version":2,"id":"{{id}}","title":"Variant","extends":{"id":"{{parent}}"}{{body}}}""";

    private static (IReadOnlyList<Layout> Layouts, IReadOnlyList<SetAside> Bad) Read(
        params (string Name, string Text)[] files
    ) => new LayoutFiles(TestShop.Reader, files.ToDictionary(f => f.Name, f => f.Text), TestShop.Shop.ParentOf).Read();

    [Fact]
    public void A_variant_adds_replaces_and_removes_by_id_and_is_checked_as_a_whole()
    {
        var (layouts, bad) = Read(
            (
                "b.json",
                Variant(
                    """
                    ,"parts":[{"id":"vent","kind":"duct","name":"Vent outlet, left","price":9},{"id":"lamp","kind":"lamp","name":"Drum lamp"}],
                    "drive":{"turnOnlyForward":false},"remove":{"schools":["top-hold"],"operations":["rear-plate-off"]}
                    """
                )
            )
        );
        // The rear plate is named elsewhere, so that the whole is not sound.
        Assert.Empty(layouts);
        Assert.Contains(Assert.Single(bad).Errors, e =>
            e.Message.Contains("no operation 'rear-plate-off'", StringComparison.Ordinal)
        );
        (layouts, bad) = Read(
            (
                "b.json",
                Variant(
                    """
                    ,"parts":[{"id":"vent","kind":"duct","name":"Vent outlet, left","price":9},{"id":"lamp","kind":"lamp","name":"Drum lamp"}],
                    "drive":{"turnOnlyForward":false},"remove":{"solids":["door-switch"]}
                    """
                )
            )
        );
        Assert.Empty(bad);
        var layout = Assert.Single(layouts);
        Assert.Equal(
            ("Vent outlet, left", "Drum lamp"),
            (layout.FindPart("vent")!.Name, layout.FindPart("lamp")!.Name)
        );
        Assert.Equal(Parent.Parts.Count + 1, layout.Parts.Count);
        Assert.False(layout.Drive.TurnOnlyForward);
        Assert.Equal(Parent.Drive.Belt, layout.Drive.Belt);
        Assert.DoesNotContain(layout.Solids, s => s.Part == "door-switch");
        Assert.Equal(new LayoutParent("ostrel-ot50", Variants.HashOf(Parent)), layout.From);
    }

    [Fact]
    public void Circles_of_parents_are_named_a_missing_one_and_a_changed_one_too()
    {
        var (_, bad) = Read(
            ("a.json", Variant("", "a", "b")),
            ("b.json", Variant("", "b", "c")),
            ("c.json", Variant("", "c", "a"))
        );
        Assert.Contains(bad.SelectMany(b => b.Errors), e =>
            e.Message.Contains("circle: 'a' → 'b' → 'c' → 'a'", StringComparison.Ordinal)
        );
        Assert.Contains(
            "no layout 'nowhere'",
            Assert.Single(Read(("a.json", Variant("", "a", "nowhere"))).Bad).Errors[0].Message,
            StringComparison.Ordinal
        );
        var pinned = Variant("")
            .Replace(
                "\"id\":\"ostrel-ot50\"}",
                $"\"id\":\"ostrel-ot50\",\"hash\":\"{new string('0', 64)}\"}}",
                StringComparison.Ordinal
            );
        Assert.Contains(
            "no longer the one",
            Assert.Single(Read(("a.json", pinned)).Bad).Errors[0].Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void A_changed_parent_is_an_offer_that_keeps_what_the_variant_says_and_brings_what_changed()
    {
        var shop = TestShop.Content.Read().Shop;
        shop = shop.WithFiles(
            new Dictionary<string, string>
            {
                ["b.json"] = Variant(
                    """
                    ,"parts":[{"id":"vent","kind":"duct","name":"Vent outlet, left","price":9}]
                    """
                ),
            },
            TestShop.Reader
        );
        var variant = shop.FindLayout("ostrel-ot50b")!;
        Assert.Null(ParentOffer.Of(shop, variant));
        shop = shop.With(
            Parent with
            {
                Parts =
                [
                    .. Parent.Parts.Select(p =>
                        p.Id == "belt" ? p with { Price = 77 }
                        : p.Id == "vent" ? p with { Price = 55 }
                        : p
                    ),
                ],
            }
        );
        var offer = ParentOffer.Of(shop, variant)!;
        var taken = TestShop.Reader.Read(offer.Text, shop.ParentOf).Layout!;
        Assert.Equal(
            (77m, 9m, "Vent outlet, left"),
            (
                (decimal)taken.FindPart("belt")!.Price,
                (decimal)taken.FindPart("vent")!.Price,
                taken.FindPart("vent")!.Name
            )
        );
        // What is as usual is said where the parent says otherwise.
        Assert.True(Parent.Drive.TurnOnlyForward);
        var back = Variants.Between(
            Parent,
            Parent with
            {
                Id = "x",
                Schools = [],
                Drive = Parent.Drive with { TurnOnlyForward = false },
            }
        );
        Assert.Equal(
            ("false", true),
            (
                back["drive"]!["turnOnlyForward"]!.ToJsonString(),
                back["remove"]!["schools"]!.AsArray().Count == Parent.Schools.Count
            )
        );
        shop = shop.With(taken);
        Assert.Null(ParentOffer.Of(shop, taken));
        // A file that pins a writing nobody has: offered with the parent as it is now.
        var pinned = Variant("", "ostrel-ot50c")
            .Replace(
                "\"id\":\"ostrel-ot50\"}",
                $"\"id\":\"ostrel-ot50\",\"hash\":\"{new string('0', 64)}\"}}",
                StringComparison.Ordinal
            );
        shop = shop.WithFiles(
            new Dictionary<string, string>
            {
                ["c.json"] = pinned,
                ["d.json"] = "{\"id\":",
                ["e.json"] = "{\"extends\":{\"id\":\"ostrel-ot50\"}}",
            },
            TestShop.Reader
        );
        var offers = shop.SetAside.ToDictionary(f => f.File, f => ParentOffer.Of(shop, f));
        Assert.Equal(
            (true, true, true),
            (offers["c.json"] is { Then: null }, offers["d.json"] is null, offers["e.json"] is null)
        );
        Assert.NotNull(TestShop.Reader.Read(offers["c.json"]!.Text, shop.ParentOf).Layout);
    }

    [Fact]
    public void One_bad_file_is_set_aside_and_hurts_no_other_and_ids_are_unique_over_all_files()
    {
        var shop = TestShop.Content.Read().Shop;
        shop = shop.WithFiles(
            new Dictionary<string, string>
            {
                ["broken.json"] = "{\"format\":",
                ["good.json"] = Variant("", "good"),
                ["grandchild.json"] = Variant("", "grandchild", "good"),
                ["twice.json"] = Variant("", "good"),
                ["shipped.json"] = Variant("", "quenby-qd62"),
            },
            TestShop.Reader
        );
        Assert.Equal(
            TestShop.Shop.Layouts.Select(l => l.Id).Concat(["good", "grandchild"]),
            shop.Layouts.Select(l => l.Id)
        );
        Assert.Equal(["broken.json", "quenby-qd62", "twice.json"], shop.SetAside.Select(s => s.File).Order());
        Assert.NotNull(
            shop.For(shop.FindLayout("grandchild")!)
                .Planner.Plan(new(["belt"], [], new Dictionary<string, OperationId>()))
        );
    }

    [Fact]
    public void What_lies_between_two_layouts_makes_the_one_out_of_the_other()
    {
        var child = Parent with
        {
            Id = "child",
            Title = "Child",
            Parts =
            [
                .. Parent.Parts.Where(p => p.Id != "vent"),
                new Part
                {
                    Id = "lamp",
                    Kind = "lamp",
                    Name = "Lamp",
                },
            ],
            Solids = [.. Parent.Solids.Where(s => s.Part != "vent")],
            Operations =
            [
                .. Parent.Operations.Select(o => o.Id == "deck-screws" ? o with { Minutes = new(1, 2, 3) } : o),
            ],
            Ways = [Parent.Ways[0]],
        };
        var between = Variants.Between(Parent, child);
        Assert.Equal(["deck-screws"], between["operations"]!.AsArray().Select(o => (string)o!["id"]!));
        Assert.True(between.ToJsonString().Length < Variants.TextOf(child).Length / 10);
        var (again, errors) = TestShop.Reader.Read(between.ToJsonString(), TestShop.Shop.ParentOf);
        Assert.True(errors.Count == 0, string.Join(' ', errors));
        Assert.Equal(Variants.TextOf(child with { From = again!.From }), Variants.TextOf(again));
    }

    [Fact]
    public void What_a_job_found_different_is_a_sound_layout_of_its_own()
    {
        var state = Logs.Apply(
            JobState.Empty,
            new JobOpened("J-1", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" })
        ) with
        {
            Absent = ["drum-hook", "rear-plate-off"],
            Differences = new Dictionary<string, int>
            {
                ["deck"] = 1,
                ["front-side"] = -1,
            }.ToImmutableSortedDictionary(),
        };
        var variant = MachineVariant.Of(Parent, state, "this-one", "This one");
        var (layout, errors) = TestShop.Reader.Read(Variants.TextOf(variant), TestShop.Shop.ParentOf);
        Assert.True(errors.Count == 0, string.Join(' ', errors));
        Assert.Null(layout!.FindOperation("drum-hook"));
        Assert.Equal(3, layout.FindOperation("deck-screws")!.Fasteners[0].Count);
        // The vent plate is not there: what lay behind it is reached by what the plate was reached by.
        Assert.Equal("pull-out", Assert.Single(Assert.Single(layout.FindOperation("idler-rear")!.Needs)));
        Assert.Contains(layout.FindOperation("motor-plug")!.Needs, g =>
            g.ToHashSet().SetEquals(["front-off", "pull-out"])
        );
        Assert.Contains("Gone step: Hang the drum.", LayoutDifference.Words(Parent, layout));
        Assert.Contains("Deck screws: 2 → 3 at beside the lint chute.", LayoutDifference.Words(Parent, layout));
    }

    [Fact]
    public void A_job_keeps_the_layout_it_was_worked_with_and_moving_it_says_what_would_be_lost()
    {
        var shop = TestShop.Content.Read().Shop;
        var old = Variants.HashOf(shop.FindLayout("ostrel-ot50")!);
        var history = JobHistory.Empty;
        void Do(JobEvent e)
        {
            e = e with { Id = Guid.NewGuid(), At = Logs.Now };
            Assert.Empty(JobRules.Check(history, e, shop, Logs.Now));
            history = history.Add(e);
        }
        Do(new JobOpened("J-1", new MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }) { LayoutHash = old });
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), ""));
        // The belt is called otherwise in the newer file.
        var renamed = JsonNode.Parse(
            Variants
                .TextOf(Parent)
                .Replace("\"belt\"", "\"drive-belt\"", StringComparison.Ordinal)
                .Replace("\"kind\":\"drive-belt\"", "\"kind\":\"belt\"", StringComparison.Ordinal)
                .Replace("{\"drive-belt\"", "{\"belt\"", StringComparison.Ordinal)
                .Replace(",\"drive-belt\":", ",\"belt\":", StringComparison.Ordinal)
        )!;
        var (newer, errors) = TestShop.Reader.Read(renamed.ToJsonString());
        Assert.True(errors.Count == 0, string.Join(' ', errors));
        shop = shop.With(newer!);
        var hash = Variants.HashOf(newer!);
        Assert.NotEqual(old, hash);
        Assert.NotNull(shop.MachineOf(history.State).Layout.FindPart("belt"));
        Assert.NotEmpty(JobPlan.Of(history.State, shop.MachineOf(history.State))!.Removal);
        Assert.Contains(
            "'belt' is worked on",
            JobRules
                .Check(history, new LayoutPinned(hash) { Id = Guid.NewGuid(), At = Logs.Now }, shop, Logs.Now)[0]
                .Message,
            StringComparison.Ordinal
        );
        // Taking back the act before does not take the layout away.
        Do(new Undone(history.LastAct!.Id));
        Do(new LayoutPinned(hash));
        Assert.Equal(hash, history.State.LayoutHash);
        Assert.NotNull(shop.MachineOf(history.State).Layout.FindPart("drive-belt"));
    }
}
