using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>What a drawing is to show beside the machine itself.</summary>
public sealed record DrawingRequest
{
    /// <summary>Views side by side; see <see cref="Projection.Names"/>.</summary>
    public IReadOnlyList<string> Views { get; init; } = ["door", "slanting"];

    /// <summary>How parts stand; those not named are in place. Parts that are out are gone from the picture.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> Conditions { get; init; } =
        new Dictionary<PartId, PartCondition>();

    /// <summary>Parts in question, filled with copper; dashed where others hide them.</summary>
    public IReadOnlyCollection<PartId> Focus { get; init; } = [];

    /// <summary>Parts that will come off, hatched.</summary>
    public IReadOnlyCollection<PartId> ComingOff { get; init; } = [];

    /// <summary>Operations whose parts, although out, are drawn where their motion takes them.</summary>
    public IReadOnlyList<Operation> Exploded { get; init; } = [];

    /// <summary>The step shown: its motion as an arrow, its fasteners and plugs as marks.</summary>
    public Operation? Step { get; init; }

    /// <summary>Whether the step goes in: the arrow is turned round.</summary>
    public bool Inward { get; init; }

    /// <summary>Whether the step's place stands beside the whole, to scale.</summary>
    public bool CloseUp { get; init; }

    /// <summary>Only what is in question is drawn, as large as it fits: what such a part looks like.</summary>
    public bool Alone { get; init; }

    /// <summary>Address a part leads to, with {0} for its id; null where parts are not clickable.</summary>
    public string? Link { get; init; }

    internal string Key =>
        string.Join(
            '|',
            string.Join(',', Views),
            string.Join(',', Conditions.OrderBy(c => c.Key).Select(c => c.Key + c.Value.Word())),
            string.Join(',', Focus.Order()),
            string.Join(',', ComingOff.Order()),
            string.Join(',', Exploded.Select(o => o.Id)),
            StepKey,
            Inward,
            CloseUp,
            Link,
            Alone
        );

    private string StepKey =>
        Step is null
            ? ""
            : $"{Step.Id}:{string.Join(',', Step.Fasteners.Select(f => $"{f.Id}{f.Count}x{f.At.Count}l{string.Join('.', f.LeftInAt)}a{(f.At.Count > 0 ? string.Join('.', f.At[0]) : "")}"))}:{string.Join(',', Step.Plugs.Select(p => p.Id))}:{Step.Motion is not null}:{(Step.Tools.Count > 0 ? Step.Tools[0].Any[0] : "")}";
}
