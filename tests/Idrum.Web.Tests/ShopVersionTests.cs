namespace Idrum.Web.Tests;

/// <summary>What the shop changes reaches every page of a job, though nothing happened in the job.</summary>
public sealed class ShopVersionTests(TestHost host) : IClassFixture<TestHost>
{
    [Fact]
    public async Task A_changed_currency_reaches_every_page_at_once()
    {
        string[] pages = ["/jobs/J-0148/strip", "/jobs/J-0148/parts", "/jobs/J-0148/estimate"];
        var before = new List<string>();
        foreach (var page in pages)
        {
            before.Add(await host.Client.GetStringAsync(page));
        }
        Assert.All(before, page => Assert.Contains("EUR", page, StringComparison.Ordinal));
        var token = await host.TokenAsync("/shop");
        var changed = await host.Client.PostAsync(
            "/shop/money",
            new FormUrlEncodedContent([
                new("currency", "CHF"),
                new("ratePerHour", "72"),
                new("stepMinutes", "15"),
                new("tripCharge", "28"),
                new("tripMinutes", "40"),
                new("taxPercent", "20"),
                new("paper", "A4"),
                new("units", "mm"),
                new("signers", "M. Tannhof"),
                new("__RequestVerificationToken", token),
            ])
        );
        Assert.InRange((int)changed.StatusCode, 200, 303);
        foreach (var page in pages)
        {
            var after = await host.Client.GetStringAsync(page);
            Assert.Contains("CHF", after, StringComparison.Ordinal);
            // As a word: a token of a form may hold any three letters by chance.
            Assert.DoesNotMatch(@"(?<![\w-])EUR(?![\w-])", after);
        }
    }
}
