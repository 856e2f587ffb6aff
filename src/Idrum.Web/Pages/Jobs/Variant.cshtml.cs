using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>How one machine differs from its layout; kept as the shop's own with one act. Also: what a newer layout
/// would change.</summary>
public sealed partial class VariantModel(
    JobServices services,
    ShopSnapshot shop,
    LayoutIntake intake,
    LayoutStore layouts
) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>The layout the job is worked with.</summary>
    public Layout Parent => shop.LayoutOf(State)!;

    public bool Differs => MachineVariant.Differs(State);

    public string Id { get; private set; } = "";

    public string Title { get; private set; } = "";

    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    public IReadOnlyList<string> Changes =>
        LayoutDifference.Words(Parent, MachineVariant.Of(Parent, State, Parent.Id, Parent.Title), View.Machine.Words);

    /// <summary>Hash of the present writing of the layout, where it is another than the job's; else null.</summary>
    public string? Newer =>
        shop.FindLayout(State.Machine.LayoutId) is { } now && Variants.HashOf(now) != Variants.HashOf(Parent)
            ? Variants.HashOf(now)
            : null;

    public IReadOnlyList<string> NewerChanges =>
        LayoutDifference.Words(Parent, shop.FindLayout(State.Machine.LayoutId)!, View.Machine.Words);

    /// <summary>What the job would lose by moving.</summary>
    public IReadOnlyList<string> Lost =>
        Newer is null
            ? []
            :
            [
                .. LayoutChange.Lost(
                    State,
                    shop.FindLayout(State.Machine.LayoutId)!
                        .For(State.FactsOf(shop.FindLayout(State.Machine.LayoutId)!), State.Schools)
                ),
            ];

    protected override Task PrepareAsync()
    {
        Id = $"{Parent.Id}-{State.Number.ToLowerInvariant().Replace('.', '-').Replace('_', '-')}";
        Id = Id.Length > 48 ? Id[..48] : Id;
        Title = $"{Parent.Title}, {State.Machine.Place}";
        Title = Title.Length > 80 ? Title[..80] : Title;
        return base.PrepareAsync();
    }

    public override async Task<IActionResult> OnGetAsync([FromRoute] string number)
    {
        var page = await base.OnGetAsync(number);
        return page is PageResult && Request.Query.ContainsKey("file") && Differs
            ? File(
                JsonSerializer.SerializeToUtf8Bytes(
                    Variants.Between(Parent, MachineVariant.Of(Parent, State, Id, Title)),
                    IdrumJson.Indented
                ),
                "application/json",
                Id + ".json"
            )
            : page;
    }

    /// <summary>Makes the difference a layout of the shop's own; any other act is a job's.</summary>
    public override async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        if (Request.Form.ContainsKey("kind"))
        {
            return await base.OnPostAsync(number);
        }
        if (!Load(number))
        {
            return NotFound();
        }
        await PrepareAsync();
        var form = Request.Form;
        (Id, Title) = (form["id"].ToString().Trim(), form["title"].ToString().Trim());
        var errors = new FieldErrors();
        errors.If(!Ids().IsMatch(Id), "id", "The id holds small letters, digits and hyphens only.");
        errors.Text(Title, "title", 80, true);
        errors.If(!Differs, "id", "Nothing differs.");
        errors.If(
            shop.FindLayout(Id) is not null && layouts.Own().All(o => o.LayoutId != Id),
            "id",
            "The shop came with a layout of this id. Choose another."
        );
        var whole = errors.All.Count > 0 ? null : MachineVariant.Of(Parent, State, Id, Title);
        if (whole is not null)
        {
            var (layout, unsound) = intake.Read(Variants.TextOf(whole), shop.ParentOf);
            foreach (var e in unsound)
            {
                errors.Add(e.Pointer, $"{e.Pointer}: {e.Message}");
            }
            if (layout is not null)
            {
                layouts.Add(layout, State.Number);
                return this.SeeOther($"/machines/{layout.Id}?made=1");
            }
        }
        Wrong = errors.All;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    [GeneratedRegex(@"\A[a-z0-9][a-z0-9-]{0,47}\z")]
    private static partial Regex Ids();
}
