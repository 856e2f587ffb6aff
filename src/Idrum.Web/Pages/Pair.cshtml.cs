using System.Net;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>A phone becomes a named device of a named person.</summary>
public sealed class PairModel(PairingDesk desk, DeviceStore devices, SecurityLog log) : PageModel
{
    private static readonly TimeSpan Life = TimeSpan.FromDays(400);

    /// <summary>Who this is already, or null.</summary>
    public Caller? Paired => HttpContext.Features.Get<Caller>() is { Here: false } caller ? caller : null;

    public string Wrong { get; private set; } = "";

    public string Code { get; private set; } = "";

    public async Task<IActionResult> OnPostAsync()
    {
        var from = HttpContext.Connection.RemoteIpAddress ?? IPAddress.None;
        Code = Request.Form["code"].ToString() is { Length: <= 40 } typed ? typed : "";
        if (desk.WaitSeconds(from) is var wait and > 0)
        {
            Response.Headers.RetryAfter = wait.ToString(System.Globalization.CultureInfo.InvariantCulture);
            return Refuse(
                StatusCodes.Status429TooManyRequests,
                $"Too many wrong codes. Wait {wait} s, then try again with a new code."
            );
        }
        if (desk.Take(Code, from) is not { } invitation)
        {
            log.Wrong(from);
            await Task.Delay(300, HttpContext.RequestAborted);
            return Refuse(
                StatusCodes.Status422UnprocessableEntity,
                "This code does not hold: mistyped, used already, older than five minutes, or withdrawn after wrong tries. Let the shop's computer show a new one."
            );
        }
        log.Joined(invitation.Name, invitation.Person, invitation.Keeps, from);
        var (_, token) = devices.Add(invitation.Name, invitation.Person, invitation.Keeps);
        Response.Cookies.Append(
            DeviceAuthentication.Cookie,
            token,
            new()
            {
                Path = "/",
                Secure = true,
                HttpOnly = true,
                SameSite = SameSiteMode.Strict,
                MaxAge = Life,
                IsEssential = true,
            }
        );
        return this.SeeOther("/");
    }

    private PageResult Refuse(int status, string words)
    {
        Response.StatusCode = status;
        Wrong = words;
        return Page();
    }
}
