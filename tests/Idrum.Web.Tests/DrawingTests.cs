using System.Globalization;
using System.Xml.Linq;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

public class DrawingTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    private static XElement Draw(Layout layout, DrawingRequest request) =>
        XElement.Parse(MachineDrawing.Of(layout, request).Value!);

    private static XElement Draw(string layoutId, DrawingRequest request) =>
        Draw(TestShop.Machine(layoutId).Layout, request);

    private static IEnumerable<string> Names(XElement svg) =>
        svg.Descendants("g").Elements("title").Select(t => t.Value);

    private static double[] Box(XElement svg) =>
        [.. ((string)svg.Attribute("viewBox")!).Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture))];

    private static Dictionary<PartId, PartCondition> After(string layoutId, params string[] operations) =>
        new(PartStates.Of(JobState.Empty with { Out = [.. operations] }, TestShop.Machine(layoutId).Layout));

    /// <summary>Every place of the present machine seen at a moment of a plan: what is taken off is out, step by
    /// step.</summary>
    private static IEnumerable<(Operation Step, Dictionary<PartId, PartCondition> Conditions)> Walk(
        string layoutId,
        string target
    )
    {
        var done = new List<string>();
        foreach (
            var step in TestShop
                .Machine(layoutId)
                .Planner.Plan(new([target], [], new Dictionary<string, OperationId>()))!
                .Removal
        )
        {
            yield return (step, After(layoutId, [.. done]));
            done.Add(step.Id);
        }
    }

    [Fact]
    public void Every_shape_a_layout_may_name_is_drawn_as_itself()
    {
        using var schema = System.Text.Json.JsonDocument.Parse(
            File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "content", "schema", "layout.schema.json"))
        );
        var shapes = schema
            .RootElement.GetProperty("definitions")
            .GetProperty("part")
            .GetProperty("properties")
            .GetProperty("stack")
            .GetProperty("items")
            .GetProperty("properties")
            .GetProperty("draw")
            .GetProperty("enum")
            .EnumerateArray()
            .Select(d => d.GetString()!)
            .ToList();
        Assert.True(shapes.Count > 10);
        Assert.Distinct(
            shapes.Select(d =>
                string.Join(
                    "",
                    XElement
                        .Parse(StackDrawing.Of([(new("x", d), PieceFate.Stays)]).Value!)
                        .Element("g")!
                        .Elements()
                        .Where(e => e.Name != "text")
                )
            )
        );
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void A_stack_shows_every_piece_once_in_its_order_with_its_number(string layoutId)
    {
        foreach (var part in TestShop.Machine(layoutId).Layout.Parts.Where(p => p.Stack.Count > 0))
        {
            var svg = XElement.Parse(StackDrawing.Of(PartStack.Of(part, [])).Value!);
            var groups = svg.Elements("g").ToList();
            Assert.Equal(
                Enumerable.Range(1, part.Stack.Count).Select(n => n.ToString(CultureInfo.InvariantCulture)),
                groups.Select(g => g.Element("text")!.Value)
            );
            var places = groups
                .Select(g =>
                    double.Parse(((string)g.Attribute("transform")!).Split('(', ' ')[1], CultureInfo.InvariantCulture)
                )
                .ToList();
            Assert.True(places.Zip(places.Skip(1)).All(p => p.First < p.Second) && places[^1] < Box(svg)[2]);
            Assert.Equal(
                part.Stack.ToList().FindIndex(p => p.Own || p.InBag),
                groups.FindIndex(g => (string)g.Attribute("class")! == "new")
            );
        }
    }

    [Fact]
    public void A_closed_machine_shows_its_outside_and_nothing_within()
    {
        foreach (var view in new[] { "door", "left", "right", "above", "slanting" })
        {
            var names = Names(Draw("ostrel-ot50", new() { Views = [view] })).ToHashSet();
            Assert.DoesNotContain("Drum", names);
            Assert.DoesNotContain("Motor", names);
            Assert.DoesNotContain("Belt", names);
        }
        Assert.Contains("Front panel with door", Names(Draw("ostrel-ot50", new() { Views = ["door"] })));
        Assert.Contains("Top", Names(Draw("ostrel-ot50", new() { Views = ["above"] })));
    }

    [Fact]
    public void What_is_taken_off_is_gone_and_what_stood_behind_it_is_seen()
    {
        var open = Draw(
            "ostrel-ot50",
            new()
            {
                Views = ["door"],
                Conditions = After(
                    "ostrel-ot50",
                    "screen-out",
                    "deck-screws",
                    "earth-clip",
                    "top-up",
                    "door-plug",
                    "drum-hook",
                    "front-screws",
                    "front-off"
                ),
            }
        );
        var names = Names(open).ToHashSet();
        Assert.DoesNotContain("Front panel with door", names);
        Assert.Superset(new HashSet<string> { "Drum", "Motor", "Idler", "Belt", "Baffles" }, names);
        // The felt sits on the panel and leaves with it.
        Assert.DoesNotContain("Front felt ring", names);
        Assert.Contains("lint screen", (string)open.Descendants("p").Single(), StringComparison.Ordinal);
        // From behind the rear wall still hides them.
        Assert.DoesNotContain(
            "Motor",
            Names(Draw("ostrel-ot50", new() { Views = ["behind"], Conditions = After("ostrel-ot50", "front-off") }))
        );
    }

    [Fact]
    public void Hidden_parts_are_dashed_only_where_they_are_the_part_in_question()
    {
        var svg = Draw("ostrel-ot50", new() { Views = ["door"], Focus = ["motor"] });
        var motor = svg.Descendants("g").Single(g => (string?)g.Element("title") == "Motor");
        Assert.Contains("hid", ((string)motor.Attribute("class")!).Split(' '));
        Assert.Contains(
            "In question and hidden from here: motor",
            (string)svg.Descendants("svg").Single().Attribute("aria-label")!,
            StringComparison.Ordinal
        );
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Every_view_of_every_step_fits_its_frame_and_weighs_at_most_forty_kilobytes(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        foreach (var view in Projection.Names)
        {
            foreach (var (step, conditions) in Walk(layoutId, "motor"))
            {
                var text = MachineDrawing
                    .Of(
                        layout,
                        new()
                        {
                            Views = [view],
                            Conditions = conditions,
                            Step = step,
                        }
                    )
                    .Value!;
                Assert.InRange(text.Length, 500, 40_000);
                var svg = XElement.Parse(text).Descendants("svg").Single();
                var box = Box(svg);
                var projection = Projection.Of(view);
                foreach (var point in step.Motion?.Path ?? [])
                {
                    var at = projection.Map(P3.Of(point));
                    Assert.InRange(at.U, box[0], box[0] + box[2]);
                    Assert.InRange(at.V, box[1], box[1] + box[3]);
                }
                Assert.Equal(
                    step.Motion is null ? 0 : 1,
                    svg.Elements().Count(e => (string?)e.Attribute("class") is "motion" or "along")
                );
            }
        }
    }

    [Theory]
    [InlineData(PartCondition.Loose, "loose")]
    [InlineData(PartCondition.Freed, "freed")]
    [InlineData(PartCondition.New, "new")]
    public void A_part_shows_how_it_stands(PartCondition condition, string shown)
    {
        var open = After("quenby-qd62", "rear-panel-off");
        open["motor"] = condition;
        var svg = Draw(
            "quenby-qd62",
            new()
            {
                Views = ["behind"],
                Conditions = open,
                Focus = ["idler"],
            }
        );
        string[] Classes(string name) =>
            [
                .. svg.Descendants("g")
                    .Where(g => (string?)g.Element("title") == name)
                    .SelectMany(g => ((string)g.Attribute("class")!).Split(' ')),
            ];
        Assert.Contains(shown, Classes("Motor"));
        Assert.Contains("focus", Classes("Idler pulley"));
        Assert.DoesNotContain("focus", Classes("Motor"));
    }

    [Fact]
    public void Fasteners_of_a_step_are_marked_at_their_places_and_counted_where_one_stands_for_several()
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        static int Marks(XElement svg, string kind) =>
            svg.Descendants("g")
                .Count(g => (string?)g.Attribute("class") is { } c && (c == kind || c == kind + " behind"));
        Assert.Equal(
            layout.FindOperation("skin-screws")!.Fasteners.Sum(f => f.At.Count - f.LeftIn),
            Marks(Draw(layout, new() { Views = ["door"], Step = layout.FindOperation("skin-screws") }), "mark")
        );
        Assert.Equal(
            2,
            Marks(Draw(layout, new() { Views = ["door"], Step = layout.FindOperation("bulkhead-screws") }), "mark keep")
        );
        var step = layout.FindOperation("skin-screws")!;
        var few = Draw(
            layout,
            new()
            {
                Views = ["door"],
                Step = step with { Fasteners = [step.Fasteners[1] with { At = [step.Fasteners[1].At[0]] }] },
            }
        );
        Assert.Equal($"×{step.Fasteners[1].Count}", few.Descendants("text").Single().Value);
    }

    [Fact]
    public void A_step_has_a_close_up_of_its_place_with_the_tool_that_goes_there()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var step = layout.FindOperation("deck-screws")!;
        var pictures = Draw(
                layout,
                new()
                {
                    Views = ["above"],
                    Step = step,
                    CloseUp = true,
                }
            )
            .Descendants("svg")
            .ToList();
        Assert.Equal(2, pictures.Count);
        var (box, place) = (Box(pictures[1]), Projection.Of("above").Map(P3.Of(step.Fasteners[0].At[0])));
        Assert.Equal((place.U, place.V), (box[0] + box[2] / 2, box[1] + box[3] / 2));
        Assert.Single(pictures[1].Descendants("g"), g => (string?)g.Attribute("class") == "tool");
    }

    [Fact]
    public void Wear_parts_can_be_picked_and_names_cannot_break_out_of_the_drawing()
    {
        var svg = Draw(
            "ostrel-ot50",
            new()
            {
                Views = ["door"],
                Focus = ["belt"],
                Link = "/jobs/J-1/find?part={0}&x=\"><script>",
            }
        );
        var links = svg.Descendants("a").Select(a => (string)a.Attribute("href")!).ToList();
        Assert.Contains(links, l => l.StartsWith("/jobs/J-1/find?part=belt&", StringComparison.Ordinal));
        Assert.DoesNotContain(links, l => l.Contains("part=front-panel", StringComparison.Ordinal));
        Assert.Empty(svg.Descendants("script"));
    }

    [Fact]
    public void The_drawn_belt_is_the_computed_one_and_a_parted_one_hangs_slack()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        string Belt(PartCondition condition)
        {
            var open = After("ostrel-ot50", "front-off");
            open["belt"] = condition;
            var svg = Draw("ostrel-ot50", new() { Views = ["door"], Conditions = open });
            return (string)
                svg.Descendants("g")
                    .Single(g => (string?)g.Element("title") == "Belt")
                    .Element("path")!
                    .Attribute("d")!;
        }
        var run = Core.Drive.BeltPath.Of(layout.Drive).Runs[1];
        // The run from the idler to the pulley is a straight line in the picture too.
        Assert.Contains(
            string.Create(CultureInfo.InvariantCulture, $"{run.X1:0} {-run.Y1:0}L{run.X2:0} {-run.Y2:0}"),
            Belt(PartCondition.InPlace),
            StringComparison.Ordinal
        );
        Assert.DoesNotContain(
            string.Create(CultureInfo.InvariantCulture, $"L{run.X2:0} {-run.Y2:0}"),
            Belt(PartCondition.Freed),
            StringComparison.Ordinal
        );
    }
}
