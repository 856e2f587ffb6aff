using Idrum.Web.Hosting;
using Markdig;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>The guide that ships with the application.</summary>
public sealed class GuideModel : PageModel
{
    private static readonly MarkdownPipeline Plain = new MarkdownPipelineBuilder().DisableHtml().Build();

    internal static string Folder => Path.Combine(AppContext.BaseDirectory, "guide");

    public IHtmlContent Body { get; private set; } = HtmlString.Empty;

    public bool First { get; private set; }

    public IActionResult OnGet(string? topic)
    {
        var name = topic ?? "index";
        var file = Path.Combine(Folder, name + ".md");
        if (!name.All(c => char.IsAsciiLetterLower(c) || c == '-') || !System.IO.File.Exists(file))
        {
            return NotFound();
        }
        First = name == "index";
        Body = new HtmlString(Of(System.IO.File.ReadAllText(file)));
        return Page();
    }

    /// <summary>A page of the guide as HTML: links between its pages and its pictures lead to where they are served.</summary>
    internal static string Of(string markdown) =>
        Markdown
            .ToHtml(markdown, Plain)
            .Replace("src=\"../screenshots/", "loading=\"lazy\" src=\"/guide/pictures/", StringComparison.Ordinal)
            .Replace(".md\"", "\"", StringComparison.Ordinal)
            .Replace("<a href=\"", "<a href=\"/guide/", StringComparison.Ordinal);

    /// <summary>A picture of the guide.</summary>
    public static IResult Picture(string name) =>
        name.All(c => char.IsAsciiLetterLower(c) || c == '-')
        && Path.Combine(Folder, "pictures", name + ".png") is var file
        && System.IO.File.Exists(file)
            ? Results.File(file, "image/png")
            : Results.NotFound();
}
