using System.Diagnostics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

/// <summary>What is measured in milliseconds is measured alone: no other test of the suite runs beside it.</summary>
[CollectionDefinition("alone", DisableParallelization = true)]
public sealed class Alone;

[Collection("alone")]
public class DrawingTimeTests
{
    [Theory]
    [InlineData("door")]
    [InlineData("behind")]
    [InlineData("left")]
    [InlineData("right")]
    [InlineData("above")]
    [InlineData("slanting")]
    public void A_view_can_be_drawn_in_five_milliseconds(string view)
    {
        var layout = TestShop.Machine("quenby-qd62").Layout;
        var open = new Dictionary<PartId, PartCondition>(
            PartStates.Of(JobState.Empty with { Out = ["skin-off", "rear-panel-off"] }, layout)
        );
        // Another request each time, so that nothing is remembered; the fastest counts, once the runtime has settled.
        var fastest = double.MaxValue;
        for (var i = 0; i < 3000 && fastest > 5; i++)
        {
            var clock = Stopwatch.StartNew();
            MachineDrawing.Of(
                layout,
                new()
                {
                    Views = [view],
                    Conditions = open,
                    Focus = ["motor"],
                    Link = "/x?" + i + "{0}",
                }
            );
            fastest = Math.Min(fastest, clock.Elapsed.TotalMilliseconds);
        }
        Assert.True(fastest <= 5, $"{view}: {fastest:0.0} ms");
    }
}
