using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>Follows the advice on simulated machines and holds every single advice against what the trade forbids: to
/// open before a free check of the likeliest
/// cause, to run what does not run or smells burnt, to call an outlet proved that nobody measured, to change what
/// nobody looked at, to have no end.</summary>
internal sealed class AdviceJudge(MachineKnowledge machine)
{
    private static readonly string[] Starts = ["start-listen", "start-held", "cool-wait"];
    private static readonly string[] BeforeRunning = ["smell", "chute", "blower-torch", "drum-hand"];

    /// <summary>Acts of one round, from hearing it to putting something right or handing it over; looks at what lies
    /// open already are one walk round it and are
    /// not counted here, only in all.</summary>
    private const int MostActs = 26;
    private const int MostWithLooks = 34;

    private readonly Diagnostician d = machine.Diagnostician;

    /// <summary>Acts until the end, all jobs.</summary>
    internal int Acts { get; private set; }

    /// <summary>Jobs that ended with the machine right, or rightly handed over.</summary>
    internal int Right { get; private set; }

    /// <summary>One job.</summary>
    /// <returns>What was advised that must not be, or null.</returns>
    internal string? Job(int seed)
    {
        var simulated = new SimulatedMachine(
            d.Model,
            0.4 + new Random(seed).NextDouble() * 1.4,
            new Random(seed * 17 + 3)
        );
        var told = simulated.Complaints.ToDictionary(c => c, _ => "yes");
        var evidence = told.ToDictionary();
        var (done, fitted, putRight) = (new HashSet<OperationId>(), new List<PartId>(), new List<FaultId>());
        var last = "";
        for (var (n, looks) = (0, 0); n < MostActs && n + looks < MostWithLooks; )
        {
            var request = new DiagnosisRequest(evidence, [.. done], simulated.Wear, ComplaintsTold: true)
            {
                Fitted = fitted,
                PutRight = putRight,
                HeardAgain = putRight.Count > 0,
            };
            var result = d.Diagnose(request);
            if (Wrong(result, request, putRight.Count > 0) is { } wrong)
            {
                return $"{wrong}; known: {string.Join(' ', evidence.Select(e => e.Key + "=" + e.Value))}; out: {string.Join(' ', done)}";
            }
            Acts++;
            n++;
            var advice = result.Advice;
            last = $"{advice.Kind.Word()} {advice.Id}, out: {string.Join(' ', done)}";
            if (advice.Kind == AdviceKind.Check)
            {
                var finding = d.Model.Catalog.FindFinding(advice.Id)!;
                if (
                    finding.Group == FindingGroup.Inside
                    && result.Checks.Any(c => c.Finding.Id == finding.Id && c.TeardownMinutes == 0)
                )
                {
                    (n, looks) = (n - 1, looks + 1);
                }
                Open(finding.At);
                evidence[advice.Id] = simulated.Answer(advice.Id);
            }
            else if (advice.Kind == AdviceKind.Open)
            {
                var before = done.Count;
                done =
                [
                    .. machine
                        .Planner.StateAfter(
                            machine.Layout.FindPart(advice.Id)!.SeenAfter,
                            machine.Planner.Graph.SetOf(done)
                        )
                        .ToList()
                        .Select(o => machine.Planner.Graph.Node(o).Id),
                ];
                if (done.Count == before)
                {
                    return $"opens for {advice.Id}, which lies open; out: {string.Join(' ', done)}";
                }
            }
            else if (advice.Kind == AdviceKind.Repair)
            {
                var fault = d.Model.Catalog.FindFault(advice.Id)!;
                simulated.Repair(fault);
                putRight.Add(fault.Id);
                fitted.AddRange(
                    fault.Action == FaultAction.Replace ? machine.Layout.PartsOfKind(fault.Kinds).Select(p => p.Id) : []
                );
                if (simulated.Right)
                {
                    Right++;
                    return null;
                }
                // What is left speaks and is heard: a round of its own.
                (n, looks) = (0, 0);
                (done, evidence) = (
                    [],
                    d.Model.Findings.Where(f => f.Group == FindingGroup.Complaint && simulated.Answer(f.Id) == "yes")
                        .ToDictionary(f => f.Id, _ => "yes")
                );
            }
            else
            {
                Right +=
                    advice.Kind == AdviceKind.Refer
                        && simulated.Speaking.Any(id => d.Model.Catalog.FindFault(id)!.Action == FaultAction.Refer)
                    || simulated.Right
                        ? 1
                        : 0;
                return null;
            }
        }
        return $"no end: {last}; put right: {string.Join(' ', putRight)}; wrong: {string.Join(' ', simulated.Speaking)}; known: {string.Join(' ', evidence.Select(e => e.Key + "=" + e.Value))}";

        void Open(IReadOnlyList<string> kinds)
        {
            var groups = machine.Layout.PartsOfKind(kinds).SelectMany(p => p.SeenAfter).ToList();
            done =
            [
                .. machine
                    .Planner.StateAfter(groups, machine.Planner.Graph.SetOf(done))
                    .ToList()
                    .Select(o => machine.Planner.Graph.Node(o).Id),
            ];
        }
    }

