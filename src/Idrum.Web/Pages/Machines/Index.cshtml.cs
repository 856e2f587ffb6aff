using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>All machines, and files that were set aside.</summary>
public sealed class IndexModel(ShopSnapshot shop, ShopKeeper keeper, LayoutIntake intake, LayoutStore layouts)
    : PageModel
{
    /// <summary>The file that was just tried and not taken.</summary>
    public string Tried { get; private set; } = "";

    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    /// <summary>Takes a set-aside variant with its parent as that is now.</summary>
    public IActionResult OnPost()
    {
        var name = Request.Form["file"].ToString();
        if (
            shop.SetAside.FirstOrDefault(f => f.File == name) is not { } file
            || ParentOffer.Of(shop, file) is not { } offer
        )
        {
            return this.SeeOther("/machines");
        }
        var (layout, wrong) = intake.Read(offer.Text, shop.ParentOf);
        if (layout is null)
        {
            (Tried, Wrong) = (name, wrong);
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        layouts.Add(layout, "");
        keeper.Change(now => now.Settled(file));
        return this.SeeOther($"/machines/{layout.Id}?taken=1");
    }
}
