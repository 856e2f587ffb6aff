using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Work;

/// <summary>A job told in a few words, to be walked through by its own plan: for demo data and for tests.</summary>
public sealed record JobScript
{
    /// <summary>The shop's number.</summary>
    public required string Number { get; init; }

    /// <summary>The machine.</summary>
    public required MachineCard Machine { get; init; }

    /// <summary>Complaint ids.</summary>
    public IReadOnlyList<string> Complaints { get; init; } = [];

    /// <summary>The complaint in words.</summary>
    public string Words { get; init; } = "";

    /// <summary>Answers given, in order: finding id → outcome.</summary>
    public IReadOnlyDictionary<string, string> Answers { get; init; } = new Dictionary<string, string>();

    /// <summary>The cause decided on.</summary>
    public FaultId FaultId { get; init; } = "";

    /// <summary>Parts to get at.</summary>
    public IReadOnlyList<PartId> Targets { get; init; } = [];

    /// <summary>Who signs.</summary>
    public string By { get; init; } = "";

    /// <summary>Where the walk stops.</summary>
    public Station Until { get; init; }

    /// <summary>How many acts are done at the last station.</summary>
    public int Acts { get; init; }

    /// <summary>How long ago the job was opened, hours.</summary>
    public double HoursAgo { get; init; }

    /// <summary>Whether it is closed at the end.</summary>
    public bool Close { get; init; }

    /// <summary>What to watch, for the closing.</summary>
    public string Summary { get; init; } = "";

    /// <summary>A part ordered, or empty.</summary>
    public string Orders { get; init; } = "";

    /// <summary>A timer started last, minutes, or 0.</summary>
    public double TimerMinutes { get; init; }

    /// <summary>What the timer is for.</summary>
    public string TimerLabel { get; init; } = "";

    /// <summary>An extra screw found at this fastener group, or empty.</summary>
    public string ExtraAt { get; init; } = "";

    /// <summary>A remark noted along the way, or empty.</summary>
    public string Remark { get; init; } = "";

    /// <summary>Who works; empty where nobody is named.</summary>
    public string Worker { get; init; } = "";

    /// <summary>Minutes of steps over what the layout says.</summary>
    public double Pace { get; init; } = 1;

    /// <summary>Standard deviation of the logarithm of each step's minutes.</summary>
    public double PaceSpread { get; init; }

    /// <summary>What is seen of single parts once all is open.</summary>
    public IReadOnlyList<PartSeen> Seen { get; init; } = [];

    /// <summary>A cause left as it is, or empty.</summary>
    public string Leaves { get; init; } = "";

    /// <summary>What the customer is told it will cost, or null.</summary>
    public Sum? Promise { get; init; }

    /// <summary>What it costs in the end, or null.</summary>
    public Sum? Charge { get; init; }

    /// <summary>Of a call-back: why it came back, or empty.</summary>
    public string CallBackCause { get; init; } = "";
}

/// <summary>Walks a script.</summary>
public static class JobWalk
{
    /// <summary>The events of a scripted job; each keeps <see cref="JobRules"/>.</summary>
    /// <param name="script">The script.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <param name="now">The present.</param>
    /// <param name="ids">Seeded, for the events' ids.</param>
    /// <exception cref="InvalidOperationException">The script asks for something the rules forbid.</exception>
    public static IReadOnlyList<JobEvent> Events(JobScript script, ShopSnapshot shop, DateTimeOffset now, Random ids)
    {
        var history = JobHistory.Empty;
        var at = now.AddHours(-script.HoursAgo);
        void Add(JobEvent e, double minutes)
        {
            var bytes = new byte[16];
            ids.NextBytes(bytes);
            at = at.AddMinutes(e is OperationDone or StepRefitted ? minutes * Pace() : minutes);
            var stamped = e with
            {
                Id = new Guid(bytes),
                At = at < now ? at : now,
                By = script.Worker.Length > 0 ? script.Worker : null,
            };
            if (JobRules.Check(history, stamped, shop, now) is [var error, ..])
            {
                throw new InvalidOperationException(
                    $"{script.Number}: {e.GetType().Name}: {error.Pointer}: {error.Message}"
                );
            }
            history = history.Add(stamped);
        }

        double Pace() =>
            script.PaceSpread <= 0
                ? script.Pace
                : script.Pace
                    * Math.Exp(
                        script.PaceSpread
                            * Math.Sqrt(-2 * Math.Log(1 - ids.NextDouble()))
                            * Math.Cos(2 * Math.PI * ids.NextDouble())
                    );

        Add(new JobOpened(script.Number, script.Machine), 0);
        if (script.Complaints.Count > 0 || script.Words.Length > 0)
        {
            Add(new ComplaintStated(script.Complaints, script.Words), 2);
        }
        var machine = shop.MachineOf(history.State);
        for (var station = Station.Find; station <= script.Until; station++)
        {
            if (history.State.Station < station)
            {
                Add(new StationEntered(station), 1);
            }
            var acts = Acts(station, script, () => history.State, machine);
            foreach (var (e, minutes) in station < script.Until ? acts : acts.Take(script.Acts))
            {
                Add(e, minutes);
            }
            if (station == Station.Find && script.Leaves.Length > 0)
            {
                Add(new CauseDecided(script.Leaves, [], Decided.Leave, "The customer does not want it now."), 1);
            }
            if (station == Station.Find && script.Promise is { } told)
            {
                Add(new EstimateGiven(told, Math.Round(told.Total * 0.85), Math.Round(told.Total * 1.2), ""), 2);
            }
            foreach (var seen in station == Station.Strip ? script.Seen : [])
            {
                Add(seen, 1);
            }
        }
        if (script.Remark.Length > 0)
        {
            Add(new NoteAdded("", script.Remark), 0);
        }
        if (script.Orders.Length > 0)
        {
            var article = shop
                .Supplier.For(machine.Layout, history.State.Machine.Tag)
                .First(a => a.Covers.Count == 1 && a.Covers.ContainsKey(PartItem.Of(machine.Layout, script.Orders)));
            Add(
                new PartsBought(
                    article.Id,
                    article.Name,
                    article.Covers,
                    1,
                    article.Price,
                    "supplier",
                    3,
                    shop.Supplier.ReturnDays
                ),
                0
            );
        }
        if (script.TimerMinutes > 0)
        {
            at = now;
            Add(new TimerStarted("walk", script.TimerLabel, script.TimerMinutes), 0);
        }
        foreach (var timer in script.Close ? history.State.Timers.Where(t => !t.Stopped) : [])
        {
            Add(new TimerStopped(timer.TimerId), 0);
        }
        if (script.Close)
        {
            if (AskAgain.Of(history.State, machine) is { Count: > 0 } asked)
            {
                Add(new AskedAgain(asked.ToDictionary(a => a.Finding.Id, a => a.Finding.Outcomes[0].Id)), 2);
            }
            if (script.Charge is { } charge)
            {
                Add(
                    new PriceMade(charge, charge.Total > script.Promise?.Total * 1.2 ? "Told on the telephone." : ""),
                    2
                );
            }
            Add(
                new JobClosed(script.Summary, "")
                {
                    CallBackCause = script.CallBackCause.Length > 0 ? script.CallBackCause : null,
                },
                3
            );
        }
        return history.Log;
    }

