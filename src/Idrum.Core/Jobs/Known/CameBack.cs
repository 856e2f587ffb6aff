using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>What of an earlier job matters to whoever comes back to its machine: by what call-backs are caused. A twin of
/// what was changed, a cause that was left, work that was declined, one's own closing.</summary>
public static class CameBack
{
    /// <summary>Sentences, what was done first.</summary>
    /// <param name="earlier">The job that came back.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<string> Of(JobState earlier, MachineKnowledge machine)
    {
        var layout = machine.Layout;
        string Name(PartId part) => layout.FindPart(part)?.Name ?? part;
        var renewed = earlier.Fitted.Values.Where(f => f.Action == FittedAs.Replaced).Select(f => f.PartId).ToList();
        var twins = layout
            .Parts.Where(p =>
                p.Wears && !renewed.Contains(p.Id) && renewed.Exists(r => layout.FindPart(r)?.Kind == p.Kind)
            )
            .Select(p => p.Name)
            .ToList();
        var left = earlier
            .Found.Where(f => f.Decision == Decided.Leave)
            .Select(f =>
                (
                    machine.Diagnostician.Model.Catalog.FindFault(f.FaultId)?.Name
                    ?? string.Join(", ", f.Parts.Select(Name))
                ) + (f.Reason.Length > 0 ? $" ({f.Reason.TrimEnd('.')})" : "")
            )
            .ToList();
        return
        [
            .. One("Renewed then: ", [.. renewed.Select(Name)]),
            .. One("Their twins were not: ", twins),
            .. One("Left as it was: ", left),
            .. One("Declined then: ", [.. earlier.Declined.Select(d => Name(d.Part)).Distinct()]),
            .. One(
                "Put right without a new part: ",
                [
                    .. earlier
                        .Fitted.Values.Where(f => f.Action is FittedAs.Cleaned or FittedAs.Adjusted)
                        .Select(f => Name(f.PartId)),
                ]
            ),
            .. earlier.Removals.Count > 0
                ? ["It was opened: look for a fold in a felt, a plug, a latch, a screw of one's own closing."]
                : Array.Empty<string>(),
        ];
    }

    private static IEnumerable<string> One(string words, List<string> of) =>
        of.Count > 0 ? [words + string.Join(", ", of) + "."] : [];
}
