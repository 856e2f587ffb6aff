using Idrum.Core.Jobs.Known;

namespace Idrum.Web.Drawing;

/// <summary>What the looks of a drawing mean, in words: only those that the picture holds.</summary>
/// <param name="Parts">How parts stand.</param>
/// <param name="Focus">What the filled parts are; empty where none is filled.</param>
/// <param name="ComingOff">Whether some parts are hatched.</param>
public sealed record LegendOf(IReadOnlyDictionary<PartId, PartCondition> Parts, string Focus, bool ComingOff)
{
    public bool Holds(PartCondition condition) => Parts.Values.Contains(condition);
}
