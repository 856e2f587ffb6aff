using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>A piece of Find that comes later: what thinking the job through puts before the first advice.</summary>
public sealed class BetterModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Find;

    /// <summary>The better advice, or null where the first one stands.</summary>
    public Advice? Better { get; private set; }

    protected override async Task PrepareAsync()
    {
        await View.DiagnoseAsync(Services.Gate, HttpContext.RequestAborted);
        Better = await View.BetterAsync(Services.Gate, HttpContext.RequestAborted);
    }
}
