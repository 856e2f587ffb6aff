using Idrum.Core.Ledger;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>Whether an event may be added to a job: known ids, sound numbers, bounded texts, an order that makes sense.
/// Errors name the event's field in camel case.</summary>
public static class JobRules
{
    /// <summary>Most characters of a name or place.</summary>
    public const int ShortText = 120;

    /// <summary>Most characters of a note, reason or complaint.</summary>
    public const int LongText = 2000;

    /// <summary>Checks an event against the log so far.</summary>
    /// <param name="log">The log so far; empty for a new job.</param>
    /// <param name="e">The event to be added.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <returns>All errors, empty where the event may be added.</returns>
    public static IReadOnlyList<FieldError> Check(IReadOnlyList<JobEvent> log, JobEvent e, ShopKnowledge shop) => Check(log, JobLog.Fold(log), e, shop);

    /// <summary>The same with the state already folded.</summary>
    /// <param name="log">The log so far.</param>
    /// <param name="state">Its fold.</param>
    /// <param name="e">The event to be added.</param>
    /// <param name="shop">What the shop knows.</param>
    public static IReadOnlyList<FieldError> Check(IReadOnlyList<JobEvent> log, JobState state, JobEvent e, ShopKnowledge shop)
    {
        var errors = new FieldErrors();
        errors.If(e.Id == Guid.Empty, "id", "An event needs an id of its own.");
        if (log.Count == 0 != e is JobOpened)
        {
            errors.Add("kind", log.Count == 0 ? "A job begins with 'opened'." : "The job is already open.");
            return errors.All;
        }
        if (e is JobOpened opened)
        {
            errors.Text(opened.Number, "number", 24, true);
            MachineRules.Check(opened.Machine, "machine", shop, errors);
            return errors.All;
        }
        if (e is Undone undone)
        {
            errors.If(JobLog.LastAct(log)?.Id != undone.EventId, "eventId", "Only the last act can be taken back.");
            return errors.All;
        }
        if (state.Closed is not null && e is not (JobReopened or NoteAdded or TimerStopped))
        {
            errors.Add("kind", "The job is closed. Open it again first.");
            return errors.All;
        }
        CheckEvent(state, e, shop, errors);
        return errors.All;
    }

    private static void CheckEvent(JobState state, JobEvent e, ShopKnowledge shop, FieldErrors errors)
    {
        var machine = shop.For(state);
        switch (e)
        {
            case MachineCorrected m:
                MachineRules.Check(m.Machine, "machine", shop, errors);
                Corrected(state, m, shop, errors);
                break;
            case ComplaintStated c:
                errors.Text(c.Words, "words", LongText);
                errors.If(c.Findings.Count > 40, "findings", "Too many complaints.");
                foreach (var id in c.Findings.Where(id => shop.Catalog.FindFinding(id)?.Group != "complaint"))
                {
                    errors.Add("findings", $"There is no complaint '{Short(id)}'.");
                }
                errors.If(c.Findings.Count == 0 && string.IsNullOrWhiteSpace(c.Words), "words", "Tick what holds, or say it in words.");
                break;
            case FindingAnswered f:
                var finding = shop.Catalog.FindFinding(f.FindingId);
                errors.If(finding is null, "findingId", $"There is no finding '{Short(f.FindingId)}'.");
                errors.If(finding is not null && f.Outcome is not ("" or "unknown") && finding.IndexOf(f.Outcome) < 0, "outcome", $"'{Short(f.FindingId)}' has no outcome '{Short(f.Outcome)}'.");
                break;
            case TargetsChosen t:
                Targets(t, machine, shop, errors);
                break;
            case SafetySigned g:
                errors.Text(g.SignedBy, "signedBy", ShortText, true);
                foreach (var item in OpenItems.SafetyOf(state, machine).Where(i => !g.Items.Contains(i.Id)))
                {
                    errors.Add("items", $"Not confirmed: {item.Text}");
                }
                foreach (var id in g.Items.Where(id => shop.Handbook.Safety.All(s => s.Id != id)))
                {
                    errors.Add("items", $"There is no safety item '{Short(id)}'.");
                }
                break;
            case OperationDone d:
                Done(state, d, machine, errors);
                break;
            case OperationRefitted r:
                Refitted(state, r, machine, errors);
                break;
            case ProblemNoted p:
                Problem(state, p, machine, errors);
                break;
            case NoteAdded n:
                errors.Text(n.Text, "text", LongText, true);
                OptionalOperation(n.OperationId, machine, errors);
                break;
            case PhotoAdded p:
                errors.If(p.PhotoId.Length != 64 || !p.PhotoId.All(char.IsAsciiHexDigitLower), "photoId", "A photo id is a SHA-256 in hexadecimal.");
                errors.Text(p.Caption, "caption", ShortText);
                OptionalOperation(p.OperationId, machine, errors);
                break;
            case ReadingTaken r:
                errors.Text(r.What, "what", ShortText, true);
                errors.Text(r.Unit, "unit", 16);
                errors.Range(r.Value, "value", -1e6, 1e6);
                break;
            case TimerStarted t:
                errors.Text(t.TimerId, "timerId", 64, true);
                errors.Text(t.Label, "label", ShortText, true);
                errors.Range(t.Minutes, "minutes", 0.1, 10080);
                errors.If(state.Timers.Any(x => x.TimerId == t.TimerId), "timerId", "This timer has already been started.");
                break;
            case TimerStopped t:
                errors.If(!state.Timers.Any(x => x.TimerId == t.TimerId && !x.Stopped), "timerId", "No such timer is running.");
                break;
            case PartOrdered o:
                errors.If(machine.Layout.FindPart(o.PartId) is null, "partId", $"There is no part '{Short(o.PartId)}' on this machine.");
                errors.Range(o.DueInDays, "dueInDays", 0, 365);
                break;
            case PartFitted f:
                Fitted(state, f, machine, errors);
                break;
            case ProofRecorded p:
                var proof = OpenItems.ProofsOf(machine).FirstOrDefault(x => x.Id == p.ProofId);
                errors.If(proof is null, "proofId", $"There is no proof '{Short(p.ProofId)}' for this machine.");
                errors.If(p.Outcome is not ("ok" or "not-ok"), "outcome", "The outcome is 'ok' or 'not-ok'.");
                errors.Text(p.Note, "note", LongText);
                errors.If(proof is { Powered: true } && state.Out.Count > 0, "proofId", $"The machine is still open ({state.Out.Count} steps out): do not run it.");
                if (p.Value is { } v)
                {
                    errors.Range(v, "value", 0, 10_000);
                }
                break;
            case StationEntered s:
                errors.If(!Enum.IsDefined(s.Station), "station", "There is no such station.");
                errors.If(s.Station == Station.Prove && state.Out.Count > 0, "station", $"Still open: {state.Out.Count} steps are out. Rebuild before power comes back.");
                break;
            case JobClosed c:
                errors.Text(c.Summary, "summary", LongText);
                errors.Text(c.Reason, "reason", LongText);
                var open = OpenItems.Of(state, machine);
                errors.If(open.Count > 0 && string.IsNullOrWhiteSpace(c.Reason), "reason", $"{open.Count} item{(open.Count == 1 ? " is" : "s are")} open, the first: {(open.Count > 0 ? open[0].Text : "")} Write why it is closed all the same.");
                break;
            case JobReopened r:
                errors.If(state.Closed is null, "kind", "The job is not closed.");
                errors.Text(r.Reason, "reason", LongText, true);
                break;
        }
    }

