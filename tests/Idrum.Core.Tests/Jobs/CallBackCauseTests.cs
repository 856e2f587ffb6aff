using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Why a machine came back is said in the trade's words when its call-back is closed, and of no other job.</summary>
public class CallBackCauseTests : JobStory
{
    [Fact]
    public void A_call_back_says_why_it_came_back()
    {
        Do(
            new JobOpened(
                "J-2",
                new MachineCard
                {
                    LayoutId = "ostrel-ot50",
                    Place = "Cellar",
                    CallBackOf = "J-1",
                }
            )
        );
        Assert.Contains(Errors(Closed("weather")), e => e.Pointer == "callBackCause");
        // Not to say it is no reason to keep a job open.
        Assert.Empty(Errors(Closed(null)));
        Do(Closed("own-closing"));
        Assert.Equal("own-closing", State.Closed!.CallBackCause);
        Assert.Equal(6, CallBackCause.All.Select(c => CallBackCause.Words(c.Id)).Distinct().Count());
    }

    [Fact]
    public void A_job_that_is_none_has_no_such_cause()
    {
        OpenFor("belt");
        Assert.Contains(Errors(Closed("twin")), e => e.Pointer == "callBackCause");
        Assert.Empty(Errors(Closed("")));
    }

    private static JobClosed Closed(string? cause) => new("Right.", "Tried out.") { CallBackCause = cause };
}
