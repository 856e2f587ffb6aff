using Idrum.Core.Basics;

namespace Idrum.Core.Fitting;

/// <summary>Puts a visit in time so that no window is lost, however quick or slow the next act turns out: whoever coats
/// quicker than thought has his
/// window sooner, and what was planned to come between may then be in its way.</summary>
/// <remarks>After every act that is advised the rest can still be met by a slow hand, be the act itself quick or slow:
/// the invariant by which simple temporal
/// networks with uncertain durations are kept controllable (Morris, Muscettola and Vidal, IJCAI 2001), looked one act
/// ahead.</remarks>
public static class SteadyHand
{
    /// <summary>How much slower hands may be than thought.</summary>
    public const double Slow = 1.3;

    /// <summary>How much quicker.</summary>
    public const double Quick = 0.7;

    /// <summary>The plan for slow hands, with another first act where the best one would not bear a quick
    /// hand.</summary>
    /// <param name="problem">What is to be put in time, at the usual pace.</param>
    /// <param name="keep">The order shown, which stays unless another gains a minute; or null.</param>
    /// <param name="limit">Time for all plans that are tried; null: 60 ms. Where it is over, the plan for slow hands is
    /// given without more care.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <returns>The plan at the slow pace, and the problem it solves: where it is best to wait before the first act,
    /// that act's earliest start says so.
    /// Bound and proof are those of the plan without this care.</returns>
    public static (Schedule Plan, ScheduleProblem Of) Plan(
        ScheduleProblem problem,
        IReadOnlyList<string>? keep = null,
        TimeSpan? limit = null,
        CancellationToken cancellation = default
    )
    {
        var allowance = new Allowance(problem.Clock, limit ?? TimeSpan.FromMilliseconds(60));
        var slow = ScheduleSearch.Solve(problem.AtPace(Slow), keep, allowance, false, cancellation);
        if (
            !slow.Found
            || slow.Items.Count == 0
            || problem.Persons != 1
            || problem.Lags.All(l => l.Max is null) && problem.Chores.All(c => c.Until is null)
            || allowance.Over
            || Bears(problem, slow, allowance, cancellation)
        )
        {
            return (slow, problem);
        }
        var first = slow.Items[0];
        var (best, of) = ((Schedule?)null, problem);
        void Try(string id, int from)
        {
            if (allowance.Over)
            {
                return;
            }
            var tried = problem with
            {
                Chores = [.. problem.Chores.Select(c => c.Id == id ? c with { From = Math.Max(c.From, from) } : c)],
                Lags = [.. problem.Lags, .. problem.Chores.Where(c => c.Id != id).Select(c => new TimeLag(id, c.Id))],
            };
            var plan = ScheduleSearch.Solve(tried.AtPace(Slow), null, allowance, false, cancellation);
            if (
                plan.Found
                && (best is null || plan.Seconds < best.Seconds)
                && Bears(problem, plan, allowance, cancellation)
            )
            {
                (best, of) = (plan, tried);
            }
        }
        foreach (var chore in problem.Chores.Where(c => c.Id != first.Id && problem.Lags.All(l => l.To != c.Id)))
        {
            Try(chore.Id, 0);
        }
        // Or the same, begun later: a quick hand then ends when a slow one would have.
        Try(
            first.Id,
            first.Start + (int)Math.Ceiling(problem.Chores.First(c => c.Id == first.Id).Seconds * (Slow - Quick))
        );
        return best is null
            ? (slow, problem)
            : (best with { Bound = slow.Bound, Optimal = slow.Optimal && best.Seconds == slow.Seconds }, of);
    }

    /// <summary>Whether a slow hand still meets the rest if the first act of a plan is done quickly.</summary>
    private static bool Bears(
        ScheduleProblem problem,
        Schedule plan,
        Allowance allowance,
        CancellationToken cancellation
    )
    {
        var first = plan.Items[0];
        var end = first.Start + (int)(problem.Chores.First(c => c.Id == first.Id).Seconds * Quick);
        var begun = problem.Lags.Where(l => l.From == first.Id).ToLookup(l => l.To);
        var rest = problem with
        {
            Lags = [.. problem.Lags.Where(l => l.From != first.Id && l.To != first.Id)],
            Chores =
            [
                .. problem
                    .Chores.Where(c => c.Id != first.Id)
                    .Select(c =>
                        c with
                        {
                            From = begun[c.Id].Select(l => l.Min).Append(c.From - end).Append(0).Max(),
                            Until = begun[c.Id]
                                .Select(l => l.Max)
                                .Append(c.Until - end)
                                .Where(m => m is not null)
                                .Min(),
                        }
                    ),
            ],
        };
        return rest.Chores.All(c => c.Until is not < 0)
            && (
                rest.Chores.Count == 0
                || ScheduleSearch.Solve(rest.AtPace(Slow), null, allowance, false, cancellation).Found
            );
    }
}
