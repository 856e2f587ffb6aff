using Idrum.Core.Machines;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Teardown;

public class RefitTests
{
    private static List<string> RefitFor(string layoutId, string target) =>
        [
            .. TestShop
                .Machine(layoutId)
                .Planner.Plan(new([target], [], new Dictionary<string, OperationId>()))!
                .Refit.Select(m => m.Operation.Id)
                .Distinct(),
        ];

    [Fact]
    public void Harness_goes_in_before_the_brace_although_it_came_out_before_it()
    {
        var refit = RefitFor("quenby-qd62", "front-felt");
        Assert.True(refit.IndexOf("harness-free") < refit.IndexOf("brace-off"));
        var removal = TestShop
            .Machine("quenby-qd62")
            .Planner.Plan(new(["front-felt"], [], new Dictionary<string, OperationId>()))!
            .Removal.Select(o => o.Id)
            .ToList();
        Assert.True(removal.IndexOf("harness-free") < removal.IndexOf("brace-off"));
    }

    [Fact]
    public void Earth_strap_goes_on_before_the_top_comes_down()
    {
        var refit = RefitFor("ostrel-ot50", "belt");
        Assert.True(refit.IndexOf("earth-clip") < refit.IndexOf("top-up"));
    }

    [Fact]
    public void A_chosen_way_is_taken_and_an_unknown_one_refused()
    {
        var planner = TestShop.Machine("ostrel-ot50").Planner;
        TeardownPlan Plan(string way) =>
            planner.Plan(new(["idler"], [], new Dictionary<string, OperationId> { ["idler-reach"] = way }))!;
        Assert.Contains(Plan("idler-rear").Removal, o => o.Id == "rear-plate-off");
        Assert.DoesNotContain(Plan("idler-rear").Removal, o => o.Id == "front-off");
        Assert.Contains(Plan("idler-out").Removal, o => o.Id == "front-off");
        Assert.Throws<ArgumentException>(() => Plan("chimney"));
    }

    [Fact]
    public void A_target_that_stands_free_needs_no_steps() =>
        Assert.Empty(
            TestShop
                .Machine("quenby-qd62")
                .Planner.Plan(new(["lint-screen"], [], new Dictionary<string, OperationId>()))!
                .Removal
        );

    [Fact]
    public void Self_supporting_circles_are_not_taken_for_a_plan()
    {
        // x and y each open the other; only z opens x from outside.
        static Operation Op(
            string id,
            double minutes,
            IReadOnlyList<IReadOnlyList<OperationId>> needs,
            params PartId[] frees
        ) =>
            new()
            {
                Id = id,
                Name = id,
                Do = id,
                Needs = needs,
                Frees = frees,
                Minutes = new(minutes, minutes, minutes),
                Refit =
                [
                    new()
                    {
                        Id = "back",
                        Do = id,
                        Minutes = new(0, 0, 0),
                    },
                ],
            };
        var layout = TestShop.Shop.Layouts[0] with
        {
            Parts =
            [
                new()
                {
                    Id = "p",
                    Kind = PartKinds.Belt,
                    Name = "P",
                    Wears = true,
                },
            ],
            Ways = [],
            NotMirrored = [],
            Operations =
            [
                Op(
                    "x",
                    1,
                    [
                        ["y", "z"],
                    ]
                ),
                Op(
                    "y",
                    1,
                    [
                        ["x"],
                    ],
                    "p"
                ),
                Op("z", 9, []),
            ],
        };
        var errors = TeardownRules.Check(layout, TestShop.Shop.Words);
        Assert.True(errors.Count == 0, string.Join(' ', errors));
        var plan = new TeardownPlanner(layout).Plan(new(["p"], [], new Dictionary<string, OperationId>()))!;
        Assert.Equal(["z", "x", "y"], plan.Removal.Select(o => o.Id));
        Assert.Equal(11, plan.Minutes);
    }
}
