namespace Idrum.Core.Machines;

/// <summary>Where a step or a way of fitting a part holds: all that is filled in must.</summary>
public sealed record PartWhere
{
    /// <summary>A fact of the machine.</summary>
    public Condition? When { get; init; }

    /// <summary>One of these small parts is in the part's stack or comes over from the old one.</summary>
    public IReadOnlyList<string>? With { get; init; }

    /// <summary>The machine has parts of one of these kinds.</summary>
    public IReadOnlyList<string>? Has { get; init; }

    /// <summary>The machine has no part of these kinds.</summary>
    public IReadOnlyList<string>? HasNot { get; init; }

    /// <summary>The tensioner's arm has a latch, or has none.</summary>
    public bool? Latch { get; init; }

    /// <summary>Whether it holds.</summary>
    /// <param name="part">The part.</param>
    /// <param name="layout">Its machine.</param>
    public bool Holds(Part part, Layout layout) =>
        layout.Holds(When)
        && (With is null || With.Any(w => part.Stack.Any(p => p.Name == w) || part.Transfer.Contains(w)))
        && (Latch is null || Latch == layout.Drive.Tensioner.LatchDeg is not null)
        && (Has is null || layout.Parts.Any(p => Has.Contains(p.Kind)))
        && (HasNot is null || !layout.Parts.Any(p => HasNot.Contains(p.Kind)));
}
