using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What is foreseen for a device without a link must be what the shop takes when the acts arrive: every act of
/// every way is put to the rules
/// as if a repairer had done it.</summary>
public sealed class ForesightTests
{
    private static readonly ShopSnapshot Shop = TestShop.Shop;

    public static TheoryData<string> Layouts => [.. Shop.Layouts.Select(l => l.Id)];

    private static JobHistory Signed(Layout layout, IReadOnlyList<PartId> targets)
    {
        var history = JobHistory.Empty;
        void Do(JobEvent e) => history = Taken(history, e with { Id = Guid.NewGuid(), At = Logs.Now });
        Do(new JobOpened("J-7", new MachineCard { LayoutId = layout.Id, Place = "Cellar" }));
        Do(new TargetsChosen(targets, "", new Dictionary<string, OperationId>(), "What it came for"));
        Do(
            new SafetySigned(
                [.. JobSafety.Of(history.State, Shop.MachineOf(history.State)).Select(i => i.Id)],
                "A. Hand"
            )
        );
        return history;
    }

    /// <summary>The history with an act that the rules must take.</summary>
    private static JobHistory Taken(JobHistory history, JobEvent e)
    {
        var errors = JobRules.Check(history, e, Shop, Logs.Now.AddYears(1));
        Assert.True(
            errors.Count == 0,
            $"{history.State.Machine.LayoutId}, {e}: {string.Join(" ", errors.Select(x => $"{x.Pointer}: {x.Message}"))}"
        );
        return history.Add(e);
    }

    /// <summary>Does the acts of a way in order, waiting for glue as a person would.</summary>
    private static JobHistory Walk(JobHistory history, IEnumerable<ForeseenStep> steps)
    {
        foreach (var step in steps)
        {
            var at = history.State.LastAt;
            var open = history
                .State.Glue.Values.Where(g => g.JoinedAt is null)
                .Select(g => g.JoinFrom)
                .DefaultIfEmpty(at)
                .Max();
            if (step.Act is StepRefitted)
            {
                // What is glued bears it before it is lifted on.
                open = history.State.Glue.Values.Select(g => g.LoadFrom ?? at).Append(open).Max();
            }
            history = Taken(
                history,
                step.Act with
                {
                    Id = Guid.NewGuid(),
                    At = open > at ? open.AddMinutes(1) : at.AddMinutes(1),
                }
            );
        }
        return history;
    }

