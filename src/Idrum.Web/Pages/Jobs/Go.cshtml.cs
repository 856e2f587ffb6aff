using Idrum.Core.Basics;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Leads to the station in work.</summary>
public sealed class GoModel(JobDesk desk) : PageModel
{
    public IActionResult OnGet([FromRoute] string number) =>
        desk.Open(number) is { } view
            ? LocalRedirect($"/jobs/{Uri.EscapeDataString(view.State.Number)}/{view.State.Station.Word()}")
            : NotFound();
}
