using System.Net;
using System.Text.RegularExpressions;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Web.Shop;
using Microsoft.Extensions.DependencyInjection;

namespace Idrum.Web.Tests;

/// <summary>Stock: what jobs used says how many to keep; what is counted reaches the van of every page; a wrong count is said at its name.</summary>
public sealed class StockTests(StockTests.PastShop shop) : IClassFixture<StockTests.PastShop>
{
    private readonly TestHost host = shop.Host;

    /// <summary>The demo with two years of jobs on one machine before it.</summary>
    public sealed class PastShop : IAsyncLifetime
    {
        /// <summary>The shop.</summary>
        public TestHost Host { get; } = new();

        public async Task InitializeAsync()
        {
            await Host.InitializeAsync();
            foreach (var (id, acts) in new ShopYears(5, 2, 30).Jobs(Host.Shop, ["quenby-qd62"], DateTimeOffset.UtcNow))
            {
                Assert.Empty(await Host.Store.ImportAsync(JobArchive.Of(id, acts, []), JobHistory.Of(acts)));
            }
        }

        public Task DisposeAsync() => Host.DisposeAsync();
    }

    private async Task<(HttpStatusCode Status, string Page)> KeepAsync(params (string, string)[] fields)
    {
        var page = await host.Client.GetStringAsync("/stock?in=van-1");
        var token = Regex.Match(page, "name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]*)\"").Groups[1].Value;
        var answer = await host.Client.PostAsync(
            "/stock?in=van-1",
            new FormUrlEncodedContent(
                fields
                    .Append(("__RequestVerificationToken", token))
                    .Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))
            )
        );
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task What_was_used_says_how_many_to_keep_and_what_is_counted_is_in_the_van()
    {
        var vans = host.Get<VanDesk>();
        Assert.Equal(HttpStatusCode.OK, (await host.Client.GetAsync("/stock")).StatusCode);
        using var scope = host.Get<IServiceScopeFactory>().CreateScope();
        var lines = scope.ServiceProvider.GetRequiredService<StockDesk>().Lines();
        var used = lines.Where(l => l.Asked > 0).ToList();
        Assert.NotEmpty(used);
        Assert.All(used, l => Assert.True(l.When.Level >= 1 && l.When.Served >= 0.9));
        // Never less than what one job takes: two of four rollers help nobody.
        Assert.All(used, l => Assert.True(l.When.Level >= l.AJob && l.When.Level % l.AJob == 0, l.Name));
        Assert.Contains(used, l => l.AJob > 1);
        // What is used most is kept at least as much as what is used least.
        Assert.True(used.MaxBy(l => l.Asked)!.When.Level >= used.MinBy(l => l.Asked)!.When.Level);
        var roller = used.MaxBy(l => l.Asked)!;
        var (status, _) = await KeepAsync(("n:" + roller.Number, "7"), ("service", "98"));
        Assert.Equal(HttpStatusCode.SeeOther, status);
        Assert.Equal(7, vans.Find("van-1")!.Holds[roller.Number]);
        var after = scope
            .ServiceProvider.GetRequiredService<StockDesk>()
            .Lines()
            .Single(l => l.Number == roller.Number);
        Assert.Equal(vans.Together()[roller.Number], after.Here);
        Assert.True(after.When.Served >= 0.98);
        // The shop's own page tells the same.
        Assert.Contains($"{roller.Number} 7", Regex.Replace(await host.Client.GetStringAsync("/shop"), "[ \t]+", " "));
    }

    [Fact]
    public async Task A_tube_that_is_opened_has_its_day_and_one_that_is_not_here_cannot_be()
    {
        var vans = host.Get<VanDesk>();
        var small = host.Get<IServiceScopeFactory>().CreateScope().ServiceProvider.GetRequiredService<SmallDesk>();
        Assert.Contains(small.Lines(), l => l.Jobs > 0 && l.Level >= 1 && l.Lasts >= 1);
        Assert.Equal(HttpStatusCode.SeeOther, (await KeepAsync(("n:GL-CC", "2"))).Status);
        Assert.Equal(2, vans.Find("van-1")!.Holds["GL-CC"]);
        async Task<HttpResponseMessage> PostAsync(string handler, params (string, string)[] fields) =>
            await host.Client.PostAsync(
                $"/stock?in=van-1&handler={handler}",
                new FormUrlEncodedContent(
                    fields
                        .Append(("__RequestVerificationToken", await host.TokenAsync("/stock")))
                        .Select(f => new KeyValuePair<string, string>(f.Item1, f.Item2))
                )
            );
        Assert.Equal(HttpStatusCode.SeeOther, (await PostAsync("Opened", ("number", "GL-CC"))).StatusCode);
        Assert.Equal(1, vans.Find("van-1")!.Holds["GL-CC"]);
        Assert.Equal([small.Today], small.OpenedOf("GL-CC"));
        Assert.Contains("Contact cement, tube of ", await host.Client.GetStringAsync("/stock?in=van-1"));
        // What was typed beside it and not kept yet is kept with it: of five one is opened now.
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (await PostAsync("Opened", ("number", "GL-CC"), ("n:GL-CC", "5"), ("n:TI", "8"))).StatusCode
        );
        Assert.Equal((4, 8), (vans.Find("van-1")!.Holds["GL-CC"], vans.Find("van-1")!.Holds["TI"]));
        var typo = await PostAsync("Opened", ("number", "GL-CC"), ("n:GL-CC", "four"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, typo.StatusCode);
        Assert.Equal(4, vans.Find("van-1")!.Holds["GL-CC"]);
        await PostAsync("UsedUp", ("number", "GL-CC"), ("on", $"{small.Today:yyyy-MM-dd}"));
        Assert.Equal(HttpStatusCode.SeeOther, (await KeepAsync(("n:GL-CC", "1"))).Status);
        // It is among glue, grease and ties, not once more among the parts.
        using var scope = host.Get<IServiceScopeFactory>().CreateScope();
        Assert.DoesNotContain(scope.ServiceProvider.GetRequiredService<StockDesk>().Lines(), l => l.Number == "GL-CC");
        // What goes into the van for a felt says so.
        await PostAsync("Opened", ("number", "GL-CC"));
        var none = await PostAsync("Opened", ("number", "GL-CC"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, none.StatusCode);
        Assert.Contains("none is in Van 1 unopened", await none.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await PostAsync("Opened", ("number", "no"))).StatusCode);
        var today = small.Today.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        Assert.Equal(
            HttpStatusCode.SeeOther,
            (await PostAsync("UsedUp", ("number", "GL-CC"), ("on", today))).StatusCode
        );
        Assert.Equal([small.Today], small.OpenedOf("GL-CC"));
        await PostAsync("UsedUp", ("number", "GL-CC"), ("on", today));
        await PostAsync("UsedUp", ("number", "GL-CC"), ("on", "yesterday"));
        Assert.Empty(small.OpenedOf("GL-CC"));
    }

    [Theory]
    [InlineData("many")]
    [InlineData("-1")]
    [InlineData("10000")]
    [InlineData("1.5")]
    public async Task A_wrong_count_is_said_at_its_name_and_nothing_is_kept(string count)
    {
        var before = host.Get<VanDesk>().Together();
        using var scope = host.Get<IServiceScopeFactory>().CreateScope();
        var line = scope.ServiceProvider.GetRequiredService<StockDesk>().Lines()[0];
        var (status, page) = await KeepAsync(("n:" + line.Number, count));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("a number from 0 to 9999", page);
        Assert.Contains($"value=\"{count}\"", page);
        Assert.Equal(before.OrderBy(v => v.Key), host.Get<VanDesk>().Together().OrderBy(v => v.Key));
    }
}