    private string? Wrong(DiagnosisResult result, DiagnosisRequest request, bool repaired)
    {
        var (advice, known) = (result.Advice, request.Findings);
        string? Known(string id) => known.GetValueOrDefault(id);
        // Held by hand it starts: then it runs, whatever was told.
        var starts = Known("start-held") == "starts";
        var dead =
            !starts
            && (Known("start-listen") is "silent" || Known("start-listen") is null && Known("nothing-runs") == "yes");
        var hums =
            !starts && (Known("start-listen") is "hums" || Known("start-listen") is null && Known("hums") == "yes");
        switch (advice.Kind)
        {
            case AdviceKind.Check:
                var check = d.Model.Catalog.FindFinding(advice.Id)!;
                if (check.Runs && request.Done.Count > 0)
                {
                    return $"{check.Id} runs an open machine";
                }
                if (check.Runs && !Starts.Contains(check.Id) && (dead || hums))
                {
                    return $"{check.Id} runs what {(dead ? "is dead" : "hums")}";
                }
                if (
                    (check.Runs || Starts.Contains(check.Id))
                    && (Known("burning") == "yes" || Known("smell") is "burnt" or "rubber")
                    && BeforeRunning.FirstOrDefault(b =>
                        Known(b) is null && result.Checks.Any(c => c.Finding.Id == b && c.TeardownMinutes == 0)
                    )
                        is { } before
                )
                {
                    return $"{check.Id} runs what smells burnt before {before}";
                }
                break;
            case AdviceKind.Open:
                var likeliest = result.Causes.First(c => c.Fault.Action != FaultAction.Refer);
                var free = result.Checks.FirstOrDefault(c =>
                    c
                        is {
                            TeardownMinutes: 0,
                            Minutes: <= 3,
                            Finding: { Group: FindingGroup.Outside, Live: false, SeesKinds.Count: > 0 }
                        }
                    && c.Finding.SeesKinds.Intersect(likeliest.Fault.Kinds).Any()
                    && c.Finding.Links.Any(l => l.Fault == likeliest.Fault.Id && l.P.Sum() >= 0.5)
                );
                // What was seen from outside already is seen.
                var seen = known.Any(k =>
                    d.Model.Catalog.FindFinding(k.Key) is { Group: FindingGroup.Outside } look
                    && look.IndexOf(k.Value) > 0
                    && look.SeesKinds.Intersect(likeliest.Fault.Kinds).Any()
                );
                if (free is not null && !seen)
                {
                    return $"opens for {advice.Id} before {free.Finding.Id} was looked at, which shows {likeliest.Fault.Id} ({likeliest.Probability:0.00})";
                }
                break;
            case AdviceKind.Repair or AdviceKind.Bring:
                var fault = d.Model.Catalog.FindFault(advice.Id)!;
                if (
                    !repaired
                    && fault is { Action: FaultAction.Replace, Hidden: false }
                    && result
                        .Causes.Where(c =>
                            c.Fault.Action == FaultAction.Replace && c.Fault.Kinds.SequenceEqual(fault.Kinds)
                        )
                        .Sum(c => c.Probability) < 0.9
                    && !known.Any(k =>
                        d.Model.Catalog.FindFinding(k.Key)
                            is { Group: FindingGroup.Inside or FindingGroup.Outside } look
                        && look.IndexOf(k.Value) > 0
                        && look.SeesKinds.Intersect(fault.Kinds).Any()
                    )
                    && result.Checks.Any(c =>
                        c.Finding is { Group: FindingGroup.Inside, Live: false }
                        && c.Finding.SeesKinds.Intersect(fault.Kinds).Any()
                        && c.Finding.Links.Any(l => l.Fault == fault.Id && l.P.Sum() >= 0.5)
                    )
                )
                {
                    return $"changes {fault.Id} that nobody looked at";
                }
                break;
            case AdviceKind.Refer:
                if (
                    (dead || advice.Id == "no-supply")
                    && Known("supply") is null
                    && d.Model.IndexOfFinding("supply") >= 0
                )
                {
                    return $"hands over as {advice.Id} with the outlet not measured";
                }
                break;
        }
        return
            advice.Reason.Contains("Outlet and door were proved", StringComparison.Ordinal)
            && (Known("supply") != "good" || Known("door-hold") != "clicks")
            ? $"calls an outlet proved that is {Known("supply") ?? "not measured"}"
            : null;
    }
}
