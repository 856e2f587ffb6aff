using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

public class RefitTests
{
    private static List<string> RefitFor(string layoutId, string target) =>
        [.. TestShop.Machine(layoutId).Planner.Plan(new([target], [], new Dictionary<string, string>()))!.Refit.Select(o => o.Id)];

    [Fact]
    public void Harness_goes_in_before_the_brace_although_it_came_out_before_it()
    {
        var refit = RefitFor("quenby-qd62", "front-felt");
        Assert.True(refit.IndexOf("harness-free") < refit.IndexOf("brace-off"));
        var removal = TestShop.Machine("quenby-qd62").Planner.Plan(new(["front-felt"], [], new Dictionary<string, string>()))!.Removal.Select(o => o.Id).ToList();
        Assert.True(removal.IndexOf("harness-free") < removal.IndexOf("brace-off"));
    }

    [Fact]
    public void Door_switch_plug_is_joined_before_the_panel_closes()
    {
        var a = RefitFor("ostrel-ot50", "belt");
        Assert.True(a.IndexOf("door-plug") < a.IndexOf("front-off"));
        var e = RefitFor("quenby-qd62", "front-felt");
        Assert.True(e.IndexOf("door-plug") < e.IndexOf("skin-off"));
    }

    [Fact]
    public void Earth_strap_goes_on_before_the_top_comes_down()
    {
        var refit = RefitFor("ostrel-ot50", "belt");
        Assert.True(refit.IndexOf("earth-clip") < refit.IndexOf("top-up"));
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Every_refit_keeps_the_mirror_except_where_the_layout_states_a_trap(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        foreach (var part in layout.Parts.Where(p => p.Wears))
        {
            var plan = TestShop.Machine(layoutId).Planner.Plan(new([part.Id], [], new Dictionary<string, string>()))!;
            var refit = plan.Refit.Select(o => o.Id).ToList();
            Assert.Equal(plan.Removal.Select(o => o.Id).Order(), refit.Order());
            foreach (var o in plan.Removal)
            {
                foreach (var need in o.Needs.SelectMany(g => g).Where(refit.Contains))
                {
                    var earlier = plan.Removal.ToList().FindIndex(x => x.Id == need) < plan.Removal.ToList().IndexOf(o);
                    var trap = layout.FindOperation(need)!.Refit.Before.Contains(o.Id);
                    if (earlier)
                    {
                        Assert.Equal(!trap, refit.IndexOf(o.Id) < refit.IndexOf(need));
                    }
                }
            }
        }
    }

    [Fact]
    public void A_chosen_way_is_taken_and_an_unknown_one_refused()
    {
        var planner = TestShop.Machine("ostrel-ot50").Planner;
        TeardownPlan Plan(string way) => planner.Plan(new(["idler"], [], new Dictionary<string, string> { ["idler-reach"] = way }))!;
        Assert.Contains(Plan("idler-rear").Removal, o => o.Id == "rear-plate-off");
        Assert.DoesNotContain(Plan("idler-rear").Removal, o => o.Id == "front-off");
        Assert.Contains(Plan("idler-out").Removal, o => o.Id == "front-off");
        Assert.Throws<ArgumentException>(() => Plan("chimney"));
    }

    [Fact]
    public void A_target_that_stands_free_needs_no_steps() =>
        Assert.Empty(TestShop.Machine("quenby-qd62").Planner.Plan(new(["lint-screen"], [], new Dictionary<string, string>()))!.Removal);

    [Fact]
    public void Self_supporting_circles_are_not_taken_for_a_plan()
    {
        // x and y each open the other; only z opens x from outside.
        var json = """
            {"format":"idrum-layout","version":1,"id":"t","title":"T","arrangement":"A","summary":"s",
             "parts":[{"id":"p","kind":"belt","name":"P","wears":true}],
             "operations":[
              {"id":"x","name":"x","do":"x","needs":[["y","z"]],"minutes":{"out":[1,1,1],"in":[0,0,0]},"refit":{"do":"x"}},
              {"id":"y","name":"y","do":"y","needs":[["x"]],"frees":["p"],"minutes":{"out":[1,1,1],"in":[0,0,0]},"refit":{"do":"y"}},
              {"id":"z","name":"z","do":"z","minutes":{"out":[9,9,9],"in":[0,0,0]},"refit":{"do":"z"}}],
             "drive":{"motorRpm50":1400,"motorRpm60":1700,"drum":{"x":0,"y":0,"diameterMm":580},"motorPulley":{"x":130,"y":400,"diameterMm":22},"idler":{"x":60,"y":360,"diameterMm":50},"belt":{"lengthMm":2300,"widthMm":7,"ribs":4,"thicknessMm":3,"ribsToDrum":true},"turns":"clockwise"},
             "drawing":{"side":{"widthMm":700,"heightMm":900,"shapes":[{"part":"p","kind":"box"}]},"front":{"widthMm":700,"heightMm":900,"shapes":[{"part":"p","kind":"box"}]}}}
            """;
        var (layout, errors) = TestShop.Reader.Read(json);
        Assert.Empty(errors);
        var plan = new TeardownPlanner(layout!).Plan(new(["p"], [], new Dictionary<string, string>()))!;
        Assert.Equal(["z", "x", "y"], plan.Removal.Select(o => o.Id));
        Assert.Equal(11, plan.Minutes);
    }
}
