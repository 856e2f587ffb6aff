using Idrum.Core.Diagnosis;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>The simulated machine against the model it is drawn from, and the advice followed to the end on it.</summary>
public class SimulatedMachineTests
{
    private const int Machines = 8;

    [Fact]
    public void Of_two_thousand_machines_the_complaints_agree_with_what_is_said_of_them()
    {
        var d = TestShop.Machine("ostrel-ot50").Diagnostician;
        var said = new List<(double P, bool There)>();
        for (var i = 0; i < 2000; i++)
        {
            var machine = new SimulatedMachine(d.Model, 1, new Random(i));
            Assert.NotEmpty(machine.Complaints);
            var (_, there) = d.Believe(new(machine.Complaints.ToDictionary(c => c, _ => "yes"), [], 1, ComplaintsTold: true));
            said.AddRange(there.Select((p, f) => (p, machine.Speaking.Contains(d.Model.Faults[f].Id))));
        }
        // By tenths with at least three hundred cases: within four points plus two standard errors.
        foreach (var tenth in said.GroupBy(s => Math.Min(9, (int)(s.P * 10))).Where(g => g.Count() >= 300))
        {
            var (p, was) = (tenth.Average(s => s.P), tenth.Average(s => s.There ? 1.0 : 0));
            Assert.True(Math.Abs(p - was) <= 0.04 + 2 * Math.Sqrt(p * (1 - p) / tenth.Count()), $"{p:0.000} said, {was:0.000} were, of {tenth.Count()}");
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
            foreach (var id in machine.Speaking.ToList())
            {
                Assert.True(machine.Has(id));
                cured += machine.Repair(model.Catalog.FindFault(id)!) || !machine.Has(id) ? 1 : 0;
            }
            Assert.True(machine.Right && (before > 0 || machine.Speaking.Count == 0));
            Assert.Equal(MachineDoes.Runs, machine.Does);
        }
        Assert.True(slips <= 2 && dead > 20 && cured > 250, $"{dead} dead, {cured} cured");
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_advice_followed_to_its_end_finds_what_is_wrong(string layoutId)
    {
        var machine = TestShop.Machine(layoutId);
        var d = machine.Diagnostician;
        var (right, acts) = (0, 0);
        var first = 900 + 8 * TestShop.Shop.Layouts.ToList().FindIndex(l => l.Id == layoutId);
        for (var i = 0; i < Machines; i++)
        {
            var simulated = new SimulatedMachine(d.Model, 1, new Random(first + i));
            var evidence = simulated.Complaints.ToDictionary(c => c, _ => "yes");
            var (done, fitted, putRight) = (new HashSet<string>(), new List<string>(), new List<string>());
            for (var n = 0; n < 45; n++)
            {
                var advice = d.NextAct(new(evidence, [.. done], ComplaintsTold: true) { Fitted = fitted, PutRight = putRight, HeardAgain = putRight.Count > 0 }).Advice;
                acts++;
                if (advice.Kind == "check")
                {
                    evidence[advice.Id] = simulated.Answer(advice.Id);
                }
                else if (advice.Kind == "open")
                {
                    var before = machine.Planner.Graph.SetOf(done);
                    var after = machine.Planner.StateAfter(machine.Layout.FindPart(advice.Id)!.SeenAfter, before);
                    Assert.NotEqual(before, after);
                    done = [.. after.ToList().Select(o => machine.Planner.Graph.Node(o).Id)];
                }
                else if (advice.Kind is "repair")
                {
                    var fault = d.Model.Catalog.FindFault(advice.Id)!;
                    simulated.Repair(fault);
                    putRight.Add(fault.Id);
                    fitted.AddRange(fault.Action == "replace" ? machine.Layout.PartsOfKind(fault.Kinds).Select(p => p.Id) : []);
                    if (simulated.Right)
                    {
                        right++;
                        break;
                    }
                    (done, evidence) = ([], d.Model.Findings.Where(f => f.Group == "complaint" && simulated.Answer(f.Id) == "yes").ToDictionary(f => f.Id, _ => "yes"));
                }
                else
                {
                    right += advice.Kind == "refer" && simulated.Speaking.Any(id => d.Model.Catalog.FindFault(id)!.Action == "refer") || simulated.Right ? 1 : 0;
                    break;
                }
            }
        }
        // `bench find` plays hundreds on each machine; here few, so that the tests stay quick.
        Assert.True(right >= Machines - 2, $"{right} of {Machines} found");
        Assert.True(acts < Machines * 16, $"{acts} acts");
    }

    [Fact]
    public void On_a_hundred_machines_nothing_is_advised_that_the_trade_forbids()
    {
        var (acts, right) = (0, 0);
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var judge = new AdviceJudge(TestShop.Machine(layout.Id));
            for (var seed = 0; seed < 9; seed++)
            {
                var wrong = judge.Job(5000 + seed);
                Assert.True(wrong is null, $"{layout.Id}, {5000 + seed}: {wrong}");
            }
            (acts, right) = (acts + judge.Acts, right + judge.Right);
        }
        Assert.True(right >= 92 && acts <= 108 * 14, $"{right} of 108 right, {acts} acts");
    }
}
