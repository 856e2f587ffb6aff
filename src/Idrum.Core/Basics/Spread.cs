using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Basics;

/// <summary>A time with its spread, minutes.</summary>
/// <param name="Low">One in ten is faster.</param>
/// <param name="Typical">The usual time; what planning adds up.</param>
/// <param name="High">One in ten is slower.</param>
[JsonConverter(typeof(SpreadConverter))]
public readonly record struct Spread(double Low, double Typical, double High)
{
    /// <summary>Adds two independent steps. Typical times add; the distances to low and high add in squares
    /// (independent deviations), which is narrower than adding ends.</summary>
    public static Spread operator +(Spread a, Spread b)
    {
        var typical = a.Typical + b.Typical;
        return new(
            typical - double.Hypot(a.Typical - a.Low, b.Typical - b.Low),
            typical,
            typical + double.Hypot(a.High - a.Typical, b.High - b.Typical)
        );
    }

    /// <summary>Adds two independent steps; see the operator.</summary>
    public static Spread Add(Spread left, Spread right) => left + right;
}

/// <summary>Writes a <see cref="Spread"/> as <c>[low, typical, high]</c>.</summary>
public sealed class SpreadConverter : JsonConverter<Spread>
{
    /// <inheritdoc />
    public override Spread Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        Span<double> values = stackalloc double[3];
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            throw new JsonException("A time is [low, typical, high].");
        }
        for (var i = 0; i < 3; i++)
        {
            if (!reader.Read() || reader.TokenType != JsonTokenType.Number)
            {
                throw new JsonException("A time is [low, typical, high].");
            }
            values[i] = reader.GetDouble();
        }
        if (!reader.Read() || reader.TokenType != JsonTokenType.EndArray)
        {
            throw new JsonException("A time is [low, typical, high].");
        }
        return new(values[0], values[1], values[2]);
    }

    /// <inheritdoc />
    public override void Write(Utf8JsonWriter writer, Spread value, JsonSerializerOptions options)
    {
        writer.WriteStartArray();
        writer.WriteNumberValue(value.Low);
        writer.WriteNumberValue(value.Typical);
        writer.WriteNumberValue(value.High);
        writer.WriteEndArray();
    }
}
