using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Work;

/// <summary>Glue over the rest of a visit, minutes from now; below zero where it was.</summary>
/// <param name="PartId">The part glued.</param>
/// <param name="Opens">Earliest join.</param>
/// <param name="Closes">Latest join; null where it is not known.</param>
/// <param name="Joined">The join.</param>
/// <param name="Load">When it may be lifted on.</param>
/// <param name="Heat">When it may run with heat.</param>
public sealed record VisitGlue(PartId PartId, double Opens, double? Closes, double Joined, double Load, double Heat);

/// <summary>The rest of a visit in time.</summary>
/// <param name="Items">Acts by their start.</param>
/// <param name="Glue">What is glued.</param>
/// <param name="Minutes">When the last act is over, minutes from now.</param>
/// <param name="Quick">The same for hands a fifth quicker than thought.</param>
/// <param name="Slow">The same for hands three tenths slower; the order is the best for them, so that they miss no
/// window either.</param>
/// <param name="SlowMeets">False where such hands cannot meet every window: then the order is the best for the usual
/// pace.</param>
/// <param name="Proof">Whether no order is over earlier at the usual pace; minutes.</param>
/// <param name="SlowProof">The same for slow hands, for whom the order is chosen; minutes.</param>
/// <param name="Broken">What cannot be kept, in words; empty where all can.</param>
public sealed record Visit(
    IReadOnlyList<VisitItem> Items,
    IReadOnlyList<VisitGlue> Glue,
    double Minutes,
    double Quick,
    double Slow,
    bool SlowMeets,
    Teardown.Optimality Proof,
    Teardown.Optimality SlowProof,
    string Broken
);

/// <summary>What is still to be done on a visit, put in time: waits of glue are filled with what can be done
/// meanwhile.</summary>
public static class VisitPlan
{
    /// <summary>How much slower hands may be than thought without missing a window.</summary>
    public const double SlowPace = SteadyHand.Slow;

    private const double QuickPace = 0.8;
    private const double CleanMinutes = 4;

    /// <summary>A part to be fitted.</summary>
    /// <param name="Part">The part.</param>
    /// <param name="Procedure">How; null where there is none.</param>
    /// <param name="School">By which way; empty for the usual one.</param>
    /// <param name="Glue">How far it is glued already, or null.</param>
    /// <param name="Times">Times of its glue, or null.</param>
    public sealed record Fit(Part Part, Procedure? Procedure, string School, GlueState? Glue, BondTimes? Times);

    /// <summary>The rest of the visit of a job; null where no part is chosen or the machine is proved.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="habits">How warm it is and what the tubes say.</param>
    /// <param name="now">Now.</param>
    /// <param name="persons">1, or 2 where a helper is there.</param>
    /// <param name="asked">A part not yet begun and the way it would be done; null for the usual ways.</param>
    /// <param name="cancellation">Ends it.</param>
    public static Visit? Of(
        JobState state,
        MachineKnowledge machine,
        GlueHabits habits,
        DateTimeOffset now,
        int persons = 1,
        AskedWay? asked = null,
        CancellationToken cancellation = default
    )
    {
        if (
            state.Targets.Count == 0
            || state.Station >= Station.Prove
            || JobPlan.Of(state, machine, cancellation) is not { } plan
        )
        {
            return null;
        }
        var fits = state
            .Targets.Where(t => !state.Fitted.ContainsKey(t))
            .Select(machine.Layout.FindPart)
            .OfType<Part>()
            .Select(p => (p, State: state.Glue.GetValueOrDefault(p.Id)))
            .Concat(
                state
                    .Fitted.Keys.Where(state.Glue.ContainsKey)
                    .Select(machine.Layout.FindPart)
                    .OfType<Part>()
                    .Select(p => (p, State: (GlueState?)state.Glue[p.Id]))
            )
            .Select(x =>
                FitOf(
                    x.p,
                    machine.Layout,
                    x.State?.School
                        ?? (asked?.PartId == x.p.Id ? asked.School : Supplies.WayOf(state, machine.Layout, x.p)),
                    x.State,
                    machine.Handbook,
                    habits
                )
            );
        return Of(
            machine.Planner,
            plan.Removal,
            plan.Refit,
            [.. fits],
            state is { Station: < Station.Rebuild, Fitted.Count: 0, Glue.Count: 0 },
            now,
            persons,
            cancellation
        );
    }

