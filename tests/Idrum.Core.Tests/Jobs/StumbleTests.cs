using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What went wrong when whole repairs were tried, told as it should go.</summary>
public class StumbleTests : JobStory
{
    [Fact]
    public void A_part_picked_later_joins_and_what_was_decided_ordered_or_fitted_stays()
    {
        OpenFor("belt");
        Strip();
        Do(new PartFitted("belt", "replaced", "", [], ""));
        Do(new PartOrdered("idler", 2));
        Do(new TargetsChosen(["roller-left", "roller-right"], "roller-dry", new Dictionary<string, OperationId>(), ""));
        Assert.Equal<PartId>(["belt", "roller-left", "roller-right"], State.Targets.Order());
        Assert.True(State.Fitted.ContainsKey("belt") && State.Orders.ContainsKey("idler"));
        Do(new CauseDecided("front-felt-worn", ["front-felt"], "leave", "Half worn, told the customer."));
        Assert.Equal(3, State.Found.Count);
        Assert.DoesNotContain<PartId>("front-felt", State.Targets);
        // Decided otherwise: the rollers are left, the belt that is in stays.
        Assert.Contains(Errors(new CauseDecided("roller-dry", ["roller-left"], "leave", "")), e =>
            e.Pointer == "reason"
        );
        Do(new CauseDecided("roller-dry", ["roller-left", "roller-right"], "leave", "Customer does not want it."));
        Assert.Equal(["belt"], State.Targets);
    }

    [Fact]
    public void A_felt_is_not_replaced_before_the_join_and_not_run_before_the_cure()
    {
        OpenFor("front-felt");
        Strip();
        var replaced = new PartFitted("front-felt", "replaced", "", [], "");
        Assert.Contains("record the coat", Assert.Single(Errors(replaced)).Message, StringComparison.Ordinal);
        Do(new GlueCoated("front-felt", "contact", 12, 240));
        At = At.AddSeconds(12);
        Assert.Contains(
            "12 min until it may be joined",
            Assert.Single(Errors(replaced)).Message,
            StringComparison.Ordinal
        );
        Assert.Equal("reason", Assert.Single(Errors(new GlueJoined("front-felt", ""))).Pointer);
        At = At.AddMinutes(12);
        Assert.Contains("Record the join first", Assert.Single(Errors(replaced)).Message, StringComparison.Ordinal);
        Do(new GlueJoined("front-felt", ""));
        // The cure runs by itself from the join.
        var cure = Assert.Single(State.Timers, t => !t.Stopped);
        Assert.Equal((At, 240), (cure.StartedAt, cure.Minutes));
        Do(replaced with { School = "contact" });
        while (State.Out.Count > 0)
        {
            Do(StepForward.In(State, Machine.Planner.Refit(State.Out, State.StepsIn)[0]));
        }
        Assert.Empty(Errors(new ProofRecorded("hand-turn", "ok", null, "")));
        Assert.Equal("note", Assert.Single(Errors(new ProofRecorded("run", "ok", null, ""))).Pointer);
        Assert.Empty(Errors(new ProofRecorded("run", "ok", null, "Cold, half a minute, to see the drum turn.")));
        At = At.AddMinutes(241);
        Assert.Empty(Errors(new ProofRecorded("run", "ok", null, "")));
    }

    [Fact]
    public void A_count_lowered_while_stripping_leaves_its_finding_until_it_is_explained()
    {
        OpenFor("belt");
        Strip(1, "deck");
        var odd = Assert.Single(OddCounts.Of(FastenerLedger.Of(State.Ledger, Machine.Layout, false), State.Ledger));
        Assert.Equal(("deck", "out", 2, 1), (odd.Row.Group.Id, odd.Way, odd.Wanted, odd.Counted));
        Assert.Contains(OpenItems.Of(State, Machine), i => i.Text.Contains("1 came out", StringComparison.Ordinal));
        Assert.NotEmpty(Errors(new CountSettled("deck", "out", "lost", "")));
        Do(new CountSettled("deck", "out", "fell-in", ""));
        Assert.Contains(OpenItems.Of(State, Machine), i =>
            i.Text.Contains("still to be found", StringComparison.Ordinal)
        );
        Do(new CountSettled("deck", "out", "found", ""));
        Assert.Empty(OddCounts.Of(FastenerLedger.Of(State.Ledger, Machine.Layout, false), State.Ledger));
        Assert.Equal(2, State.Removals.Single(r => r.OperationId == "deck-screws").Out["deck"]);
    }

    [Fact]
    public void Several_acts_are_taken_back_in_a_row_and_brought_again_until_something_else_is_done()
    {
        OpenFor("belt");
        Do(new NoteAdded("", "one"));
        Do(new NoteAdded("", "two"));
        var before = State.Canonical();
        Do(new Undone(History.LastAct!.Id));
        Do(new Undone(History.LastAct!.Id));
        Assert.Empty(State.Notes);
        Do(new Restored(History.LastTakenBack!.Id));
        Do(new Restored(History.LastTakenBack!.Id));
        Assert.Equal(before, State.Canonical());
        Do(new Undone(History.LastAct!.Id));
        var gone = History.LastTakenBack!.Id;
        Do(new NoteAdded("", "three"));
        Assert.Contains(Errors(new Restored(gone)), e => e.Pointer == "eventId");
        Assert.Equal(["one", "three"], State.Notes.Select(n => n.Text));
    }

    [Fact]
    public void A_reopened_job_says_why_and_is_to_be_proved_anew()
    {
        OpenFor("belt");
        Do(new JobClosed("", "For the test."));
        Do(new JobReopened("It squeals again."));
        Assert.Equal("It squeals again.", State.ReopenedBecause);
        Assert.Contains(OpenItems.Of(State, Machine), i => i.Station == Station.Prove);
    }

    [Fact]
    public void An_unticked_complaint_does_not_come_back_as_a_check()
    {
        OpenFor("belt");
        var told = Machine.Diagnostician.Diagnose(new(State.Evidence, [], 1, false, true));
        Assert.DoesNotContain(told.Checks, c => c.Finding.Group == FindingGroup.Complaint);
        Assert.Contains(Machine.Diagnostician.Diagnose(new(State.Evidence, [])).Checks, c =>
            c.Finding.Group == FindingGroup.Complaint
        );
    }

    [Fact]
    public void Pauses_of_more_than_half_an_hour_are_no_work()
    {
        OpenFor("belt");
        var worked = WorkTime.Minutes(History.Effective);
        At = At.AddHours(3);
        Do(new NoteAdded("", "after lunch"), 0);
        Assert.Equal(worked, WorkTime.Minutes(History.Effective));
        Do(new NoteAdded("", "and on"), 7);
        Assert.Equal(worked + 7, WorkTime.Minutes(History.Effective));
    }
}
