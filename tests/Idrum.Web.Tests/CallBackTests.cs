using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;

namespace Idrum.Web.Tests;

/// <summary>A machine comes back: one touch opens the job, and what was done the first time is known, tag or no
/// tag.</summary>
public class CallBackTests : IAsyncLifetime
{
    private readonly TestHost host = new();

    public Task InitializeAsync() => host.InitializeAsync();

    public async Task DisposeAsync() => await host.DisposeAsync();

    private async Task<AppendResult> DoAsync(Guid job, JobEvent e, double hours) =>
        await host.Store.AppendAsync(job, e with { Id = Guid.NewGuid(), At = DateTimeOffset.UtcNow.AddHours(-hours) });

    private async Task<string> FirstAsync()
    {
        var id = Guid.NewGuid();
        var number = host.Store.NextNumber();
        foreach (
            var (e, hours) in new (JobEvent, double)[]
            {
                (
                    new JobOpened(
                        number,
                        new()
                        {
                            LayoutId = "quenby-qd62",
                            Place = "Mill Lane 3",
                            AgeYears = 9,
                        }
                    ),
                    60
                ),
                (new TargetsChosen(["front-roller-left", "belt"], "", new Dictionary<string, OperationId>(), "x"), 59),
                (new WorkDeclined(["belt"], "A. Customer", ""), 58),
                (new NoteAdded("", "fitted without opening, for the test"), 57),
                (new JobClosed("Quiet", "Test"), 56),
            }
        )
        {
            Assert.Equal(AppendOutcome.Added, (await DoAsync(id, e, hours)).Outcome);
        }
        return number;
    }

    [Fact]
    public async Task From_the_closed_job_all_is_filled_in_and_Find_says_what_was_done_then()
    {
        var first = await FirstAsync();
        Assert.Contains(
            $"/jobs/new?callback={first}",
            await host.Client.GetStringAsync($"/jobs/{first}/close"),
            StringComparison.Ordinal
        );
        var page = WebUtility.HtmlDecode(await host.Client.GetStringAsync($"/jobs/new?callback={first}"));
        Assert.Contains($"{first} came back", page, StringComparison.Ordinal);
        foreach (var filled in new[] { "value=\"Mill Lane 3\"", $"value=\"{first}\"", "value=\"9\"" })
        {
            Assert.Contains(filled, page, StringComparison.Ordinal);
        }
        var id = Guid.NewGuid();
        var number = host.Store.NextNumber();
        var card = host.Store.Find(first)!.State.Machine with { CallBackOf = first };
        Assert.Equal(AppendOutcome.Added, (await DoAsync(id, new JobOpened(number, card), 1)).Outcome);
        await DoAsync(id, new ComplaintStated(["squeal"], ""), 0.9);
        var find = WebUtility.HtmlDecode(await host.Client.GetStringAsync($"/jobs/{number}/find"));
        Assert.Contains($"{first} came back", find, StringComparison.Ordinal);
        Assert.Contains("Declined then: ", find, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("J-9999", "There is no job J-9999 here.")]
    [InlineData("itself", "A job does not come back from itself.")]
    [InlineData("J-0148", "was another machine")]
    public async Task A_number_that_cannot_be_is_refused_at_its_field(string of, string said)
    {
        var number = host.Store.NextNumber();
        var layout = host.Store.Find("J-0148")!.State.Machine.LayoutId == "ostrel-ot50" ? "quenby-qd62" : "ostrel-ot50";
        var result = await DoAsync(
            Guid.NewGuid(),
            new JobOpened(
                number,
                new()
                {
                    LayoutId = layout,
                    Place = "x",
                    CallBackOf = of == "itself" ? number : of,
                }
            ),
            0
        );
        Assert.Equal(AppendOutcome.Refused, result.Outcome);
        var wrong = Assert.Single(result.Errors);
        Assert.Equal("machine.callBackOf", wrong.Pointer);
        Assert.Contains(said, wrong.Message, StringComparison.Ordinal);
    }
}