    /// <summary>A part to be fitted by a way of doing it.</summary>
    public static Fit FitOf(
        Part part,
        Layout layout,
        string school,
        GlueState? glue,
        Handbook handbook,
        GlueHabits habits
    )
    {
        var procedure = handbook.For(part, layout);
        var way = procedure?.School(school);
        return new(part, procedure, way?.Id ?? "", glue, habits.Times(handbook, way));
    }

    /// <summary>Removal, fitting and the way back in time.</summary>
    /// <param name="planner">The machine.</param>
    /// <param name="removal">Operations still to do, in their order.</param>
    /// <param name="refit">The way back, in its order.</param>
    /// <param name="fits">Parts to be fitted, or glued and curing.</param>
    /// <param name="clean">Whether it is still to be cleaned.</param>
    /// <param name="now">Now; only what is glued already is measured against it.</param>
    /// <param name="persons">1 or 2.</param>
    /// <param name="cancellation">Ends it.</param>
    public static Visit Of(
        TeardownPlanner planner,
        IReadOnlyList<Operation> removal,
        IReadOnlyList<RefitMove> refit,
        IReadOnlyList<Fit> fits,
        bool clean,
        DateTimeOffset now,
        int persons,
        CancellationToken cancellation
    )
    {
        var (problem, words) = Problem(planner, removal, refit, fits, clean, now, persons);
        return Solved(problem, words, fits, now, cancellation);
    }

