using System.Text.Json;
using System.Text.Json.Serialization;

namespace Idrum.Core.Machines;

/// <summary>Writes a <see cref="ToolUse"/> as its id where it is one tool without a condition, else as
/// <c>{"any": [ids], "when": condition}</c>.</summary>
public sealed class ToolUseConverter : JsonConverter<ToolUse>
{
    private sealed record Long(
        IReadOnlyList<string> Any,
        [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Condition? When = null
    );

    /// <inheritdoc />
    public override ToolUse Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
    {
        if (reader.TokenType == JsonTokenType.String)
        {
            return new([reader.GetString()!]);
        }
        var use = JsonSerializer.Deserialize<Long>(ref reader, options);
        return use is { Any.Count: > 0 }
            ? new(use.Any, use.When)
            : throw new JsonException("A tool is an id or a list of those that do.");
    }

    /// <inheritdoc />
    public override void Write(Utf8JsonWriter writer, ToolUse value, JsonSerializerOptions options)
    {
        if (value is { When: null, Any: [var only] })
        {
            writer.WriteStringValue(only);
        }
        else
        {
            JsonSerializer.Serialize(writer, new Long(value.Any, value.When), options);
        }
    }
}
