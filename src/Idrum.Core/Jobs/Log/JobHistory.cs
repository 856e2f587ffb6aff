using System.Collections.Immutable;

namespace Idrum.Core.Jobs.Log;

/// <summary>A job's log with its fold. The state is a pure function of the log; this keeps the states along the way, so
/// that
/// adding, taking back and bringing again cost the same for a long log as for a short one. Immutable.</summary>
public sealed class JobHistory
{
    private sealed record Act(JobEvent Event, JobState Before);

    private readonly ImmutableStack<Act> acts;
    private readonly ImmutableStack<JobEvent> takenBack;
    private readonly ImmutableHashSet<Guid> ids;

    private JobHistory(
        ImmutableList<JobEvent> log,
        JobState state,
        ImmutableStack<Act> acts,
        ImmutableStack<JobEvent> takenBack,
        ImmutableHashSet<Guid> ids
    )
    {
        Log = log;
        State = state;
        this.acts = acts;
        this.takenBack = takenBack;
        this.ids = ids;
    }

    /// <summary>Before anything happened.</summary>
    public static JobHistory Empty { get; } = new([], JobState.Empty, [], [], []);

    /// <summary>Every event, those taken back included.</summary>
    public ImmutableList<JobEvent> Log { get; }

    /// <summary>The state after them.</summary>
    public JobState State { get; }

    /// <summary>Number of events.</summary>
    public int Count => Log.Count;

    /// <summary>The act that undo would take back: the last that counts, except the opening; null where there is
    /// none.</summary>
    public JobEvent? LastAct => acts.IsEmpty || acts.Peek().Event is JobOpened ? null : acts.Peek().Event;

    /// <summary>The state before <see cref="LastAct"/>; null where there is none.</summary>
    public JobState? BeforeLast => LastAct is null ? null : acts.Peek().Before;

    /// <summary>The act that can be brought again: the one taken back last, where nothing was done since; or
    /// null.</summary>
    public JobEvent? LastTakenBack => takenBack.IsEmpty ? null : takenBack.Peek();

    /// <summary>The events that count, in order: each id once, without those taken back.</summary>
    public IReadOnlyList<JobEvent> Effective => [.. acts.Reverse().Select(a => a.Event)];

    /// <summary>The history of a log.</summary>
    public static JobHistory Of(IEnumerable<JobEvent> log) => log.Aggregate(Empty, (h, e) => h.Add(e));

    /// <summary>Whether an event of this id is in the log.</summary>
    public bool Knows(Guid id) => ids.Contains(id);

    /// <summary>The act of an id, with those that were said at once with it, where they are the last of the job: the last one
    /// first. One tap that said several things is taken back by one. Of another act that one alone.</summary>
    public IReadOnlyList<JobEvent> LastSaidWith(Guid id)
    {
        List<JobEvent> last =
        [
            .. acts.Select(a => a.Event).TakeWhile(e => ActIds.Together(e.Id, id) && e is not JobOpened),
        ];
        return last.Any(e => e.Id == id) ? last : [.. acts.Select(a => a.Event).Where(e => e.Id == id).Take(1)];
    }

    /// <summary>The act of an id that was taken back, with those said at once with it: the first one first, as they are
    /// brought again.</summary>
    public IReadOnlyList<JobEvent> LastTakenBackWith(Guid id)
    {
        List<JobEvent> last = [.. takenBack.TakeWhile(e => ActIds.Together(e.Id, id))];
        return last.Any(e => e.Id == id) ? last : [.. takenBack.Where(e => e.Id == id).Take(1)];
    }

    /// <summary>With one more event. A second event of the same id changes nothing.</summary>
    public JobHistory Add(JobEvent e)
    {
        if (ids.Contains(e.Id))
        {
            return this;
        }
        var (log, known) = (Log.Add(e), ids.Add(e.Id));
        switch (e)
        {
            case Undone u when !acts.IsEmpty && acts.Peek().Event.Id == u.EventId:
                return new(
                    log,
                    Kept(acts.Peek().Before, acts.Peek().Event),
                    acts.Pop(),
                    takenBack.Push(acts.Peek().Event),
                    known
                );
            case Undone u when acts.Any(a => a.Event.Id == u.EventId):
                // Not the last. Without that event the rest is folded anew, in its order, with what is no act of the repair.
                var counts = acts.Select(a => a.Event.Id).Where(id => id != u.EventId).ToHashSet();
                var rest = Of(
                    Log.Where(x =>
                        counts.Contains(x.Id) || x is LayoutPinned or JobImported or CustomerRemoved or SoundDropped
                    )
                );
                return new(
                    log,
                    Kept(rest.State, null),
                    rest.acts,
                    takenBack.Push(acts.First(a => a.Event.Id == u.EventId).Event),
                    known
                );
            case Restored r when !takenBack.IsEmpty && takenBack.Peek().Id == r.EventId:
                var again = takenBack.Peek();
                return new(log, Apply(State, again), acts.Push(new(again, State)), takenBack.Pop(), known);
            case LayoutPinned or JobImported or CustomerRemoved or SoundDropped:
                // No act of the repair: it is not taken back with the others, but by pinning another.
                return new(log, Apply(State, e), acts, takenBack, known);
            case Undone or Restored:
                return new(log, State, acts, takenBack, known);
            default:
                return new(log, Apply(State, e), acts.Push(new(e, State)), [], known);
        }
    }

    /// <summary>An earlier state with the layout as it is pinned now, unless the act taken back had changed the
    /// machine.</summary>
    private JobState Kept(JobState earlier, JobEvent? undone) =>
        undone is MachineCorrected ? earlier : earlier with { LayoutHash = State.LayoutHash };

    /// <summary>Events after the one of that id, those that count; all of them where it is not in the log.</summary>
    internal IEnumerable<JobEvent> After(Guid id)
    {
        var at = Log.FindLastIndex(e => e.Id == id);
        var counts = acts.Select(a => a.Event.Id).ToHashSet();
        return Log.Skip(at + 1).Where(e => counts.Contains(e.Id) || e is Undone or Restored);
    }

    /// <summary>The state after one more event that is neither taking back nor bringing again.</summary>
    internal static JobState Apply(JobState state, JobEvent e)
    {
        var after = e.Apply(
            e.Happened > state.LastAt && e is not (JobImported or CustomerRemoved or SoundDropped)
                ? state with
                {
                    LastAt = e.Happened,
                }
                : state
        );
        return e is ICarriesAttachment act
            ? after with
            {
                Attachments = after.Attachments.SetItem(act.CarriedName, act.Carries),
            }
            : after;
    }
}