    private static IEnumerable<(JobEvent Event, double Minutes)> Acts(
        Station station,
        JobScript script,
        Func<JobState> state,
        MachineKnowledge machine
    )
    {
        switch (station)
        {
            case Station.Find:
                foreach (var (finding, outcome) in script.Answers)
                {
                    yield return (new FindingAnswered(finding, outcome), 3);
                }
                if (script.Targets.Count > 0 || !script.FaultId.IsNone)
                {
                    yield return (
                        new TargetsChosen(script.Targets, script.FaultId, new Dictionary<string, OperationId>(), ""),
                        1
                    );
                }
                break;
            case Station.Strip:
                if (JobPlan.Of(state(), machine) is not { Removal.Count: > 0 } plan)
                {
                    yield break;
                }
                yield return (new SafetySigned([.. JobSafety.Of(state(), machine).Select(i => i.Id)], script.By), 4);
                foreach (var operation in plan.Removal)
                {
                    if (operation.Fasteners.Any(f => f.Id == script.ExtraAt))
                    {
                        yield return (
                            new ProblemNoted(
                                operation.Id,
                                Problem.ExtraScrew,
                                script.ExtraAt,
                                1,
                                "One more than the layout says."
                            ),
                            1
                        );
                    }
                    yield return (StepForward.Out(state(), machine.Layout, operation), operation.Minutes.Typical);
                }
                break;
            case Station.Fit:
                foreach (var part in script.Targets)
                {
                    var kind = machine.Layout.FindPart(part)!;
                    var action =
                        machine.Diagnostician.Model.Catalog.FindFault(script.FaultId)?.Action is FaultAction.Clean
                            ? FittedAs.Cleaned
                            : FittedAs.Replaced;
                    if (action == FittedAs.Replaced && machine.Handbook.For(kind.Kind) is { Glues: true } glue)
                    {
                        var coated = StepForward.Coated(part, glue, machine.Handbook);
                        yield return (coated, 6);
                        yield return (new GlueJoined(part, ""), coated.JoinMinutes + 1);
                    }
                    yield return (
                        new PartFitted(part, action, "", action == FittedAs.Replaced ? kind.Transfer : [], ""),
                        8
                    );
                }
                if (Owed.Open(state(), machine).ToList() is { Count: > 0 } owed)
                {
                    yield return (new OwedSettled([.. owed.Select(o => o.Id)], OwedOutcome.Done, ""), 4);
                }
                break;
            case Station.Rebuild:
                foreach (var move in JobPlan.WayBack(state(), machine))
                {
                    var bears = WayBackGuard
                        .Of(state(), machine, move.Operation, state().LastAt)
                        .Max(w => (w.Until - state().LastAt)?.TotalMinutes)
                        ?? 0;
                    yield return (StepForward.In(state(), move), Math.Max(move.Step.Minutes.Typical, bears));
                }
                break;
            case Station.Prove:
                foreach (var proof in machine.Handbook.ProofsOf(machine.Layout))
                {
                    yield return (
                        new ProofRecorded(
                            proof.Id,
                            ProofOutcome.Right,
                            proof.Unit.Length > 0 ? 6.5 : null,
                            state().CuredAt > state().LastAt ? "Cold and short: only to see the drum turn." : ""
                        ),
                        3
                    );
                }
                break;
        }
    }
}
