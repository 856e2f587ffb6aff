using System.Globalization;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Drawing;
using Idrum.Web.Machines;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.WebUtilities;

namespace Idrum.Web.Pages.Machines;

/// <summary>A machine turned by hand and taken apart, with what each part is for.</summary>
public sealed class TourModel(ShopSnapshot shop, WorkGate gate) : PageModel
{
    private IReadOnlyList<Fault> faults = [];
    private HashSet<string> heard = [];

    public Layout Layout { get; private set; } = null!;

    /// <summary>The part that is shown; null for none.</summary>
    public Part? Part { get; private set; }

    /// <summary>What comes off or loose, in this order: all that stands before the part, else before everything that
    /// wears.</summary>
    public IReadOnlyList<Operation> Removal { get; private set; } = [];

    /// <summary>How many steps are done.</summary>
    public int At { get; private set; }

    /// <summary>Where the eye stands.</summary>
    public string Eye { get; private set; } = "slanting";

    /// <summary>Whether one begins behind the machine: nobody said from where, and the part is reached from there.</summary>
    public bool FromBehind =>
        Part is not null && !Request.Query.ContainsKey("eye") && Removal is [.., { View: "behind" }];

    /// <summary>A part of the address that is none of the machine's.</summary>
    public string Unknown { get; private set; } = "";

    public async Task<IActionResult> OnGetAsync(
        [FromRoute] string id,
        [FromQuery] string? part,
        [FromQuery] int? at,
        [FromQuery] string? eye
    )
    {
        if (shop.FindLayout(id) is not { } layout)
        {
            return NotFound();
        }
        var machine = shop.For(layout);
        Layout = machine.Layout;
        Part = Layout.FindPart(part ?? "");
        Unknown = part is { Length: > 0 } && Part is null ? part : "";
        IReadOnlyList<PartId> goals = Part is { Wears: true } one
            ? [one.Id]
            : [.. Layout.Parts.Where(p => p.Wears).Select(p => p.Id)];
        var plan = await gate.RunAsync(
            stop => machine.Planner.Plan(new(goals, [], new Dictionary<string, OperationId>()), stop),
            HttpContext.RequestAborted
        );
        Removal = plan?.Removal ?? [];
        At = Math.Clamp(at ?? (Part is null ? 0 : Removal.Count), 0, Removal.Count);
        Eye = Projection.Names.Contains(eye ?? "") ? eye! : "slanting";
        faults = machine.Diagnostician.Model.Faults;
        heard = [.. SoundLibrary.Of(machine).Select(s => s.Id)];
        return Page();
    }

    /// <summary>How the parts stand after the steps that are done.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> Conditions =>
        PartStates.Of(JobState.Empty with { Out = [.. Removal.Take(At).Select(o => o.Id)] }, Layout);

    /// <summary>What is for looking at: what is shown, then those that wear, then the rest.</summary>
    public IReadOnlyList<Part> Parts =>
        [.. Layout.Parts.OrderBy(p => p != Part).ThenBy(p => !p.Wears).ThenBy(p => p.Name, StringComparer.Ordinal)];

    /// <summary>What a part is; null where the vocabulary has no such kind.</summary>
    public PartKind? KindOf(Part part) => shop.Words.FindKind(part.Kind);

    /// <summary>Whether the part stands in the picture.</summary>
    public bool Drawn(Part part) => Layout.Solids.Any(s => s.Part == part.Id);

    /// <summary>What goes wrong with it, and whether there is a sound of it.</summary>
    public IEnumerable<(Fault Fault, bool Heard)> FaultsOf(Part part) =>
        faults.Where(f => f.Kinds.Contains(part.Kind)).Select(f => (f, heard.Contains(f.Id)));

    /// <summary>What regulates and what cuts out on this machine: each kind once.</summary>
    public IReadOnlyList<(Part Part, PartKind Kind)> Guards =>
        [
            .. Layout
                .Parts.Select(p => (Part: p, Kind: KindOf(p)))
                .Where(p => p.Kind is { Guards.Length: > 0 })
                .DistinctBy(p => p.Part.Kind)
                .Select(p => (p.Part, p.Kind!)),
        ];

    /// <summary>This page with something else shown; another part is shown with all before it taken off.</summary>
    public string To(string? part = null, string? eye = null)
    {
        var query = new Dictionary<string, string?>();
        if ((part ?? Part?.Id) is { } shown)
        {
            query["part"] = shown;
        }
        if (part is null)
        {
            query["at"] = At.ToString(CultureInfo.InvariantCulture);
        }
        if ((eye ?? Eye) is var seen && seen != "slanting")
        {
            query["eye"] = seen;
        }
        return QueryHelpers.AddQueryString($"/machines/{Layout.Id}/tour", query);
    }
}
