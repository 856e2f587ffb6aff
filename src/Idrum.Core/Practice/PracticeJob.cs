using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Practice;

/// <summary>One simulated job: what a repairer can do, what it costs, and what he knows by then. Every way of working
/// plays by the same rules.</summary>
public sealed class PracticeJob
{
    private const int MostActs = 45;
    private readonly Random luck;
    private readonly bool looksRound;
    private HashSet<OperationId> done = [];

    /// <param name="knowledge">The machine's kind.</param>
    /// <param name="machine">The machine.</param>
    /// <param name="seed">For what chance decides beside it.</param>
    /// <param name="looksRound">Whether whoever opens looks at all that is in reach then, as repairers do.</param>
    public PracticeJob(MachineKnowledge knowledge, SimulatedMachine machine, int seed, bool looksRound = false)
    {
        this.looksRound = looksRound;
        (Knowledge, Machine, luck, ear) = (knowledge, machine, new Random(seed), new Random(seed * 17 + 3));
        measuring = new(knowledge, machine, seed);
        Hear();
    }

    /// <summary>Whether the noise is recorded where its rhythm is asked after, and the recording gone by: as sure as the analyser was
    /// measured to be, no surer.</summary>
    public bool Listens { get; init; }

    /// <summary>Whether what can be measured is measured: readings by simulated tools, gone by as gauging judges them, instead of by eye
    /// and thumb.</summary>
    public bool Gauges { get; init; }

    /// <summary>Only where that takes no longer than the look, as Find puts it first; else wherever it can be.</summary>
    public bool WhereNoSlower { get; init; }

    private readonly Measuring measuring;

    // What is heard in it, and the sound that is asked after.
    private static readonly Dictionary<string, string> Recorded = new()
    {
        ["chirp-rate"] = SoundWord.Chirp,
        ["thump-rate"] = SoundWord.Thump,
        ["motor-sound"] = "other",
    };

    private readonly List<GradedFinding> heard = [];
    private readonly Random ear;

    /// <summary>The machine's kind.</summary>
    public MachineKnowledge Knowledge { get; }

    /// <summary>The machine.</summary>
    public SimulatedMachine Machine { get; }

    /// <summary>What is known: finding → outcome.</summary>
    public Dictionary<string, string> Evidence { get; private set; } = [];

    /// <summary>Parts changed.</summary>
    public List<PartId> Fitted { get; } = [];

    /// <summary>Faults gone for.</summary>
    public List<FaultId> PutRight { get; } = [];

    /// <summary>How often it was opened.</summary>
    public int Openings { get; private set; }

    /// <summary>How often nothing that speaks was seen then.</summary>
    public int Vain { get; private set; }

    /// <summary>Parts changed that were good.</summary>
    public int Wrong { get; private set; }

    /// <summary>Times it came back.</summary>
    public int CallBacks { get; private set; }

    /// <summary>Whether it was given up with a fault in it.</summary>
    public bool GivenUp { get; private set; }

    /// <summary>Minutes of checks.</summary>
    public double Checking { get; private set; }

    /// <summary>Whether it has ended.</summary>
    public bool Over { get; private set; }

    /// <summary>Acts so far.</summary>
    public int Acts { get; private set; }

    private CostBasis Basis => Knowledge.Diagnostician.Model.Catalog.Costs;

    /// <summary>Minutes, money counted in.</summary>
    public double Cost => Machine.Minutes + Machine.Money / Basis.RatePerHour * 60;

    /// <summary>What is known, as diagnosis is asked.</summary>
    public DiagnosisRequest Request =>
        new(Evidence, [.. done], Machine.Wear, ComplaintsTold: true)
        {
            Fitted = Fitted,
            PutRight = PutRight,
            HeardAgain = CuredSome,
            Graded = heard,
        };

    /// <summary>Whether something was cured and all that is known was heard after it.</summary>
    private bool CuredSome { get; set; }

