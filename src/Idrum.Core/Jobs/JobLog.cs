using System.Collections.Immutable;
using Idrum.Core.Ledger;

namespace Idrum.Core.Jobs;

/// <summary>Folds a log to its state.</summary>
public static class JobLog
{
    /// <summary>The state after these events, in this order. Events taken back are passed over, and so is a second
    /// event of the same id.</summary>
    public static JobState Fold(IEnumerable<JobEvent> log) => Effective(log).Aggregate(JobState.Empty, Apply);

    /// <summary>The events that count: each id once, without those taken back and without the taking back.</summary>
    public static IReadOnlyList<JobEvent> Effective(IEnumerable<JobEvent> log)
    {
        var all = log.DistinctBy(e => e.Id).ToList();
        var undone = all.OfType<Undone>().Select(u => u.EventId).ToHashSet();
        return [.. all.Where(e => e is not Undone && !undone.Contains(e.Id))];
    }

    /// <summary>The event that undo would take back: the last that counts, except the opening; null where there is none.</summary>
    public static JobEvent? LastAct(IEnumerable<JobEvent> log) => Effective(log) is [.., not JobOpened and var last] ? last : null;

    /// <summary>The state after one more event. An act carries the job to the station it belongs to, so that act and
    /// station are one event and are taken back together.</summary>
    public static JobState Apply(JobState s, JobEvent e)
    {
        s = s with { LastAt = e.At > s.LastAt ? e.At : s.LastAt };
        return e switch
        {
            JobOpened o => s with { Number = o.Number, Machine = o.Machine, OpenedAt = o.At, Station = Station.Complaint },
            MachineCorrected m => Correct(s, m.Machine),
            ComplaintStated c => Complain(s, c),
            FindingAnswered f => s with { Answers = f.Outcome.Length == 0 ? s.Answers.Remove(f.FindingId) : s.Answers.SetItem(f.FindingId, f.Outcome) },
            TargetsChosen t => s with { Station = t.Targets.Count > 0 ? Station.Strip : Station.Close, Targets = [.. t.Targets], FaultId = t.FaultId, WaysIn = t.WaysIn.ToImmutableSortedDictionary(), TargetReason = t.Reason },
            SafetySigned g => s with { SafeBy = g.SignedBy, SafetyItems = [.. g.Items] },
            OperationDone d => Remove(s, d),
            ProblemNoted p => Differ(s, p),
            NoteAdded n => s with { Notes = s.Notes.Add(n) },
            PhotoAdded p => s with { Photos = s.Photos.Add(p) },
            ReadingTaken r => s with { Readings = s.Readings.Add(r) },
            TimerStarted t => s with { Timers = s.Timers.Add(new(t.TimerId, t.Label, t.At, t.Minutes, false)) },
            TimerStopped t => s with { Timers = [.. s.Timers.Select(x => x.TimerId == t.TimerId ? x with { Stopped = true } : x)] },
            PartOrdered o => s with { Orders = s.Orders.SetItem(o.PartId, o.At.AddDays(o.DueInDays)) },
            PartFitted f => AtLeast(s, Station.Fit) with { Fitted = s.Fitted.SetItem(f.PartId, f), Orders = s.Orders.Remove(f.PartId) },
            OperationRefitted r => PutBack(AtLeast(s, Station.Rebuild), r),
            // Turned by hand while it is still open, it is not being proved yet.
            ProofRecorded p => (s.Out.Count == 0 ? AtLeast(s, Station.Prove) : s) with { Proofs = s.Proofs.SetItem(p.ProofId, p) },
            StationEntered t => Enter(s, t.Station),
            JobClosed c => s with { Closed = c, Station = Station.Close },
            JobReopened => s with { Closed = null },
            _ => s,
        };
    }

    /// <summary>Parts and ways chosen on another layout mean nothing on this one: the decision is to be made again.</summary>
    private static JobState Correct(JobState s, MachineCard machine) => machine.LayoutId == s.Machine.LayoutId
        ? s with { Machine = machine }
        : s with
        {
            Machine = machine,
            Targets = [],
            FaultId = "",
            TargetReason = "",
            WaysIn = s.WaysIn.Clear(),
            Fitted = s.Fitted.Clear(),
            Differences = s.Differences.Clear(),
            SafeBy = "",
            SafetyItems = [],
            Station = s.Station > Station.Find ? Station.Find : s.Station,
        };

    private static JobState AtLeast(JobState s, Station station) => s.Station < station ? Enter(s, station) : s;

    private static JobState Complain(JobState s, ComplaintStated c) => AtLeast(s, Station.Find) with
    {
        Words = c.Words,
        Complaints = [.. c.Findings],
        Answers = s.Answers.RemoveRange(s.Complaints.Except(c.Findings)).SetItems(c.Findings.Select(f => KeyValuePair.Create(f, "yes"))),
    };

    private static JobState Remove(JobState s, OperationDone d)
    {
        var counts = d.Counts.ToImmutableSortedDictionary();
        var trays = TrayPlan.Assign(counts.Where(c => c.Value > 0).Select(c => c.Key), s.TraysUsed);
        return s with
        {
            Station = Station.Strip,
            Out = s.Out.Add(d.OperationId),
            Removals = s.Removals.RemoveAll(r => r.OperationId == d.OperationId)
                .Add(new(d.OperationId, trays, counts, null, [], d.At)),
            TraysUsed = s.TraysUsed + trays.Count,
            Proofs = s.Proofs.Clear(),
        };
    }

    private static JobState Differ(JobState s, ProblemNoted p)
    {
        s = s with { Problems = s.Problems.Add(p) };
        return p.What switch
        {
            "extra-screw" => Shift(p.Count),
            "missing-screw" => Shift(-p.Count),
            "found-screw" => s with
            {
                Removals = [.. s.Removals.Select(r => r.In is { } back && r.Out.ContainsKey(p.FastenerId)
                    ? r with { In = back.SetItem(p.FastenerId, back.GetValueOrDefault(p.FastenerId) + p.Count) } : r)],
            },
            _ => s,
        };

        JobState Shift(int by) => s with { Differences = s.Differences.SetItem(p.FastenerId, s.Differences.GetValueOrDefault(p.FastenerId) + by) };
    }

    private static JobState PutBack(JobState s, OperationRefitted r) => s with
    {
        Out = s.Out.Remove(r.OperationId),
        Removals = [.. s.Removals.Select(x => x.OperationId == r.OperationId
            ? x with { In = r.Counts.ToImmutableSortedDictionary(), Joined = [.. r.Plugs] } : x)],
        RefitChecks = s.RefitChecks.Union(r.Checks),
    };

    /// <summary>Entering Prove means power comes back: the signature is spent, and opening again asks for a new one.</summary>
    private static JobState Enter(JobState s, Station station) => station == Station.Prove
        ? s with { Station = station, SafeBy = "", SafetyItems = [] }
        : s with { Station = station };
}
