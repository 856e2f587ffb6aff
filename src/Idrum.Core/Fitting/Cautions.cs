using Idrum.Core.Machines;

namespace Idrum.Core.Fitting;

/// <summary>Which cautions stand before a step.</summary>
public static class Cautions
{
    /// <summary>Hazards that belong to the way back too: weight, springs and glue. Edges and falling panels are behind
    /// you then.</summary>
    private static readonly string[] Both = ["heavy", "idler", "sprung", "solvent"];

    /// <summary>Cautions of a step. Sharp edges are said once, before the first step that has them; what falls or
    /// springs is
    /// said where it does.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="words">Hazards and their texts.</param>
    /// <param name="outNow">Operations done and not put back.</param>
    /// <param name="operation">The step to come.</param>
    /// <param name="rebuilding">True where the step is put back.</param>
    /// <param name="ofStep">Hazards of the refit step itself.</param>
    public static IReadOnlyList<Hazard> Before(
        Layout layout,
        Vocabulary words,
        IEnumerable<OperationId> outNow,
        Operation operation,
        bool rebuilding,
        IReadOnlyList<string>? ofStep = null
    )
    {
        var edgesSaid = outNow.Any(o => layout.FindOperation(o)?.Hazards.Contains("edges") == true);
        return
        [
            .. operation
                .Hazards.Where(h => rebuilding ? Both.Contains(h) : h != "edges" || !edgesSaid)
                .Concat(ofStep ?? [])
                .Distinct()
                .Select(words.FindHazard)
                .OfType<Hazard>(),
        ];
    }
}
