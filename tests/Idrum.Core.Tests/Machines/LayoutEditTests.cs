using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Machines;

public class LayoutEditTests
{
    private static Layout Taken(Layout layout)
    {
        var (read, errors) = TestShop.Reader.Read(Variants.FileOf(layout with { Id = "own", From = null }));
        Assert.Empty(errors);
        return read!;
    }

    [Fact]
    public void A_step_taken_out_leaves_a_sound_machine_wherever_nothing_hangs_on_it_alone()
    {
        var taken = 0;
        foreach (var layout in TestShop.Shop.Layouts)
        {
            foreach (
                var operation in layout.Operations.Where(o =>
                    o.TakesOff.Count == 0
                    && o.Frees.Count == 0
                    && layout.Operations.All(x => x.Refit.All(s => s.StillOut.Count == 0 || !s.StillOut.Contains(o.Id)))
                )
            )
            {
                var without = LayoutEdit.Without(layout, operation.Id);
                var (read, errors) = TestShop.Reader.Read(Variants.FileOf(without with { Id = "own", From = null }));
                Assert.True(
                    read is not null,
                    $"{layout.Id} without {operation.Id}: {string.Join(" ", errors.Select(e => e.Pointer + e.Message))}"
                );
                Assert.Null(read.FindOperation(operation.Id));
                taken++;
            }
        }
        Assert.True(taken > 60, $"only {taken} steps");
    }

    [Fact]
    public void A_step_put_in_stands_in_the_way_of_the_next_and_goes_back_before_what_stood_in_its_own_way()
    {
        var layout = Taken(
            LayoutEdit.WithStepBefore(
                TestShop.Shop.FindLayout("quenby-qc30")!,
                "trim-off",
                "Trim off",
                "Pull the trim off",
                "front-screws",
                new(0.5, 1, 2)
            )
        );
        var plan = new TeardownPlanner(
            layout.For(new Dictionary<string, string>(), new Dictionary<string, string>())
        ).Plan(new(["belt"], [], new Dictionary<string, OperationId>()))!;
        var order = plan.Removal.Select(o => o.Id).ToList();
        Assert.True(
            order.IndexOf("top-up") < order.IndexOf("trim-off")
                && order.IndexOf("trim-off") < order.IndexOf("front-screws")
        );
        var back = plan.Refit.Select(m => m.Operation.Id).ToList();
        Assert.True(
            back.IndexOf("front-screws") < back.IndexOf("trim-off") && back.IndexOf("trim-off") < back.IndexOf("top-up")
        );
        Assert.Throws<ArgumentException>(() =>
            LayoutEdit.WithStepBefore(layout, "x", "X", "Do it", "nowhere", new(0, 1, 2))
        );
    }

    [Fact]
    public void A_fact_is_set_or_added()
    {
        var layout = LayoutEdit.With(TestShop.Shop.FindLayout("quenby-qc30")!, new LayoutFact("belt-switch", "yes"));
        Assert.Equal("yes", layout.ValueOf("belt-switch"));
        Assert.Equal("no", LayoutEdit.With(layout, new LayoutFact("sensor-bars", "no")).ValueOf("sensor-bars"));
    }

    [Theory]
    [InlineData("/a", 2)]
    [InlineData("/b/1/c", 6)]
    [InlineData("/b/1/d", 5)]
    [InlineData("/b/7", 3)]
    [InlineData("", 1)]
    [InlineData("/e~1f", 9)]
    public void A_pointer_is_found_at_its_line_or_at_its_nearest_parents(string pointer, int line) =>
        Assert.Equal(
            line,
            JsonLines.LineOf(
                "{\n\"a\": 1,\n\"b\": [\n {\"x\": 0},\n {\n\"c\": 2}\n ],\n\"y\": {},\n\"e/f\": 3\n}",
                pointer
            )
        );

    [Fact]
    public void Of_a_text_that_breaks_off_the_line_is_that_of_what_could_be_read() =>
        Assert.Equal(2, JsonLines.LineOf("{\n\"a\": 1,\n\"b\": [", "/a"));

    [Fact]
    public void A_name_with_half_a_character_in_it_is_passed_over() =>
        Assert.Equal(3, JsonLines.LineOf("{\n\"\\ud800\": 1,\n\"b\": 2}", "/b"));

    [Fact]
    public void Reconditioning_names_every_wear_part_once_region_by_region()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var machine = TestShop.Machine(layout.Id);
            var wear = machine.Layout.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
            var plan = machine.Planner.Plan(new(wear, [], new Dictionary<string, OperationId>()))!;
            var regions = Reconditioning.ByRegion(machine.Layout, plan.Removal);
            Assert.Equal(wear.Order(), regions.SelectMany(r => r.Parts).Select(p => p.Id).Order());
            Assert.Equal(regions.Count, regions.Select(r => r.Region).Distinct().Count());
            Assert.DoesNotContain(regions, r => r.Region.Length == 0);
        }
    }
}
