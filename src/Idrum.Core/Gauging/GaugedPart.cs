using System.Text.Json;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;

namespace Idrum.Core.Gauging;

/// <summary>One part, measured by one protocol.</summary>
/// <param name="Protocol">Id of the protocol.</param>
/// <param name="Part">Id of the part; empty where the machine is measured.</param>
/// <remarks>As JSON it is written <c>protocol/part</c>: the key of an entry.</remarks>
[JsonConverter(typeof(Converter))]
public readonly record struct GaugedPart(string Protocol, PartId Part) : IComparable<GaugedPart>
{
    private const string Written = "A part with what measures it is written protocol/part.";

    /// <inheritdoc />
    public int CompareTo(GaugedPart other) =>
        string.CompareOrdinal(Protocol, other.Protocol) is not 0 and var first ? first : Part.CompareTo(other.Part);

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <(GaugedPart a, GaugedPart b) => a.CompareTo(b) < 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >(GaugedPart a, GaugedPart b) => a.CompareTo(b) > 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator <=(GaugedPart a, GaugedPart b) => a.CompareTo(b) <= 0;

    /// <summary>In the order of <see cref="CompareTo"/>.</summary>
    public static bool operator >=(GaugedPart a, GaugedPart b) => a.CompareTo(b) >= 0;

    /// <inheritdoc />
    public override string ToString() => $"{Protocol}/{Part}";

    private static GaugedPart Parse(string text) =>
        text.Split('/') is [var protocol, var part] ? new(protocol, part) : throw new JsonException(Written);

    private sealed class Converter() : WrittenConverter<GaugedPart>(Parse, p => p.ToString(), Written);
}
