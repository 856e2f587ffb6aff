using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>One act foreseen: the job as it stands when it is to be done, and the act that does it.</summary>
/// <param name="Key">Names the step within the job: <c>out:operation</c>, <c>fit:part:what</c>,
/// <c>in:operation/step</c>.</param>
/// <param name="Before">The job when the step is shown.</param>
/// <param name="Act">The act that does it as planned.</param>
public sealed record ForeseenStep(string Key, JobHistory Before, JobEvent Act);

/// <summary>What follows a plain choice at a step that differs from the plan.</summary>
/// <param name="What">The choice, as <see cref="ProblemNoted.What"/>.</param>
/// <param name="Drops">Steps of the way out that fall away with it, by key.</param>
/// <param name="StaysOut">Whether the operation counts as out afterwards, so that it must be put back.</param>
/// <param name="Way">The other way out from there, where the rest is not the same; null where it is the same without
/// what falls away.</param>
/// <param name="Foreseen">False where what follows cannot be told without the shop.</param>
public sealed record ForeseenChoice(
    string What,
    IReadOnlyList<string> Drops,
    bool StaysOut,
    ForeseenWay? Way,
    bool Foreseen
);

/// <summary>A way from a state of a job: what comes out, what is fitted, what goes in.</summary>
/// <param name="Out">Steps of the way out.</param>
/// <param name="Opened">The job when it is open far enough.</param>
/// <param name="Fit">Acts at the parts.</param>
/// <param name="Fitted">The job when the parts are done.</param>
/// <param name="Back">Steps of the way back.</param>
/// <param name="Closed">The job when everything is in.</param>
public sealed record ForeseenWay(
    IReadOnlyList<ForeseenStep> Out,
    JobHistory Opened,
    IReadOnlyList<ForeseenStep> Fit,
    JobHistory Fitted,
    IReadOnlyList<ForeseenStep> Back,
    JobHistory Closed
);

/// <summary>Foresees a job step by step, so that a device without a link can go through it: every rule is applied here,
/// beforehand, and the device
/// only orders what it was given. Pure.</summary>
public static class Foresight
{
    private const int MostSteps = 120;
    private static readonly string[] Choices = [Problem.Absent, Problem.AlreadyDone, Problem.LeftOut, Problem.Stuck];

    /// <summary>The way from here as planned: everything even, every part replaced.</summary>
    /// <param name="history">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <returns>The way; null where no part is chosen, where it is not signed safe, or where there is no way.</returns>
    /// <exception cref="OperationCanceledException">It was ended.</exception>
    public static ForeseenWay? WayFrom(JobHistory history, MachineKnowledge machine, CancellationToken cancellation)
    {
        if (history.State.SafeBy.Length == 0 || history.State.Targets.Count == 0 || history.State.Closed is not null)
        {
            return null;
        }
        var at = history.State.LastAt;
        var (h, steps) = (history, new List<ForeseenStep>());
        void Do(string key, JobEvent act, List<ForeseenStep> list)
        {
            cancellation.ThrowIfCancellationRequested();
            act = act with { Id = IdOf(list.Count, key), At = at };
            list.Add(new(key, h, act));
            h = h.Add(act);
        }
        while (h.State.Station <= Station.Strip && steps.Count < MostSteps)
        {
            if (JobPlan.Of(h.State, machine, cancellation) is not { } plan)
            {
                return null;
            }
            if (plan.Removal.Count == 0 || h.State.Targets.All(h.State.Fitted.ContainsKey))
            {
                break;
            }
            // All comes out as planned: the plan holds to its end, and is looked at once more there.
            for (var i = 0; i < plan.Removal.Count && steps.Count < MostSteps; i++)
            {
                Do("out:" + plan.Removal[i].Id, Out(h.State, machine, [.. plan.Removal.Skip(i)]), steps);
            }
        }
        var (opened, fit) = (h, new List<ForeseenStep>());
        if (h.State.Station < Station.Rebuild)
        {
            while (
                h.State.Targets.FirstOrDefault(t => !h.State.Fitted.ContainsKey(t)) is { } part && fit.Count < MostSteps
            )
            {
                var (what, act) = Fit(h.State, part, machine);
                Do($"fit:{part}:{what}", act, fit);
            }
            Do("fitted", new StationEntered(Station.Rebuild), fit);
        }
        var (fitted, back) = (h, new List<ForeseenStep>());
        while (JobPlan.WayBack(h.State, machine) is [var move, ..] && back.Count < 3 * MostSteps)
        {
            Do("in:" + move.Ref, StepForward.In(h.State, move), back);
        }
        return new(steps, opened, fit, fitted, back, h);
    }

