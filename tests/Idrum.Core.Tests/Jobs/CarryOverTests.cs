using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Listening;
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
            safety,
            number => Sold(to, number)
        );
        return Logs.Apply(state, new MachineCorrected(card) { LayoutHash = Variants.HashOf(after), Carried = carried });
    }

    private static IReadOnlyDictionary<PartId, int>? Sold(string layoutId, string article) =>
        TestShop.Shop.Supplier.For(TestShop.Machine(layoutId).Layout, "").FirstOrDefault(a => a.Id == article)?.Covers;

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
            [],
            _ => null
        );
        Assert.Contains(carried.Lost, l => l.Contains("Sleeve bearing", StringComparison.Ordinal));
        var felt = Stripped("quenby-qc36", "front-felt", 1);
        Assert.Equal(
            "front-felt",
            CarryOver
                .Of(felt, TestShop.Shop.MachineOf(felt).Layout, TestShop.Machine("marlune-mg61").Layout, [], _ => null)
                .Parts["front-felt"]
        );
        var rollers = Stripped("ostrel-ot50", "roller-left", 1);
        Assert.Contains(
            CarryOver
                .Of(rollers, TestShop.Shop.MachineOf(rollers).Layout, TestShop.Machine("quenby-qd62").Layout, [], _ =>
                    null
                )
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

    /// <summary>Looked at, measured, with a limit set, heard and bought for: everything that names a part.</summary>
    private static JobState Known(string layoutId, bool opened)
    {
        var machine = TestShop.Machine(layoutId);
        var book = machine.Handbook.Gauging;
        var worn = machine.Layout.Parts.Where(p => p.Wears).ToList();
        var state = opened
            ? Stripped(layoutId, worn[0].Id, 2)
            : Logs.Apply(
                JobState.Empty,
                new JobOpened("J-1", new MachineCard { LayoutId = layoutId, Place = "Cellar" })
            );
        foreach (var part in worn)
        {
            foreach (
                var look in machine.Diagnostician.Model.Findings.Where(f => f.SeesKinds.Contains(part.Kind)).Take(1)
            )
            {
                state = Logs.Apply(state, new PartSeen(part.Id, look.Id, look.Outcomes[0].Id));
            }
            foreach (var protocol in book.Protocols.Where(p => !p.Whole && p.PartsOf(machine.Layout).Contains(part)))
            {
                state = Logs.Apply(
                    state,
                    new GaugeRead(protocol.Id, part.Id, protocol.Positions[0].Id, protocol.Low, "")
                );
                state = Logs.Apply(state, new GaugeLimitSet(protocol.Id, part.Id, protocol.Low + 1, "so it says"));
            }
        }
        foreach (var article in TestShop.Shop.Supplier.For(machine.Layout, "").DistinctBy(a => a.Id))
        {
            var line = new PartsBought(
                article.Id,
                article.Name,
                article.Covers,
                2,
                article.Price,
                BoughtFrom.Supplier,
                3,
                14
            )
            {
                Id = Guid.NewGuid(),
                At = Logs.Now,
            };
            state = Logs.Apply(state, line);
            state = Logs.Apply(state, new OrderSettled(line.Id.ToString("N"), OrderEnd.Came, 1) { At = Logs.Now });
        }
        return state;
    }

    public static IEnumerable<object[]> Whole =>
        TestShop.Shop.Layouts.SelectMany(l => new object[][] { [l.Id, true], [l.Id, false] });

    [Theory]
    [MemberData(nameof(Whole))]
    public void Whatever_it_turns_out_to_be_nothing_is_said_of_a_part_it_lacks_or_of_what_is_not_sold_for_it(
        string layoutId,
        bool opened
    )
    {
        var state = Known(layoutId, opened);
        var had = Supplies.Left(state, TestShop.Shop.MachineOf(state).Layout).Sum(r => r.Over);
        foreach (var other in TestShop.Shop.Layouts.Where(l => l.Id != layoutId))
        {
            var after = Corrected(state, other.Id);
            var machine = TestShop.Shop.MachineOf(after);
            var named = after
                .Seen.Keys.Select(s => s.Part)
                .Concat(after.Gauged.Select(g => g.PartId).Where(p => !p.IsNone))
                .Concat(after.GaugeLimits.Keys.Select(g => g.Part))
                .Concat(after.Orders.Keys)
                .Concat(after.Lines.Values.SelectMany(l => l.Covers.Keys.Concat(l.For)))
                .Concat(after.Targets);
            Assert.All(named, p => Assert.NotNull(machine.Layout.FindPart(p)));
            Assert.Empty(after.GaugeLimits);
            // A look at a part speaks of the same kind of part.
            Assert.Equal(after.Seen.Count, after.Seen.Keys.Select(s => (s.Part, s.Finding)).Distinct().Count());
            // What is here and what comes goes into this machine; what does not goes back, and nobody pays for it.
            foreach (var line in after.Lines.Values)
            {
                Assert.Equal(Sold(other.Id, line.ArticleId) is null, line.Astray);
                Assert.Equal(line.Astray, line.Covers.IsEmpty);
            }
            var over = Supplies.LeftOver(after, machine.Layout).Where(r => r.Line.Astray).ToList();
            Assert.Equal(after.Lines.Values.Where(l => l.Astray), over.Select(r => r.Line));
            Assert.Equal(had, Supplies.Left(after, machine.Layout).Sum(r => r.Over));
            var price = Estimates.PriceOf(after, machine, TestShop.Shop.Terms, 60, 1);
            Assert.DoesNotContain(price.Lines, l =>
                l.Kind == "part" && after.Lines.Values.Any(x => x.Astray && x.Name == l.What)
            );
            Assert.All(GaugedSet.Of(after, machine), s => Assert.NotNull(s.Part));
            // And it was the first one after all.
            var again = Corrected(after, layoutId);
            Assert.Equal(
                state.Lines.Values.Select(l => (l.LineId, l.Astray, l.Came, l.Open)),
                again.Lines.Values.Select(l => (l.LineId, l.Astray, l.Came, l.Open))
            );
            Assert.All(again.Lines.Values, l => Assert.Equal(state.Lines[l.LineId].Covers, l.Covers));
        }
    }

    [Theory]
    [InlineData("quenby-qd62", false)]
    [InlineData("ostrel-ot50", true)]
    public void A_recording_was_judged_by_how_often_the_parts_of_one_machine_come_round(string to, bool stands)
    {
        var state = Known("ostrel-ot50", false);
        state = Logs.Apply(
            state,
            new SoundRecorded("", SoundWord.Thump, "", false)
            {
                At = Logs.Now,
                Heard = new(
                    20,
                    -20,
                    1,
                    0.02,
                    true,
                    "",
                    [new("roller", "Left drum roller", ["roller-left"], 5.1, 0.97)]
                ),
            }
        );
        var after = Corrected(state, to);
        Assert.Equal(stands, after.Sounds[0].Heard!.Enough);
        Assert.Equal(stands, HeardSound.Of(after.Sounds[0]) is not null);
        Assert.Equal(
            !stands,
            after.Sounds[0].Heard!.Say.Contains(TestShop.Machine("ostrel-ot50").Layout.Title, StringComparison.Ordinal)
        );
    }

    [Fact]
    public void Two_places_never_become_one_where_the_other_machine_has_but_one_of_them()
    {
        var state = Known("ostrel-ot50", false);
        var before = TestShop.Shop.MachineOf(state).Layout;
        var carried = CarryOver.Of(
            state,
            before,
            before with
            {
                Parts = [.. before.Parts.Where(p => p.Id != "roller-left")],
            },
            [],
            _ => null
        );
        Assert.Equal(carried.Looked!.Count, carried.Looked.Values.Distinct().Count());
        Assert.Contains(carried.Lost, l => l.StartsWith("Left drum roller was seen", StringComparison.Ordinal));
        Assert.NotEmpty(carried.Carry(state).Seen);
    }
}
