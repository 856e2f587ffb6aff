using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Parts seen one by one, causes decided one by one, why it failed, and what earlier jobs tell.</summary>
public class WalkRoundTests
{
    private JobHistory history = JobHistory.Empty;
    private DateTimeOffset at = Logs.Now.AddHours(-5);

    private JobState State => history.State;

    private MachineKnowledge Machine => TestShop.Shop.MachineOf(State);

    private IReadOnlyList<FieldError> Errors(JobEvent e) =>
        JobRules.Check(history, e with { Id = Guid.NewGuid(), At = at }, TestShop.Shop, at);

    private void Do(JobEvent e)
    {
        at = at.AddMinutes(1);
        e = e with { Id = Guid.NewGuid(), At = at };
        Assert.Empty(JobRules.Check(history, e, TestShop.Shop, at));
        history = history.Add(e);
    }

    private void Open(string layout = "quenby-qd62", params string[] complaints)
    {
        Do(new JobOpened("J-1", new MachineCard { LayoutId = layout, Place = "Cellar" }));
        Do(new ComplaintStated([.. complaints.DefaultIfEmpty("squeal")], ""));
    }

    [Fact]
    public void One_bad_roller_makes_the_check_bad_and_it_is_good_only_once_all_four_were_seen()
    {
        Open();
        string? Rollers() => SeenEvidence.Of(State, Machine).GetValueOrDefault("roller-spin");
        string[] four = ["front-roller-left", "front-roller-right", "rear-roller-left", "rear-roller-right"];
        foreach (var roller in four.Take(3))
        {
            Do(new PartSeen(roller, "roller-spin", "free"));
        }
        Assert.Null(Rollers());
        Do(new PartSeen(four[3], "roller-spin", "free"));
        Assert.Equal("free", Rollers());
        Do(new PartSeen(four[1], "roller-spin", "dry"));
        Assert.Equal("dry", Rollers());
        Assert.Equal(["front-roller-right"], SeenEvidence.Bad(State, Machine, "roller-dry").Select(p => p.Id));
        Do(new PartSeen(four[1], "roller-spin", ""));
        Assert.Null(Rollers());
        Assert.Equal(4, SeenEvidence.Bad(State, Machine, "roller-dry").Count);
    }

    [Fact]
    public void A_part_that_is_not_there_a_look_that_does_not_fit_it_and_an_unknown_outcome_are_refused()
    {
        Open();
        Assert.Equal("partId", Assert.Single(Errors(new PartSeen("ghost", "roller-spin", "free"))).Pointer);
        Assert.Equal("partId", Assert.Single(Errors(new PartSeen("belt", "roller-spin", "free"))).Pointer);
        Assert.Equal("findingId", Assert.Single(Errors(new PartSeen("belt", "ghost", "free"))).Pointer);
        Assert.Equal("outcome", Assert.Single(Errors(new PartSeen("idler", "idler-spin", "perhaps"))).Pointer);
        Assert.Equal("because", Assert.Single(Errors(new WhyAnswered("belt-broken", "ghost", ""))).Pointer);
        Assert.Equal("faultId", Assert.Single(Errors(new WhyAnswered("ghost", "", ""))).Pointer);
    }

    [Fact]
    public void What_was_opened_to_look_at_is_settled_by_the_cause_found_there_and_other_decisions_stay()
    {
        Open();
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), "") { Look = true });
        Assert.Equal(("look", "belt"), (State.Found[0].Decision, State.Targets.Single().Value));
        Do(new CauseDecided("idler-seized", ["idler"], "change", ""));
        Do(new CauseDecided("front-felt-worn", ["front-felt"], "leave", "half worn"));
        Assert.Equal(["look", "change", "leave"], State.Found.Select(f => f.Decision));
        Do(new CauseDecided("belt-broken", ["belt"], "change", ""));
        Assert.Equal(["idler-seized", "front-felt-worn", "belt-broken"], State.Found.Select(f => f.FaultId));
        Assert.Equal<PartId>(["belt", "idler"], State.Targets.Order());
        Assert.Contains(Errors(new CauseDecided("", ["belt"], "look", "")), e => e.Pointer == "decision");
    }

    [Fact]
    public void A_cause_that_stays_unknown_is_handed_over_with_what_was_ruled_out()
    {
        Open();
        Assert.NotEmpty(Errors(new CauseDecided("", [], "hand-over", "")));
        Assert.NotEmpty(Errors(new CauseDecided("", [], "leave", "why")));
        Do(new CauseDecided("", [], "hand-over", "Ruled out: belt, rollers."));
        Assert.True(State.HandedOver);
    }

    [Fact]
    public void Earlier_jobs_on_the_tag_tell_what_was_changed_lately_the_newest_first_and_nothing_of_another_layout()
    {
        Open();
        JobState Earlier(string number, int daysAgo, string layout, params string[] fitted) =>
            State with
            {
                Number = number,
                OpenedAt = State.OpenedAt.AddDays(-daysAgo),
                Machine = State.Machine with { LayoutId = layout },
                Fitted = fitted.ToImmutableSortedDictionary(
                    f => (PartId)f,
                    f => new PartFitted(f, "replaced", "", [], "")
                ),
            };
        var told = EarlierWork.Of(
            State,
            [
                Earlier(
                    "J-a",
                    300,
                    "quenby-qd62",
                    "front-roller-left",
                    "front-roller-right",
                    "rear-roller-left",
                    "rear-roller-right",
                    "belt"
                ),
                Earlier("J-b", 40, "quenby-qd62", "rear-roller-left"),
                Earlier("J-c", 20, "ostrel-ot50", "belt"),
                Earlier("J-d", 900, "quenby-qd62", "belt"),
                Earlier("J-e", -5, "quenby-qd62", "belt"),
            ],
            Machine
        );
        Assert.Equal(
            [("earlier-roller", "one", "J-b"), ("earlier-belt", "yes", "J-a")],
            told.Select(t => (t.FindingId, t.Outcome, t.Number))
        );
    }
}
