using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;
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

    private static JsonObject Operation(JsonObject layout, string id) =>
        layout["operations"]!.AsArray().Select(o => o!.AsObject()).Single(o => (string)o["id"]! == id);

    private static void Refused(string pointerStart, string words, Action<JsonObject> change)
    {
        var (layout, errors) = TestShop.Reader.Read(Broken(change));
        Assert.Null(layout);
        Assert.Contains(errors, e =>
            e.Pointer.StartsWith(pointerStart, StringComparison.Ordinal)
            && e.Message.Contains(words, StringComparison.Ordinal)
        );
    }

    [Fact]
    public void All_twelve_layouts_are_sound_and_survive_a_round_trip()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var (again, errors) = TestShop.Reader.Read(Variants.FileOf(layout));
            Assert.Empty(errors);
            Assert.Equal(Variants.TextOf(layout), Variants.TextOf(again!));
            Assert.Equal(Variants.HashOf(layout), Variants.HashOf(again!));
        }
        Assert.Equal(
            ["A", "A2", "B", "B2", "C", "C2", "D", "D2", "E", "E2", "F", "G"],
            TestShop.Shop.Layouts.Select(l => l.Arrangement).Order(StringComparer.Ordinal)
        );
        Assert.All(TestShop.Shop.Layouts, l => Assert.InRange(l.Operations.Count, 23, 45));
        Assert.All(TestShop.Shop.Layouts.Where(l => l.Arrangement.Length == 2), l =>
            Assert.Equal(
                (l.Arrangement[..1], 64),
                (TestShop.Shop.FindLayout(l.From!.Id)!.Arrangement, l.From.Hash.Length)
            )
        );
    }

    [Fact]
    public void A_precondition_cycle_is_named() =>
        Refused("/operations/", "circle", l =>
            Operation(l, "deck-screws")["needs"] = JsonNode.Parse("""[["front-off"]]""")
        );

    [Fact]
    public void A_dangling_operation_id_is_named() =>
        Refused("/operations/", "no operation 'nowhere'", l =>
            Operation(l, "belt-off")["needs"] = JsonNode.Parse("""[["nowhere"]]""")
        );

    [Fact]
    public void A_dangling_part_id_is_named() =>
        Refused("/operations/", "no part 'ghost'", l =>
            Operation(l, "belt-off")["frees"] = JsonNode.Parse("""["ghost"]""")
        );

    [Fact]
    public void A_wear_part_that_nothing_frees_is_named() =>
        Refused("/parts/", "no operation frees", l =>
            l["parts"]!
                .AsArray()
                .Add(JsonNode.Parse("""{"id":"orphan","kind":"idler-arm","name":"Glide","wears":true}"""))
        );

    [Fact]
    public void A_wear_part_that_nothing_frees_on_some_machines_is_named() =>
        Refused("/parts/", "no operation frees it", l =>
            Operation(l, "front-off")["when"] = JsonNode.Parse("""{"fact":"gas","is":"yes"}""")
        );

    [Fact]
    public void More_tools_than_a_bit_set_holds_are_refused() => Refused("/operations/*/tools", "64 at most", l =>
        {
            foreach (var (operation, i) in l["operations"]!.AsArray().Select((o, i) => (o!.AsObject(), i)))
            {
                operation["tools"] = new JsonArray([.. Enumerable.Range(0, 4).Select(k => (JsonNode)$"tool-{i}-{k}")]);
            }
        });

    [Fact]
    public void A_refit_cycle_is_named() =>
        Refused("/operations/", "The way back has no order", l =>
            Operation(l, "drum-out")["refit"]![0]!["before"] = JsonNode.Parse("""["shaft-left-out/back"]""")
        );

    [Theory]
    [InlineData("seet", "no refit step 'seet'")]
    [InlineData("hook", "in a circle")]
    public void A_step_follows_at_once_a_step_that_is_there(string after, string message) =>
        Refused("/operations/", message, l =>
            Operation(l, "drum-out")["refit"]!.AsArray().Single(s => (string?)s!["id"] == "hook")!["directlyAfter"] =
                after
        );

    [Fact]
    public void A_file_that_says_version_two_says_three_where_steps_follow_at_once() =>
        Refused("/version", "directlyAfter", l => l["version"] = 2);

    [Fact]
    public void Two_steps_on_one_machine_cannot_both_follow_the_same_at_once() =>
        Refused("/operations/", "cannot both follow 'seat' at once", l =>
        {
            var steps = Operation(l, "drum-out")["refit"]!.AsArray();
            steps.Add(JsonNode.Parse("""{"id":"third","do":"Third","minutes":[1,2,3],"directlyAfter":"seat"}"""));
        });

    [Fact]
    public void Between_two_steps_at_once_no_tool_is_changed() =>
        Refused("/operations/", "no tool is changed", l =>
            Operation(l, "drum-out")["refit"]!.AsArray().Single(s => (string?)s!["id"] == "seat")!["tools"] =
                JsonNode.Parse("""["pliers"]""")
        );

    [Fact]
    public void What_would_have_to_come_between_two_steps_at_once_has_no_order() =>
        Refused("/operations/", "The way back has no order", l =>
            Operation(l, "drum-out")["refit"]!.AsArray().Single(s => (string?)s!["id"] == "round")!["after"] =
                JsonNode.Parse("""["drum-out/hook"]""")
        );

    [Fact]
    public void A_doubled_id_is_named() =>
        Refused("/parts/", "stands 2 times, first at /parts/", l =>
            l["parts"]!.AsArray().Add(JsonNode.Parse("""{"id":"belt","kind":"belt","name":"Belt"}"""))
        );

    [Theory]
    [InlineData("count", "-3")]
    [InlineData("count", "1000")]
    [InlineData("lengthMm", "-1")]
    [InlineData("head", "\"spiral\"")]
    public void Absurd_fasteners_are_refused_at_their_field(string field, string value) =>
        Refused("/operations/", "", l => Operation(l, "deck-screws")["fasteners"]![0]![field] = JsonNode.Parse(value));

    [Fact]
    public void Falling_times_are_refused() =>
        Refused("/operations/", "rise", l => Operation(l, "deck-screws")["minutes"] = JsonNode.Parse("[5, 2, 1]"));

    [Fact]
    public void An_unknown_field_and_another_version_are_refused()
    {
        Refused("/surprise", "There is no such field.", l => l["surprise"] = 1);
        Refused("/operations/0/hazard", "Did you mean 'hazards'?", l =>
            l["operations"]![0]!["hazard"] = new JsonArray()
        );
        Refused("/version", "", l => l["version"] = 4);
    }

    [Fact]
    public void A_file_may_name_its_schema_and_write_two_as_two_point_nought()
    {
        var text = Broken(l =>
        {
            l["$schema"] = "https://shop.example/layout.schema.json";
            Operation(l, "deck-screws")["fasteners"]![0]!["count"] = JsonNode.Parse("2.0");
        });
        var (layout, errors) = TestShop.Reader.Read(text);
        Assert.Empty(errors);
        Assert.Equal(2, layout!.FindOperation("deck-screws")!.Fasteners[0].Count);
        Refused("/operations/", "", l =>
            Operation(l, "deck-screws")["fasteners"]![0]!["count"] = JsonNode.Parse("2.5")
        );
    }

    [Fact]
    public void Of_a_file_that_is_wrong_throughout_the_first_are_told_and_how_many_more()
    {
        var intake = new Core.Content.LayoutIntake(TestShop.Content.LayoutSchema, TestShop.Shop.Words);
        var (layout, errors) = intake.Read(
            Broken(l =>
            {
                l["schools"] = new JsonArray(
                    new JsonObject
                    {
                        ["id"] = "x",
                        ["question"] = "?",
                        ["options"] = new JsonArray([.. Enumerable.Range(0, 3000).Select(i => (JsonNode)i)]),
                    }
                );
            })
        );
        Assert.Null(layout);
        Assert.Equal(201, errors.Count);
        Assert.Contains("more like these", errors[^1].Message, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_not_json_throws()
    {
        Assert.ThrowsAny<JsonException>(() => TestShop.Reader.Read("{ \"format\": "));
    }

    [Fact]
    public void A_field_that_stands_twice_is_named_with_both_its_lines_and_an_id_with_its_own_place()
    {
        var (layout, errors) = TestShop.Reader.Read(
            "{\n  \"id\": \"a\",\n  \"parts\": [ {},\n {\n \"kind\": 1,\n \"kind\": 2 } ],\n \"id\": \"b\"\n}"
        );
        Assert.Null(layout);
        Assert.Equal(["/parts/1/kind", "/id"], errors.Select(e => e.Pointer));
        Assert.Contains("in line 5 and in line 6", errors[0].Message, StringComparison.Ordinal);
        Assert.Contains("in line 2 and in line 7", errors[1].Message, StringComparison.Ordinal);
        Refused("/operations/", "first at /operations/", l =>
        {
            var again = Operation(l, "front-off")["fasteners"]!.AsArray();
            again.Add(again[0]!.DeepClone());
        });
    }

    [Fact]
    public void An_unknown_id_is_answered_with_the_nearest_known_one()
    {
        Refused("/operations/", "Did you mean 'front-screws'?", l =>
            Operation(l, "front-off")["needs"] = JsonNode.Parse("""[["front-screw"]]""")
        );
        Refused("/operations/", "Did you mean 'cross-driver'?", l =>
            Operation(l, "front-screws")["tools"] = JsonNode.Parse("""["cros-driver"]""")
        );
        Refused("/facts/", "Did you mean 'gas'?", l =>
            l["facts"]!.AsArray().Add(JsonNode.Parse("""{"id":"gsa","value":"no"}"""))
        );
    }

    [Fact]
    public void A_screw_left_in_that_comes_out_earlier_a_school_twice_and_a_way_that_needs_itself_are_refused()
    {
        Refused("/operations/", "comes out at a later operation", l =>
            Operation(l, "front-screws")["fasteners"]![0]!["leftInTill"] = "top-up"
        );
        Refused("/operations/", "There is no such place", l =>
            Operation(l, "front-screws")["fasteners"]![0]!["leftInAt"] = JsonNode.Parse("[2]")
        );
        Refused("/schools/0/options/2", "stands 2 times", l =>
            l["schools"]![0]!["options"]!.AsArray().Add(l["schools"]![0]!["options"]![0]!.DeepClone())
        );
        Refused("/ways/", "needs another option", l =>
            l["ways"]!.AsArray().Add(JsonNode.Parse("""{"id":"w","title":"W","options":["belt-off","idler-out"]}"""))
        );
        Refused("/operations/", "is taken off at 'belt-off' already", l =>
            Operation(l, "belt-off")["takesOff"] = JsonNode.Parse("""["idler"]""")
        );
        Refused("/words/tools/0/id", "shared word already", l =>
            l["words"] = JsonNode.Parse("""{"tools":[{"id":"torch","name":"Another torch"}]}""")
        );
        Refused("/operations/", "more than a metre outside", l =>
            Operation(l, "deck-screws")["fasteners"]![0]!["at"] = JsonNode.Parse("[[340, 880, 1701]]")
        );
        Refused("/operations/", "3 terminals for 2 wires", l =>
            Operation(l, "door-plug")["plugs"]![0]!["terminals"] = JsonNode.Parse("""["a","b","c"]""")
        );
    }

    [Fact]
    public void Every_screw_and_plug_goes_back_in_exactly_one_step_on_every_machine_the_conditions_tell_apart()
    {
        // Three steps, the screws in one that some machines do not have.
        Refused("/operations/2/fasteners/0", "goes back in none of the refit steps where 'gas' is 'yes'", l =>
            Operation(l, "deck-screws")["refit"] = JsonNode.Parse(
                """
                [{"id":"a","do":"A","minutes":[1,1,1]},{"id":"b","do":"B","minutes":[1,1,1]},{"id":"c","do":"C","minutes":[1,1,1],"fasteners":["deck"],"when":{"fact":"gas","is":"no"}}]
                """
            )
        );
        // Two steps: what is alone on some machines does not take what the other names.
        Refused("/operations/2/fasteners/0", "goes back in none of the refit steps where 'gas' is 'yes'", l =>
            Operation(l, "deck-screws")["refit"] = JsonNode.Parse(
                """
                [{"id":"a","do":"A","minutes":[1,1,1]},{"id":"c","do":"C","minutes":[1,1,1],"fasteners":["deck"],"when":{"fact":"gas","is":"no"}}]
                """
            )
        );
        Refused("/operations/2/fasteners/0", "goes back in 2 of the refit steps where 'gas' is 'yes'", l => Operation(
                l,
                "deck-screws"
            )["refit"] = JsonNode.Parse(
                """
                [{"id":"a","do":"A","minutes":[1,1,1],"fasteners":["deck"]},{"id":"c","do":"C","minutes":[1,1,1],"fasteners":["deck"],"when":{"fact":"gas","is":"yes"}}]
                """
            ));
        var (layout, errors) = TestShop.Reader.Read(
            Broken(l =>
                Operation(l, "deck-screws")["refit"] = JsonNode.Parse(
                    """
                    [{"id":"a","do":"A","minutes":[1,1,1],"fasteners":["deck"],"when":{"fact":"gas","is":"no"}},{"id":"c","do":"C","minutes":[1,1,1],"fasteners":["deck"],"when":{"fact":"gas","is":"yes"}}]
                    """
                )
            )
        );
        Assert.True(errors.Count == 0, string.Join(' ', errors));
        var gas = layout!
            .For(new Dictionary<string, string> { ["gas"] = "yes" }, new Dictionary<string, string>())
            .FindOperation("deck-screws")!;
        Assert.Equal("deck", Assert.Single(gas.FastenersOf(Assert.Single(gas.Steps))).Id);
    }

    [Fact]
    public void Facts_that_do_not_hold_take_their_operations_and_parts_along()
    {
        var layout = TestShop.Shop.FindLayout("quenby-qd62")!;
        var none = new Dictionary<string, string>();
        var steam = layout.For(new Dictionary<string, string> { ["steam"] = "yes" }, none);
        var dry = layout.For(new Dictionary<string, string> { ["steam"] = "no" }, none);
        Assert.NotNull(steam.FindOperation("water-line-off"));
        Assert.Null(dry.FindOperation("water-line-off"));
        Assert.Null(dry.FindPart("water-line"));
        Assert.Contains(steam.FindOperation("heater-out")!.Needs, g => g.Any(o => o == "water-line-off"));
        // It is passed through: what stood in its way stands in the heater's.
        Assert.Contains<OperationId>("water-line-off", dry.Passed.Select(o => o.Id));
        Assert.Equal(
            steam.FindOperation("water-line-off")!.Needs,
            dry.Passed.Single(o => o.Id == "water-line-off").Needs
        );
        Assert.DoesNotContain(dry.Solids, s => s.Part == "water-line");
    }

    [Fact]
    public void A_fact_of_several_values_chooses_the_tool_and_a_school_the_steps()
    {
        var layout = TestShop.Shop.FindLayout("quenby-qd62")!;
        var none = new Dictionary<string, string>();
        foreach (var size in new[] { "13", "16", "19" })
        {
            var tools = layout
                .For(new Dictionary<string, string> { ["roller-nut"] = size }, none)
                .FindOperation("rear-shaft-left-out")!
                .Tools;
            Assert.Equal(["wrenches-" + size, "impact-driver"], Assert.Single(tools).Any);
        }
        Assert.Equal(["back"], layout.For(none, none).FindOperation("duct-off")!.Steps.Select(s => s.Id));
        Assert.Equal(
            ["first"],
            layout
                .For(none, new Dictionary<string, string> { ["duct"] = "first" })
                .FindOperation("duct-off")!
                .Steps.Select(s => s.Id)
        );
        var byHand = layout.For(none, new Dictionary<string, string> { ["drum-hold"] = "hand" });
        Assert.Null(byHand.FindOperation("drum-hook"));
        Assert.NotEqual("", byHand.FindOperation("bulkhead-off")!.Helper);
    }

    [Fact]
    public void A_fact_that_does_not_vary_cannot_be_changed() =>
        Assert.False(
            TestShop
                .Shop.FindLayout("ostrel-ot50")!
                .For(new Dictionary<string, string> { ["belt-switch"] = "yes" }, new Dictionary<string, string>())
                .Has("belt-switch")
        );

    [Fact]
    public void A_file_of_format_1_is_refused_with_a_word_on_how_they_differ() =>
        Refused("/version", "solids instead of a drawing", l => l["version"] = 1);

    [Fact]
    public void Two_pairs_of_wheels_that_overlap_and_a_wrong_speed_are_named()
    {
        Refused("/drive", "overlap", l => l["drive"]!["tensioner"]!["idler"]!["y"] = 300);
        Refused("/drive", "r/min", l => l["drive"]!["motorPulley"]!["diameterMm"] = 22);
        Refused("/drive/belt/lengthMm", "does not fit", l => l["drive"]!["belt"]!["lengthMm"] = 2300);
    }

    [Fact]
    public void Solids_outside_the_frame_or_through_each_other_are_named()
    {
        Refused("/solids/", "outside", l => l["solids"]![1]!["at"] = JsonNode.Parse("[900, 10, 12]"));
        Refused("/apart/", "run through each other", l =>
            l["apart"]!.AsArray().Add(JsonNode.Parse("""["drum", "baffles"]"""))
        );
    }

    [Theory]
    [InlineData("hazards", "[\"edgez\"]", "no hazard")]
    [InlineData("tools", "[\"cross-drver\"]", "no tool")]
    [InlineData("region", "\"attic\"", "no region")]
    [InlineData("first", "[[\"nowhere\"]]", "no operation")]
    [InlineData("when", "{\"fact\":\"moon\",\"is\":\"yes\"}", "no fact")]
    [InlineData("when", "{\"fact\":\"gas\",\"is\":\"maybe\"}", "no value")]
    [InlineData("when", "{\"school\":\"drum-hold\",\"is\":\"rope\"}", "no school")]
    public void Words_that_no_vocabulary_knows_are_refused(string field, string value, string said) =>
        Refused("/operations/", said, l => Operation(l, "deck-screws")[field] = JsonNode.Parse(value));

    [Fact]
    public void A_refit_step_that_names_what_is_not_there_or_takes_a_screw_twice_is_refused()
    {
        Refused("/operations/", "no refit step", l =>
            Operation(l, "front-off")["refit"]![1]!["after"] = JsonNode.Parse("""["front-off/hung"]""")
        );
        Refused("/operations/", "exactly one", l =>
        {
            var steps = Operation(l, "deck-screws")["refit"]!.AsArray();
            steps.Add(JsonNode.Parse("""{"id":"again","do":"Again","minutes":[1,1,1]}"""));
        });
    }

    [Fact]
    public void Ten_thousand_operations_a_megabyte_and_nul_are_refused_at_once()
    {
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var many =
            "{\"format\":\"idrum-layout\",\"version\":2,\"operations\":["
            + string.Join(',', Enumerable.Range(0, 10_000).Select(i => $"{{\"id\":\"o{i}\"}}"))
            + "]}";
        Assert.Contains(
            "256 at most",
            Assert.Single(TestShop.Reader.Read(many).Errors).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "1 MB at most",
            Assert.Single(TestShop.Reader.Read("{\"a\":\"" + new string('é', 600_000) + "\"}").Errors).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "NUL",
            Assert.Single(TestShop.Reader.Read("{\"id\":\"a\\u0000b\"}").Errors).Message,
            StringComparison.Ordinal
        );
        Assert.True(clock.Elapsed < TimeSpan.FromSeconds(1), clock.Elapsed.ToString());
    }

    [Fact]
    public void Spreads_of_independent_steps_add_in_squares()
    {
        var sum = new Spread(1, 4, 10) + new Spread(0, 4, 12);
        Assert.Equal((8 - 5, 8, 18), (sum.Low, sum.Typical, sum.High));
    }

    /// <summary>Files of version 2 as they were shipped: read for ever, and under the hash that jobs and variants of
    /// their day pin.</summary>
    [Fact]
    public void Files_of_version_2_are_read_and_keep_their_hash()
    {
        string Golden(string name) => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "golden", name));
        var (parent, errors) = TestShop.Reader.Read(Golden("layout-2.json"));
        Assert.Empty(errors);
        Assert.Equal("3f25b6d8e8ad223fe2264cd6f64236495fe99bb569914943d6c0efa4b22061ae", Variants.HashOf(parent!));
        var (variant, wrong) = TestShop.Reader.Read(Golden("layout-2-variant.json"), p =>
            p.Hash == Variants.HashOf(parent!) ? new(parent) : new(null, "another writing")
        );
        Assert.Empty(wrong);
        Assert.Equal(2, variant!.Version);
        Assert.Null(variant.Drive.Motor);
        // What version 3 brought is said to be of version 3.
        Refused("/version", "article, drive.motor", l => l["version"] = 2);
        Refused("/parts/", "", l => l["parts"]![1]!["article"] = "two words");
        // A line break at its end is no part of an id.
        Refused("/id", "", l => l["id"] = "own\n");
        Refused("/parts/", "", l => l["parts"]![1]!["id"] = "belt-2\n");
        Refused("/drive/load", "low one first", l => l["drive"]!["load"]!["dragNm"] = JsonNode.Parse("[3, 1]"));
    }
}
