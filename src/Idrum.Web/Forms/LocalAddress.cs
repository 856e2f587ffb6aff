using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Forms;

/// <summary>Where a form goes on: an address of this application, in signs that may stand in a header.</summary>
public static class LocalAddress
{
    /// <summary>The address asked for where it is one of ours, else the other.</summary>
    public static string Of(string asked, string otherwise) =>
        asked.Length is > 0 and < 500
        && asked[0] == '/'
        && (asked.Length == 1 || asked[1] is not ('/' or '\\'))
        && asked.All(c => c is > ' ' and < '\u007f' and not '\\')
            ? asked
            : otherwise;

    /// <summary>See other: reload never repeats the act.</summary>
    public static IActionResult SeeOther(this PageModel page, string url)
    {
        page.Response.Headers.Location = url;
        return page.StatusCode(StatusCodes.Status303SeeOther);
    }
}
