using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Core.Teardown;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>One layout, drawn, with the way to each wear part.</summary>
public sealed class MachineModel(ShopKnowledge shop) : PageModel
{
    public Layout Layout { get; private set; } = null!;

    public Part? Part { get; private set; }

    public string Unknown { get; private set; } = "";

    public TeardownPlan? Plan { get; private set; }

    public IActionResult OnGet([FromRoute] string id, [FromQuery] string? part)
    {
        if (shop.FindLayout(id) is not { } layout)
        {
            return NotFound();
        }
        Layout = layout;
        Part = layout.FindPart(part ?? "");
        Unknown = part is not null && Part is null ? part : "";
        Plan = Part is null ? null : PlanTo(Part.Id);
        return Page();
    }

    public int StepsTo(string partId) => PlanTo(partId)?.Removal.Count ?? 0;

    private TeardownPlan? PlanTo(string partId) => shop.For(Layout).Planner.Plan(new([partId], [], new Dictionary<string, string>()));
}
