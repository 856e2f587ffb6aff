using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>A new machine, started from the nearest arrangement.</summary>
public sealed partial class NewModel(ShopSnapshot shop, LayoutStore layouts) : PageModel
{
    public IReadOnlyList<Layout> Layouts => shop.Layouts;

    public string From { get; private set; } = "";

    public string Id { get; private set; } = "";

    public string Title { get; private set; } = "";

    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    public string ErrorAt(string field) => Wrong.FirstOrDefault(w => w.Pointer == field)?.Message ?? "";

    public void OnGet() => From = shop.FindLayout(Request.Query["from"].ToString())?.Id ?? "";

    public IActionResult OnPost()
    {
        (From, Id, Title) = (
            Request.Form["from"].ToString(),
            Request.Form["id"].ToString().Trim(),
            Request.Form["title"].ToString().Trim()
        );
        Id = Id.Length > 0 ? Id : IdOf(Title);
        var errors = new FieldErrors();
        var parent = shop.FindLayout(From);
        errors.If(parent is null, "from", "Choose the machine that comes nearest.");
        errors.If(!Ids().IsMatch(Id), "id", "Small letters, digits and hyphens, 48 at most.");
        errors.If(shop.FindLayout(Id) is not null, "id", "The shop has a layout of this id already.");
        errors.Text(Title, "title", 80, true);
        if (errors.All.Count > 0)
        {
            Wrong = errors.All;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        layouts.Add(parent! with { Id = Id, Title = Title, From = new(parent.Id, Variants.HashOf(parent)) }, "");
        return this.SeeOther($"/machines/{Id}/edit");
    }

    /// <summary>The id made from a name; empty where there is no letter in it.</summary>
    public static string IdOf(string name)
    {
        var id = NotInAnId().Replace(name.ToLowerInvariant(), "-").Trim('-');
        return id.Length > 48 ? id[..48].Trim('-') : id;
    }

    [GeneratedRegex(@"\A[a-z0-9][a-z0-9-]{0,47}\z")]
    private static partial Regex Ids();

    [GeneratedRegex("[^a-z0-9]+")]
    private static partial Regex NotInAnId();
}
