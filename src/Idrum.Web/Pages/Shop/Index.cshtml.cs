using Idrum.Storage;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Paper;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Shop;

/// <summary>Keeping the shop, a section a matter.</summary>
public sealed class IndexModel(
    DeviceStore devices,
    PairingDesk desk,
    PublicAddress address,
    SettingStore settings,
    BackupDesk backups,
    RestoreDesk restore,
    GlueDesk glue,
    MoneyDesk money,
    VanDesk vans,
    Logo logo,
    IdrumOptions options,
    TimeProvider clock,
    IServiceProvider services
) : PageModel
{
    public DeviceSection Devices => field ??= new(devices, desk, address, settings, services, Request);

    public BackupSection Backups => field ??= new(backups, restore, settings, options, clock, services, Request);

    public GlueSection Glue => field ??= new(glue, money, Request);

    public MoneySection Money => field ??= new(money, logo, Request);

    public VanSection Vans => field ??= new(vans, money, Request);

    public SoundSection Sounds =>
        field ??= new(
            services.GetRequiredService<SoundRoom>(),
            services.GetRequiredService<JobStore>(),
            clock,
            Request
        );

    public string Wrong { get; private set; } = "";

    public string Said { get; private set; } = "";

    /// <summary>What is written into the log: who is let in, and what takes the shop away or back.</summary>
    private static readonly string[] Told = ["pair", "revoke", "restore", "backup", "sounds-drop", "left-drop"];

    private void Tell(string act, string what = "") =>
        services.GetRequiredService<SecurityLog>().Kept(HttpContext.Caller(), act, what);

    public IActionResult OnGet([FromRoute] string? act)
    {
        if (act is "file" or "export")
        {
            Tell(act);
        }
        return act switch
        {
            null => Page(),
            "file" => Backups.WholeShop(),
            "export" => Backups.Export(),
            "restoring" => Restoring(),
            _ => NotFound(),
        };
    }

    /// <summary>How far a backup is looked at; once the shop has begun anew, the way to it.</summary>
    private IActionResult Restoring()
    {
        if (Backups.Work is { } work)
        {
            return Partial("_Restoring", work);
        }
        Response.Headers["HX-Redirect"] = "/";
        return new NoContentResult();
    }

    public async Task<IActionResult> OnPostAsync([FromRoute] string act)
    {
        var passphrase = Request.Form["passphrase"].ToString();
        if (act == "file" && SealedKeys.Fault(passphrase).Length == 0)
        {
            Tell(act, "with its keys");
            return Backups.WholeShop(passphrase);
        }
        Reply? reply = act switch
        {
            "backup" => Backups.Backup(),
            "restore" => await Backups.RestoreAsync(),
            "restore-stop" => Backups.EndRestore(),
            "file" => Reply.Refused(SealedKeys.Fault(passphrase)),
            "seen" => Backups.Seen(),
            "pair" => Devices.Pair(),
            "revoke" => Devices.Revoke(),
            "left-note" => await Devices.KeepLeftAsync(HttpContext),
            "left-drop" => Devices.DropLeft(),
            "here" => Devices.KeepHere(),
            "warmth" => Glue.KeepWarmth(),
            "label" => Glue.KeepLabel(),
            "money" => Money.Keep(),
            "vans" => Vans.Keep(),
            "sounds" => Sounds.Keep(),
            "sounds-drop" => await Sounds.DropAsync(HttpContext),
            "logo" => Money.KeepLogo(),
            _ => null,
        };
        switch (reply)
        {
            case null:
                return NotFound();
            case { Taken: false }:
                Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
                Wrong = reply.Words;
                return Page();
            default:
                if (Told.Contains(act))
                {
                    Tell(act, Devices.Touched);
                }
                Said = reply.Words;
                return act == "here" ? this.SeeOther("/shop") : Page();
        }
    }
}
