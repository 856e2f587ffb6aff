using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>No complaint: everything that wears as one set, region by region.</summary>
public sealed class ReconditionModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Find;

    /// <summary>The way to everything that wears, from the present state.</summary>
    public TeardownPlan? Plan { get; private set; }

    /// <summary>Wear parts by region.</summary>
    public IReadOnlyList<(string Region, IReadOnlyList<Part> Parts)> Regions { get; private set; } = [];

    /// <summary>Name of a region.</summary>
    public string NameOf(string region) =>
        View.Machine.Words.Regions.FirstOrDefault(r => r.Id == region)?.Name ?? "Elsewhere";

    protected override async Task PrepareAsync()
    {
        await base.PrepareAsync();
        var wear = View.Layout.Parts.Where(p => p.Wears).Select(p => p.Id).ToList();
        Plan = await Services.Gate.RunAsync(
            stop => View.Machine.Planner.Plan(new(wear, State.Out, State.WaysIn) { StepsIn = State.StepsIn }, stop),
            HttpContext.RequestAborted
        );
        Regions = Reconditioning.ByRegion(
            View.Layout,
            [.. State.Out.Select(View.Layout.FindOperation).OfType<Operation>(), .. Plan?.Removal ?? []]
        );
    }
}
