using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Strip.</summary>
public sealed class StripModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Strip;

    /// <summary>Safety items of this machine.</summary>
    public IEnumerable<SafetyItem> Safety => JobSafety.Of(State, View.Machine);

    /// <summary>How far the picture is taken apart, in steps; null for all of them.</summary>
    public int? At => int.TryParse(Request.Query["at"], out var at) ? at : null;

    /// <summary>How the parts stand once these are done, for the picture.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> After(IEnumerable<Operation> done) =>
        PartStates.Of(State with { Out = [.. done.Select(o => o.Id)], StepsIn = [] }, View.Layout);

    /// <summary>The five wear parts that cost the fewest extra minutes now that the machine is opened.</summary>
    public IEnumerable<ExtraPart> Extras => View.Extras.Take(5);

    /// <summary>What the minutes of the plan rest on.</summary>
    public string TimesRestOn =>
        View.Machine.TimedJobs is > 0 and var n
            ? $"Minutes from {Say.Count(n, "job", "jobs")} timed on this machine here; one in ten is quicker, one in ten slower."
            : "Minutes as its layout file says; no job here was timed on this machine yet.";
}
