using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What was out before is asked again in the same words, the customer is told what is true, and a machine is run
/// with its top up only where nobody and nothing can be caught.</summary>
public class AskAgainTests : JobStory
{
    [Fact]
    public void What_was_out_is_asked_again_in_the_same_words_and_stays_open_until_it_is_right()
    {
        Squeals();
        Assert.Equal(["squeal", "drum-hand"], AskAgain.Of(State, Machine).Select(a => a.Finding.Id));
        // What only tells where it is, what was normal, and what could not be told is not asked.
        Finish();
        Prove();
        // That the complaint is gone was proved by listening.
        Assert.Equal(
            1,
            OpenItems.Of(State, Machine).Count(i => i.Text.StartsWith("Not asked again", StringComparison.Ordinal))
        );
        Assert.Contains(Errors(new AskedAgain(new Dictionary<string, string>())), e => e.Pointer == "outcomes");
        Assert.Contains(Errors(Again(("rim-gap", "even"))), e => e.Message.Contains("was not out before"));
        Assert.Contains(Errors(Again(("drum-hand", "purple"))), e => e.Pointer == "outcomes");
        Do(Again(("squeal", "yes"), ("drum-hand", "stiff")));
        Assert.Equal(2, Open().Count);
        Do(Again(("squeal", "no")));
        Assert.Equal(["Still so: Drum turned by hand, Stiff or rubs."], Open().Select(o => o.Text));
        Do(Again(("drum-hand", "normal")));
        Assert.Empty(Open());
        // Opened once more, it is to be asked once more.
        Do(new StationEntered(Station.Find));
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), ""));
        Do(new SafetySigned([.. JobSafety.Of(State, Machine).Select(i => i.Id)], "A. Hand"));
        Strip();
        Assert.Empty(State.After);
    }

    [Fact]
    public void A_new_felt_that_drags_evenly_is_right_and_an_old_one_is_not_let_off()
    {
        Squeals();
        Finish();
        Assert.Contains(Errors(Again(("drum-hand", AskAgain.RunsIn))), e => e.Pointer == "outcomes");
        var felt = State with
        {
            Fitted = State.Fitted.SetItem("front-felt", new("front-felt", FittedAs.Replaced, "", [], "")),
        };
        var asked = AskAgain.Of(felt with { After = felt.After.SetItem("drum-hand", AskAgain.RunsIn) }, Machine);
        Assert.True(asked.Single(a => a.Finding.Id == "drum-hand").Right);
    }

    [Fact]
    public void The_customer_is_told_what_was_done_what_may_be_heard_and_until_when()
    {
        Squeals();
        Do(new WorkDeclined([], "B. Tenant", ""));
        var word = CustomerWord.Of(
            State,
            Machine,
            new ShopTerms { WarrantyMonths = 6, TimeZone = "Europe/Vienna" },
            new(2026, 8, 31, 23, 30, 0, TimeSpan.Zero)
        );
        Assert.Contains("renewed: left drum roller", word.Sentence, StringComparison.OrdinalIgnoreCase);
        // The twin stayed: it is said. The day is the shop's, not Greenwich's; half a year later there is no 31st.
        Assert.Contains(word.MaySqueak, m => m.Contains("may be heard next"));
        Assert.Equal(new DateOnly(2027, 3, 1), word.WarrantyUntil);
        Assert.Equal(new DateOnly(2026, 9, 8), word.AskOn);
        Assert.Contains(word.Declined, d => d.StartsWith("Right", StringComparison.Ordinal));
    }

    [Fact]
    public void It_is_run_with_the_top_up_only_qualified_cold_dry_and_with_all_else_in()
    {
        OpenFor("roller-left");
        Strip();
        Assert.NotNull(TopUpRun.Hinders(State, Machine, At));
        Assert.Contains(Errors(Run("A. Hand")), e => e.Pointer == "proofId" && e.Message.Contains("Not back in"));
        Do(new PartFitted("roller-left", FittedAs.Replaced, "", [], "") { Source = PartSource.Had });
        while (JobPlan.WayBack(State, Machine) is [var move, ..] && TopUpRun.Hinders(State, Machine, At) is not null)
        {
            Do(StepForward.In(State, move), 5);
        }
        Assert.NotEmpty(State.Out);
        Assert.Null(TopUpRun.Hinders(State, Machine, At));
        Assert.Contains(Errors(Run("")), e => e.Pointer == "note");
        Assert.Equal(
            4,
            Errors(new ProofRecorded("run-top-up", ProofOutcome.Right, null, "A. Hand") { Confirmed = [] })
                .Count(e => e.Pointer == "confirmed")
        );
        Assert.Contains(Errors(new ProofRecorded("run", ProofOutcome.Right, null, "")), e =>
            e.Message.Contains("still open")
        );
        // On gas never, whatever is said; and power spends the signature.
        var gas = State with { Machine = State.Machine with { Energy = HeatSource.Gas } };
        Assert.StartsWith("Gas", TopUpRun.Hinders(gas, Machine, At));
        var wet = State with
        {
            Glue = State.Glue.SetItem("front-felt", new("", At, 10, At, 300) { HandlingMinutes = 30 }),
        };
        Assert.Contains("does not bear", TopUpRun.Hinders(wet, Machine, At));
        Do(Run("A. Hand"));
        Assert.Empty(State.SafeBy);
        Assert.True(State.Station < Station.Prove);
        Assert.Null(TopUpRun.Offered(State, Machine, At));
    }

    private static ProofRecorded Run(string by) =>
        new("run-top-up", ProofOutcome.Right, null, by) { Confirmed = ["qualified", "tied", "no-heat", "hands-out"] };

    private static AskedAgain Again(params (string Id, string Outcome)[] now) =>
        new(now.ToDictionary(n => n.Id, n => n.Outcome));

    private List<OpenItem> Open() => [.. OpenItems.Of(State, Machine).Where(i => i.Station == Station.Prove)];

    private void Squeals()
    {
        Do(new JobOpened("J-1", new Core.Jobs.Log.MachineCard { LayoutId = "ostrel-ot50", Place = "Cellar" }));
        Do(new ComplaintStated(["squeal"], ""));
        Do(new FindingAnswered("drum-hand", "stiff"));
        Do(new FindingAnswered("rim-gap", "even"));
        Do(new FindingAnswered("listen-rear", "rear"));
        Do(new FindingAnswered("rim-play", "unknown"));
        Do(new TargetsChosen(["roller-left", "roller-right"], "", new Dictionary<string, OperationId>(), ""));
        Do(new SafetySigned([.. JobSafety.Of(State, Machine).Select(i => i.Id)], "A. Hand"));
        Strip();
        Do(new PartFitted("roller-left", FittedAs.Replaced, "", [], "") { Source = PartSource.Had });
    }

    private void Finish()
    {
        Do(new PartFitted("roller-right", FittedAs.Left, "", [], ""));
        while (JobPlan.WayBack(State, Machine) is [var move, ..])
        {
            Do(StepForward.In(State, move), 5);
        }
        Do(new OwedSettled([.. Owed.Open(State, Machine).Select(o => o.Id)], OwedOutcome.Done, ""));
    }

    private void Prove()
    {
        foreach (var proof in Machine.Handbook.ProofsOf(Machine.Layout))
        {
            Do(new ProofRecorded(proof.Id, ProofOutcome.Right, null, ""));
        }
    }
}
