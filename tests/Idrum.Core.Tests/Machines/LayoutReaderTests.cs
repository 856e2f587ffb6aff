using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Machines;

public class LayoutReaderTests
{
    private static string Broken(Action<JsonObject> change)
    {
        var json = JsonNode.Parse(TestShop.Content.Layouts["ostrel-ot50.json"])!.AsObject();
        change(json);
        return json.ToJsonString();
    }

    private static JsonObject Operation(JsonObject layout, string id) => layout["operations"]!.AsArray().Select(o => o!.AsObject()).Single(o => (string)o["id"]! == id);

    private static void Refused(string pointerStart, string words, Action<JsonObject> change)
    {
        var (layout, errors) = TestShop.Reader.Read(Broken(change));
        Assert.Null(layout);
        Assert.Contains(errors, e => e.Pointer.StartsWith(pointerStart, StringComparison.Ordinal) && e.Message.Contains(words, StringComparison.Ordinal));
    }

    [Fact]
    public void Both_layouts_are_sound_and_survive_a_round_trip()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var text = JsonSerializer.Serialize(layout, IdrumJson.Options);
            var again = JsonSerializer.Deserialize<Layout>(text, IdrumJson.Options)!;
            Assert.Equal(text, JsonSerializer.Serialize(again, IdrumJson.Options));
        }
        Assert.True(TestShop.Shop.FindLayout("ostrel-ot50")!.Operations.Count >= 20);
        Assert.True(TestShop.Shop.FindLayout("quenby-qd62")!.Operations.Count >= 30);
        Assert.All(TestShop.Shop.Layouts, l => Assert.NotEmpty(l.Ways));
    }

    [Fact]
    public void A_precondition_cycle_is_named() =>
        Refused("/operations/", "circle", l => Operation(l, "deck-screws")["needs"] = JsonNode.Parse("""[["front-off"]]"""));

    [Fact]
    public void A_dangling_operation_id_is_named() =>
        Refused("/operations/", "no operation 'nowhere'", l => Operation(l, "belt-off")["needs"] = JsonNode.Parse("""[["nowhere"]]"""));

    [Fact]
    public void A_dangling_part_id_is_named() =>
        Refused("/operations/", "no part 'ghost'", l => Operation(l, "belt-off")["frees"] = JsonNode.Parse("""["ghost"]"""));

    [Fact]
    public void A_wear_part_that_nothing_frees_is_named() =>
        Refused("/parts/", "no operation frees", l => l["parts"]!.AsArray().Add(JsonNode.Parse("""{"id":"orphan","kind":"glide","name":"Glide","wears":true}""")));

    [Fact]
    public void A_wear_part_that_nothing_frees_on_some_machines_is_named() =>
        Refused("/parts/", "no operation frees it where 'gas' is not so", l => Operation(l, "belt-off")["when"] = JsonNode.Parse("""{"fact":"gas"}"""));

    [Fact]
    public void More_tools_than_a_bit_set_holds_are_refused() =>
        Refused("/operations/*/tools", "64 at most", l =>
        {
            foreach (var (operation, i) in l["operations"]!.AsArray().Select((o, i) => (o!.AsObject(), i)))
            {
                operation["tools"] = new JsonArray([.. Enumerable.Range(0, 4).Select(k => (JsonNode)$"tool-{i}-{k}")]);
            }
        });

    [Fact]
    public void A_refit_cycle_is_named() =>
        Refused("/operations/", "refit order", l => Operation(l, "drum-out")["refit"]!["before"] = JsonNode.Parse("""["shaft-left-out"]"""));

    [Fact]
    public void A_doubled_id_is_named() =>
        Refused("/parts", "stands 2 times", l => l["parts"]!.AsArray().Add(JsonNode.Parse("""{"id":"belt","kind":"belt","name":"Belt"}""")));

    [Theory]
    [InlineData("count", "-3")]
    [InlineData("count", "1000")]
    [InlineData("lengthMm", "-1")]
    [InlineData("head", "\"spiral\"")]
    public void Absurd_fasteners_are_refused_at_their_field(string field, string value) =>
        Refused("/operations/", "", l => Operation(l, "deck-screws")["fasteners"]![0]![field] = JsonNode.Parse(value));

    [Fact]
    public void Falling_times_are_refused() =>
        Refused("/operations/", "rise", l => Operation(l, "deck-screws")["minutes"]!["out"] = JsonNode.Parse("[5, 2, 1]"));

    [Fact]
    public void An_unknown_field_and_another_version_are_refused()
    {
        Refused("/", "", l => l["surprise"] = 1);
        Refused("/version", "", l => l["version"] = 2);
    }

    [Fact]
    public void What_is_not_json_throws()
    {
        Assert.ThrowsAny<JsonException>(() => TestShop.Reader.Read("{ \"format\": "));
        Assert.ThrowsAny<JsonException>(() => TestShop.Reader.Read("{ \"id\": 1, \"id\": 2 }"));
    }

    [Fact]
    public void Facts_that_do_not_hold_take_their_operations_and_parts_along()
    {
        var layout = TestShop.Shop.FindLayout("quenby-qd62")!;
        var steam = layout.For(new Dictionary<string, bool> { ["steam"] = true });
        var dry = layout.For(new Dictionary<string, bool> { ["steam"] = false });
        Assert.NotNull(steam.FindOperation("water-line-off"));
        Assert.Null(dry.FindOperation("water-line-off"));
        Assert.Null(dry.FindPart("water-line"));
        Assert.Contains(steam.FindOperation("heater-out")!.Needs, g => g.Contains("water-line-off"));
        Assert.DoesNotContain(dry.FindOperation("heater-out")!.Needs, g => g.Contains("water-line-off"));
        Assert.DoesNotContain(LayoutRules.Check(dry), e => !e.Pointer.StartsWith("/drawing", StringComparison.Ordinal));
    }

    [Fact]
    public void A_fact_that_does_not_vary_cannot_be_changed() =>
        Assert.False(TestShop.Shop.FindLayout("ostrel-ot50")!.For(new Dictionary<string, bool> { ["belt-switch"] = true }).Has("belt-switch"));

    [Fact]
    public void Spreads_of_independent_steps_add_in_squares()
    {
        var sum = new Spread(1, 4, 10) + new Spread(0, 4, 12);
        Assert.Equal((8 - 5, 8, 18), (sum.Low, sum.Typical, sum.High));
    }
}