    /// <summary>Steps of gluing that are behind and may come again: a window is missed and the part coated once more,
    /// or what was joined slips.</summary>
    /// <param name="history">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<ForeseenStep> GluedAgain(JobHistory history, MachineKnowledge machine)
    {
        var steps = new List<ForeseenStep>();
        foreach (var (part, glue) in history.State.Glue.Where(_ => history.State.Closed is null))
        {
            if (
                machine.Layout.FindPart(part) is not { } glued
                || GlueHabits.Usual.Times(machine.Handbook, machine.Handbook.For(glued.Kind)?.School(glue.School))
                    is not { } times
            )
            {
                continue;
            }
            var h = history;
            void Do(string what, JobEvent act, bool comes)
            {
                act = act with { Id = IdOf(steps.Count, $"again:{part}:{what}"), At = h.State.LastAt };
                if (comes)
                {
                    steps.Add(new($"fit:{part}:{what}", h, act));
                }
                h = h.Add(act);
            }
            if (glue.JoinedAt is not null)
            {
                Do("slipped", new GlueSlipped(part), false);
            }
            var open = h;
            Do("coat", GlueCoated.Of(part, glue.School, times, GlueHabits.Usual.Celsius), true);
            h = open;
            Do("join", new GlueJoined(part, ""), glue.JoinedAt is not null);
            Do(
                "done",
                new PartFitted(part, FittedAs.Replaced, glue.School, [], ""),
                history.State.Fitted.ContainsKey(part)
            );
        }
        return steps;
    }

    /// <summary>What follows each plain choice at a step of the way out.</summary>
    /// <param name="step">The step.</param>
    /// <param name="rest">Keys of the steps after it, as planned.</param>
    /// <param name="machine">The machine.</param>
    /// <param name="cancellation">Ends it.</param>
    public static IReadOnlyList<ForeseenChoice> ChoicesAt(
        ForeseenStep step,
        IReadOnlyList<string> rest,
        MachineKnowledge machine,
        CancellationToken cancellation
    )
    {
        var list = new List<ForeseenChoice>();
        var operation = machine.Layout.FindOperation(((OperationDone)step.Act).OperationId)!;
        var plan = JobPlan.Of(step.Before.State, machine, cancellation);
        foreach (var what in Choices)
        {
            if (what == Problem.LeftOut && !JobPlan.MayLeaveOut(step.Before.State, machine.Layout, plan, operation))
            {
                continue;
            }
            var noted = new ProblemNoted(operation.Id, what, "", 1, "")
            {
                Id = IdOf(0, what + step.Key),
                At = step.Act.At,
                Groups = what == Problem.AlreadyDone ? [.. operation.Removed.Select(f => f.Id)] : null,
            };
            var after = step.Before.Add(noted);
            var next = JobPlan.Of(after.State, machine, cancellation);
            if (next is null || what == Problem.Stuck && next.Removal.Any(o => o.Id == operation.Id))
            {
                list.Add(new(what, [], false, null, false));
                continue;
            }
            var ids = next.Removal.Select(o => "out:" + o.Id).ToList();
            var staysOut = after.State.Out.Contains(operation.Id);
            // The order of the rest stays as it was where the steps are the same: what is not there takes no step's
            // place.
            var same = what != Problem.Stuck && rest.Where(ids.Contains).Count() == ids.Count;
            var way = same ? null : WayFrom(after, machine, cancellation);
            list.Add(
                new(what, same ? [step.Key, .. rest.Except(ids)] : [step.Key], staysOut, way, same || way is not null)
            );
        }
        return list;
    }

    private static OperationDone Out(JobState state, MachineKnowledge machine, IReadOnlyList<Operation> rest)
    {
        var operation = rest[0];
        var trays = Ledger.TrayPlan.Of(state.Ledger, machine.Layout, state.TraysUsed, rest)[operation.Id];
        var left = operation.First.Any(g =>
            !g.Any(id => state.WhollyOut.Contains(id) || state.Absent.Contains(id) || state.LeftOut.Contains(id))
        );
        return StepForward.Out(state, machine.Layout, operation) with
        {
            Trays = trays,
            SkippedBecause = left ? "." : null,
        };
    }

    private static (string What, JobEvent Act) Fit(JobState state, PartId part, MachineKnowledge machine)
    {
        var catalog = machine.Diagnostician.Model.Catalog;
        var kind = machine.Layout.FindPart(part)?.Kind;
        var procedure = machine.Layout.FindPart(part) is { } found ? machine.Handbook.For(found, machine.Layout) : null;
        if (kind is not null && WhyToAsk.Of(state, kind, catalog) is { } asks)
        {
            return ("why", new WhyAnswered(asks.Id, "", ""));
        }
        var cleans = catalog.FindFault(state.FaultId)?.Action == FaultAction.Clean;
        if (procedure?.Glues == true && !cleans)
        {
            switch (state.Glue.GetValueOrDefault(part))
            {
                case null:
                    return ("coat", StepForward.Coated(part, procedure, machine.Handbook));
                case { JoinedAt: null }:
                    return ("join", new GlueJoined(part, ""));
            }
        }
        return (
            "done",
            new PartFitted(
                part,
                cleans ? FittedAs.Cleaned : FittedAs.Replaced,
                procedure?.School(Supplies.WayOf(state, machine.Layout, machine.Layout.FindPart(part)!))?.Id ?? "",
                [],
                ""
            )
        );
    }

    /// <summary>An id made of a place and a name: the same job is foreseen the same.</summary>
    private static Guid IdOf(int place, string key) =>
        new(
            System
                .Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes($"{place} {key}"))
                .AsSpan(0, 16)
        );
}