    /// <summary>Whether nothing of it is open.</summary>
    public bool Whole => done.Count == 0;

    /// <summary>Minutes to where a check can be made; null where it cannot.</summary>
    public double? MinutesTo(Finding f) =>
        f.Runs && !Whole
            ? null
            : Knowledge.Planner.MinutesTo(
                Groups(Knowledge.Layout.PartsOfKind(f.At)),
                Knowledge.Planner.Graph.SetOf(done)
            );

    /// <summary>Makes a check, opening up to where it can be made.</summary>
    public void Check(Finding f)
    {
        if (!Act())
        {
            return;
        }
        Open(Groups(Knowledge.Layout.PartsOfKind(f.At)));
        if (
            Gauges
            && ReadInstead.Of(Knowledge.Handbook.Gauging, Knowledge.Layout, f.Id) is [var way, ..]
            && (!WhereNoSlower || way.NoSlowerThan(f.Minutes))
            && measuring.Of(f, way, Fitted).Said is { } graded
        )
        {
            Machine.Spend(way.Minutes + f.RiskMinutes);
            Checking += way.Minutes + f.RiskMinutes;
            heard.Add(graded);
            return;
        }
        Machine.Spend(f.Minutes + f.RiskMinutes);
        Checking += f.Minutes + f.RiskMinutes;
        if (Listens && Recorded.TryGetValue(f.Id, out var sound))
        {
            heard.Add(HeardSound.Graded(sound, HeardSound.Drawn(Sounding(), ear)));
            return;
        }
        Evidence[f.Id] = Machine.Answer(f.Id);
    }

    /// <summary>Measures what a check asks for instead of looking, opening up to where that can be done.</summary>
    /// <param name="f">The check; it can be measured on this machine.</param>
    /// <returns>What the readings say, part by part.</returns>
    public IReadOnlyList<GaugeResult> Measure(Finding f)
    {
        if (!Act())
        {
            return [];
        }
        Open(Groups(Knowledge.Layout.PartsOfKind(f.At)));
        if (ReadInstead.Of(Knowledge.Handbook.Gauging, Knowledge.Layout, f.Id) is not [var way, ..])
        {
            return [];
        }
        var (results, said) = measuring.Of(f, way, Fitted);
        Machine.Spend(way.Minutes + f.RiskMinutes);
        Checking += way.Minutes + f.RiskMinutes;
        if (said is not null)
        {
            heard.Add(said);
        }
        return results;
    }

    /// <summary>What sounds now; of several any one.</summary>
    private string Sounding()
    {
        var audible = NoiseBench.FaultsOf(Knowledge.Layout);
        var sounding = Machine.Speaking.Where(audible.Contains).Select(NoiseBench.MechanismOf).ToList();
        return sounding.Count == 0 || sounding[ear.Next(sounding.Count)] is not (not Mechanism.Mains and var m)
            ? "none"
            : m.Word();
    }

    /// <summary>Opens up to parts, to look.</summary>
    public void OpenTo(IEnumerable<Part> parts)
    {
        if (Act())
        {
            Open(Groups(parts));
        }
    }

    /// <summary>Operations that are out when the parts of a fault lie free; none where it is put right from outside.</summary>
    public IReadOnlyList<OperationId> OutFor(Fault fault) =>
        fault.FromOutside || fault.Action == FaultAction.Refer
            ? []
            :
            [
                .. Knowledge
                    .Planner.StateAfterFreeing(
                        Knowledge.Layout.PartsOfKind(fault.Kinds).Select(p => p.Id),
                        Knowledge.Planner.Graph.SetOf(done)
                    )
                    .ToList()
                    .Where(i => !Knowledge.Planner.Graph.Virtual.Has(i))
                    .Select(i => Knowledge.Planner.Graph.Node(i).Id),
            ];

