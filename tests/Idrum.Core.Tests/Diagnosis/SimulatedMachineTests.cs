using Idrum.Core.Diagnosis;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>The simulated machine against the model it is drawn from, and the advice followed to the end on
/// it.</summary>
public class SimulatedMachineTests
{
    [Fact]
    public void Of_many_machines_the_complaints_agree_with_what_is_said_of_them()
    {
        var d = TestShop.Machine("ostrel-ot50").Diagnostician;
        var said = new List<(double P, bool There)>();
        for (var i = 0; i < TestSize.Of(700, 2000); i++)
        {
            var machine = new SimulatedMachine(d.Model, 1, new Random(i));
            Assert.NotEmpty(machine.Complaints);
            var (_, there) = d.Believe(
                new(machine.Complaints.ToDictionary(c => c, _ => "yes"), [], 1, ComplaintsTold: true)
            );
            said.AddRange(there.Select((p, f) => (p, machine.Speaking.Contains(d.Model.Faults[f].Id))));
        }
        // By tenths with at least three hundred cases: within four points plus two standard errors.
        foreach (var tenth in said.GroupBy(s => Math.Min(9, (int)(s.P * 10))).Where(g => g.Count() >= 300))
        {
            var (p, was) = (tenth.Average(s => s.P), tenth.Average(s => s.There ? 1.0 : 0));
            Assert.True(
                Math.Abs(p - was) <= 0.04 + 2 * Math.Sqrt(p * (1 - p) / tenth.Count()),
                $"{p:0.000} said, {was:0.000} were, of {tenth.Count()}"
            );
        }
    }

    [Fact]
    public void Asked_twice_it_says_the_same_a_repair_cures_its_own_and_a_dead_machine_does_not_squeal()
    {
        var model = TestShop.Machine("quenby-qd62").Diagnostician.Model;
        var (dead, cured, slips) = (0, 0, 0);
        for (var i = 0; i < 300; i++)
        {
            var machine = new SimulatedMachine(model, 1, new Random(i));
            Assert.Equal(machine.Answer("drum-hand"), machine.Answer("drum-hand"));
            if (machine.Does == MachineDoes.Dead)
            {
                dead++;
                // A slip of whoever looks apart, there is no air and no chirp.
                slips += machine.Answer("hood-air") != "none" || machine.Answer("chirp-rate") != "none" ? 1 : 0;
            }
            var before = machine.Speaking.Count;
            var renewed = new HashSet<string>();
            foreach (var fault in machine.Speaking.Select(id => model.Catalog.FindFault(id)!).ToList())
            {
                // A new part has taken all that was wrong with its kind along.
                var gone = fault.Kinds.Count > 0 && fault.Kinds.All(renewed.Contains);
                Assert.Equal(!gone, machine.Has(fault.Id));
                cured += machine.Repair(fault) || !machine.Has(fault.Id) ? 1 : 0;
                renewed.UnionWith(fault.Action == FaultAction.Replace ? fault.Kinds : []);
            }
            Assert.True(machine.Right && (before > 0 || machine.Speaking.Count == 0));
            Assert.Equal(MachineDoes.Runs, machine.Does);
        }
        Assert.True(slips <= 2 && dead > 20 && cured > 250, $"{dead} dead, {cured} cured");
    }

    [Fact]
    public void The_advice_followed_to_its_end_finds_what_is_wrong_and_says_nothing_that_the_trade_forbids()
    {
        var (acts, right, all) = (0, 0, 0);
        var jobs = TestSize.Of(3, 9);
        foreach (var (i, layout) in TestShop.Shop.Layouts.Index())
        {
            // Every other machine as a shop knows it that closed jobs have taught.
            var judge = new AdviceJudge((i % 2 == 0 ? TestShop.Taught : TestShop.Shop).For(layout));
            for (var seed = 0; seed < jobs; seed++)
            {
                var wrong = judge.Job(5000 + seed);
                Assert.True(wrong is null, $"{layout.Id}, {5000 + seed}: {wrong}");
            }
            // `bench find` and `bench manners` play hundreds on each machine; here few, so that the tests stay quick.
            Assert.True(judge.Right >= jobs - 2, $"{layout.Id}: {judge.Right} of {jobs} right");
            (acts, right, all) = (acts + judge.Acts, right + judge.Right, all + jobs);
        }
        Assert.True(right >= 0.85 * all && acts <= all * 14, $"{right} of {all} right, {acts} acts");
    }
}
