using Idrum.Core.Machines;

namespace Idrum.Core.Diagnosis;

/// <summary>How the machine stands: what is out or slack, so that a check that needs it in place is not asked
/// for.</summary>
/// <param name="layout">The machine.</param>
/// <param name="done">Operations done and not put back.</param>
internal sealed class MachineStanding(Layout layout, IReadOnlyCollection<OperationId> done)
{
    private readonly HashSet<PartId> off =
    [
        .. done.Select(layout.FindOperation).OfType<Operation>().SelectMany(o => o.TakesOff),
    ];
    private readonly HashSet<PartId> slack =
    [
        .. done.Select(layout.FindOperation).OfType<Operation>().SelectMany(o => o.Loosens),
    ];

    /// <summary>Whether everything that a check asks of the machine's state is so.</summary>
    /// <param name="finding">The check.</param>
    /// <param name="does">Probability of each thing that the machine may do when it is started.</param>
    internal bool Allows(Finding finding, double[] does) =>
        finding.Needs.All(n =>
            n switch
            {
                FindingNeed.Closed => done.Count == 0,
                FindingNeed.DrumIn => layout.Parts.Where(p => p.Kind == PartKinds.Drum).All(p => !off.Contains(p.Id)),
                FindingNeed.FrontOn => Front.All(p => !off.Contains(p)),
                FindingNeed.BeltOn => layout
                    .Parts.Where(p => p.Kind == PartKinds.Belt)
                    .All(p => !off.Contains(p.Id) && !slack.Contains(p.Id)),
                // As likely as not it does not start: then it is seen first what it does.
                FindingNeed.Starts => does[(int)MachineDoes.Dead] + does[(int)MachineDoes.Hums] < 0.5,
                FindingNeed.Runs => does[(int)MachineDoes.Runs] > 0.5,
                _ => true,
            }
        );

    /// <summary>What carries felt or glides of the drum's front.</summary>
    private IEnumerable<PartId> Front =>
        layout
            .Parts.Where(p => p.Kind is PartKinds.FrontFelt or PartKinds.Glide && !p.On.IsNone)
            .Select(p => p.On)
            .Distinct();
}
