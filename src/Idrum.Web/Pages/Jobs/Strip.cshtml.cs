using Idrum.Core.Fitting;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Strip.</summary>
public sealed class StripModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    public override Station Shown => Station.Strip;

    /// <summary>Safety items of this machine.</summary>
    public IEnumerable<SafetyItem> Safety => OpenItems.SafetyOf(State, View.Machine);

    /// <summary>Wear parts that cost little more now that the machine is opened: the five with the fewest extra minutes.</summary>
    public IReadOnlyList<(Part Part, double Minutes)> WhileOpen
    {
        get
        {
            var planner = View.Machine.Planner;
            var done = planner.Graph.MaskOf(State.Out);
            var now = planner.MinutesToFree(State.Targets, done) ?? 0;
            return [.. View.Layout.Parts.Where(p => p.Wears && !State.Targets.Contains(p.Id))
                .Select(p => (Part: p, Minutes: (planner.MinutesToFree([.. State.Targets, p.Id], done) ?? 999) - now))
                .OrderBy(p => p.Minutes).ThenByDescending(p => p.Part.Kind == "belt").Take(5)];
        }
    }
}
