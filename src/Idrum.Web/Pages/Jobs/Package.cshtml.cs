using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>What a device takes along to go through the job without a link.</summary>
public sealed class PackageModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    public JobPackage Package { get; private set; } = null!;

    public override async Task<IActionResult> OnGetAsync([FromRoute] string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        if (
            await Services.Gate.RunAsync(stop => JobPackage.Of(View, stop), HttpContext.RequestAborted)
            is not { } package
        )
        {
            return NotFound();
        }
        Package = package;
        return Page();
    }

    public override Task<IActionResult> OnPostAsync([FromRoute] string number) =>
        Task.FromResult<IActionResult>(NotFound());

    /// <summary>The floor at a view; null where the view is of Fit.</summary>
    public FloorModel? FloorAt(PackageView view) =>
        view.Step.StartsWith("fit:", StringComparison.Ordinal) || view.Step == "fitted"
            ? null
            : Made(new FloorModel(Services), view.View);

    /// <summary>Fit at a view.</summary>
    public FitModel FitAt(PackageView view) =>
        Made(
            new FitModel(Services)
            {
                InWork = view.Part,
                CoatsAgain = view.Step.EndsWith(":coat", StringComparison.Ordinal),
            },
            view.View
        );

    private T Made<T>(T page, JobView view)
        where T : JobPage
    {
        page.PageContext = PageContext;
        page.Foresee(view);
        return page;
    }
}
