using System.Collections.Concurrent;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Idrum.Storage;

namespace Idrum.Web.Jobs;

/// <summary>One version of a job with everything computed from it, each worked out once and when first asked for.</summary>
public sealed class JobView
{
    private readonly Lazy<DiagnosisResult> diagnosis;
    private readonly Lazy<TeardownPlan?> plan;
    private readonly Lazy<FastenerLedger> ledger;
    private readonly Lazy<IReadOnlyList<OpenItem>> open;
    private readonly Lazy<IReadOnlyList<Operation>> refit;
    private readonly Lazy<JobEvent?> last;
    private readonly Lazy<IReadOnlyDictionary<string, PartCondition>> conditions;

    public JobView(StoredJob job, MachineKnowledge machine)
    {
        Job = job;
        Machine = machine;
        diagnosis = new(() => machine.Diagnostician.Diagnose(new(State.Evidence, State.Out, State.Wear, State.SafeBy.Length > 0)));
        plan = new(() => OpenItems.PlanOf(State, machine));
        ledger = new(() => FastenerLedger.Of(State, machine.Layout));
        open = new(() => OpenItems.Of(State, machine));
        refit = new(() => machine.Planner.Refit(State.Out));
        last = new(() => JobLog.LastAct(job.Log));
        conditions = new(() => PartStates.Of(State, machine.Layout));
    }

    public StoredJob Job { get; }

    public MachineKnowledge Machine { get; }

    public JobState State => Job.State;

    public Layout Layout => Machine.Layout;

    public bool Inch => State.Machine.Units == "inch";

    public DiagnosisResult Diagnosis => diagnosis.Value;

    public TeardownPlan? Plan => plan.Value;

    public FastenerLedger Ledger => ledger.Value;

    public IReadOnlyList<OpenItem> Open => open.Value;

    /// <summary>What is out, in the order it goes back.</summary>
    public IReadOnlyList<Operation> Refit => refit.Value;

    /// <summary>The act that undo takes back, or null.</summary>
    public JobEvent? Last => last.Value;

    /// <summary>How the parts stand; those in place are not named.</summary>
    public IReadOnlyDictionary<string, PartCondition> Conditions => conditions.Value;

    /// <summary>Whether there is something left to strip for a target that is not dealt with.</summary>
    public bool Stripping => Plan is { Removal.Count: > 0 } && State.Targets.Any(t => !State.Fitted.ContainsKey(t));

    /// <summary>Tray compartments of a step, by fastener group.</summary>
    public IReadOnlyDictionary<string, string> Trays(Operation operation) => TrayPlan.Of(State, Plan?.Removal ?? [], operation);
}

/// <summary>Hands out jobs with what is computed from them; keeps the newest version of each.</summary>
public sealed class JobDesk(JobStore store, ShopKnowledge shop)
{
    private readonly ConcurrentDictionary<Guid, JobView> views = new();

    /// <summary>The job of that number, or null.</summary>
    public JobView? Open(string number) => store.Find(number) is { } job ? Open(job) : null;

    /// <summary>The view of a stored job.</summary>
    public JobView Open(StoredJob job)
    {
        if (views.TryGetValue(job.JobId, out var view) && view.Job.Version == job.Version)
        {
            return view;
        }
        if (views.Count > 500)
        {
            views.Clear();
        }
        return views[job.JobId] = new(job, shop.For(job.State));
    }
}
