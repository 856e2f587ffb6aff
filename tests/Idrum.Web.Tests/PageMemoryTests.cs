using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Idrum.Web.Jobs;

namespace Idrum.Web.Tests;

public sealed partial class PageMemoryTests(TestHost host) : IClassFixture<TestHost>
{
    [Fact]
    public void Marks_become_ids_of_their_own_and_the_token_and_the_rest_stays()
    {
        var page = Encoding.UTF8.GetBytes($"<a>½ {PageMemory.Id}</a>{PageMemory.Token}<b>{PageMemory.Id}</b>{PageMemory.Token} end");
        var filled = Encoding.UTF8.GetString(PageMemory.Fill(page, "t0ken"));
        var match = Regex.Match(filled, "^<a>½ ([0-9a-f-]{36})</a>t0ken<b>([0-9a-f-]{36})</b>t0ken end$");
        Assert.True(match.Success, filled);
        Assert.NotEqual(match.Groups[1].Value, match.Groups[2].Value);
        Assert.NotEqual(filled, Encoding.UTF8.GetString(PageMemory.Fill(page, "t0ken")));
        Assert.Equal("plain", Encoding.UTF8.GetString(PageMemory.Fill("plain"u8, "t0ken")));
    }

    [Fact]
    public async Task A_page_asked_for_twice_differs_only_in_ids_and_an_act_shows_at_once()
    {
        const string page = "/jobs/J-0148/strip";
        // With its first answer the browser gets the cookie its token belongs to.
        await host.Client.GetStringAsync(page);
        var (first, second) = (await host.Client.GetStringAsync(page), await host.Client.GetStringAsync(page));
        Assert.NotEqual(first, second);
        Assert.Equal(Ids().Replace(first, "id"), Ids().Replace(second, "id"));
        Assert.DoesNotMatch("[\u0001\u0002]", second);
        await host.PostFormAsync(page, ("kind", "note-added"), ("operationId", ""), ("text", "Seen at once"));
        Assert.Contains("Seen at once", await host.Client.GetStringAsync(page), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_refused_page_is_never_given_to_somebody_else()
    {
        const string page = "/jobs/J-0151/complaint";
        var refused = await host.PostFormAsync(page, ("kind", "complaint-stated"), ("findings", "ghost"), ("words", "Typed by one"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains("Typed by one", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        using var other = host.NewClient();
        Assert.DoesNotContain("Typed by one", await other.GetStringAsync(page), StringComparison.Ordinal);
    }

    [GeneratedRegex("[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")]
    private static partial Regex Ids();
}
