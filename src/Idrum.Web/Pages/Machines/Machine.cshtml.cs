using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Teardown;
using Idrum.Storage;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>One layout, drawn, with the way to each wear part.</summary>
public sealed class MachineModel(ShopSnapshot shop, LayoutIntake intake, LayoutStore layouts) : PageModel
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
        Layout = shop.For(layout).Layout;
        Part = Layout.FindPart(part ?? "");
        Unknown = part is not null && Part is null ? part : "";
        Plan = Part is null ? null : PlanTo(Part.Id);
        return Page();
    }

    /// <summary>What a part is; null where the vocabulary has no such kind.</summary>
    public PartKind? KindOf(Part part) => shop.Words.PartKinds.FirstOrDefault(k => k.Id == part.Kind);

    /// <summary>How often each part of its drive comes round at the shop's mains.</summary>
    public DriveRates Rates => rates ??= DriveRates.Of(Layout, shop.Terms.MainsHertz);

    private DriveRates? rates;

    /// <summary>How its faults sound.</summary>
    public IReadOnlyList<(string Id, string Name, string Detail)> Sounds =>
        Idrum.Web.Machines.SoundLibrary.Of(shop.For(shop.FindLayout(Layout.Id)!));

    /// <summary>Whether the layout was made a moment ago.</summary>
    public bool Made => Request.Query.ContainsKey("made");

    /// <summary>What differs from the layout it was made from; null where it was not, or where that is gone.</summary>
    public IReadOnlyList<string>? ParentChanges =>
        shop.FindLayout(Layout.Id)?.From is { } from
        && (shop.FindPinned(from.Hash) ?? shop.FindLayout(from.Id)) is { } parent
            ? LayoutDifference.Words(parent, shop.FindLayout(Layout.Id)!)
            : null;

    /// <summary>What the layout it was made from would bring, where that has changed since.</summary>
    public ParentOffer? Offer => shop.FindLayout(Layout.Id) is { } whole ? ParentOffer.Of(shop, whole) : null;

    /// <summary>What is wrong with the offer taken over; empty until it was tried.</summary>
    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    /// <summary>Takes the parent's change over: the next version of this layout, where it is sound.</summary>
    public IActionResult OnPost([FromRoute] string id)
    {
        var page = OnGet(id, null);
        if (page is PageResult && Request.Form["act"] == "delete")
        {
            if (!Own || OpenJobs.Count > 0)
            {
                return this.SeeOther($"/machines/{id}");
            }
            layouts.Remove(id);
            return this.SeeOther("/machines?deleted=1");
        }
        if (page is not PageResult || Offer is not { } offer)
        {
            return page is PageResult ? this.SeeOther($"/machines/{id}") : page;
        }
        var (layout, wrong) = intake.Read(offer.Text, shop.ParentOf);
        if (layout is null)
        {
            Wrong = wrong;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        layouts.Add(layout, "");
        return this.SeeOther($"/machines/{id}?taken=1");
    }

    /// <summary>How many closed jobs timed its steps.</summary>
    public int TimedJobs => shop.Times?.Jobs.GetValueOrDefault(Layout.Id) ?? 0;

    /// <summary>Whether it is one of the shop's own.</summary>
    public bool Own => layouts.Own().Any(o => o.LayoutId == Layout.Id);

    /// <summary>Open jobs that use it.</summary>
    public IReadOnlyList<string> OpenJobs => layouts.OpenJobs(Layout.Id);

    public bool Taken => Request.Query.ContainsKey("taken");

    /// <summary>How the parts stand once the part lies free.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> Opened =>
        PartStates.Of(JobState.Empty with { Out = [.. Plan!.Removal.Select(o => o.Id)] }, Layout);

    /// <summary>The side from which one gets at the part.</summary>
    public string Side => Plan?.Removal is { Count: > 0 } steps && steps[^1].View is "behind" ? "behind" : "door";

    public int StepsTo(string partId) => PlanTo(partId)?.Removal.Count ?? 0;

    private TeardownPlan? PlanTo(string partId) =>
        shop.For(Layout).Planner.Plan(new([partId], [], new Dictionary<string, OperationId>()));
}
