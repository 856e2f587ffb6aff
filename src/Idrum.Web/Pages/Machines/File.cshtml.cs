using Idrum.Core.Content;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Machines;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>A layout as a file: brought in or written by hand, read on trial, then taken among the shop's
/// own.</summary>
public sealed class FileModel(ShopSnapshot shop, LayoutIntake intake, LayoutStore layouts, WorkGate gate) : PageModel
{
    /// <summary>The text as it stands.</summary>
    public string Text { get; private set; } = "";

    /// <summary>What the trial showed; null before.</summary>
    public LayoutTrial? Trial { get; private set; }

    /// <summary>Hash of the writing the text was made from; empty for a new one.</summary>
    public string Base { get; private set; } = "";

    /// <summary>The writing that was stored meanwhile by someone else; null where there is none.</summary>
    public Layout? Meanwhile { get; private set; }

    public IActionResult OnGet()
    {
        if (Request.Query["id"].ToString() is { Length: > 0 } id)
        {
            if (shop.FindLayout(id) is not { } layout)
            {
                return NotFound();
            }
            (Text, Base) = (Variants.FileOf(layout), Variants.HashOf(layout));
        }
        return Page();
    }

    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        Base = Request.Form["base"].ToString();
        Text = Request.Form["text"].ToString().ReplaceLineEndings("\n");
        if (file is { Length: > 0 })
        {
            if (file.Length > 2 * LayoutReader.Longest)
            {
                Trial = new(null, [new(0, "", "A layout file has 1 MB at most.")], null);
                return Refuse();
            }
            using var reader = new StreamReader(file.OpenReadStream());
            (Text, Base) = (await reader.ReadToEndAsync(HttpContext.RequestAborted), "");
        }
        Trial = await gate.RunAsync(
            stop => LayoutTrial.Of(Text, shop, intake, layouts.Own(), stop),
            HttpContext.RequestAborted
        );
        if (Trial.Layout is not { } layout)
        {
            return Refuse();
        }
        if (Request.Form["act"] != "accept")
        {
            return Page();
        }
        if (
            layouts.Replace(layout, Request.Form["over"].ToString() is { Length: > 0 } over ? over : Base) is
            { } present
        )
        {
            Meanwhile = present;
            Response.StatusCode = StatusCodes.Status409Conflict;
            return Page();
        }
        return this.SeeOther($"/machines/{layout.Id}?made=1");
    }

    private PageResult Refuse()
    {
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
