using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>What is said of a machine in one place holds in all.</summary>
public class MachineCardTests
{
    [Theory]
    [InlineData("gas", "")]
    [InlineData("electric", "gas")]
    [InlineData("electric", "gas=yes")]
    public void Gas_is_gas_wherever_it_was_said(string energy, string fact)
    {
        var card = new MachineCard
        {
            LayoutId = "ostrel-ot50",
            Place = "Cellar",
            Energy = energy,
            Facts = fact.Length > 0 ? [fact] : [],
        };
        var state = Logs.Apply(JobState.Empty, new JobOpened("J-1", card));
        var machine = TestShop.Shop.MachineOf(state);
        Assert.Contains(JobSafety.Of(state, machine), i => i.Id.Contains("gas", StringComparison.Ordinal));
        Assert.Contains(machine.Handbook.ProofsOf(machine.Layout), p => p.Id == "gas-leak");
        Assert.DoesNotContain(
            "heatedBy",
            System.Text.Json.JsonSerializer.Serialize(card, IdrumJson.Options),
            StringComparison.Ordinal
        );
    }
}
