namespace Idrum.Core.Diagnosis;

/// <summary>What the trade does first once something is known, before anything is opened or changed.</summary>
/// <param name="Id">Stable id.</param>
/// <param name="When">Finding id → outcome id: all of these are known.</param>
/// <param name="Checks">Finding ids, in the order they are made; those that cannot be made from here are passed
/// over.</param>
/// <param name="Why">The reason, one sentence.</param>
public sealed record FirstMoves(
    string Id,
    IReadOnlyDictionary<string, string> When,
    IReadOnlyList<string> Checks,
    string Why
)
{
    /// <summary>Whether the machine is not run before they are made.</summary>
    public bool BeforeRunning { get; init; }

    /// <summary>Fault ids that are not put right before they are made.</summary>
    public IReadOnlyList<string> Spares { get; init; } = [];

    /// <summary>What whoever calls is told until somebody is there; empty where there is nothing to say.</summary>
    public string Tell { get; init; } = "";

    /// <summary>Whether what they go by is known.</summary>
    /// <param name="known">Finding id → outcome id.</param>
    public bool Hold(IReadOnlyDictionary<string, string> known) =>
        When.All(w => known.GetValueOrDefault(w.Key) == w.Value);
}
