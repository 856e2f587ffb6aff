using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>What it takes to change a set of worn parts of a machine that is to be sold: minutes, and money before tax.</summary>
/// <param name="Minutes">Out, change, in, find and prove: what is likely.</param>
/// <param name="Labour">The same at the shop's rate, in steps as it charges.</param>
/// <param name="Parts">What the parts cost.</param>
/// <param name="Each">Each part with what is saved where it alone is left out.</param>
public sealed record ReconditionWorth(
    double Minutes,
    double Labour,
    double Parts,
    IReadOnlyList<ReconditionWorth.Saving> Each
)
{
    /// <summary>What leaving one part out of the set saves.</summary>
    /// <param name="Part">The part.</param>
    /// <param name="Minutes">Minutes; little where it lies on the way to the others.</param>
    /// <param name="Money">Work by the minute, and the part.</param>
    public sealed record Saving(Part Part, double Minutes, double Money);

    /// <summary>Work and parts together.</summary>
    public double Cost => Labour + Parts;

    /// <summary>Reckons it.</summary>
    /// <param name="state">The job as it stands: what is open is open.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="parts">Ids of the parts that would be changed.</param>
    /// <param name="terms">What the shop charges.</param>
    /// <param name="stop">Ends the work.</param>
    public static ReconditionWorth Of(
        JobState state,
        MachineKnowledge machine,
        IReadOnlyList<PartId> parts,
        ShopTerms terms,
        CancellationToken stop = default
    )
    {
        var minutes = MinutesOf(parts);
        var money = PriceOf(parts);
        return new(
            minutes,
            terms.HoursCharged(minutes) * terms.RatePerHour,
            money,
            [
                .. parts
                    .Select(machine.Layout.FindPart)
                    .OfType<Part>()
                    .Select(p =>
                    {
                        List<PartId> rest = [.. parts.Where(o => o != p.Id)];
                        var saved = Math.Max(0, minutes - MinutesOf(rest));
                        return new Saving(p, saved, saved * terms.RatePerHour / 60 + money - PriceOf(rest));
                    }),
            ]
        );

        double MinutesOf(IReadOnlyList<PartId> some)
        {
            stop.ThrowIfCancellationRequested();
            if (some.Count == 0)
            {
                return 0;
            }
            var then = state with { Targets = [.. some] };
            return Estimates.LabourOf(then, machine, JobPlan.Of(then, machine, stop), 0).Mean;
        }

        double PriceOf(IReadOnlyList<PartId> some) =>
            PartItem.Need(machine.Layout, some).Sum(n => n.Value * (machine.Layout.FindPart(n.Key)?.Price ?? 0));
    }

    /// <summary>Wear parts of a machine that are not known to be sound: those that were looked at and seen good are left
    /// out.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<PartId> Worn(JobState state, MachineKnowledge machine) =>
        [
            .. machine
                .Layout.Parts.Where(p => p.Wears && !state.Fitted.ContainsKey(p.Id))
                .Where(p =>
                {
                    var seen = state.Seen.Where(s => s.Key.Part == p.Id).ToList();
                    return seen.Count == 0
                        || seen.Any(s =>
                            machine.Diagnostician.Model.Catalog.FindFinding(s.Key.Finding)?.IndexOf(s.Value) != 0
                        );
                })
                .Select(p => p.Id),
        ];
}