    private static void Ends(JobHistory end, MachineKnowledge machine)
    {
        Assert.Empty(end.State.Out);
        Assert.All(end.State.Targets, t => Assert.True(end.State.Fitted.ContainsKey(t)));
        Assert.DoesNotContain(OpenItems.Of(end.State, machine), o =>
            o.Station < Station.Prove && o.Text.Contains("tray", StringComparison.OrdinalIgnoreCase)
        );
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void Every_foreseen_act_is_taken_by_the_rules_and_the_machine_is_whole_at_the_end(string id)
    {
        var layout = Shop.FindLayout(id)!;
        foreach (var part in layout.Parts.Where(p => p.Wears).Select(p => p.Id))
        {
            var start = Signed(layout, [part]);
            var machine = Shop.MachineOf(start.State);
            var way = Foresight.WayFrom(start, machine, CancellationToken.None);
            Assert.NotNull(way);
            Ends(Walk(start, way.Out.Concat(way.Fit).Concat(way.Back)), machine);
        }
    }

    [Theory]
    [MemberData(nameof(Layouts))]
    public void After_every_plain_choice_what_was_foreseen_is_taken_too(string id)
    {
        var layout = Shop.FindLayout(id)!;
        var choices = 0;
        foreach (var part in layout.Parts.Where(p => p.Wears).Select(p => p.Id).Where((_, i) => i % 4 == 0))
        {
            var start = Signed(layout, [part]);
            var machine = Shop.MachineOf(start.State);
            var way = Foresight.WayFrom(start, machine, CancellationToken.None)!;
            var keys = way.Out.Select(s => s.Key).ToList();
            for (var i = 0; i < way.Out.Count; i++)
            {
                var before = Walk(start, way.Out.Take(i));
                var operation = layout.FindOperation(((OperationDone)way.Out[i].Act).OperationId)!;
                foreach (
                    var choice in Foresight
                        .ChoicesAt(way.Out[i], [.. keys.Skip(i + 1)], machine, CancellationToken.None)
                        .Where(c => c.Foreseen)
                )
                {
                    choices++;
                    var noted = Taken(
                        before,
                        new ProblemNoted(operation.Id, choice.What, "", 1, "As found")
                        {
                            Id = Guid.NewGuid(),
                            At = before.State.LastAt,
                            Groups =
                                choice.What == Problem.AlreadyDone ? [.. operation.Removed.Select(f => f.Id)] : null,
                        }
                    );
                    Assert.Equal(
                        choice.Way is null ? choice.StaysOut : noted.State.Out.Contains(operation.Id),
                        noted.State.Out.Contains(operation.Id)
                    );
                    if (choice.Way is { } other)
                    {
                        Assert.DoesNotContain(other.Out, s =>
                            s.Key == way.Out[i].Key && choice.What != Problem.LeftOut
                        );
                        // A count of what somebody else took out is settled before a panel hides it.
                        if (choice.What != Problem.AlreadyDone)
                        {
                            Ends(Walk(noted, other.Out.Concat(other.Fit).Concat(other.Back)), machine);
                        }
                        continue;
                    }
                    // The same way without what falls away: what the device goes on with.
                    var rest = way.Out.Skip(i + 1).Where(s => !choice.Drops.Contains(s.Key)).ToList();
                    var opened = Walk(noted, rest);
                    var gone = choice
                        .Drops.Select(k => k["out:".Length..])
                        .Where(o => !opened.State.Out.Contains(o))
                        .ToHashSet();
                    if (choice.What != Problem.AlreadyDone)
                    {
                        Ends(
                            Walk(
                                opened,
                                way.Fit.Concat(
                                    way.Back.Where(s => !gone.Contains(((StepRefitted)s.Act).OperationId))
                                        .Select(s => Counted(s, opened))
                                )
                            ),
                            machine
                        );
                    }
                }
            }
        }
        Assert.True(choices > 10, $"{choices} choices");
    }

    /// <summary>A step of the way back with the counts the device added up itself.</summary>
    private static ForeseenStep Counted(ForeseenStep step, JobHistory opened)
    {
        var act = (StepRefitted)step.Act;
        return step with
        {
            Act = act with { Counts = act.Counts.Keys.ToDictionary(g => g, g => opened.State.OutCount(g)) },
        };
    }

    [Fact]
    public void A_stuck_step_is_foreseen_with_another_way_in_where_the_machine_has_one()
    {
        // The idler of this machine is reached through the plate behind or through the front.
        var start = Signed(Shop.FindLayout("ostrel-ot50")!, ["idler"]);
        var machine = Shop.MachineOf(start.State);
        var way = Foresight.WayFrom(start, machine, CancellationToken.None)!;
        var others = way
            .Out.SelectMany(
                (s, i) =>
                    Foresight.ChoicesAt(s, [.. way.Out.Skip(i + 1).Select(x => x.Key)], machine, CancellationToken.None)
            )
            .Where(c => c is { What: Problem.Stuck, Way: not null })
            .ToList();
        Assert.NotEmpty(others);
        Assert.All(others, c => Assert.DoesNotContain(c.Way!.Out, s => c.Drops.Contains(s.Key)));
    }

    [Fact]
    public void Nothing_is_foreseen_that_is_not_signed_safe_or_has_no_part()
    {
        var layout = Shop.Layouts[0];
        var opened = JobHistory.Empty.Add(
            new JobOpened("J-8", new MachineCard { LayoutId = layout.Id, Place = "Cellar" })
            {
                Id = Guid.NewGuid(),
                At = Logs.Now,
            }
        );
        Assert.Null(Foresight.WayFrom(opened, Shop.MachineOf(opened.State), CancellationToken.None));
    }

    [Fact]
    public void Screws_lie_where_the_page_said_they_were_laid()
    {
        var layout = Shop.FindLayout("ostrel-ot50")!;
        var start = Signed(layout, ["belt"]);
        var way = Foresight.WayFrom(start, Shop.MachineOf(start.State), CancellationToken.None)!;
        var first = way.Out.First(s => ((OperationDone)s.Act).Counts.Values.Sum() > 0);
        var act = (OperationDone)first.Act;
        var group = act.Counts.First(c => c.Value > 0).Key;
        var laid = Taken(
            first.Before,
            act with
            {
                Id = Guid.NewGuid(),
                Trays = new Dictionary<string, string> { [group] = "F" },
            }
        );
        Assert.Equal("F", laid.State.Ledger.TrayOf(group));
        // The next one takes none that was given out.
        Assert.Equal(6, laid.State.TraysUsed);
        Assert.Contains(
            JobRules.Check(
                first.Before,
                act with
                {
                    Id = Guid.NewGuid(),
                    Trays = new Dictionary<string, string> { [group] = "I" },
                },
                Shop,
                null
            ),
            e => e.Pointer == "trays"
        );
    }

    [Fact]
    public void Acts_of_one_run_know_each_other_and_not_those_of_another_device()
    {
        var layout = Shop.FindLayout("ostrel-ot50")!;
        var start = Signed(layout, ["belt"]);
        var known = start.Log[^1].Id;
        var finding = Shop.Catalog.Findings.First(f => f.Outcomes.Count > 1);
        FindingAnswered Answer(int outcome, Guid? run) =>
            new(finding.Id, finding.Outcomes[outcome].Id)
            {
                Id = Guid.NewGuid(),
                At = Logs.Now,
                Knew = known,
                Run = run,
            };
        var run = Guid.NewGuid();
        var one = start.Add(Answer(0, run));
        Assert.Empty(JobRules.Check(one, Answer(1, run), Shop, Logs.Now));
        Assert.Contains(JobRules.Check(one, Answer(1, Guid.NewGuid()), Shop, Logs.Now), e => e.Pointer == "knew");
        Assert.Contains(JobRules.Check(one, Answer(1, null), Shop, Logs.Now), e => e.Pointer == "knew");
    }
}