    /// <summary>What was done on the machine or chosen for it must be there on the corrected one too.</summary>
    private static void Corrected(JobState state, MachineCorrected m, ShopKnowledge shop, FieldErrors errors)
    {
        if (m.Machine.LayoutId != state.Machine.LayoutId)
        {
            errors.If(state.Removals.Count > 0, "machine.layoutId", "The layout cannot change once stripping has begun.");
            return;
        }
        var (before, after) = (shop.For(state).Layout, shop.For(state with { Machine = m.Machine }).Layout);
        foreach (var id in state.Removals.Select(r => r.OperationId).Where(id => after.FindOperation(id) is null))
        {
            errors.Add("machine.facts", $"'{before.FindOperation(id)?.Name ?? id}' has been done in this job, so the machine has it.");
        }
        foreach (var id in state.Targets.Where(id => after.FindPart(id) is null))
        {
            errors.Add("machine.facts", $"{before.FindPart(id)?.Name ?? id} is what the job strips for. Decide for another part first.");
        }
        errors.If(state.WaysIn.Any(w => after.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))), "machine.facts", "A way in is chosen that such a machine does not have. Choose another way first.");
    }

    private static void Targets(TargetsChosen t, MachineKnowledge machine, ShopKnowledge shop, FieldErrors errors)
    {
        var fault = shop.Catalog.FindFault(t.FaultId);
        errors.If(t.FaultId.Length > 0 && fault is null, "faultId", $"There is no fault '{Short(t.FaultId)}'.");
        errors.Text(t.Reason, "reason", LongText);
        errors.If(t.Targets.Count == 0 && fault?.Action != "refer", "targets", "Choose at least one part.");
        errors.If(t.Targets.Count > 40, "targets", "Too many parts.");
        errors.If(t.Targets.Distinct().Count() != t.Targets.Count, "targets", "A part is named twice.");
        var known = true;
        foreach (var id in t.Targets.Where(id => machine.Layout.FindPart(id) is null))
        {
            errors.Add("targets", $"There is no part '{Short(id)}' on this machine.");
            known = false;
        }
        foreach (var (way, choice) in t.WaysIn.Where(w => machine.Layout.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))))
        {
            errors.Add("waysIn", $"There is no way '{Short(way)}' by '{Short(choice)}'.");
            known = false;
        }
        errors.If(known && machine.Planner.Plan(new(t.Targets, [], t.WaysIn)) is null, "waysIn", "These parts cannot be reached by the ways chosen.");
    }

    private static void Done(JobState state, OperationDone d, MachineKnowledge machine, FieldErrors errors)
    {
        if (machine.Layout.FindOperation(d.OperationId) is not { } operation)
        {
            errors.Add("operationId", $"There is no step '{Short(d.OperationId)}' on this machine.");
            return;
        }
        errors.If(state.SafeBy.Length == 0, "operationId", "Make the machine safe and sign for it before the first step.");
        if (state.Out.Contains(d.OperationId))
        {
            errors.Add("operationId", $"'{operation.Name}' is already done.");
            return;
        }
        var graph = machine.Planner.Graph;
        foreach (var group in operation.Needs.Where(g => !g.Any(state.Out.Contains)))
        {
            errors.Add("operationId", $"First: {string.Join(" or ", group.Select(id => machine.Layout.Operations[graph.IndexOf(id)].Name))}.");
        }
        Counts(d.Counts, operation, errors);
    }

    private static void Refitted(JobState state, OperationRefitted r, MachineKnowledge machine, FieldErrors errors)
    {
        if (machine.Layout.FindOperation(r.OperationId) is not { } operation || !state.Out.Contains(r.OperationId))
        {
            errors.Add("operationId", $"'{Short(r.OperationId)}' is not out.");
            return;
        }
        foreach (var first in machine.Planner.RefitFirst(r.OperationId, state.Out).Where(o => state.Out.Contains(o.Id)))
        {
            errors.Add("operationId", $"First put back: {first.Name}.");
        }
        Counts(r.Counts, operation, errors);
        foreach (var id in r.Plugs.Where(id => operation.Plugs.All(p => p.Id != id)))
        {
            errors.Add("plugs", $"There is no plug '{Short(id)}' at this step.");
        }
        foreach (var check in operation.Refit.Checks.Where(c => !r.Checks.Contains(c.Id)))
        {
            errors.Add("checks", $"Not yet seen: {check.Text}");
        }
    }

    private static void Counts(IReadOnlyDictionary<string, int> counts, Operation operation, FieldErrors errors)
    {
        foreach (var (id, n) in counts)
        {
            errors.If(operation.Removed.All(f => f.Id != id), "counts", $"No fasteners '{Short(id)}' come out at this step.");
            errors.If(n is < 0 or > 99, "counts", "A count lies between 0 and 99.");
        }
        foreach (var group in operation.Removed.Where(f => !counts.ContainsKey(f.Id)))
        {
            errors.Add("counts", $"Not counted: {FastenerWords.Kind(group)}, {group.Where}.");
        }
    }

    private static void Problem(JobState state, ProblemNoted p, MachineKnowledge machine, FieldErrors errors)
    {
        var operation = machine.Layout.FindOperation(p.OperationId);
        errors.If(operation is null, "operationId", $"There is no step '{Short(p.OperationId)}' on this machine.");
        errors.Text(p.Text, "text", LongText, p.What is "stuck" or "other");
        if (p.What is "extra-screw" or "missing-screw" or "found-screw")
        {
            var group = operation?.Fasteners.FirstOrDefault(f => f.Id == p.FastenerId);
            errors.If(group is null, "fastenerId", $"There are no fasteners '{Short(p.FastenerId)}' at this step.");
            errors.Range(p.Count, "count", 1, 20);
            errors.If(group is not null && p.What == "missing-screw" && FastenerLedger.Expected(state, group) < p.Count, "count", "More missing than there are.");
            errors.If(p.What == "found-screw" && state.Removals.All(r => r.OperationId != p.OperationId || r.In is null), "operationId", "This step has not been put back, so nothing of it is missing.");
        }
        else
        {
            errors.If(p.What is not ("stuck" or "other"), "what", "What differs is an extra, missing or found screw, something stuck, or other.");
        }
    }

    private static void Fitted(JobState state, PartFitted f, MachineKnowledge machine, FieldErrors errors)
    {
        errors.Text(f.Note, "note", LongText);
        errors.If(f.Action is not ("replaced" or "cleaned" or "adjusted" or "left"), "action", "A part is replaced, cleaned, adjusted or left.");
        if (machine.Layout.FindPart(f.PartId) is not { } part)
        {
            errors.Add("partId", $"There is no part '{Short(f.PartId)}' on this machine.");
            return;
        }
        var freeing = machine.Planner.Graph.FreeingOperations(f.PartId).Select(i => machine.Layout.Operations[i].Id).ToList();
        errors.If(f.Action != "left" && freeing.Count > 0 && !freeing.Any(state.Out.Contains), "partId", $"{part.Name} is not free yet: strip first.");
        errors.If(f.School.Length > 0 && machine.Handbook.For(part.Kind)?.Schools.Any(s => s.Id == f.School) != true, "school", $"There is no way '{Short(f.School)}' for this part.");
        foreach (var item in f.Transferred.Where(i => !part.Transfer.Contains(i)))
        {
            errors.Add("transferred", $"'{Short(item)}' does not belong to this part.");
        }
    }

    private static void OptionalOperation(string id, MachineKnowledge machine, FieldErrors errors) =>
        errors.If(id.Length > 0 && machine.Layout.FindOperation(id) is null, "operationId", $"There is no step '{Short(id)}' on this machine.");

    /// <summary>An unknown id as it may be repeated in a message.</summary>
    private static string Short(string id) => id.Length <= 40 ? id : id[..40] + "…";
}
