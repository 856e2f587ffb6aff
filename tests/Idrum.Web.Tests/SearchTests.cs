using System.Text.RegularExpressions;

namespace Idrum.Web.Tests;

/// <summary>Jobs are found by number, place, tag and machine, in any order and case; signs of the database's own are
/// letters like others.</summary>
public sealed class SearchTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    [Theory]
    [InlineData("J-0150", "J-0150")]
    [InlineData("sonnhalde 5", "J-0150")]
    [InlineData("ot50-0936", "J-0150")]
    [InlineData("OSTREL sonn 0936", "J-0150")]
    [InlineData("gear talmitte", "J-0149")]
    public async Task A_job_is_found(string words, string number)
    {
        Assert.Contains(host.Store.Search(words, 40), j => j.Number == number);
        var page = await host.Client.GetStringAsync("/?q=" + Uri.EscapeDataString(words));
        Assert.Contains($">{number}<", page);
        Assert.DoesNotContain("What needs you now", page);
    }

    [Theory]
    [InlineData("%")]
    [InlineData("_")]
    [InlineData("\\")]
    [InlineData("' OR 1=1 --")]
    [InlineData("\"")]
    [InlineData("J-0150 nowhere")]
    public async Task What_fits_no_job_says_so(string words)
    {
        Assert.Empty(host.Store.Search(words, 40));
        Assert.Matches(
            new Regex("No job fits"),
            await host.Client.GetStringAsync("/?q=" + Uri.EscapeDataString(words))
        );
    }

    [Fact]
    public void Nothing_looked_for_finds_nothing_and_no_more_are_given_than_asked()
    {
        Assert.Empty(host.Store.Search("  ", 40));
        Assert.Equal(2, host.Store.Search("J", 2).Count);
    }
}
