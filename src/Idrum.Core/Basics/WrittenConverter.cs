using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Basics;

/// <summary>Reads and writes a value as the one text that files write for it, also where it is the key of an
/// entry.</summary>
/// <typeparam name="T">What is written so.</typeparam>
/// <param name="parse">The value a text writes; throws <see cref="JsonException"/> where it writes none.</param>
/// <param name="write">The text that writes a value.</param>
/// <param name="what">What is said where there is no text.</param>
internal abstract class WrittenConverter<T>(Func<string, T> parse, Func<T, string> write, string what)
    : JsonConverter<T>
    where T : notnull
{
    public override T Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        reader.TokenType == JsonTokenType.String ? parse(reader.GetString()!) : throw new JsonException(what);

    public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options) =>
        writer.WriteStringValue(write(value));

    public override T ReadAsPropertyName(
        ref Utf8JsonReader reader,
        Type typeToConvert,
        JsonSerializerOptions options
    ) => parse(reader.GetString()!);

    public override void WriteAsPropertyName(Utf8JsonWriter writer, T value, JsonSerializerOptions options) =>
        writer.WritePropertyName(write(value));
}
