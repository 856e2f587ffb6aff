using System.Net;
using Idrum.Core.Tests;
using Idrum.Web.Hosting;
using Idrum.Web.Pages;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;

namespace Idrum.Web.Tests;

/// <summary>Help in place: each screen says what it is for, each part what it does and how it wears.</summary>
public sealed class HelpTests(TestHost host) : IClassFixture<TestHost>
{
    /// <summary>Pages that are steps of another, or no screen of their own.</summary>
    private static readonly string[] Elsewhere =
    [
        "away",
        "guide/",
        "help",
        "pair",
        "trust",
        "pulse",
        "welcome",
        "log/",
        "machines/",
        "practice/",
        "jobs/{number}",
        "jobs/import",
        "jobs/{number}/better",
        "jobs/{number}/customer",
        "jobs/{number}/go",
        "jobs/{number}/machine",
        "jobs/{number}/package",
        "jobs/{number}/recondition",
        "jobs/{number}/variant",
    ];

    private IEnumerable<string> Routes =>
        host.Get<IEnumerable<EndpointDataSource>>()
            .SelectMany(s => s.Endpoints)
            .OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is not null)
            .Select(e => e.RoutePattern.RawText!.TrimStart('/'))
            .Where(r => !r.EndsWith("Index", StringComparison.OrdinalIgnoreCase))
            .Distinct();

    [Fact]
    public void Every_sentence_is_of_a_page_and_every_screen_of_a_job_has_one()
    {
        var said = HelpModel.Read(host.Get<IdrumOptions>()).Select(s => s.Page.TrimStart('/')).ToList();
        Assert.Equal(said.Count, said.Distinct().Count());
        var pages = Routes.ToHashSet(StringComparer.OrdinalIgnoreCase);
        Assert.All(said, s => Assert.True(s.Length == 0 || pages.Contains(s), s));
        var silent = Routes
            .Except(said, StringComparer.OrdinalIgnoreCase)
            .Where(r =>
                !Elsewhere.Any(e => e.EndsWith('/') ? r.StartsWith(e, StringComparison.OrdinalIgnoreCase) : e == r)
            )
            .ToList();
        Assert.True(silent.Count == 0, string.Join(", ", silent));
    }

    [Fact]
    public void Every_kind_of_part_says_what_it_does_and_how_it_wears() =>
        Assert.All(TestShop.Shop.Words.PartKinds, k =>
            Assert.True(k.Does.EndsWith('.') && k.Worn.EndsWith('.') && k.Does != k.Worn, k.Id)
        );

    [Fact]
    public async Task Of_a_job_it_tells_the_parts_of_its_machine_only()
    {
        var drum = await host.Client.GetStringAsync("/help?of=/jobs/J-0147/find");
        Assert.Contains("One thing to do next", drum);
        Assert.Contains("Quenby QD-62", drum);
        Assert.Contains("Roller the drum runs on", drum);
        Assert.DoesNotContain("Greased cup", drum);
        var belt = await host.Client.GetStringAsync("/machines/quenby-qd62?part=idler");
        Assert.Contains("Presses on the belt", belt);
    }

    [Fact]
    public async Task Each_part_is_drawn_beside_its_sentence_and_nothing_else_of_the_machine()
    {
        var page = new AngleSharp.Html.Parser.HtmlParser().ParseDocument(
            await host.Client.GetStringAsync("/help?of=/jobs/J-0147/find")
        );
        var layout = TestShop.Machine("quenby-qd62").Layout;
        var drawn = 0;
        foreach (var (term, says) in page.QuerySelectorAll("dl.terms dt").Zip(page.QuerySelectorAll("dl.terms dd")))
        {
            var kind = TestShop.Shop.Words.PartKinds.Single(k => k.Name == term.TextContent.Trim()).Id;
            var parts = layout.PartsOfKind([kind]).ToList();
            var titles = says.QuerySelectorAll("svg title").Select(t => t.TextContent).Distinct().ToList();
            Assert.Equal(parts.Any(p => layout.Solids.Any(s => s.Part == p.Id)) ? 1 : 0, titles.Count);
            Assert.All(titles, t => Assert.Contains(parts, p => p.Name == t));
            drawn += titles.Count;
        }
        Assert.True(drawn > 12, $"{drawn} are drawn");
        // Where no machine is in question every kind that any draws is drawn.
        var all = await host.Client.GetStringAsync("/help");
        Assert.True(AngleSharpCount(all) > drawn);
        static int AngleSharpCount(string html) =>
            new AngleSharp.Html.Parser.HtmlParser().ParseDocument(html).QuerySelectorAll("dl.terms svg").Length;
    }

    [Theory]
    [InlineData("")]
    [InlineData("/")]
    [InlineData("https://elsewhere/x")]
    [InlineData("/jobs/NO-SUCH/find")]
    [InlineData("/machines/%00")]
    [InlineData("/{number}/{{")]
    public async Task Of_whatever_address_it_answers(string of) =>
        Assert.Equal(
            HttpStatusCode.OK,
            (await host.Client.GetAsync("/help?of=" + Uri.EscapeDataString(of))).StatusCode
        );
}
