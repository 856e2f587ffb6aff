using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Tests.Fitting;

/// <summary>Whole visits of shipped machines, put to a general solver step by step: what is claimed of their
/// end.</summary>
public static class VisitOracle
{
    /// <summary>One visit: some felts and some other parts that wear, by one person.</summary>
    /// <param name="Targets">What is fitted.</param>
    /// <param name="Whole">Every step, act and wait.</param>
    /// <param name="Visit">What was made of it.</param>
    public sealed record Asked(IReadOnlyList<PartId> Targets, ScheduleProblem Whole, Visit Visit);

    /// <summary>A visit drawn at random.</summary>
    public static Asked Draw(ShopSnapshot shop, Layout layout, Random random)
    {
        var machine = shop.For(layout);
        bool Glued(Part p) => shop.Handbook.For(p, machine.Layout) is { Glues: true };
        var felts = machine.Layout.Parts.Where(p => p.Wears && Glued(p)).OrderBy(_ => random.Next()).ToList();
        var rest = machine.Layout.Parts.Where(p => p.Wears && !Glued(p)).OrderBy(_ => random.Next()).ToList();
        List<PartId> targets =
        [
            .. felts.Take(random.Next(1, 3)).Concat(rest.Take(random.Next(0, 4))).Select(p => p.Id),
        ];
        var plan = machine.Planner.Plan(new(targets, [], new Dictionary<string, OperationId>()))!;
        VisitPlan.Fit[] fits =
        [
            .. targets.Select(t =>
                VisitPlan.FitOf(
                    machine.Layout.FindPart(t)!,
                    machine.Layout,
                    "",
                    null,
                    shop.Handbook,
                    GlueHabits.Usual with
                    {
                        Celsius = random.Next(8, 30),
                    }
                )
            ),
        ];
        var now = DateTimeOffset.UnixEpoch;
        return new(
            targets,
            VisitPlan.Problem(machine.Planner, plan.Removal, plan.Refit, fits, true, now, 1).Problem,
            VisitPlan.Of(machine.Planner, plan.Removal, plan.Refit, fits, true, now, 1, default)
        );
    }

    /// <summary>What a claim has against what the solver found; null where nothing, "open" where the solver proved
    /// nothing.</summary>
    public static string? Against(Asked asked, double seconds)
    {
        foreach (
            var (pace, minutes, proof) in new[]
            {
                (1.0, asked.Visit.Minutes, asked.Visit.Proof),
                (VisitPlan.SlowPace, asked.Visit.Slow, asked.Visit.SlowProof),
            }
        )
        {
            if (pace > 1 && !asked.Visit.SlowMeets)
            {
                continue;
            }
            var (proved, best) = ScheduleOracle.Solve(asked.Whole.AtPace(pace), seconds);
            if (!proved)
            {
                return "open";
            }
            if (best is null)
            {
                return asked.Visit.Broken.Length > 0 ? null : "planned although there is no way";
            }
            var least = best.Value / 60.0;
            // Rounding of steps put in time as one: a second each.
            const double Close = 0.5;
            if (minutes < least - Close)
            {
                return $"over after {minutes:0.00} min, {least:0.00} is the earliest";
            }
            if (proof.Bound > minutes + 0.001 || proof.Bound > least + Close)
            {
                return $"bound {proof.Bound:0.00} above {least:0.00} of {minutes:0.00} min";
            }
            if (proof.Optimal && minutes > least + Close)
            {
                return $"called the earliest at {minutes:0.00} min, {least:0.00} can be had";
            }
        }
        return null;
    }
}
