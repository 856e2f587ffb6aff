using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Pages.Shop;
using Idrum.Web.Paper;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>The first start: what Idrum cannot know of a shop, asked once; put off it stays under Shop.</summary>
public sealed class WelcomeModel(
    MoneyDesk money,
    Logo logo,
    SettingStore settings,
    ShopSnapshot shop,
    IdrumOptions options
) : PageModel
{
    private const int MostName = 60;

    /// <summary>The settings that are asked for, as the shop's own page reads and keeps them.</summary>
    public MoneySection Money => section ??= new(money, logo, Request);

    private MoneySection? section;

    public IReadOnlyList<Layout> Layouts => shop.Layouts;

    /// <summary>Whether phones of the network can reach it.</summary>
    public bool Lan => options.Lan;

    /// <summary>Who works at this computer, as typed or kept.</summary>
    public string Here =>
        Request.HasFormContentType ? Request.Form["here"].ToString() : settings.Get(SettingStore.PersonHere);

    /// <summary>What is wrong with that name, or empty.</summary>
    public string HereWrong { get; private set; } = "";

    /// <summary>What is wrong, or empty.</summary>
    public string Wrong { get; private set; } = "";

    /// <summary>Whether it was gone through.</summary>
    public bool Done { get; private set; }

    public void OnGet() => Done = Request.Query["done"] == "1";

    public IActionResult OnPost()
    {
        if (Request.Form["do"] == "later")
        {
            settings.Set(SettingStore.Welcomed, "skipped");
            return this.SeeOther("/");
        }
        var errors = new FieldErrors();
        errors.Text(Here.Trim(), "here", MostName);
        HereWrong = errors.All.Count > 0 ? errors.All[0].Message : "";
        // Nothing is kept by half.
        Wrong =
            HereWrong.Length > 0 ? "Who works at this computer: " + HereWrong
            : Money.Keep() is { Taken: false } refused ? refused.Words
            : "";
        if (Wrong.Length > 0)
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        settings.Set(SettingStore.PersonHere, Here.Trim());
        settings.Set(SettingStore.Welcomed, "yes");
        return this.SeeOther("/welcome?done=1");
    }
}
