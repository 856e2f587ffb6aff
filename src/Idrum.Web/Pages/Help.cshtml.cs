using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>What a screen is for, and what the parts of its machine are. Its keys are read off the screen itself.</summary>
public sealed class HelpModel(
    IEnumerable<EndpointDataSource> routes,
    IdrumOptions options,
    JobStore store,
    ShopSnapshot shop
) : PageModel
{
    /// <summary>A sentence of help.</summary>
    /// <param name="Page">Route of the page.</param>
    /// <param name="Says">What it is for.</param>
    public sealed record Sentence(string Page, string Says);

    /// <summary>What the screen is for; empty where nobody wrote it.</summary>
    public string Says { get; private set; } = "";

    /// <summary>The machine in question; null where none is.</summary>
    public Layout? Machine { get; private set; }

    /// <summary>The parts of that machine, or of all, each kind once; with the machine it is drawn from, null where none draws
    /// it.</summary>
    public IReadOnlyList<(PartKind Kind, string Part, Layout? Drawn)> Kinds { get; private set; } = [];

    private (PartKind, string, Layout?) Of(PartKind kind)
    {
        (Layout Layout, string Part) First(IEnumerable<Layout> layouts) =>
            layouts
                .SelectMany(l => l.PartsOfKind([kind.Id]).Select(p => (Layout: l, Part: p.Id)))
                .FirstOrDefault(p => p.Layout.Solids.Any(s => s.Part == p.Part));
        var own = Machine?.Parts.FirstOrDefault(p => p.Kind == kind.Id)?.Id ?? "";
        var drawn = Machine is null ? First(shop.Layouts) : First([Machine]);
        return (kind, drawn.Part ?? own, drawn.Layout);
    }

    /// <summary>All sentences that are written.</summary>
    public static IReadOnlyList<Sentence> Read(IdrumOptions options) =>
        JsonSerializer.Deserialize<List<Sentence>>(
            System.IO.File.ReadAllText(Path.Combine(options.ContentFolder, "help.json")),
            IdrumJson.Options
        )!;

    public void OnGet()
    {
        var of =
            Request.Query["of"].ToString() is { Length: > 0 and <= 200 } path
            && path[0] == '/'
            && !path.Contains("%00", StringComparison.Ordinal)
                ? path
                : "/";
        var (route, values) = RouteOf(of);
        Says = Read(options).FirstOrDefault(s => s.Page == route)?.Says ?? "";
        Machine =
            values.TryGetValue("number", out var number) && store.Find(number?.ToString() ?? "") is { State: var state }
                ? shop.MachineOf(state).Layout
            : values.TryGetValue("id", out var id) ? shop.FindLayout(id?.ToString() ?? "")
            : null;
        Kinds =
        [
            .. shop
                .Words.PartKinds.Where(k => k.Does.Length > 0)
                .Where(k => Machine is null || Machine.PartsOfKind([k.Id]).Any())
                .Select(Of),
        ];
    }

    /// <summary>The page an address leads to, as its route is written.</summary>
    private (string Route, RouteValueDictionary Values) RouteOf(string path)
    {
        foreach (
            var endpoint in routes
                .SelectMany(r => r.Endpoints)
                .OfType<RouteEndpoint>()
                .Where(e =>
                    e.Metadata.GetMetadata<Microsoft.AspNetCore.Mvc.RazorPages.PageActionDescriptor>() is not null
                )
                .OrderBy(e => e.RoutePattern.Parameters.Count)
        )
        {
            var values = new RouteValueDictionary();
            var template = Microsoft.AspNetCore.Routing.Template.TemplateParser.Parse(
                endpoint.RoutePattern.RawText!.TrimStart('/')
            );
            if (new Microsoft.AspNetCore.Routing.Template.TemplateMatcher(template, []).TryMatch(path, values))
            {
                return ("/" + endpoint.RoutePattern.RawText!.TrimStart('/'), values);
            }
        }
        return ("", []);
    }
}
