using System.Net;
using System.Text.RegularExpressions;
using AngleSharp;
using AngleSharp.Dom;
using Idrum.Core.Identify;

namespace Idrum.Web.Tests;

/// <summary>A shop says which machines it meets: those come first, and are likelier before anything is seen.</summary>
public sealed class MetMachinesTests : IAsyncLifetime
{
    private readonly TestHost host = new() { Demo = false };

    public Task InitializeAsync() => host.InitializeAsync();

    public async Task DisposeAsync() => await host.DisposeAsync();

    private async Task<HttpResponseMessage> SayAsync(params string[] met)
    {
        var page = await PageAsync("/welcome");
        var machines = page.QuerySelector("input[name=machines]")!.GetAttribute("value")!;
        return await host.PostFormAsync(
            "/welcome",
            [("machines", machines), ("here", "A. Hand"), .. met.Select(m => ("met", m))]
        );
    }

    private async Task<IDocument> PageAsync(string path)
    {
        var context = BrowsingContext.New(Configuration.Default);
        var text = await host.Client.GetStringAsync(path);
        return await context.OpenAsync(r => r.Content(text));
    }

    private static string[] Offered(IParentNode page) =>
        [
            .. page.QuerySelectorAll("a.row.choose")
                .Select(a => Regex.Match(a.GetAttribute("href")!, "machine=([a-z0-9-]+)").Groups[1].Value)
                .Where(id => id.Length > 0),
        ];

    [Fact]
    public async Task Those_met_come_first_the_others_are_folded_and_nothing_is_gone()
    {
        var before = Offered(await PageAsync("/jobs/new"));
        Assert.Equal(host.Shop.Layouts.Select(l => l.Id), before);
        string[] met = ["quenby-qd62", "marlune-mf20"];
        Assert.Equal(HttpStatusCode.SeeOther, (await SayAsync(met)).StatusCode);
        await host.RestartAsync();

        var page = await PageAsync("/jobs/new");
        Assert.Equal(before.Order(), Offered(page).Order());
        Assert.Equal(met.Order(), Offered(page).Take(2).Order());
        Assert.Equal(before.Length - 2, Offered(page.QuerySelector("details.more")!).Length);
        // Said once, known wherever a machine is chosen.
        foreach (
            var (path, options) in new[] { ("/week/appointment", "#machine option"), ("/practice", "select option") }
        )
        {
            var first = (await PageAsync(path))
                .QuerySelectorAll(options)
                .Select(o => o.GetAttribute("value"))
                .Where(v => before.Contains(v))
                .Take(2);
            Assert.Equal(met.Order(), first.Order());
        }
        var ticked = (await PageAsync("/welcome")).QuerySelectorAll("input[name=met][checked]");
        Assert.Equal(met.Order(), ticked.Select(t => t.GetAttribute("value")).Order());
    }

    [Fact]
    public async Task Before_anything_is_seen_what_is_met_is_four_times_as_likely_and_what_is_seen_still_decides()
    {
        var found = host.Shop.Key.Of(new Dictionary<string, string>());
        var even = found.Candidates.Where(c => c.Layout is not null).Select(c => c.Probability / (1 + c.Alike.Count));
        Assert.All(even, p => Assert.Equal(even.First(), p, 9));
        await SayAsync([.. host.Shop.Layouts.Skip(1).Select(l => l.Id)]);
        var unmet = host.Shop.Layouts[0];
        var key = host.Shop.Key;
        var now = key.Of(new Dictionary<string, string>()).Candidates;
        var of = now.Single(c => c.Layout == unmet || c.Alike.Contains(unmet));
        var other = now.First(c => c.Layout is not null && c != of && c.Alike.Count == of.Alike.Count);
        Assert.Equal(
            of.Alike.Count == 0 ? 4 : (of.Alike.Count + 1) / (of.Alike.Count + 0.25),
            other.Probability / of.Probability,
            9
        );
        // All that can be seen of it, seen.
        var seen = unmet
            .Facts.Where(f => !f.Varies && key.Questions.Any(q => q.Id == f.Id))
            .ToDictionary(f => f.Id, f => f.Value);
        var best = key.Of(seen).Candidates.MaxBy(c => c.Probability)!;
        Assert.True(best.Layout == unmet || best.Alike.Contains(unmet));
        Assert.NotEqual(IdentificationKey.None, best.Id);
    }

    [Fact]
    public async Task None_ticked_is_refused_at_the_field_and_what_was_there_stays()
    {
        await SayAsync("quenby-qd62");
        using var refused = await SayAsync();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("Tick at least one", await refused.Content.ReadAsStringAsync());
        Assert.Equal(["quenby-qd62"], host.Shop.Layouts.Where(host.Shop.Meets).Select(l => l.Id));
        // A settings form that does not ask for machines leaves them.
        await host.Client.PostAsync(
            "/shop/money",
            new FormUrlEncodedContent([
                new("currency", "CHF"),
                new("__RequestVerificationToken", await host.TokenAsync("/shop")),
            ])
        );
        Assert.Equal(["quenby-qd62"], host.Shop.Layouts.Where(host.Shop.Meets).Select(l => l.Id));
        Assert.Equal("CHF", host.Shop.Terms.Currency);
    }
}
