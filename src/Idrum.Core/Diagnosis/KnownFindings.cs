namespace Idrum.Core.Diagnosis;

/// <summary>What is known, as a model takes it.</summary>
internal static class KnownFindings
{
    private const string BeforeSuffix = "@before";

    /// <summary>What a complaint tells of the time before the machine stopped doing what it needs to show
    /// itself.</summary>
    internal static Finding Before(Finding complaint) =>
        complaint with
        {
            Id = complaint.Id + BeforeSuffix,
            Group = FindingGroup.Before,
            Name = complaint.Name + ", before",
            States = [],
            Otherwise = new Dictionary<MachineDoes, string>(),
        };

    /// <summary>The finding that was answered.</summary>
    internal static string Answered(string findingId) =>
        findingId.EndsWith(BeforeSuffix, StringComparison.Ordinal) ? findingId[..^BeforeSuffix.Length] : findingId;

    /// <summary>Places of findings and outcomes. A noise that the customer tells of is one of before where the machine
    /// is known not to do now what it needs to
    /// be heard; what was not mentioned is a soft no (outcome −1) once the complaint is taken.</summary>
    /// <param name="model">The model; findings it does not have are passed over.</param>
    /// <param name="findings">Finding id → outcome id.</param>
    /// <param name="told">Whether the complaint is taken.</param>
    /// <exception cref="ArgumentException">An unknown outcome of a known finding.</exception>
    internal static List<(int Finding, int Outcome)> Places(
        FaultModel model,
        IReadOnlyDictionary<string, string> findings,
        bool told
    )
    {
        var known = new List<(int, int)>();
        var stopped = Stopped(model, findings);
        foreach (var (id, outcome) in findings)
        {
            var place = model.IndexOfFinding(id);
            if (place < 0)
            {
                continue;
            }
            var finding = model.Findings[place];
            if (finding.IndexOf(outcome) is not (>= 0 and var o))
            {
                throw new ArgumentException($"'{id}' has no outcome '{outcome}'.", nameof(findings));
            }
            var before =
                o > 0
                && stopped is { } does
                && finding is { Group: FindingGroup.Complaint, States.Count: > 0, Tells: null }
                && finding.States.All(s => s != does);
            known.Add((before ? model.IndexOfFinding(id + BeforeSuffix) : place, o));
        }
        if (told)
        {
            known.AddRange(
                Enumerable
                    .Range(0, model.Findings.Count)
                    .Where(f =>
                        model.Findings[f].Group == FindingGroup.Complaint && !findings.ContainsKey(model.Findings[f].Id)
                    )
                    .Select(f => (f, -1))
            );
        }
        return known;
    }

    /// <summary>Places and likelihoods of graded findings; what is answered too goes by its answer, and what the model
    /// does not have is passed over.</summary>
    internal static List<(int Finding, double[] Likelihood)> Graded(
        FaultModel model,
        IReadOnlyList<GradedFinding> graded,
        IReadOnlyDictionary<string, string> findings
    ) =>
        [
            .. graded
                .Where(g => !findings.ContainsKey(g.FindingId) && model.IndexOfFinding(g.FindingId) >= 0)
                .Select(g =>
                    (model.IndexOfFinding(g.FindingId), g.On(model.Findings[model.IndexOfFinding(g.FindingId)]))
                ),
        ];

    /// <summary>What the machine is known to do instead of running: as it was told, or seen at the start; null where it
    /// runs or nobody knows.</summary>
    internal static MachineDoes? Stopped(FaultModel model, IReadOnlyDictionary<string, string> findings)
    {
        foreach (var (id, outcome) in findings)
        {
            if (model.Catalog.FindFinding(id) is not { } finding)
            {
                continue;
            }
            if (finding.Tells is not null && finding.IndexOf(outcome) == 1)
            {
                return finding.Tells;
            }
            if (finding.Id == "start-listen" && finding.Otherwise.Any(o => o.Value == outcome))
            {
                return finding.Otherwise.First(o => o.Value == outcome).Key;
            }
        }
        return null;
    }
}
