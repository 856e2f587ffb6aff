using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Teardown;
using MathNet.Numerics.Distributions;

namespace Idrum.Core.Shop;

/// <summary>How long to reserve for a machine of which only the complaint is known, before anyone drives
/// there.</summary>
/// <param name="Low">Nine of ten such visits take longer, minutes.</param>
/// <param name="Usual">As many take longer as shorter, minutes.</param>
/// <param name="High">Nine of ten are done by then, minutes.</param>
/// <param name="OtherTrade">Share of such visits that end in handing it over.</param>
/// <param name="Causes">What it could be over all machines it may be, likeliest first.</param>
public sealed record Appointment(
    double Low,
    double Usual,
    double High,
    double OtherTrade,
    IReadOnlyList<(Fault Fault, double Probability)> Causes
)
{
    private const double Trifle = 0.0005;
    private static readonly double Decile = Normal.InvCDF(0, 1, 0.9);

    /// <summary>Works it out: a mixture over machines, causes and working times, each log-normal.</summary>
    /// <param name="machines">Machines it may be, all as likely.</param>
    /// <param name="complaints">Complaint ids that were told.</param>
    /// <param name="wear">Wear relative to ten years of average use.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="ArgumentException">No machine is given.</exception>
    public static Appointment Of(
        IReadOnlyList<MachineKnowledge> machines,
        IReadOnlyCollection<string> complaints,
        double wear,
        CancellationToken cancellation = default
    )
    {
        if (machines.Count == 0)
        {
            throw new ArgumentException("At least one machine is needed.", nameof(machines));
        }
        var parts = new List<(double P, double Minutes, double Sigma)>();
        var causes = new Dictionary<string, (Fault Fault, double P)>();
        var referred = 0.0;
        foreach (var machine in machines)
        {
            var model = machine.Diagnostician.Model;
            var known = complaints.ToDictionary(c => c, c => model.Catalog.FindFinding(c)?.Outcomes[^1].Id ?? "yes");
            var (belief, there) = machine.Diagnostician.Believe(new(known, [], wear, ComplaintsTold: true));
            for (var f = 0; f < there.Count; f++)
            {
                causes[model.Faults[f].Id] = (
                    model.Faults[f],
                    causes.GetValueOrDefault(model.Faults[f].Id).P + there[f] / machines.Count
                );
            }
            var sigma = Pace(machine);
            var ofSet = new double[model.Members.Length];
            for (var h = 0; h < belief.Weight.Length; h++)
            {
                ofSet[model.SetOf[h]] += belief.Weight[h];
            }
            for (var s = 0; s < ofSet.Length; s++)
            {
                cancellation.ThrowIfCancellationRequested();
                if (ofSet[s] > Trifle)
                {
                    var faults = model.Members[s].Select(f => model.Faults[f]).ToList();
                    parts.Add((ofSet[s], Minutes(machine, faults), sigma));
                    referred +=
                        faults.Count > 0 && faults.TrueForAll(f => f.Action == FaultAction.Refer) ? ofSet[s] : 0;
                }
            }
        }
        var all = parts.Sum(p => p.P);
        double At(double share) => Quantile(parts, all * share);
        return new(At(0.1), At(0.5), At(0.9), referred / all, [.. causes.Values.OrderByDescending(c => c.P)]);
    }

    /// <summary>Minutes of one visit: finding, opening and closing, the work itself, the proof.</summary>
    internal static double Minutes(MachineKnowledge machine, IReadOnlyList<Fault> faults)
    {
        var own = faults.Where(f => f.Action != FaultAction.Refer).ToList();
        var costs = machine.Diagnostician.Model.Catalog.Costs;
        var open = machine.Planner.MinutesToFree(
            own.SelectMany(f => machine.Layout.PartsOfKind(f.Kinds)).Select(p => p.Id).Distinct(),
            Bits.None
        ) ?? 0;
        return costs.FindMinutes + open + own.Sum(f => f.FixMinutes) + costs.ProveMinutes;
    }

    /// <summary>Standard deviation of the logarithm of working time: the file's low and high are the first and last
    /// decile, and whoever is slow is slow all day.</summary>
    internal static double Pace(MachineKnowledge machine)
    {
        var steps = machine.Layout.Operations.Where(o => o.Minutes is { Low: > 0, Typical: > 0 }).ToList();
        return steps.Count == 0
            ? 0.25
            : Math.Clamp(
                steps.Sum(o => o.Minutes.Typical * Math.Log(o.Minutes.High / o.Minutes.Low))
                    / steps.Sum(o => o.Minutes.Typical)
                    / (2 * Decile),
                0.05,
                1
            );
    }

    private static double Quantile(List<(double P, double Minutes, double Sigma)> parts, double mass)
    {
        var (low, high) = (0.5, 5000.0);
        while (high / low > 1.001)
        {
            var middle = Math.Sqrt(low * high);
            if (parts.Sum(p => p.P * Normal.CDF(Math.Log(p.Minutes), p.Sigma, Math.Log(middle))) < mass)
            {
                low = middle;
            }
            else
            {
                high = middle;
            }
        }
        return high;
    }
}
