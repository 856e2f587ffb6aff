using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>What the walk-round tells of the machine as a whole: parts are seen one by one, a check is about all of
/// their kind.</summary>
public static class SeenEvidence
{
    /// <summary>Finding id → outcome id: what was answered, and what follows from the parts seen. One bad part makes
    /// the check bad; it is good
    /// only once all parts of its kinds were seen.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyDictionary<string, string> Of(JobState state, MachineKnowledge machine)
    {
        if (state.Seen.IsEmpty)
        {
            return state.Evidence;
        }
        var evidence = state.Evidence.ToDictionary();
        foreach (
            var group in state.Seen.Select(s => (s.Key.Part, s.Key.Finding, Outcome: s.Value)).GroupBy(s => s.Finding)
        )
        {
            if (machine.Diagnostician.Model.Catalog.FindFinding(group.Key) is not { } finding)
            {
                continue;
            }
            var worst = group.Max(s => finding.IndexOf(s.Outcome));
            if (
                worst > 0
                || worst == 0 && machine.Layout.PartsOfKind(finding.SeesKinds).All(p => group.Any(s => s.Part == p.Id))
            )
            {
                evidence[group.Key] = finding.Outcomes[worst].Id;
            }
        }
        return evidence;
    }

    /// <summary>The same with what earlier jobs on the machine tell, where nobody answered in this one.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="earlier">What earlier jobs tell.</param>
    public static IReadOnlyDictionary<string, string> Of(
        JobState state,
        MachineKnowledge machine,
        IEnumerable<EarlierWork> earlier
    )
    {
        var known = Of(state, machine).ToDictionary();
        foreach (var told in earlier.Where(t => !state.Answers.ContainsKey(t.FindingId)))
        {
            known.TryAdd(told.FindingId, told.Outcome);
        }
        return known;
    }

    /// <summary>Parts of a fault that were seen to be bad; all of its parts where none was looked at by
    /// itself.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="faultId">The fault.</param>
    public static IReadOnlyList<Part> Bad(JobState state, MachineKnowledge machine, FaultId faultId)
    {
        var catalog = machine.Diagnostician.Model.Catalog;
        List<Part> parts = [.. machine.Layout.PartsOfKind(catalog.FindFault(faultId)?.Kinds ?? [])];
        var bad = parts
            .Where(p =>
                state.Seen.Any(s =>
                    s.Key.Part == p.Id
                    && catalog.FindFinding(s.Key.Finding) is { } f
                    && f.IndexOf(s.Value) is > 0 and var k
                    && f.Links.Any(l => l.Fault == faultId && l.P[k - 1] >= 0.3)
                )
            )
            .ToList();
        return bad.Count > 0 ? bad : parts;
    }
}
