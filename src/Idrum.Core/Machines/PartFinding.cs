namespace Idrum.Core.Machines;

/// <summary>One part, seen with one question in mind.</summary>
/// <param name="Part">Id of the part.</param>
/// <param name="Finding">Id of what was looked for.</param>
public readonly record struct PartFinding(string Part, string Finding) : IComparable<PartFinding>
{
    /// <inheritdoc />
    public int CompareTo(PartFinding other) =>
        string.CompareOrdinal(Part, other.Part) is not 0 and var first
            ? first
            : string.CompareOrdinal(Finding, other.Finding);

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <(PartFinding a, PartFinding b) => a.CompareTo(b) < 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >(PartFinding a, PartFinding b) => a.CompareTo(b) > 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <=(PartFinding a, PartFinding b) => a.CompareTo(b) <= 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >=(PartFinding a, PartFinding b) => a.CompareTo(b) >= 0;
}
