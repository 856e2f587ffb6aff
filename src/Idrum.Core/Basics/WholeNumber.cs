using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Basics;

/// <summary>Reads a whole number however it is written: 2.0 and 2e0 are 2, as JSON has one kind of number only.</summary>
public sealed class WholeNumber : JsonConverter<int>
{
    /// <inheritdoc />
    public override int Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType != JsonTokenType.Number ? throw new JsonException()
        : reader.TryGetInt32(out var whole) ? whole
        : reader.TryGetDouble(out var number)
        && number == Math.Truncate(number)
        && number is >= int.MinValue and <= int.MaxValue
            ? (int)number
        : throw new JsonException();

    /// <inheritdoc />
    public override void Write(Utf8JsonWriter writer, int value, JsonSerializerOptions options) =>
        writer.WriteNumberValue(value);
}
