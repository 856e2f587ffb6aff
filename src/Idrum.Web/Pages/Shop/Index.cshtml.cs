using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Shop;

/// <summary>Keeping the shop: devices, who works at this computer, backups.</summary>
public sealed class IndexModel(DeviceStore devices, PairingDesk desk, PublicAddress address, SettingStore settings, IServiceProvider services) : PageModel
{
    private const int Longest = 60;

    public IReadOnlyList<Device> Devices => devices.List();

    public string Address => address.Network;

    public string Trust => address.Trust;

    public string Fingerprint => services.GetService<ShopAuthority>()?.Fingerprint ?? "";

    public string Here => settings.Get(SettingStore.PersonHere);

    public string Person { get; private set; } = "";

    public string Name { get; private set; } = "";

    public string Wrong { get; private set; } = "";

    public string Said { get; private set; } = "";

    /// <summary>The invitation just made, or null.</summary>
    public Invitation? Invited { get; private set; }

    public IActionResult OnPost([FromRoute] string act) => act switch
    {
        "pair" => Pair(),
        "revoke" => Done(Guid.TryParse(Request.Form["device"], out var id) && devices.Revoke(id), "Revoked: its next request is that of a stranger.", "There is no such device in use."),
        "here" => KeepHere(),
        _ => NotFound(),
    };

    private PageResult Pair()
    {
        (Person, Name) = (Request.Form["person"].ToString().Trim(), Request.Form["name"].ToString().Trim());
        if (Person.Length is 0 or > Longest || Name.Length is 0 or > Longest)
        {
            return Refuse(Person.Length is 0 or > Longest ? $"Person: whose device is it? {Longest} signs at most." : $"Device: what is it called? {Longest} signs at most.");
        }
        Invited = desk.Invite(Name, Person, Request.Form["keeps"] == "true");
        return Page();
    }

    private IActionResult KeepHere()
    {
        var name = Request.Form["here"].ToString().Trim();
        if (name.Length > Longest)
        {
            return Refuse($"Who works at it: {Longest} signs at most.");
        }
        settings.Set(SettingStore.PersonHere, name);
        return this.SeeOther("/shop");
    }

    private PageResult Done(bool done, string said, string wrong)
    {
        if (!done)
        {
            return Refuse(wrong);
        }
        Said = said;
        return Page();
    }

    private PageResult Refuse(string words)
    {
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Wrong = words;
        return Page();
    }
}
