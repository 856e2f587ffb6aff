using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;
using Idrum.Storage;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Web.Work;

/// <summary>One version of a job with everything computed from it, each worked out once and when first asked
/// for.</summary>
public sealed class JobView
{
    private static readonly TimeSpan TimeToThink = TimeSpan.FromSeconds(1.4);
    private readonly Lazy<FastenerLedger> ledger;
    private readonly Lazy<IReadOnlyList<OpenItem>> open;
    private readonly Lazy<IReadOnlyList<RefitMove>> refit;
    private readonly Lazy<IReadOnlyDictionary<PartId, PartCondition>> conditions;
    private readonly Lazy<IReadOnlyList<ExtraPart>> extras;
    private volatile Worked? plan;
    private volatile IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>>? planned;
    private volatile DiagnosisResult? diagnosis;
    private volatile Advice? better;
    private volatile JobPackage? package;

    /// <summary>What a device takes along, where it was made; it is of this version of the job.</summary>
    public JobPackage? Package
    {
        get => package;
        set => package = value;
    }

    /// <summary>Where the log was changed behind Idrum's back, in words; null where it was not.</summary>
    public string? Broken { get; init; }

    /// <summary>The version of the shop it was computed with.</summary>
    internal int ShopVersion { get; init; }

    /// <summary>The other jobs on the machine's tag it was computed with, and their versions.</summary>
    internal string StandOfTag { get; init; } = "";

    public JobView(StoredJob job, MachineKnowledge machine, IReadOnlyList<JobState> before)
        : this(job, machine, EarlierWork.Of(job.State, before, machine), MetBefore.Of(job.State, before)) =>
        Before = before;

    public JobView(
        StoredJob job,
        MachineKnowledge machine,
        IReadOnlyList<EarlierWork> earlier,
        IReadOnlyList<MetBefore> met
    )
    {
        Earlier = earlier;
        Met = met;
        Job = job;
        Machine = machine;
        ledger = new(() => FastenerLedger.Of(State.Ledger, machine.Layout, Inch));
        open = new(() => OpenItems.Of(State, machine));
        refit = new(() => JobPlan.WayBack(State, machine));
        extras = new(() => WhileOpen.Of(machine.Planner, JobPlan.Request(State, machine)));
        conditions = new(() => PartStates.Of(State, machine.Layout));
    }

    public StoredJob Job { get; }

    /// <summary>What earlier jobs on the same tag tell.</summary>
    public IReadOnlyList<EarlierWork> Earlier { get; }

    /// <summary>The earlier jobs themselves.</summary>
    public IReadOnlyList<JobState> Before { get; } = [];

    /// <summary>What earlier jobs on the same machine met at its steps.</summary>
    public IReadOnlyList<MetBefore> Met { get; }

    /// <summary>All that is known: answers, parts seen, and what earlier jobs tell where nobody answered.</summary>
    public IReadOnlyDictionary<string, string> Evidence => SeenEvidence.Of(State, Machine, Earlier);

    public MachineKnowledge Machine { get; }

    public JobState State => Job.State;

    public Layout Layout => Machine.Layout;

    public bool Inch => State.Machine.Units == LengthUnit.Inch;

    /// <summary>Causes, checks and advice; worked out beforehand by <see cref="DiagnoseAsync"/>.</summary>
    public DiagnosisResult Diagnosis =>
        diagnosis ?? throw new InvalidOperationException("The diagnosis has not been worked out.");

    /// <summary>The plan to the job's parts, or null where they cannot be reached; worked out beforehand by <see
    /// cref="PlanAsync"/>, or now.</summary>
    public TeardownPlan? Plan => (plan ??= new(JobPlan.Of(State, Machine))).Plan;

    public FastenerLedger Ledger => ledger.Value;

    public IReadOnlyList<OpenItem> Open => open.Value;

    /// <summary>The steps of the way back, in order.</summary>
    public IReadOnlyList<RefitMove> Refit => refit.Value;

    /// <summary>Counts that nobody has explained yet.</summary>
    public IReadOnlyList<OddCount> Odd => OddCounts.Of(Ledger, State.Ledger);

    /// <summary>The act that undo takes back, or null.</summary>
    public JobEvent? Last => Job.History.LastAct;

    /// <summary>How the parts stand; those in place are not named.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> Conditions => conditions.Value;

    /// <summary>Whether there is something left to strip for a target that is not dealt with.</summary>
    public bool Stripping => Plan is { Removal.Count: > 0 } && State.Targets.Any(t => !State.Fitted.ContainsKey(t));

    /// <summary>Wear parts beside the targets by the minutes they cost more now that the machine is opened.</summary>
    public IReadOnlyList<ExtraPart> Extras => extras.Value;

    /// <summary>Wear parts that lie free now and are neither targets nor dealt with, the belt first.</summary>
    public IEnumerable<Part> FreeNow => WhileOpen.FreeNow(Layout, State.Out, State.Targets.Concat(State.Fitted.Keys));

