using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Idrum.Core.Machines;

/// <summary>JSON as a text from elsewhere, looked through before anything reads it: what the reader would let through and a later
/// step could not hold (halves of characters, NUL, numbers beyond any measure).</summary>
public static class JsonText
{
    private const double Largest = 1e12;

    /// <summary>The text as an object, or null where it is none.</summary>
    public static JsonObject? ObjectOf(string json)
    {
        try
        {
            return JsonNode.Parse(json, null, new JsonDocumentOptions { MaxDepth = 32 }) as JsonObject;
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>The first fault of a text that is JSON.</summary>
    /// <param name="json">The text.</param>
    /// <returns>One fault with its pointer, or none.</returns>
    /// <exception cref="JsonException">The text is not JSON.</exception>
    public static IReadOnlyList<FieldError> Faults(string json)
    {
        var reader = new Utf8JsonReader(Encoding.UTF8.GetBytes(json), new JsonReaderOptions { MaxDepth = 32 });
        var property = "";
        while (reader.Read())
        {
            if (reader.TokenType is JsonTokenType.PropertyName or JsonTokenType.String)
            {
                string text;
                try
                {
                    text = reader.GetString()!;
                }
                catch (InvalidOperationException)
                {
                    return [new("/" + property, "Holds half a character (an unpaired surrogate).")];
                }
                if (text.Contains('\0', StringComparison.Ordinal))
                {
                    return [new("/" + property, "Holds a NUL character.")];
                }
                if (reader.TokenType == JsonTokenType.PropertyName)
                {
                    property = FieldErrors.Short(text);
                }
            }
            else if (reader.TokenType == JsonTokenType.Number && !(reader.ValueSpan.Length <= 40 && reader.TryGetDouble(out var n) && Math.Abs(n) <= Largest))
            {
                return [new("/" + property, "A number beyond any measure.")];
            }
        }
        return [];
    }

    /// <summary>What a reader found wrong, with its pointer and without a word about the program's inside.</summary>
    public static FieldError Fault(JsonException e, string before = "")
    {
        var path = (e.Path ?? "").TrimStart('$', '.').Replace("['", "/", StringComparison.Ordinal).Replace("']", "", StringComparison.Ordinal).Replace("[", "/", StringComparison.Ordinal).Replace("]", "", StringComparison.Ordinal).Replace('.', '/');
        var at = e.LineNumber is { } line ? $" (line {line + 1}, byte {e.BytePositionInLine + 1})" : "";
        var what = e.Message.Contains("could not be converted", StringComparison.Ordinal) ? "this value is not of the kind wanted here"
            : e.Message.Contains("required", StringComparison.Ordinal) ? "a field that must be there is missing"
            : e.Message.Contains("[low, typical, high]", StringComparison.Ordinal) ? "a time is [low, typical, high]"
            : e.Message.Contains("Duplicate", StringComparison.OrdinalIgnoreCase) ? "a field stands twice"
            : "it breaks off, or a sign stands where none may";
        return new("/" + path.TrimStart('/'), $"{before}{what}{at}.");
    }
}
