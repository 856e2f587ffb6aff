using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Jobs;

/// <summary>A job told act by act, with a clock of its own.</summary>
public abstract class JobStory
{
    protected JobHistory History { get; set; } = JobHistory.Empty;
    protected DateTimeOffset At { get; set; } = Logs.Now.AddHours(-5);

    protected JobState State => History.State;

    protected MachineKnowledge Machine => TestShop.Shop.MachineOf(State);

    protected IReadOnlyList<FieldError> Errors(JobEvent e) =>
        JobRules.Check(History, e with { Id = Guid.NewGuid(), At = At }, TestShop.Shop, At);

    protected void Do(JobEvent e, double minutes = 1)
    {
        At = At.AddMinutes(minutes);
        e = e with { Id = Guid.NewGuid(), At = At };
        Assert.Empty(JobRules.Check(History, e, TestShop.Shop, At));
        History = History.Add(e);
    }

    protected void OpenFor(params PartId[] parts) => Open("ostrel-ot50", "streaks", parts);

    protected void Open(string layoutId, string complaint, params PartId[] parts)
    {
        Do(new JobOpened("J-1", new MachineCard { LayoutId = layoutId, Place = "Cellar" }));
        Do(new ComplaintStated([complaint], ""));
        Do(new TargetsChosen(parts, "", new Dictionary<string, OperationId>(), "test"));
        Do(new SafetySigned([.. JobSafety.Of(State, Machine).Select(i => i.Id)], "A. Hand"));
    }

    protected void Strip(int lessAt = 0, string group = "")
    {
        while (JobPlan.Of(State, Machine) is { Removal: [var next, ..] })
        {
            Do(
                new OperationDone(
                    next.Id,
                    next.Removed.ToDictionary(f => f.Id, f => State.Ledger.Expected(f) - (f.Id == group ? lessAt : 0))
                )
            );
        }
    }
}
