using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Parts;

/// <summary>What a job will cost, and what it did cost.</summary>
public static class Estimates
{
    /// <summary>An estimate with the share of its labour that the ends stand for.</summary>
    /// <param name="Sum">What is likely.</param>
    /// <param name="LowShare">Labour at the lower end, as a share of the likely one.</param>
    /// <param name="HighShare">The same at the upper end.</param>
    public sealed record Draft(Sum Sum, double LowShare, double HighShare)
    {
        /// <summary>The total with labour at a share of what stands in the lines.</summary>
        public static double TotalAt(Sum sum, double share, ShopTerms terms) =>
            (
                sum with
                {
                    Lines =
                    [
                        .. sum.Lines.Select(l =>
                            l.Kind == "labour" ? l with { Quantity = terms.HoursCharged(l.Quantity * 60 * share) } : l
                        ),
                    ],
                }
            ).Total;
    }

    /// <summary>Before the work, or in the middle of it: what was worked so far, and what is left.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="parts">What is to be bought.</param>
    /// <param name="terms">What the shop charges.</param>
    /// <param name="worked">Minutes worked so far.</param>
    /// <param name="cancellation">Ends it.</param>
    public static Draft Of(
        JobState state,
        MachineKnowledge machine,
        PartsAdvice parts,
        ShopTerms terms,
        double worked,
        CancellationToken cancellation = default
    )
    {
        var plan = JobPlan.Of(state, machine, cancellation);
        var spread = LabourOf(state, machine, plan, worked);
        var lines = new List<SumLine>
        {
            new("labour", "Work at the machine", terms.HoursCharged(spread.Mean), "h", terms.RatePerHour),
        };
        lines.AddRange(Bought(state, machine, false));
        foreach (var (id, count) in (parts.FromVan ?? parts.Order)?.Bought ?? [])
        {
            lines.Add(new("part", parts.Find(id)!.Name, count, "piece", parts.Find(id)!.Price));
        }
        if (parts.FromVan is null && parts.Order is { Surcharge: > 0 } order)
        {
            lines.Add(new("other", "Small order", 1, "order", order.Surcharge));
        }
        lines.AddRange(parts.Small.Select(s => new SumLine("part", s.Article.Name, s.Count, "piece", s.Article.Price)));
        lines.Add(
            new(
                "travel",
                "Trip",
                parts.Short > 0 && parts.FromVan is null || state.Lines.Values.Any(l => l.Open > 0 && !l.Astray)
                    ? 2
                    : 1,
                "trip",
                terms.TripCharge
            )
        );
        // Where nothing is left to do and nothing was timed, nothing varies.
        return new(
            new(terms.Currency, lines, terms.TaxPercent),
            spread.Mean > 0 ? spread.Low / spread.Mean : 1,
            spread.Mean > 0 ? spread.High / spread.Mean : 1
        );
    }

    /// <summary>After the work: what was worked, fitted and driven.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="terms">What the shop charges.</param>
    /// <param name="worked">Minutes worked.</param>
    /// <param name="trips">Days on which something was done at the machine.</param>
    public static Sum PriceOf(JobState state, MachineKnowledge machine, ShopTerms terms, double worked, int trips) =>
        new(
            terms.Currency,
            [
                new("labour", "Work at the machine", terms.HoursCharged(worked), "h", terms.RatePerHour),
                .. Bought(state, machine, true),
                new("travel", "Trip", Math.Max(1, trips), "trip", terms.TripCharge),
            ],
            terms.TaxPercent
        );

    /// <summary>Days of the shop on which something was done at the machine: a visit over midnight elsewhere is one
    /// trip here.</summary>
    public static int Trips(IEnumerable<JobEvent> acts, ShopTerms terms) =>
        acts.Where(a =>
                a
                    is OperationDone
                        or StepRefitted
                        or PartFitted
                        or GlueCoated
                        or GlueJoined
                        or ProofRecorded
                        or SafetySigned
            )
            .Select(a => terms.DayOf(a.Happened))
            .Distinct()
            .Count();

    /// <summary>How long the job takes in all.</summary>
    public static LabourSpread LabourOf(JobState state, MachineKnowledge machine, TeardownPlan? plan, double worked)
    {
        var fits = state
            .Targets.Where(t => !state.Fitted.ContainsKey(t))
            .Select(machine.Layout.FindPart)
            .OfType<Machines.Part>()
            .Sum(p =>
                machine.Handbook.For(p, machine.Layout) is { } how
                    ? how.MinutesOf(how.School(Supplies.WayOf(state, machine.Layout, p))?.Id ?? "")
                    : 5
            );
        var costs = machine.Diagnostician.Model.Catalog.Costs;
        var certain =
            worked
            + fits
            + (state.Proofs.Count == 0 ? costs.ProveMinutes : 0)
            + (state.Found.Count == 0 ? costs.FindMinutes : 0);
        return LabourSpread.Of(
            [.. plan?.Removal.Select(o => o.Minutes) ?? [], .. plan?.Refit.Select(m => m.Step.Minutes) ?? []],
            certain
        );
    }

    /// <summary>Lines bought, and parts that went in without one at the file's price.</summary>
    private static IEnumerable<SumLine> Bought(JobState state, MachineKnowledge machine, bool used)
    {
        foreach (var rest in Supplies.Left(state, machine.Layout))
        {
            var count =
                rest.Line.Astray ? 0
                : rest.Line.Covers.Count == 0 ? rest.Line.Quantity - rest.Line.Missing - rest.Line.Returned
                : used ? rest.Used
                : rest.Line.Quantity
                    - rest.Line.Missing
                    - rest.Line.Wrong
                    - Math.Max(0, rest.Line.Returned - rest.Line.Wrong);
            if (count > 0)
            {
                yield return new("part", rest.Line.Name, count, "piece", rest.Line.Price);
            }
        }
        foreach (
            var group in Supplies
                .Replaced(state)
                .Select(machine.Layout.FindPart)
                .OfType<Machines.Part>()
                .Where(p =>
                    p.Price > 0
                    && state.Fitted.GetValueOrDefault(p.Id)?.Source switch
                    {
                        PartSource.Customer => false,
                        PartSource.Had => true,
                        _ => !state.Lines.Values.Any(l =>
                            l.Covers.Keys.Any(c => PartItem.Of(machine.Layout, c) == PartItem.Of(machine.Layout, p.Id))
                        ),
                    }
                )
                .GroupBy(p => PartItem.Of(machine.Layout, p.Id))
        )
        {
            yield return new(
                "part",
                PartItem.All(machine.Layout).FirstOrDefault(i => i.Id == group.Key)?.Name ?? group.First().Name,
                group.Sum(PartItem.Units),
                "piece",
                group.First().Price
            );
        }
    }
}
