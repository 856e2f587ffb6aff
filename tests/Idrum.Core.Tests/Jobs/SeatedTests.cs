using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Tests.Jobs;

/// <summary>A roller that is fitted sits: its own step of the way back is done with it, and nobody takes it off again to
/// get at its fellow.</summary>
public class SeatedTests : JobStory
{
    private static readonly PartId[] Four =
    [
        "front-roller-left",
        "front-roller-right",
        "rear-roller-left",
        "rear-roller-right",
    ];

    [Fact]
    public void Three_of_four_sit_and_the_fourth_is_next_with_nothing_more_to_strip()
    {
        Open("quenby-qd62", "squeal", Four);
        Strip();
        foreach (var roller in Four.Take(3))
        {
            Fit(roller);
            Assert.Equal(Station.Fit, State.Station);
        }
        Assert.Equal((Station.Fit, "Rear right roller"), LeftOpen.GoesOnAt(State, Machine));
        Assert.Empty(JobPlan.Of(State, Machine)!.Removal);
        Fit(Four[3]);
        Assert.Equal(Station.Rebuild, State.Station);
        // What sits is not put back a second time, and all else is.
        var back = JobPlan.WayBack(State, Machine);
        Assert.NotEmpty(back);
        Assert.DoesNotContain(back, m => m.Operation.TakesOff.Any(Four.Contains));
    }

    [Fact]
    public void What_is_threaded_or_glued_later_is_not_seated_by_fitting_it()
    {
        Open("quenby-qd62", "squeal", "belt");
        Strip();
        var fitted = State with { Fitted = State.Fitted.SetItem("belt", new("belt", FittedAs.Replaced, "", [], "")) };
        Assert.Null(StepForward.Seated(fitted, Machine.Layout.FindPart("belt")!, Machine));
    }

    private void Fit(string part)
    {
        Do(new PartFitted(part, FittedAs.Replaced, "", [], "") { Source = PartSource.Had });
        Do(StepForward.Seated(State, Machine.Layout.FindPart(part)!, Machine)!);
    }
}