    /// <summary>Tray compartments of a step, by fastener group.</summary>
    public IReadOnlyDictionary<string, string> Trays(Operation operation) =>
        (planned ??= TrayPlan.Of(State.Ledger, Layout, State.TraysUsed, Plan?.Removal ?? [])).GetValueOrDefault(
            operation.Id
        ) ?? TrayPlan.Of(State.Ledger, Layout, State.TraysUsed, [operation])[operation.Id];

    /// <summary>Minutes by which the last act made the plan longer (shorter: negative), where it was one that the plan
    /// had to be redrawn for; else null.</summary>
    public double? Replanned
    {
        get
        {
            if (
                Last
                    is not (
                        ProblemNoted { What: Problem.Stuck or Problem.Absent or Problem.AlreadyDone or Problem.LeftOut }
                        or WaysChosen
                        or SchoolChosen
                    )
                || Job.History.BeforeLast is not { } before
                || Plan is not { } now
            )
            {
                return null;
            }
            // What the act itself says is done or not there costs nothing any more.
            return JobPlan.Of(before, Machine) is { } then ? Math.Round(now.Minutes - then.Minutes, 1) : null;
        }
    }

    /// <summary>Works the diagnosis out, once, behind the gate.</summary>
    public async Task DiagnoseAsync(WorkGate gate, CancellationToken caller)
    {
        if (diagnosis is null)
        {
            diagnosis = await gate.RunAsync(
                stop => diagnosis ?? Machine.Diagnostician.Diagnose(Known(Evidence), stop),
                caller
            );
        }
    }

    /// <summary>What thinking the job through to its end would do instead of the first advice; null where that stands,
    /// or where there was no time.</summary>
    public async Task<Advice?> BetterAsync(WorkGate gate, CancellationToken caller)
    {
        var found = better;
        if (
            found is null
            && await gate.SpareAsync(stop => Machine.Diagnostician.Improve(Known(Evidence), TimeToThink, stop), caller)
                is { } thought
        )
        {
            // What time cut short is not kept.
            (found, better) = (thought.Advice, thought.Whole ? thought.Advice : null);
        }
        return found is not null && (found.Kind, found.Id) != (Diagnosis.Advice.Kind, Diagnosis.Advice.Id)
            ? found
            : null;
    }

    /// <summary>The diagnosis if one more answer were given; nothing is recorded.</summary>
    public DiagnosisResult DiagnoseWith(string findingId, string outcome, CancellationToken cancellation)
    {
        var evidence = Evidence.ToDictionary();
        evidence[findingId] = outcome;
        return Machine.Diagnostician.Diagnose(Known(evidence), cancellation);
    }

    private DiagnosisRequest Known(IReadOnlyDictionary<string, string> evidence) =>
        QuestionOfJob.Of(State, Machine, evidence);

    /// <summary>Works the plan out, once, behind the gate; it ends when the caller leaves.</summary>
    public async Task PlanAsync(WorkGate gate, CancellationToken caller)
    {
        if (plan is null)
        {
            plan = await gate.RunAsync(stop => plan ?? new(JobPlan.Of(State, Machine, stop)), caller);
        }
    }

    /// <summary>That a plan was worked out, be it that there is none.</summary>
    private sealed record Worked(TeardownPlan? Plan);
}

/// <summary>Hands out jobs with what is computed from them; keeps the newest version of each, a pure function of its
/// log, of the shop's version and of the other jobs on its tag.</summary>
public sealed class JobDesk(JobStore store, ShopKeeper keeper) : IDisposable
{
    private const int MostEarlier = 6;
    private const int Most = 500;
    private readonly MemoryCache views = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>The job of that number, or null.</summary>
    public JobView? Open(string number) => store.Find(number) is { } job ? Open(job) : null;

    /// <inheritdoc />
    public void Dispose() => views.Dispose();

    /// <summary>The view of a stored job.</summary>
    public JobView Open(StoredJob job)
    {
        var shop = keeper.Now;
        var tag = store.StandOfTag(job.State);
        if (
            views.TryGetValue<JobView>(job.JobId, out var view)
            && view!.Job.Version == job.Version
            && view.ShopVersion == shop.Version
            && view.StandOfTag == tag
        )
        {
            return view;
        }
        var machine = shop.MachineOf(job.State);
        view = new JobView(
            job,
            machine,
            // A machine is known again by its tag, or because it is said to have come back.
            tag.Length == 0
                ? []
                :
                [
                    .. store
                        .Related(job.State)
                        .Where(r =>
                            r.Number == job.State.Machine.CallBackOf
                            || r.Tag.Length > 0 && r.Tag == job.State.Machine.Tag
                        )
                        .Take(MostEarlier)
                        .Select(r => store.Find(r.Number)?.State)
                        .OfType<JobState>(),
                ]
        )
        {
            Broken = store.Broken(job.JobId),
            ShopVersion = shop.Version,
            StandOfTag = tag,
        };
        return views.Set(job.JobId, view, new MemoryCacheEntryOptions { Size = 1 });
    }
}