    /// <summary>The same as a problem of chores and waits, each step a chore of its own, with the words and the part of
    /// each.</summary>
    /// <inheritdoc cref="Of(TeardownPlanner, IReadOnlyList{Operation}, IReadOnlyList{RefitMove}, IReadOnlyList{Fit},
    /// bool, DateTimeOffset, int, CancellationToken)" />
    public static (
        ScheduleProblem Problem,
        IReadOnlyDictionary<string, (VisitChore Chore, string Words, PartId Part)> Words
    ) Problem(
        TeardownPlanner planner,
        IReadOnlyList<Operation> removal,
        IReadOnlyList<RefitMove> refit,
        IReadOnlyList<Fit> fits,
        bool clean,
        DateTimeOffset now,
        int persons
    )
    {
        var chores = new List<Chore>();
        var lags = new List<TimeLag>();
        var words = new Dictionary<string, (VisitChore Chore, string Words, PartId Part)>();
        string Add(
            VisitChore chore,
            double minutes,
            string says,
            string part = "",
            bool both = false,
            double from = 0,
            double? until = null
        )
        {
            var id = chore.Id;
            chores.Add(
                new(
                    id,
                    Seconds(minutes),
                    persons == 2 && both ? 2 : 1,
                    Math.Max(0, Seconds(from)),
                    until is { } u ? Math.Max(0, Seconds(u)) : null
                )
            );
            words[id] = (chore, says, part);
            return id;
        }
        void Chain(IReadOnlyList<string> ids)
        {
            for (var i = 1; i < ids.Count; i++)
            {
                lags.Add(new(ids[i - 1], ids[i]));
            }
        }
        var outs = removal
            .Select(o => Add(new(ChoreKind.Out, o.Id), o.Minutes.Typical, o.Name, both: o.Helper.Length > 0))
            .ToList();
        var fitted = fits.Where(f => f.Glue?.JoinedAt is null || f.Glue.LoadFrom > now)
            .Select(f => (Fit: f, Ids: Chores(f).ToList()))
            .ToList();
        if (clean)
        {
            Add(Clean, CleanMinutes, "Clean: lint, old glue, roller track");
        }
        var ins = refit
            .Select(m => Add(In(m), m.Step.Minutes.Typical, m.Step.Do, both: m.Operation.Helper.Length > 0))
            .ToList();
        Chain([.. outs, .. ins, Add(Prove, CostBasis.UsualProve, "Prove it: turn, run, listen, air")]);
        if (clean)
        {
            Chain([.. outs.TakeLast(1), Clean.Id, .. ins.Take(1).DefaultIfEmpty(Prove.Id)]);
        }
        foreach (var (fit, ids) in fitted)
        {
            var freeing = planner
                .Graph.FreeingOperations(fit.Part.Id)
                .ToList()
                .Select(i => planner.Graph.Node(i).Id)
                .ToHashSet();
            if (ids.Count > 0 && removal.LastOrDefault(o => freeing.Contains(o.Id)) is { } last)
            {
                lags.Add(new(new VisitChore(ChoreKind.Out, last.Id).Id, ids[0]));
            }
            // What it sits on is lifted on when the glue bears it.
            var carrier = refit.FirstOrDefault(m => !fit.Part.On.IsNone && m.Operation.TakesOff.Contains(fit.Part.On))
                ?? refit.FirstOrDefault(m => freeing.Contains(m.Operation.Id));
            var before = refit.FirstOrDefault(m => freeing.Contains(m.Operation.Id));
            foreach (
                var (move, wait) in new[]
                {
                    (before, 0.0),
                    (carrier, fit.Glue?.HandlingMinutes ?? fit.Times?.Handling ?? 0),
                }.Where(m => m.Item1 is not null)
            )
            {
                if (ids.Count > 0)
                {
                    lags.Add(new(ids[^1], In(move!).Id, Seconds(wait)));
                }
                else if (
                    fit.Glue?.LoadFrom is { } load
                    && chores.FindIndex(c => c.Id == In(move!).Id) is >= 0 and var at
                )
                {
                    chores[at] = chores[at] with
                    {
                        From = Math.Max(chores[at].From, Seconds((load - now).TotalMinutes)),
                    };
                }
            }
            if (ids.Count > 0)
            {
                // Lint flies while it is cleaned: nothing is coated and no new part goes in before.
                if (clean && ids.FirstOrDefault(i => words[i].Chore.Kind != ChoreKind.Prepare) is { } first)
                {
                    lags.Add(new(Clean.Id, first));
                }
                lags.Add(new(ids[^1], Prove.Id));
            }
        }
        return (new(chores, lags, persons) { Clock = planner.Clock }, words);

        IEnumerable<string> Chores(Fit fit)
        {
            var (part, name) = (fit.Part.Id, fit.Part.Name);
            double Takes(string phase) => fit.Procedure!.MinutesOf(fit.School, phase);
            if (fit.Procedure?.Glues != true)
            {
                if (fit.Glue is null)
                {
                    yield return Add(new(ChoreKind.Fit, part), fit.Procedure?.MinutesOf(fit.School) ?? 5, name, part);
                }
                yield break;
            }
            if (fit.Glue is { JoinedAt: null } open && !(open.JoinUntil < now))
            {
                yield return Add(
                    new(ChoreKind.Join, part),
                    Takes("join"),
                    $"{name}: join and press",
                    part,
                    from: (open.JoinFrom - now).TotalMinutes,
                    until: open.JoinUntil is { } u ? (u - now).TotalMinutes : null
                );
            }
            else if (fit.Glue?.JoinedAt is null && fit.Times is { } times)
            {
                var prepare = Add(new(ChoreKind.Prepare, part), Takes("prepare"), $"{name}: scrape and lay dry", part);
                var coat = Add(new(ChoreKind.Coat, part), Takes("coat"), $"{name}: coat", part);
                var join = Add(new(ChoreKind.Join, part), Takes("join"), $"{name}: join and press", part);
                lags.Add(new(prepare, coat));
                lags.Add(new(coat, join, Seconds(times.Earliest), Seconds(times.Latest)));
                yield return prepare;
                yield return coat;
                yield return join;
            }
        }
    }

