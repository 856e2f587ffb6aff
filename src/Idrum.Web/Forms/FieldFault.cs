using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.Rendering;

namespace Idrum.Web.Forms;

/// <summary>What is wrong with a field, at the field. It may repeat what was typed, so it is words and never
/// markup.</summary>
public static class FieldFault
{
    /// <summary>The words under a field; nothing where nothing is wrong.</summary>
    public static IHtmlContent Of(string wrong)
    {
        if (wrong.Length == 0)
        {
            return HtmlString.Empty;
        }
        var said = new TagBuilder("p");
        said.AddCssClass("field-wrong");
        said.InnerHtml.Append(wrong);
        return said;
    }
}
