using System.Globalization;
using System.Xml.Linq;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

public class DrawingTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    private static XElement Draw(string layoutId, DrawingRequest request) =>
        XElement.Parse(MachineDrawing.Of(TestShop.Machine(layoutId).Layout, request).Value!);

    private static IEnumerable<XElement> Groups(XElement svg, string title) =>
        svg.Descendants("g").Where(g => (string?)g.Element("title") == title);

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Every_shape_of_both_views_is_drawn_once_and_named_by_its_part(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var titles = Draw(layoutId, new()).Descendants("title").Select(t => t.Value).Order(StringComparer.Ordinal).ToList();
        var expected = layout.Drawing.Front.Shapes.Concat(layout.Drawing.Side.Shapes).Where(s => layout.FindPart(s.Part) is not null)
            .Select(s => layout.FindPart(s.Part)!.Name).Order(StringComparer.Ordinal);
        Assert.Equal(expected, titles);
    }

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Everything_lies_within_the_picture_at_every_step(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        foreach (var step in layout.Operations.Where(o => o.Motion is not null))
        {
            var svg = Draw(layoutId, new() { Step = step, Lead = MachineDrawing.LeadOf(layout, step) });
            var box = ((string)svg.Attribute("viewBox")!).Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToList();
            var view = svg.Elements("g").ElementAt(step.Motion!.View == "front" ? 0 : 1);
            var shift = ((string)view.Attribute("transform")!).Replace("translate(", "", StringComparison.Ordinal).TrimEnd(')').Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToList();
            foreach (var point in step.Motion.Path)
            {
                Assert.InRange(point[0] + shift[0], box[0], box[0] + box[2]);
                Assert.InRange(point[1] + shift[1], box[1], box[1] + box[3]);
            }
            Assert.Single(view.Descendants("path"), p => (string?)p.Attribute("class") == "motion");
            var small = svg.Elements("g").ElementAt(step.Motion.View == "front" ? 1 : 0);
            Assert.Contains("scale(0.56)", (string)small.Attribute("transform")!, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_step_that_moves_nothing_leads_with_the_view_that_shows_more_of_its_fasteners()
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        Assert.Equal("front", MachineDrawing.LeadOf(layout, layout.FindOperation("skin-screws")!));
        Assert.Equal("side", MachineDrawing.LeadOf(layout, layout.FindOperation("drum-out")!));
    }

    [Theory]
    [InlineData(PartCondition.Out, "out")]
    [InlineData(PartCondition.Loose, "loose")]
    [InlineData(PartCondition.Freed, "freed")]
    [InlineData(PartCondition.New, "new")]
    public void A_part_shows_how_it_stands(PartCondition condition, string shown)
    {
        var svg = Draw("quenby-qd62", new() { Conditions = new Dictionary<string, PartCondition> { ["tensioner"] = condition }, Focus = ["idler"] });
        Assert.All(Groups(svg, "Tensioner arm"), g => Assert.Contains(shown, ((string)g.Attribute("class")!).Split(' ')));
        Assert.All(Groups(svg, "Idler pulley"), g => Assert.Contains("focus", ((string)g.Attribute("class")!).Split(' ')));
        Assert.All(Groups(svg, "Motor"), g => Assert.DoesNotContain("focus", ((string)g.Attribute("class")!).Split(' ')));
    }

    [Fact]
    public void Fasteners_of_a_step_are_marked_where_they_sit_and_counted_where_marks_stand_for_several()
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        var svg = Draw("quenby-qd62", new() { Step = layout.FindOperation("skin-screws") });
        var front = svg.Elements("g").First();
        Assert.Equal(6, front.Descendants("g").Count(g => ((string?)g.Attribute("class"))?.StartsWith("mark", StringComparison.Ordinal) == true));
        Assert.Empty(front.Descendants("text"));
        // The side view shows one for several, but the front shows each: no count is needed.
        Assert.Empty(svg.Descendants("text"));
        var few = Draw("quenby-qd62", new() { Step = layout.Operations.First(o => o.Fasteners.Any(f => f.Count > 1 && layout.Drawing.Front.Marks.Concat(layout.Drawing.Side.Marks).Count(m => m.Of == f.Id) == 1)) });
        Assert.StartsWith("×", Assert.Single(few.Descendants("text")).Value, StringComparison.Ordinal);
        var keyholes = Draw("quenby-qd62", new() { Step = layout.FindOperation("bulkhead-screws") });
        Assert.Equal(2, keyholes.Elements("g").First().Descendants("g").Count(g => (string?)g.Attribute("class") == "mark keep"));
    }

    [Fact]
    public void Wear_parts_can_be_picked_and_names_cannot_break_out_of_the_drawing()
    {
        var svg = Draw("ostrel-ot50", new() { Link = "/jobs/J-1/find?part={0}&x=\"><script>" });
        var links = svg.Descendants("a").Select(a => (string)a.Attribute("href")!).ToList();
        Assert.Contains(links, l => l.StartsWith("/jobs/J-1/find?part=belt&", StringComparison.Ordinal));
        Assert.DoesNotContain(links, l => l.Contains("part=front-panel", StringComparison.Ordinal));
        Assert.Empty(svg.Descendants("script"));
    }

    [Fact]
    public void The_drawn_belt_is_the_computed_one()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var run = Core.Drive.BeltPath.Of(layout.Drive).Runs[0];
        var path = Draw("ostrel-ot50", new()).Descendants("path").Single(p => (string?)p.Attribute("class") == "line belt");
        Assert.StartsWith(string.Create(CultureInfo.InvariantCulture, $"M{run.X1:0.#} {run.Y1:0.#}L{run.X2:0.#} {run.Y2:0.#}"), (string)path.Attribute("d")!, StringComparison.Ordinal);
    }
}
