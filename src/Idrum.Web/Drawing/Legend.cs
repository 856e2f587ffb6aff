using System.Net;
using System.Text;
using Idrum.Core.Jobs;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>What the looks of a drawing mean, in words: only those that the picture holds.</summary>
public static class Legend
{
    private static readonly (PartCondition Condition, string Look, string Words)[] Conditions =
    [
        (PartCondition.Out, "out", "is out"), (PartCondition.Loose, "loose", "is loose"), (PartCondition.Freed, "freed", "lies free"), (PartCondition.New, "new", "new"),
    ];

    /// <param name="parts">How parts stand.</param>
    /// <param name="focus">What the filled parts are; empty where none is filled.</param>
    /// <param name="comingOff">Whether some parts are hatched.</param>
    public static HtmlString Of(IReadOnlyDictionary<string, PartCondition> parts, string focus, bool comingOff)
    {
        var html = new StringBuilder("<p class=\"legend\">");
        void Add(string look, string words) => html.Append("<span class=\"l-").Append(look).Append("\">").Append(WebUtility.HtmlEncode(words)).Append("</span>");
        if (focus.Length > 0)
        {
            Add("focus", focus);
        }
        if (comingOff)
        {
            Add("off", "comes off");
        }
        foreach (var (_, look, words) in Conditions.Where(c => parts.Values.Contains(c.Condition)))
        {
            Add(look, words);
        }
        return new(html.Append("</p>").ToString());
    }
}
