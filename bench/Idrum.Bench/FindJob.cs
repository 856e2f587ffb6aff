using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Bench;

/// <summary>One simulated job: what a repairer can do, what it costs, and what he knows by then. Every way of working plays by the same rules.</summary>
internal sealed class FindJob
{
    private const int MostActs = 45;
    private readonly Random luck;
    private HashSet<string> done = [];

    internal FindJob(MachineKnowledge knowledge, SimulatedMachine machine, int seed)
    {
        (Knowledge, Machine, luck) = (knowledge, machine, new Random(seed));
        Hear();
    }

    internal MachineKnowledge Knowledge { get; }

    internal SimulatedMachine Machine { get; }

    internal Dictionary<string, string> Evidence { get; private set; } = [];

    internal List<string> Fitted { get; } = [];

    internal List<string> PutRight { get; } = [];

    internal int Openings { get; private set; }

    internal int Vain { get; private set; }

    internal int Wrong { get; private set; }

    internal int CallBacks { get; private set; }

    internal bool GivenUp { get; private set; }

    internal double Checking { get; private set; }

    internal bool Over { get; private set; }

    internal int Acts { get; private set; }

    private CostBasis Basis => Knowledge.Diagnostician.Model.Catalog.Costs;

    /// <summary>Minutes, money counted in.</summary>
    internal double Cost => Machine.Minutes + Machine.Money / Basis.RatePerHour * 60;

    internal DiagnosisRequest Request => new(Evidence, [.. done], Machine.Wear, ComplaintsTold: true) { Fitted = Fitted, PutRight = PutRight };

    internal bool Whole => done.Count == 0;

    /// <summary>Minutes to where a check can be made; null where it cannot.</summary>
    internal double? MinutesTo(Finding f) => f.Runs && !Whole ? null : Knowledge.Planner.MinutesTo(Groups(Knowledge.Layout.PartsOfKind(f.At)), Knowledge.Planner.Graph.SetOf(done));

    internal void Check(Finding f)
    {
        if (!Act())
        {
            return;
        }
        Open(Groups(Knowledge.Layout.PartsOfKind(f.At)));
        Machine.Spend(f.Minutes + f.RiskMinutes);
        Checking += f.Minutes + f.RiskMinutes;
        Evidence[f.Id] = Machine.Answer(f.Id);
    }

    /// <summary>Opens up to parts, to look.</summary>
    internal void OpenTo(IEnumerable<Part> parts)
    {
        if (Act())
        {
            Open(Groups(parts));
        }
    }

    internal void Repair(Fault fault)
    {
        if (!Act())
        {
            return;
        }
        var parts = Knowledge.Layout.PartsOfKind(fault.Kinds).ToList();
        var targets = parts.Select(p => p.Id).ToList();
        var state = Knowledge.Planner.Graph.SetOf(done);
        var open = Knowledge.Planner.MinutesToFree(targets, state) ?? Basis.ReferMinutes;
        Openings += open > 0 ? 1 : 0;
        Machine.Spend(open + fault.FixMinutes, fault.Action == "replace" ? parts.Where(p => p.Wears).Sum(p => p.Price * p.Count) : 0);
        var cured = Machine.Repair(fault);
        Wrong += !cured && fault.Action == "replace" ? 1 : 0;
        if (fault.Action == "replace")
        {
            Fitted.AddRange(targets.Except(Fitted));
        }
        PutRight.Add(fault.Id);
        Machine.Spend(Basis.ProveMinutes);
        if (Machine.Right)
        {
            Over = true;
            return;
        }
        if (luck.NextDouble() < Basis.CallBackShare)
        {
            CallBacks++;
            Machine.Spend(Basis.CallBackMinutes);
        }
        // Closed for the proof; what is left speaks, and is heard by whoever stands there.
        done = [];
        if (cured)
        {
            // What may be otherwise now is asked anew; what has nothing to do with it still holds.
            var catalog = Knowledge.Diagnostician.Model.Catalog;
            Evidence = Evidence.Where(e => catalog.FindFinding(e.Key)! is { Group: not "complaint" } f && !SimulatedMachine.Shows(f, fault, true)).ToDictionary();
            Hear();
        }
    }

    /// <summary>Hands it over or gives it up.</summary>
    internal void End(bool referred)
    {
        Over = true;
        var right = Machine.Right || referred && Machine.Speaking.All(id => Knowledge.Diagnostician.Model.Catalog.FindFault(id)!.Action == "refer");
        GivenUp = !right;
        Machine.Spend(right ? 0 : Basis.ReferMinutes);
    }

    /// <summary>What it costs whoever knows the faults.</summary>
    internal static double Clairvoyant(MachineKnowledge knowledge, SimulatedMachine machine)
    {
        var model = knowledge.Diagnostician.Model;
        var faults = machine.Speaking.Select(id => model.Catalog.FindFault(id)!).Where(f => f.Action != "refer").ToList();
        if (faults.Count == 0)
        {
            return 0;
        }
        var parts = faults.SelectMany(f => knowledge.Layout.PartsOfKind(f.Kinds)).Distinct().ToList();
        var money = faults.Where(f => f.Action == "replace").SelectMany(f => knowledge.Layout.PartsOfKind(f.Kinds)).Distinct().Where(p => p.Wears).Sum(p => p.Price * p.Count);
        return (knowledge.Planner.MinutesToFree(parts.Select(p => p.Id), Core.Teardown.Bits.None) ?? 0) + faults.Sum(f => f.FixMinutes) + model.Catalog.Costs.ProveMinutes + money / model.Catalog.Costs.RatePerHour * 60;
    }

    private void Hear()
    {
        foreach (var id in Fitted.Count + PutRight.Count == 0 ? Machine.Complaints : Knowledge.Diagnostician.Model.Findings.Where(f => f.Group == "complaint" && Machine.Answer(f.Id) == "yes").Select(f => f.Id))
        {
            Evidence[id] = "yes";
        }
    }

    private bool Act()
    {
        if (Over || ++Acts > MostActs)
        {
            if (!Over)
            {
                End(false);
            }
            return false;
        }
        return true;
    }

    private void Open(List<IReadOnlyList<string>> groups)
    {
        var graph = Knowledge.Planner.Graph;
        var before = graph.SetOf(done);
        var minutes = Knowledge.Planner.MinutesTo(groups, before) ?? Basis.ReferMinutes;
        if (minutes <= 0)
        {
            return;
        }
        Machine.Spend(minutes);
        Openings++;
        var after = Knowledge.Planner.StateAfter(groups, before);
        done = [.. after.ToList().Select(i => Knowledge.Layout.Operations[i].Id)];
        // In vain where nothing that speaks can be seen from there.
        Vain += Machine.Speaking.Select(id => Knowledge.Diagnostician.Model.Catalog.FindFault(id)!).Any(f => f.Action != "refer" && Knowledge.Layout.PartsOfKind(f.Kinds) is var parts && parts.Any() && Knowledge.Planner.MinutesTo(Groups(parts), after) == 0) ? 0 : 1;
    }

    private static List<IReadOnlyList<string>> Groups(IEnumerable<Part> parts) => [.. parts.SelectMany(p => p.SeenAfter)];
}
