using System.Text.RegularExpressions;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>Jobs are found by number, place, tag and machine, in any order and case; signs of the database's own are
/// letters like others.</summary>
public sealed class SearchTests(TestHost host) : IClassFixture<TestHost>
{
    private LogbookStore Log => host.Get<LogbookStore>();

    private IReadOnlyList<JobSummary> Find(string words) => Log.Find(new() { Words = words }, 1, 40).Jobs;

    [Theory]
    [InlineData("J-0150", "J-0150")]
    [InlineData("sonnhalde 5", "J-0150")]
    [InlineData("ot50-0936", "J-0150")]
    [InlineData("OSTREL sonn 0936", "J-0150")]
    [InlineData("gear talmitte", "J-0149")]
    public async Task A_job_is_found(string words, string number)
    {
        Assert.Contains(Find(words), j => j.Number == number);
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
        Assert.Empty(Find(words));
        Assert.Matches(
            new Regex("No job fits"),
            await host.Client.GetStringAsync("/?q=" + Uri.EscapeDataString(words))
        );
    }

    [Fact]
    public void Nothing_looked_for_finds_nothing_and_no_more_are_given_than_asked()
    {
        Assert.Null(LogbookStore.Match("  "));
        Assert.Equal(2, Log.Find(new() { Words = "J" }, 1, 2).Jobs.Count);
    }
}
