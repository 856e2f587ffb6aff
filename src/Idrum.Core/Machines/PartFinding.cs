using System.Text.Json;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>One part, seen with one question in mind.</summary>
/// <param name="Part">Id of the part.</param>
/// <param name="Finding">Id of what was looked for.</param>
/// <remarks>As JSON it is written <c>part/finding</c>: the key of an entry.</remarks>
[JsonConverter(typeof(Converter))]
public readonly record struct PartFinding(PartId Part, string Finding) : IComparable<PartFinding>
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

    /// <inheritdoc />
    public override string ToString() => $"{Part}/{Finding}";

    private const string Written = "A part with what was looked for is written part/finding.";

    private static PartFinding Parse(string text) =>
        text.Split('/') is [var part, var finding] ? new(part, finding) : throw new JsonException(Written);

    private sealed class Converter() : WrittenConverter<PartFinding>(Parse, p => p.ToString(), Written);
}