    private static Visit Solved(
        ScheduleProblem problem,
        IReadOnlyDictionary<string, (VisitChore Chore, string Words, PartId Part)> words,
        IReadOnlyList<Fit> fits,
        DateTimeOffset now,
        CancellationToken cancellation
    )
    {
        var (whole, parts) = (problem, new Dictionary<string, List<Chore>>());
        var joined = problem = Joined(whole, parts);
        // The usual order stays unless another gains a minute: everything off, cleaned, parts in, then closed.
        var usual = problem
            .Chores.OrderBy(c =>
                words[c.Id].Chore.Kind switch
                {
                    ChoreKind.Out => 0,
                    ChoreKind.Clean => 1,
                    ChoreKind.Join => 3,
                    ChoreKind.In => 4,
                    ChoreKind.Prove => 5,
                    _ => 2,
                }
            )
            .Select(c => c.Id)
            .ToList();
        var (slow, of) = SteadyHand.Plan(problem, usual, cancellation: cancellation);
        problem = of;
        var plan = slow.Found ? ScheduleSearch.InOrder(problem, [.. slow.Items.Select(i => i.Id)]) : null;
        var slowMeets = plan is not null;
        if (plan is null)
        {
            plan = slow = ScheduleSearch.Solve(
                problem,
                usual,
                TimeSpan.FromMilliseconds(40),
                cancellation: cancellation
            );
        }
        var order = plan.Items.Select(i => i.Id).ToList();
        // The order is chosen for slow hands; what is claimed of the usual pace is looked for at that pace.
        var usually = plan.Found
            ? ScheduleSearch.Solve(joined, order, TimeSpan.FromMilliseconds(40), false, cancellation).Bound
            : plan.Bound;
        var quick = ScheduleSearch.InOrder(problem.AtPace(QuickPace), order)?.Seconds ?? plan.Seconds;
        // What follows one on another without anything between was put in time as one.
        var items = plan
            .Items.SelectMany(i =>
                parts[i.Id]
                    .Select((c, n) => (c.Id, Start: i.Start + parts[i.Id].Take(n).Sum(x => x.Seconds), c.Seconds))
            )
            .Select(i => new VisitItem(
                words[i.Id].Chore,
                words[i.Id].Words,
                words[i.Id].Part,
                i.Start / 60.0,
                (i.Start + i.Seconds) / 60.0
            ))
            .OrderBy(i => i.Start)
            .ToList();
        var at = items.ToDictionary(i => i.Chore, i => (i.Start, i.End));
        var glue = fits.Select(f => GlueOf(f, at, now)).OfType<VisitGlue>().ToList();
        var broken =
            plan.Found ? ""
            : plan.Broken is { } lag ? $"{words[parts[lag.To][0].Id].Words}: its window closes before it can be done."
            : "There is no order in which every window is met.";
        return new(
            items,
            glue,
            Math.Max(0, plan.Seconds) / 60.0,
            Math.Max(0, quick) / 60.0,
            Math.Max(0, slow.Seconds) / 60.0,
            slowMeets,
            ProofOf(plan, usually),
            ProofOf(slow, slow.Bound),
            broken
        );
    }

    private static Teardown.Optimality ProofOf(Schedule schedule, int bound) =>
        schedule.Found
            ? Teardown.Optimality.Of(schedule.Seconds / 60.0, Math.Min(bound, schedule.Seconds) / 60.0)
            : new(schedule.Optimal, bound / 60.0, 0);

