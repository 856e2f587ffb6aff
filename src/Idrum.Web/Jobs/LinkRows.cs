using System.Net;
using System.Text;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Jobs;

/// <summary>A list of links that the filter above it thins out; written in one piece, because such lists are long.</summary>
public static class LinkRows
{
    /// <param name="rows">Address, name, and what stands at the end of the line or nothing.</param>
    public static HtmlString Of(IEnumerable<(string Address, string Name, string Figure)> rows)
    {
        var html = new StringBuilder("<div class=\"rows\">");
        foreach (var (address, name, figure) in rows)
        {
            html.Append("<div class=\"row\" data-row><a href=\"").Append(WebUtility.HtmlEncode(address)).Append("\">").Append(WebUtility.HtmlEncode(name)).Append("</a>");
            if (figure.Length > 0)
            {
                html.Append("<span class=\"num\">").Append(WebUtility.HtmlEncode(figure)).Append("</span>");
            }
            html.Append("</div>");
        }
        return new(html.Append("</div>").ToString());
    }
}
