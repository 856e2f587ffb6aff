using System.Text.Json;
using System.Text.Json.Serialization;

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

    private static PartFinding Parse(string text) =>
        text.Split('/') is [var part, var finding]
            ? new(part, finding)
            : throw new JsonException("A part with what was looked for is written part/finding.");

    private sealed class Converter : JsonConverter<PartFinding>
    {
        public override PartFinding Read(
            ref Utf8JsonReader reader,
            Type typeToConvert,
            JsonSerializerOptions options
        ) => Parse(reader.GetString() ?? "");

        public override void Write(Utf8JsonWriter writer, PartFinding value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.ToString());

        public override PartFinding ReadAsPropertyName(
            ref Utf8JsonReader reader,
            Type typeToConvert,
            JsonSerializerOptions options
        ) => Parse(reader.GetString()!);

        public override void WriteAsPropertyName(
            Utf8JsonWriter writer,
            PartFinding value,
            JsonSerializerOptions options
        ) => writer.WritePropertyName(value.ToString());
    }
}
