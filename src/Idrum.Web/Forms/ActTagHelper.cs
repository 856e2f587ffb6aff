using System.Runtime.CompilerServices;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Idrum.Web.Forms;

/// <summary>What every form of an act carries: its kind, an id of its own so that sending it twice changes nothing, the
/// last act
/// the page knew, where to go on, and the token against forged posts.</summary>
[HtmlTargetElement("act", TagStructure = TagStructure.WithoutEndTag)]
public sealed class ActTagHelper(IHtmlGenerator html) : TagHelper
{
    [ViewContext, HtmlAttributeNotBound]
    public ViewContext ViewContext { get; set; } = null!;

    /// <summary>Kind of event.</summary>
    public string Kind { get; set; } = "";

    /// <summary>Where to go on, or null.</summary>
    public string? Next { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = null;
        Hidden(output, "kind", Kind, ActEffect.All.GetValueOrDefault(Kind)?.Begins == true);
        // A partial is given the page, or the page first among what it needs.
        var job = ViewContext.ViewData.Model is ITuple parts
            ? parts[0] as JobPage
            : ViewContext.ViewData.Model as JobPage;
        if (job is { Foreseen: true })
        {
            // The device gives it an id when it is made.
            if (Next is not null)
            {
                Hidden(output, "next", Next);
            }
            return;
        }
        Hidden(output, "id", Guid.NewGuid().ToString());
        if (job is not null)
        {
            Hidden(output, "knew", job.View.Job.Log[^1].Id.ToString());
        }
        if (Next is not null)
        {
            Hidden(output, "next", Next);
        }
        output.Content.AppendHtml(html.GenerateAntiforgery(ViewContext));
    }

    private static void Hidden(TagHelperOutput output, string name, string value, bool begins = false)
    {
        var input = new TagBuilder("input") { TagRenderMode = TagRenderMode.SelfClosing };
        input.MergeAttribute("type", "hidden");
        input.MergeAttribute("name", name);
        input.MergeAttribute("value", value);
        if (begins)
        {
            // Something that is waited for begins with it.
            input.MergeAttribute("data-begins", "");
        }
        output.Content.AppendHtml(input);
    }
}
