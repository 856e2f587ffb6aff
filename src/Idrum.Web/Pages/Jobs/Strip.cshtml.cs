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

    /// <summary>The five wear parts that cost the fewest extra minutes now that the machine is opened.</summary>
    public IEnumerable<ExtraPart> Extras => WhileOpen.Of(State, View.Machine).Take(5);
}
