using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What one tap says of several things says of each what is true of it, and of nothing else.</summary>
public class AtOnceTests : JobStory
{
    [Fact]
    public void In_one_run_are_told_the_things_that_are_seen_while_it_runs_and_no_others()
    {
        Open("ostrel-ot50", "squeal", "belt");
        var proofs = Machine.Handbook.ProofsOf(Machine.Layout).ToList();
        // Turned by hand it does not run, and there is no run before the supply is on.
        Assert.Empty(RunTogether.From(State, proofs, "hand-turn"));
        Assert.Empty(RunTogether.From(State, proofs, "power-on"));
        Assert.Equal(["run", "listen", "door", "air"], RunTogether.From(State, proofs, "run").Select(p => p.Id));
        // What was seen already is not said again.
        var stopped = State with { Proofs = State.Proofs.SetItem("door", new("door", ProofOutcome.Right, null, "")) };
        Assert.Equal(["run", "listen"], RunTogether.From(stopped, proofs, "run").Select(p => p.Id));
        Assert.Equal(["air"], RunTogether.From(stopped, proofs, "air").Select(p => p.Id));
        var wrong = State with { Proofs = State.Proofs.SetItem("run", new("run", ProofOutcome.Wrong, null, "")) };
        Assert.Empty(RunTogether.From(wrong, proofs, "run"));
    }

    [Fact]
    public void Nothing_is_told_in_one_run_before_the_gas_line_is_tight()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var handbook = TestShop.Shop.For(layout).Handbook;
            var proofs = handbook.ProofsOf(layout).ToList();
            var first = new[] { "gas-leak", "steam-dry" }.Where(id => proofs.Any(p => p.Id == id)).ToList();
            var state = new JobState();
            Assert.Equal(first.Count == 0, RunTogether.From(state, proofs, "run").Count > 0);
            foreach (var id in first)
            {
                Assert.DoesNotContain(proofs.Single(p => p.Id == id), RunTogether.From(state, proofs, id));
                state = state with
                {
                    Proofs = state.Proofs.SetItem(id, new(id, ProofOutcome.Right, null, "B. Fitter")),
                };
            }
            Assert.All(RunTogether.From(state, proofs, "run"), p => Assert.True(p.Powered && !p.Named && !p.TopUp));
            Assert.Equal(4, RunTogether.From(state, proofs, "run").Count);
        }
    }

    [Fact]
    public void Four_rollers_go_in_at_once_as_many_out_of_the_van_as_it_holds()
    {
        PartId[] four = ["front-roller-left", "front-roller-right", "rear-roller-left", "rear-roller-right"];
        Open("quenby-qd62", "squeal", four);
        Strip();
        var part = Machine.Layout.FindPart(four[0])!;
        var twins = GoesIn.Twins(State, part, Machine).Select(p => p.Id).ToList();
        // Of the kind, chosen, nothing done to: no idler, no belt.
        Assert.NotEmpty(twins);
        Assert.All(twins, t => Assert.Contains(t, four[1..]));
        var supplier = TestShop.Shop.Supplier;
        var roller = supplier
            .For(Machine.Layout, "")
            .First(a => a.Covers.ContainsKey(PartItem.Of(Machine.Layout, part.Id)));
        IReadOnlyList<JobEvent> Acts(int held) =>
            GoesIn.Acts(
                History,
                new(part.Id, FittedAs.Replaced, "", [], "") { Source = PartSource.Van },
                twins,
                true,
                Machine,
                supplier,
                StockPlace.Only with
                {
                    Holds = new Dictionary<string, int> { [roller.Id] = held },
                }
            );
        var enough = Acts(twins.Count + 1);
        Assert.Equal(twins.Prepend(part.Id), enough.OfType<PartFitted>().Select(f => f.PartId));
        Assert.Equal(twins.Count + 1, enough.OfType<StepRefitted>().Count());
        foreach (var act in enough)
        {
            Assert.Empty(Errors(act));
            Do(act);
        }
        Assert.Equal(twins.Count + 1, State.Lines.Values.Sum(l => l.Came));
        Assert.Empty(GoesIn.Twins(State, part, Machine));
    }

    [Fact]
    public void A_van_with_one_roller_fits_one_and_the_second_is_refused()
    {
        Open("ostrel-ot50", "squeal", "roller-left", "roller-right");
        Strip();
        var part = Machine.Layout.FindPart("roller-left")!;
        var supplier = TestShop.Shop.Supplier;
        var roller = supplier
            .For(Machine.Layout, "")
            .First(a => a.Covers.ContainsKey(PartItem.Of(Machine.Layout, part.Id)));
        var acts = GoesIn.Acts(
            History,
            new(part.Id, FittedAs.Replaced, "", [], "") { Source = PartSource.Van },
            ["roller-right"],
            false,
            Machine,
            supplier,
            StockPlace.Only with
            {
                Holds = new Dictionary<string, int> { [roller.Id] = 1 },
            }
        );
        Assert.Equal(1, acts.OfType<PartsBought>().Sum(b => b.Quantity));
        foreach (var act in acts.SkipLast(1))
        {
            Do(act);
        }
        Assert.Contains(Errors(acts[^1]), e => e.Pointer == "source");
    }

    [Fact]
    public void A_felt_that_is_glued_has_no_twin_and_a_question_is_asked_of_each_part_before_it()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var machine = TestShop.Shop.For(layout);
            var all = new JobState { Targets = [.. layout.Parts.Select(p => p.Id)] };
            foreach (var part in layout.Parts.Where(p => machine.Handbook.For(p, layout) is { Glues: true }))
            {
                Assert.Empty(GoesIn.Twins(all, part, machine));
            }
        }
    }

    [Fact]
    public void Acts_said_at_once_do_not_stand_in_each_others_way_and_another_hands_act_does()
    {
        Open("ostrel-ot50", "squeal", "roller-left", "roller-right");
        Strip();
        var known = History.Log[^1].Id;
        var said = Guid.NewGuid();
        PartFitted Left(int place) =>
            new("roller-left", FittedAs.Left, "", [], place.ToString(System.Globalization.CultureInfo.InvariantCulture))
            {
                Id = ActIds.Beside(said, place),
                Knew = known,
                At = Logs.Now,
            };
        var first = History.Add(Left(1));
        Assert.Empty(JobRules.Check(first, Left(2), TestShop.Shop, Logs.Now));
        var another = History.Add(Left(1) with { Id = Guid.NewGuid() });
        Assert.Contains(JobRules.Check(another, Left(2), TestShop.Shop, Logs.Now), e => e.Pointer == "knew");
        Assert.Equal(said, ActIds.Beside(said, 0));
        Assert.False(ActIds.Together(said, Guid.NewGuid()));
    }
}
