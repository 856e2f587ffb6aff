using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What is measured while the machine runs: not while it is open, not with the supply off, and not with a burnt smell before
/// nose, lint, torch and hand have been there; whoever said so, and wherever it is asked.</summary>
public sealed class RunningBarTests : JobStory
{
    private static readonly string[] Running = ["slip", "air"];

    private string Why(string protocol)
    {
        var p = Machine.Handbook.Gauging.Find(protocol)!;
        return RunningBar.Why(
            State,
            Machine,
            SeenEvidence.Of(State, Machine),
            p,
            p.Whole ? null : p.PartsOf(Machine.Layout)[0]
        );
    }

    private void Begin(string complaint)
    {
        Do(new JobOpened("J-1", new MachineCard { LayoutId = "quenby-qd62", Place = "Cellar" }));
        Do(new ComplaintStated([complaint], ""));
    }

    [Fact]
    public void A_sound_smelling_machine_is_run_to_be_measured_until_it_is_open()
    {
        Begin("squeal");
        Assert.All(Running.Append("amps"), p => Assert.Empty(Why(p)));
        Do(new TargetsChosen(["belt"], "", new Dictionary<string, OperationId>(), "test"));
        Do(new SafetySigned([.. Core.Jobs.Work.JobSafety.Of(State, Machine).Select(i => i.Id)], "A. Hand"));
        Assert.All(Running, p => Assert.Contains("supply is off", Why(p), StringComparison.Ordinal));
        Strip();
        Assert.All(Running, p => Assert.Contains("is open", Why(p), StringComparison.Ordinal));
        // Live at the motor is its own caution; what does not run is measured as before.
        Assert.All(new[] { "amps", "outlet", "roller", "windings" }, p => Assert.Empty(Why(p)));
    }

    [Theory]
    [InlineData("burning", "", "")]
    [InlineData("squeal", "smell", "burnt")]
    [InlineData("squeal", "smell", "rubber")]
    public void What_smells_burnt_is_run_for_no_reading_before_nose_lint_torch_and_hand(
        string complaint,
        string finding,
        string outcome
    )
    {
        Begin(complaint);
        if (finding.Length > 0)
        {
            Do(new FindingAnswered(finding, outcome));
        }
        (string, string)[] before =
        [
            ("smell", "burnt"),
            ("chute", "clean"),
            ("blower-torch", "clear"),
            ("drum-hand", "normal"),
        ];
        foreach (var (check, said) in before)
        {
            if (check != finding)
            {
                Assert.All(Running.Append("amps"), p =>
                    Assert.Contains("nothing is run", Why(p), StringComparison.Ordinal)
                );
                Assert.DoesNotContain(
                    Machine.Diagnostician.Diagnose(QuestionOfJob.Of(State, Machine, State.Evidence)).Checks,
                    c => c.Finding.Runs
                );
                Do(new FindingAnswered(check, said));
            }
        }
        Assert.All(Running.Append("amps"), p => Assert.Empty(Why(p)));
    }
}
