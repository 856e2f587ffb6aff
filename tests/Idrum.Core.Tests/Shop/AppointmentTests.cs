using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Shop;

/// <summary>What is reserved against simulated visits.</summary>
public sealed class AppointmentTests
{
    [Fact]
    public void Eight_of_ten_simulated_visits_end_within_the_range_one_in_ten_before_and_one_after()
    {
        var (before, within, after) = (0, 0, 0);
        for (var i = 0; i < 400; i++)
        {
            var random = new Random(i);
            var machine = TestShop.Machine(i % 2 == 0 ? "ostrel-ot50" : "quenby-qd62");
            var visit = new SimulatedMachine(machine.Diagnostician.Model, 1, random);
            var said = Appointment.Of([machine], [.. visit.Complaints], 1);
            // The visit worked out by itself: what speaks is opened for and put right by somebody of his own pace.
            var faults = visit
                .Speaking.Select(id => machine.Diagnostician.Model.Catalog.FindFault(id)!)
                .Where(f => f.Action != FaultAction.Refer)
                .ToList();
            var parts = faults
                .SelectMany(f => machine.Layout.PartsOfKind(f.Kinds))
                .Select(p => p.Id)
                .Distinct()
                .ToList();
            var plan = machine.Planner.Plan(new(parts, [], new Dictionary<string, OperationId>()))!;
            var typical =
                8
                + plan.Minutes
                + faults.Sum(f => f.FixMinutes)
                + machine.Diagnostician.Model.Catalog.Costs.ProveMinutes;
            var normal =
                Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
            var minutes = typical * Math.Exp(normal * Appointment.Pace(machine));
            before += minutes < said.Low ? 1 : 0;
            within += minutes >= said.Low && minutes <= said.High ? 1 : 0;
            after += minutes > said.High ? 1 : 0;
        }
        Assert.InRange(within / 400.0, 0.74, 0.86);
        Assert.InRange(before / 400.0, 0.05, 0.15);
        Assert.InRange(after / 400.0, 0.05, 0.15);
    }

    [Fact]
    public void A_machine_nobody_named_is_a_mixture_and_a_dead_one_may_be_another_trades()
    {
        var (a, b) = (TestShop.Machine("ostrel-ot50"), TestShop.Machine("quenby-qd62"));
        var (one, other, both) = (
            Appointment.Of([a], ["squeal"], 1),
            Appointment.Of([b], ["squeal"], 1),
            Appointment.Of([a, b], ["squeal"], 1)
        );
        Assert.InRange(both.High, Math.Min(one.High, other.High) - 1, Math.Max(one.High, other.High) + 1);
        Assert.InRange(both.Low, Math.Min(one.Low, other.Low) - 1, Math.Max(one.Low, other.Low) + 1);
        Assert.True(Appointment.Of([a], ["nothing-runs"], 1).OtherTrade > 0.1);
        Assert.True(one.OtherTrade < 0.02 && one.Low < one.Usual && one.Usual < one.High);
    }
}
