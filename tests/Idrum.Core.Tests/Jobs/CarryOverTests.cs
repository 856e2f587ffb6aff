using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Jobs;

/// <summary>The machine turns out to be another than was thought, in the middle of the work.</summary>
public class CarryOverTests
{
    private static readonly Dictionary<string, OperationId> None = [];

    private static JobState Stripped(string layoutId, string part, int steps)
    {
        var state = Logs.Apply(
            JobState.Empty,
            new JobOpened("J-1", new MachineCard { LayoutId = layoutId, Place = "Cellar" })
        );
        state = Logs.Apply(state, new TargetsChosen([part], "", None, ""));
        var plan = JobPlan.Of(state, TestShop.Shop.MachineOf(state))!;
        return plan
            .Removal.Take(steps)
            .Aggregate(Logs.Apply(state, new SafetySigned([], "A. Hand")), (s, o) =>
                Logs.Apply(s, Logs.Done(TestShop.Shop.MachineOf(s).Layout, o))
            );
    }

    private static JobState Corrected(JobState state, string to, params string[] safety)
    {
        var after = TestShop.Shop.FindLayout(to)!;
        var card = state.Machine with { LayoutId = to, Facts = [] };
        var carried = CarryOver.Of(
            state,
            TestShop.Shop.MachineOf(state).Layout,
            after.For(card.FactsOf(after), new Dictionary<string, string>()),
            safety
        );
        return Logs.Apply(state, new MachineCorrected(card) { LayoutHash = Variants.HashOf(after), Carried = carried });
    }

    [Fact]
    public void From_a_layout_to_its_variant_the_steps_in_common_stay_done_and_their_screws_counted()
    {
        var state = Stripped("quenby-qc30", "belt", 99);
        var before = state.Removals.Select(r => r.OperationId).ToHashSet();
        var after = Corrected(state, "quenby-qc36");
        Assert.Contains<OperationId>("front-off", after.Out);
        Assert.Contains<OperationId>("front-screws", after.Out);
        Assert.DoesNotContain<OperationId>("spacer-off", after.Out);
        Assert.Contains("spacer-off", before);
        // Two corner screws lie in their trays as before; the spacer's one has no place any more and stays an open
        // item.
        Assert.Equal(2, after.OutCount("front-corner"));
        Assert.Contains(after.Strays, s =>
            s.Contains("Front spacer", StringComparison.Ordinal) && s.StartsWith("1 ×", StringComparison.Ordinal)
        );
        Assert.Equal(["belt"], after.Targets);
        Assert.Equal("A. Hand", after.SafeBy);
        Assert.Contains(OpenItems.Of(after, TestShop.Shop.MachineOf(after)), i =>
            i.Station == Station.Rebuild && i.Text.Contains("Front spacer", StringComparison.Ordinal)
        );
        var settled = Logs.Apply(after, new StraySettled(after.Strays[0], "Into the middle hole of the front."));
        Assert.Equal(after.Strays.Count - 1, settled.Strays.Count);
    }

    [Fact]
    public void Nothing_that_came_out_is_forgotten_whatever_the_machine_turns_out_to_be()
    {
        foreach (var from in TestShop.Shop.Layouts)
        {
            foreach (var to in TestShop.Shop.Layouts.Where(l => l != from))
            {
                var state = Stripped(from.Id, "motor", 99);
                var counted = state.Removals.SelectMany(r => r.Out).Sum(o => o.Value);
                var after = Corrected(state, to.Id);
                var kept = after.Removals.SelectMany(r => r.Out).Sum(o => o.Value);
                var stray = after
                    .Strays.Where(s => s.Contains(" × ", StringComparison.Ordinal))
                    .Sum(s => int.Parse(s.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture));
                Assert.True(
                    counted == kept + stray,
                    $"{from.Id} → {to.Id}: {counted} came out, {kept} are in trays, {stray} astray"
                );
                // And what is done can be put back: the way back has an order and names only steps of this machine.
                var machine = TestShop.Shop.MachineOf(after);
                Assert.Equal(
                    after.Out.SelectMany(o => machine.Layout.FindOperation(o)!.Steps).Count(),
                    machine.Planner.Refit(after.Out, after.StepsIn).Count
                );
                Assert.NotNull(JobPlan.Of(after, machine));
            }
        }
    }

    [Fact]
    public void A_part_goes_by_its_id_or_as_the_only_one_of_its_kind_and_what_fits_nothing_is_said()
    {
        var state = Stripped("ostrel-or70", "sleeve", 3);
        var carried = CarryOver.Of(
            state,
            TestShop.Shop.MachineOf(state).Layout,
            TestShop.Machine("quenby-qd62").Layout,
            []
        );
        Assert.Contains(carried.Lost, l => l.Contains("Sleeve bearing", StringComparison.Ordinal));
        var felt = Stripped("quenby-qc36", "front-felt", 1);
        Assert.Equal(
            "front-felt",
            CarryOver.Of(felt, TestShop.Shop.MachineOf(felt).Layout, TestShop.Machine("marlune-mg61").Layout, []).Parts[
                "front-felt"
            ]
        );
        var rollers = Stripped("ostrel-ot50", "roller-left", 1);
        Assert.Contains(
            CarryOver
                .Of(rollers, TestShop.Shop.MachineOf(rollers).Layout, TestShop.Machine("quenby-qd62").Layout, [])
                .Lost,
            l => l.StartsWith("Left drum roller", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void What_the_other_machine_asks_for_beside_what_was_signed_is_signed_anew() =>
        Assert.Equal(
            ("A. Hand", ""),
            (
                Corrected(Stripped("quenby-qc30", "belt", 3), "quenby-qc36").SafeBy,
                Corrected(Stripped("quenby-qc30", "belt", 3), "quenby-qd62", "water-closed").SafeBy
            )
        );

    [Fact]
    public void A_made_up_carry_over_is_refused()
    {
        var state = Stripped("quenby-qc30", "belt", 3);
        var after = TestShop.Shop.FindLayout("quenby-qc36")!;
        var done = state.Removals[0];
        var history = JobHistory.Of([
            new JobOpened("J-1", state.Machine) { Id = Guid.NewGuid(), At = Logs.Now },
            new SafetySigned([], "A. Hand") { Id = Guid.NewGuid(), At = Logs.Now },
            new OperationDone(done.OperationId, done.Out) { Id = Guid.NewGuid(), At = Logs.Now },
        ]);
        var forged = new MachineCorrected(state.Machine with { LayoutId = after.Id, Facts = [] })
        {
            Id = Guid.NewGuid(),
            At = Logs.Now,
            LayoutHash = Variants.HashOf(after),
            Carried = new() { Operations = ["motor-out"] },
        };
        Assert.Contains(JobRules.Check(history, forged, TestShop.Shop, Logs.Now), e => e.Pointer == "machine.layoutId");
        // Two groups made into one would lose a count.
        var merged = forged with
        {
            Carried = new()
            {
                Fasteners = new Dictionary<string, string> { ["a"] = "front-corner", ["b"] = "front-corner" },
            },
        };
        Assert.Contains(JobRules.Check(history, merged, TestShop.Shop, Logs.Now), e => e.Pointer == "machine.layoutId");
    }
}
