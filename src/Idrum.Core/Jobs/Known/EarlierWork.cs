using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>What earlier jobs on the same machine tell: they answer what else the customer would be asked.</summary>
/// <param name="FindingId">A finding of history.</param>
/// <param name="Outcome">Its outcome.</param>
/// <param name="Number">The job that tells it.</param>
public sealed record EarlierWork(string FindingId, string Outcome, string Number)
{
    private static readonly TimeSpan Lately = TimeSpan.FromDays(400);

    /// <summary>What earlier jobs on the same tag tell of this one; the newest speaks first, and nothing is told of the
    /// ids its layout lacks.</summary>
    /// <param name="state">The job.</param>
    /// <param name="earlier">Other jobs on the same tag.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<EarlierWork> Of(JobState state, IEnumerable<JobState> earlier, MachineKnowledge machine)
    {
        var told = new List<EarlierWork>();
        foreach (
            var job in earlier
                .Where(j =>
                    j.OpenedAt < state.OpenedAt
                    && state.OpenedAt - j.OpenedAt < Lately
                    && j.Machine.LayoutId == state.Machine.LayoutId
                )
                .OrderByDescending(j => j.OpenedAt)
        )
        {
            var changed = job.Fitted.Where(f => f.Value.Action == FittedAs.Replaced).Select(f => f.Key).ToHashSet();
            var rollers = machine.Layout.PartsOfKind([PartKinds.DrumRoller]).ToList();
            var anew = rollers.Count(r => changed.Contains(r.Id));
            Tell(
                "earlier-roller",
                anew == 0 ? ""
                    : anew == rollers.Count ? "all"
                    : "one"
            );
            Tell(
                "earlier-belt",
                machine.Layout.PartsOfKind([PartKinds.Belt]).Any(b => changed.Contains(b.Id)) ? "yes" : ""
            );
            Tell("opened-before", job.Removals.Count > 0 ? "yes" : "");

            void Tell(string finding, string outcome)
            {
                if (
                    outcome.Length > 0
                    && told.TrueForAll(t => t.FindingId != finding)
                    && machine.Diagnostician.Model.Catalog.FindFinding(finding)?.IndexOf(outcome) >= 0
                )
                {
                    told.Add(new(finding, outcome, job.Number));
                }
            }
        }
        return told;
    }
}
