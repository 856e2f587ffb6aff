using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Close.</summary>
public sealed class CloseModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Close;

    /// <summary>What the customer is told.</summary>
    public CustomerWord Word => word ??= CustomerWord.Of(State, View.Machine, Terms, Now, View.Before);

    /// <summary>Minutes planned and taken, by step, as far as the log tells them.</summary>
    public IReadOnlyList<(string Step, double Planned, double Taken)> Taken =>
        taken ??= [
            .. StepTimes
                .Of(View.Job.History.Effective)
                .Select(t => (Operation: View.Layout.FindOperation(t.Key.Operation), t.Key, t.Value))
                .Where(t => t.Operation is not null)
                .Select(t =>
                    t.Key.Step.Length == 0
                        ? (t.Operation!.Name, t.Operation.Minutes.Typical, t.Value)
                        : (
                            t.Operation!.FindStep(t.Key.Step)?.Do ?? t.Operation.Name,
                            t.Operation.FindStep(t.Key.Step)?.Minutes.Typical ?? 0,
                            t.Value
                        )
                ),
        ];

    private CustomerWord? word;
    private IReadOnlyList<(string Step, double Planned, double Taken)>? taken;
}