    /// <summary>Chores that wait for nothing but one another are done as one: the fewer there are, the sooner the order
    /// is proved. Where something is timed
    /// that is only where nothing else could come between them: a window that opens meanwhile would else be met too
    /// late.</summary>
    /// <param name="problem">The chores.</param>
    /// <param name="parts">What each is made of; filled.</param>
    private static ScheduleProblem Joined(ScheduleProblem problem, Dictionary<string, List<Chore>> parts)
    {
        var chores = problem.Chores.ToDictionary(c => c.Id);
        var lags = problem
            .Lags.GroupBy(l => (l.From, l.To))
            .Select(g =>
                g.Any(l => l.Min > 0 || l.Max is not null) ? g.First(l => l.Min > 0 || l.Max is not null) : g.First()
            )
            .ToList();
        foreach (var chore in problem.Chores)
        {
            parts[chore.Id] = [chore];
        }
        var timed =
            lags.Any(l => l.Min > 0 || l.Max is not null)
            || problem.Chores.Any(c => c is not { From: 0, Until: null, Tail: 0 });
        var after = After(problem);
        bool Between(string first, string next) =>
            timed
            && problem.Chores.Any(c =>
                chores.ContainsKey(c.Id)
                && c.Id != first
                && c.Id != next
                && !after[c.Id].Contains(first)
                && !after[parts[next][^1].Id].Contains(c.Id)
            );
        for (var at = 0; at < lags.Count; )
        {
            var link = lags[at];
            var (first, next) = (chores[link.From], chores[link.To]);
            if (
                next is not { From: 0, Until: null, Tail: 0 }
                || link is not { Min: 0, Max: null }
                || first.Persons != next.Persons
                || lags.Count(l => l.From == first.Id) != 1
                || lags.Count(l => l.To == next.Id) != 1
                || Between(first.Id, next.Id)
            )
            {
                at++;
                continue;
            }
            // The first goes on under its own name; what waited for the next waits for it.
            chores[first.Id] = first with { Seconds = first.Seconds + next.Seconds };
            parts[first.Id].AddRange(parts[next.Id]);
            parts.Remove(next.Id);
            chores.Remove(next.Id);
            lags.RemoveAt(at);
            for (var i = 0; i < lags.Count; i++)
            {
                lags[i] = lags[i].From == next.Id ? lags[i] with { From = first.Id } : lags[i];
            }
            at = 0;
        }
        return problem with
        {
            Chores = [.. problem.Chores.Select(c => chores.GetValueOrDefault(c.Id)).OfType<Chore>()],
            Lags = lags,
        };
    }

    /// <summary>For each chore those that come after it.</summary>
    private static Dictionary<string, HashSet<string>> After(ScheduleProblem problem)
    {
        var next = problem.Lags.ToLookup(l => l.From, l => l.To);
        var after = new Dictionary<string, HashSet<string>>();
        foreach (var chore in problem.Chores)
        {
            var reached = new HashSet<string>();
            var open = new Stack<string>(next[chore.Id]);
            while (open.TryPop(out var id))
            {
                if (reached.Add(id))
                {
                    foreach (var further in next[id])
                    {
                        open.Push(further);
                    }
                }
            }
            after[chore.Id] = reached;
        }
        return after;
    }

    private static VisitGlue? GlueOf(Fit fit, Dictionary<VisitChore, (double Start, double End)> at, DateTimeOffset now)
    {
        if (fit.Glue is { JoinedAt: { } joined } glue)
        {
            var since = (joined - now).TotalMinutes;
            return new(fit.Part.Id, since, since, since, since + glue.HandlingMinutes, since + glue.CureMinutes);
        }
        if (!at.TryGetValue(new(ChoreKind.Join, fit.Part.Id), out var join))
        {
            return null;
        }
        var coat =
            at.TryGetValue(new(ChoreKind.Coat, fit.Part.Id), out var coated) && fit.Times is { } times
                ? (Opens: coated.End + times.Earliest, Closes: (double?)coated.End + times.Latest)
                : (
                    Opens: (fit.Glue!.JoinFrom - now).TotalMinutes,
                    Closes: fit.Glue.JoinUntil is { } until ? (until - now).TotalMinutes : (double?)null
                );
        return new(
            fit.Part.Id,
            coat.Opens,
            coat.Closes,
            join.Start,
            join.End + (fit.Glue?.HandlingMinutes ?? fit.Times!.Handling),
            join.End + (fit.Glue?.CureMinutes ?? fit.Times!.Cure)
        );
    }

    private static readonly VisitChore Clean = new(ChoreKind.Clean);
    private static readonly VisitChore Prove = new(ChoreKind.Prove);

    private static VisitChore In(RefitMove move) => new(ChoreKind.In, move.Ref.ToString());

    private static int Seconds(double minutes) => (int)Math.Round(minutes * 60);
}