    /// <summary>Puts a fault right, closes and proves.</summary>
    public void Repair(Fault fault)
    {
        if (!Act())
        {
            return;
        }
        var parts = Knowledge.Layout.PartsOfKind(fault.Kinds).ToList();
        var targets = fault.FromOutside ? [] : parts.Select(p => p.Id).ToList();
        var state = Knowledge.Planner.Graph.SetOf(done);
        var open = Knowledge.Planner.MinutesToFree(targets, state) ?? Basis.ReferMinutes;
        Openings += open > 0 ? 1 : 0;
        if (looksRound && open > 0)
        {
            done =
            [
                .. Knowledge
                    .Planner.StateAfterFreeing(targets, state)
                    .ToList()
                    .Select(i => Knowledge.Planner.Graph.Node(i).Id),
            ];
            LookRound();
        }
        Machine.Spend(
            open + fault.FixMinutes,
            fault.Action == FaultAction.Replace ? parts.Where(p => p.Wears).Sum(p => p.Price * p.Count) : 0
        );
        var cured = Machine.Repair(fault);
        Wrong += !cured && fault.Action == FaultAction.Replace ? 1 : 0;
        if (fault.Action == FaultAction.Replace)
        {
            Fitted.AddRange(targets.Except(Fitted));
        }
        PutRight.Add(fault.Id);
        cured |= AlsoSeen(fault, parts);
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
            CuredSome = true;
            heard.Clear();
            // What may be otherwise now is asked anew; what has nothing to do with it still holds.
            var catalog = Knowledge.Diagnostician.Model.Catalog;
            Evidence = Evidence
                .Where(e =>
                    catalog.FindFinding(e.Key)! is { Group: not FindingGroup.Complaint } f
                    && !SimulatedMachine.Shows(f, fault, true)
                )
                .ToDictionary();
            Hear();
        }
    }

    /// <summary>Whoever looks round puts right what he sees to be bad and may be the cause too, before he
    /// closes.</summary>
    private bool AlsoSeen(Fault first, List<Part> changed)
    {
        if (!looksRound)
        {
            return false;
        }
        var model = Knowledge.Diagnostician.Model;
        var state = Knowledge.Planner.Graph.SetOf(done);
        var speaks = Knowledge.Diagnostician.Believe(Request).Belief.Speaks();
        var cured = false;
        for (var i = 0; i < model.Faults.Count; i++)
        {
            var f = model.Faults[i];
            var parts = Knowledge.Layout.PartsOfKind(f.Kinds).ToList();
            var seen = Evidence.Any(e =>
                model.Catalog.FindFinding(e.Key) is { Group: FindingGroup.Inside } look
                && look.IndexOf(e.Value) is > 0 and var o
                && look.SeesKinds.Intersect(f.Kinds).Any()
                && look.Links.Any(l => l.Fault == f.Id && l.P[o - 1] >= 0.4)
            );
            if (
                f == first
                || f.Action == FaultAction.Refer
                || f.Hidden
                || PutRight.Contains(f.Id)
                || !seen
                || speaks[i] < 0.25
                || parts.Count == 0
                || Knowledge.Planner.MinutesToFree(parts.Select(p => p.Id), state) != 0
            )
            {
                continue;
            }
            var anew = parts.Except(changed).ToList();
            Machine.Spend(
                f.FixMinutes,
                f.Action == FaultAction.Replace ? anew.Where(p => p.Wears).Sum(p => p.Price * p.Count) : 0
            );
            changed.AddRange(anew);
            if (f.Action == FaultAction.Replace)
            {
                Fitted.AddRange(anew.Select(p => p.Id).Except(Fitted));
            }
            PutRight.Add(f.Id);
            cured |= Machine.Repair(f);
        }
        return cured;
    }

    /// <summary>Hands it over for a fault of another trade. Where there is one it is put right by whoever may, and what
    /// else is wrong brings the repairer back.</summary>
    public void HandOver()
    {
        // Whoever comes for it finds which of the others' faults it is.
        var theirs = Machine
            .Speaking.Select(id => Knowledge.Diagnostician.Model.Catalog.FindFault(id)!)
            .Where(f => f.Action == FaultAction.Refer)
            .ToList();
        theirs.ForEach(f => Machine.Repair(f));
        if (theirs.Count == 0)
        {
            End();
            return;
        }
        if (Machine.Right)
        {
            Over = true;
            return;
        }
        CallBacks++;
        Machine.Spend(Basis.CallBackMinutes);
        PutRight.AddRange(theirs.Select(f => f.Id));
        CuredSome = true;
        (done, Evidence) = ([], []);
        heard.Clear();
        Hear();
    }

    /// <summary>Gives it up.</summary>
    public void End()
    {
        Over = true;
        GivenUp = !Machine.Right;
        Machine.Spend(GivenUp ? Basis.ReferMinutes : 0);
    }

    /// <summary>What it costs whoever knows the faults.</summary>
    public static double Clairvoyant(MachineKnowledge knowledge, SimulatedMachine machine)
    {
        var model = knowledge.Diagnostician.Model;
        var faults = machine
            .Speaking.Select(id => model.Catalog.FindFault(id)!)
            .Where(f => f.Action != FaultAction.Refer)
            .ToList();
        if (faults.Count == 0)
        {
            return 0;
        }
        var parts = faults
            .Where(f => !f.FromOutside)
            .SelectMany(f => knowledge.Layout.PartsOfKind(f.Kinds))
            .Distinct()
            .ToList();
        var money = faults
            .Where(f => f.Action == FaultAction.Replace)
            .SelectMany(f => knowledge.Layout.PartsOfKind(f.Kinds))
            .Distinct()
            .Where(p => p.Wears)
            .Sum(p => p.Price * p.Count);
        return (knowledge.Planner.MinutesToFree(parts.Select(p => p.Id), Bits.None) ?? 0)
            + faults.Sum(f => f.FixMinutes)
            + model.Catalog.Costs.ProveMinutes
            + money / model.Catalog.Costs.RatePerHour * 60;
    }

    private void Hear()
    {
        foreach (
            var id in Fitted.Count + PutRight.Count == 0
                ? Machine.Complaints
                : Knowledge
                    .Diagnostician.Model.Findings.Where(f =>
                        f.Group == FindingGroup.Complaint && Machine.Answer(f.Id) == "yes"
                    )
                    .Select(f => f.Id)
        )
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
                End();
            }
            return false;
        }
        return true;
    }

    private void Open(List<IReadOnlyList<OperationId>> groups)
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
        done = [.. after.ToList().Select(i => Knowledge.Planner.Graph.Node(i).Id)];
        LookRound();
        // In vain where nothing that speaks can be seen from there.
        Vain += Machine
            .Speaking.Select(id => Knowledge.Diagnostician.Model.Catalog.FindFault(id)!)
            .Any(f =>
                f.Action != FaultAction.Refer
                && Knowledge.Layout.PartsOfKind(f.Kinds) is var parts
                && parts.Any()
                && Knowledge.Planner.MinutesTo(Groups(parts), after) == 0
            )
            ? 0
            : 1;
    }

    /// <summary>Every quick look at what lies open, by the way and at no time of its own: the harder reference, for it
    /// helps whoever opens soon.</summary>
    private void LookRound()
    {
        foreach (
            var look in looksRound
                ? Knowledge
                    .Diagnostician.Model.Findings.Where(f =>
                        f is { Group: FindingGroup.Inside, Live: false, Runs: false, Minutes: <= 1 }
                        && !Evidence.ContainsKey(f.Id)
                        && heard.TrueForAll(g => g.FindingId != f.Id)
                        && MinutesTo(f) == 0
                    )
                    .ToList()
                : []
        )
        {
            Evidence[look.Id] = Machine.Answer(look.Id);
        }
    }

    private static List<IReadOnlyList<OperationId>> Groups(IEnumerable<Part> parts) =>
        [.. parts.SelectMany(p => p.SeenAfter)];
}
