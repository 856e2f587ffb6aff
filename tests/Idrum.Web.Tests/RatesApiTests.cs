using System.Net;

namespace Idrum.Web.Tests;

/// <summary>Rates of a drive over the API and on the machine's page: the shop's mains, a counted drum, and what cannot be
/// asked.</summary>
public sealed class RatesApiTests(TestHost host) : IClassFixture<TestHost>
{
    [Fact]
    public async Task Rates_follow_the_mains_and_a_counted_drum()
    {
        async Task<double> DrumAsync(string query) =>
            (await TestHost.JsonAsync(await host.Client.GetAsync($"/api/v1/layouts/ostrel-ot50/rates{query}")))
                .GetProperty("drumRpm")
                .GetDouble();
        var fifty = await DrumAsync("");
        Assert.Equal(fifty, await DrumAsync("?mainsHz=50"), 9);
        Assert.Equal(fifty * 1700 / 1400, await DrumAsync("?mainsHz=60"), 9);
        Assert.Equal(51.5, await DrumAsync("?drumRpm=51,5"), 9);
        Assert.Contains(
            "20 take 25.0 s",
            (await host.Client.GetStringAsync("/machines/ostrel-ot50")).ReplaceLineEndings(" ")
        );
    }

    [Theory]
    [InlineData("ostrel-ot50/rates?drumRpm=0", HttpStatusCode.BadRequest, "drumRpm")]
    [InlineData("ostrel-ot50/rates?drumRpm=fast", HttpStatusCode.BadRequest, "drumRpm")]
    [InlineData("ostrel-ot50/rates?drumRpm=NaN", HttpStatusCode.BadRequest, "drumRpm")]
    [InlineData("ostrel-ot50/rates?mainsHz=55", HttpStatusCode.BadRequest, "mainsHz")]
    [InlineData("nowhere/rates", HttpStatusCode.NotFound, "id")]
    public async Task What_cannot_be_asked_is_said_at_its_field(string path, HttpStatusCode status, string field)
    {
        var answer = await host.Client.GetAsync("/api/v1/layouts/" + path);
        Assert.Equal(status, answer.StatusCode);
        Assert.Contains(field, await answer.Content.ReadAsStringAsync());
    }
}
