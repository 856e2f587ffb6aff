using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What else to change while it is open, told as a repairer would tell it.</summary>
public class ChangeTooTests
{
    private static readonly MachineKnowledge Machine = TestShop.Machine("ostrel-ot50");
    private static readonly JobState State = new()
    {
        Machine = new MachineCard
        {
            LayoutId = "ostrel-ot50",
            AgeYears = 12,
            UsesPerWeek = 9,
        },
        Targets = ["roller-left", "roller-right"],
        LastAt = Logs.Now,
    };

    private static JobState Changed(string part, double yearsAgo) =>
        new()
        {
            LastAt = Logs.Now.AddDays(-365 * yearsAgo),
            Fitted = State.Fitted.Add(part, new PartFitted(part, "replaced", "", [], "")),
        };

    private static ComingBack Costs(string part, params JobState[] earlier) =>
        new ChangeToo(State, Machine, new(), earlier)
            .Of(WhileOpen.Of(Machine.Planner, JobPlan.Request(State, Machine)))
            .First(e => e.Part.Part.Id == part)
            .Costs;

    [Fact]
    public void An_old_belt_on_the_way_is_changed_and_one_of_last_month_is_not()
    {
        Assert.True(Costs("belt").Change);
        Assert.False(Costs("belt", Changed("belt", 0.1)).Change);
        Assert.True(Costs("belt", Changed("belt", 6)).Change);
        // What was changed elsewhere says nothing of the belt; the motor is never changed on the chance.
        Assert.Equal(Costs("belt").Probability, Costs("belt", Changed("idler", 0.1)).Probability);
        Assert.False(Costs("motor").Change);
    }

    [Fact]
    public void A_set_is_weighed_against_the_part_alone_and_a_single_is_not()
    {
        var advice = PartsAdvice.Of(State, Machine, TestShop.Shop.Supplier, 72, new Dictionary<string, int>());
        var too = new ChangeToo(State, Machine, new(), []);
        Assert.Null(too.SetOrPart(advice.Find("OT50-DRUM-ROLLER")!, advice));
        Assert.Null(too.SetOrPart(advice.Find("OT50-K1")!, advice));
        var wear = too.SetOrPart(advice.Find("OT50-K3")!, advice)!;
        // Belt and idler beside the two rollers.
        Assert.Equal(advice.Find("OT50-K3")!.Price - 24, wear.Now, 6);
        Assert.True(wear.Change);
    }
}
