using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Idrum.Web.Forms;
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

    /// <summary>Parts that are ticked: as they were sent along, else all that is not known to be sound.</summary>
    public IReadOnlyList<PartId> Ticked { get; private set; } = [];

    /// <summary>What the ticked parts take in minutes and money.</summary>
    public ReconditionWorth Worth { get; private set; } = null!;

    /// <summary>What the machine will sell for, as it was typed.</summary>
    public string Sells => Request.Query["sells"].ToString().Trim();

    /// <summary>The same as a number; null where nothing, or no amount, was typed.</summary>
    public double? Price => TypedNumber.Read(Sells) is { } price and >= 0 and <= MostPrice ? price : null;

    private const double MostPrice = 100_000;

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
        Ticked = Request.Query.ContainsKey("sells")
            ? [.. wear.Where(p => Request.Query["targets"].Contains(p.Value))]
            : ReconditionWorth.Worn(State, View.Machine);
        Worth = await Services.Gate.RunAsync(
            stop => ReconditionWorth.Of(State, View.Machine, Ticked, Terms, stop),
            HttpContext.RequestAborted
        );
        Regions = Reconditioning.ByRegion(
            View.Layout,
            [.. State.Out.Select(View.Layout.FindOperation).OfType<Operation>(), .. Plan?.Removal ?? []]
        );
    }
}
