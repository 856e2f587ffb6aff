using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Idrum.Core.Basics;

/// <summary>JSON as a text from elsewhere, looked through before anything reads it: what the reader would let through
/// and a later
/// step could not hold (halves of characters, NUL, numbers beyond any measure).</summary>
public static class JsonText
{
    private const double Largest = 1e12;

    /// <summary>Most names, values and brackets of a text: a job of twenty thousand acts has a third of it. A text of empty
    /// things would take twenty times its size to hold.</summary>
    public const int MostValues = 1_000_000;

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

    /// <summary>What a reader would let through and must not: the first such fault, and every key that stands twice in
    /// its object.</summary>
    /// <param name="json">The text.</param>
    /// <returns>Faults with their pointers, or none.</returns>
    /// <exception cref="JsonException">The text is not JSON.</exception>
    public static IReadOnlyList<FieldError> Faults(string json)
    {
        var bytes = Encoding.UTF8.GetBytes(json);
        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = 32 });
        var open = new Stack<Level>();
        var doubled = new List<FieldError>();
        var values = 0;
        while (reader.Read())
        {
            if (++values > MostValues)
            {
                return [new(Pointer(open), $"Holds more than {MostValues:N0} values; no file of Idrum does.")];
            }
            switch (reader.TokenType)
            {
                case JsonTokenType.PropertyName or JsonTokenType.String:
                    string text;
                    try
                    {
                        text = reader.GetString()!;
                    }
                    catch (InvalidOperationException)
                    {
                        return [new(Pointer(open), "Holds half a character (an unpaired surrogate).")];
                    }
                    if (text.Contains('\0', StringComparison.Ordinal))
                    {
                        return [new(Pointer(open), "Holds a NUL character.")];
                    }
                    if (reader.TokenType == JsonTokenType.PropertyName)
                    {
                        var level = open.Peek();
                        level.At = FieldErrors.Short(text);
                        if (!level.Keys!.TryAdd(text, reader.TokenStartIndex) && doubled.Count < MostDoubled)
                        {
                            doubled.Add(
                                new(
                                    Pointer(open),
                                    $"The field '{level.At}' stands twice: in line {Line(bytes, level.Keys[text])} and in line {Line(bytes, reader.TokenStartIndex)}."
                                )
                            );
                        }
                        continue;
                    }
                    break;
                case JsonTokenType.Number
                    when !(reader.ValueSpan.Length <= 40 && reader.TryGetDouble(out var n) && Math.Abs(n) <= Largest):
                    return [new(Pointer(open), "A number beyond any measure.")];
                case JsonTokenType.StartObject or JsonTokenType.StartArray:
                    open.Push(new(reader.TokenType == JsonTokenType.StartObject ? [] : null));
                    continue;
                case JsonTokenType.EndObject or JsonTokenType.EndArray:
                    open.Pop();
                    break;
            }
            if (open.TryPeek(out var list) && list.Keys is null)
            {
                list.Index++;
            }
        }
        return doubled;
    }

    private const int MostDoubled = 20;

    /// <summary>An object or a list that is being read.</summary>
    private sealed class Level(Dictionary<string, long>? keys)
    {
        internal Dictionary<string, long>? Keys { get; } = keys;

        internal string At { get; set; } = "";

        internal int Index { get; set; }
    }

    private static string Pointer(Stack<Level> open) =>
        string.Concat(
            open.Reverse()
                .Select(l =>
                    "/"
                    + (
                        l.Keys is null
                            ? l.Index.ToString(CultureInfo.InvariantCulture)
                            : l
                                .At.Replace("~", "~0", StringComparison.Ordinal)
                                .Replace("/", "~1", StringComparison.Ordinal)
                    )
                )
        );

    private static int Line(byte[] bytes, long at) => 1 + bytes.AsSpan(0, (int)at).Count((byte)'\n');

    /// <summary>What a reader found wrong, with its pointer and without a word about the program's inside.</summary>
    public static FieldError Fault(JsonException e, string before = "")
    {
        var path = (e.Path ?? "")
            .TrimStart('$', '.')
            .Replace("['", "/", StringComparison.Ordinal)
            .Replace("']", "", StringComparison.Ordinal)
            .Replace("[", "/", StringComparison.Ordinal)
            .Replace("]", "", StringComparison.Ordinal)
            .Replace('.', '/');
        var lacks = Lacking(e.Message);
        if (lacks.Count > 0)
        {
            path = path.TrimEnd('/') + "/" + lacks[0];
        }
        var at = e.LineNumber is { } line ? $" (line {line + 1}, byte {e.BytePositionInLine + 1})" : "";
        var what =
            e.Message.Contains("could not be converted", StringComparison.Ordinal)
                ? "this value is not of the kind wanted here"
            : lacks.Count > 0 ? $"what must be there is missing: {string.Join(", ", lacks)}"
            : e.Message.Contains("required", StringComparison.Ordinal) ? "a field that must be there is missing"
            : e.Message.Contains("[low, typical, high]", StringComparison.Ordinal) ? "a time is [low, typical, high]"
            : e.Message.Contains("Duplicate", StringComparison.OrdinalIgnoreCase) ? "a field stands twice"
            : "it breaks off, or a sign stands where none may";
        return new("/" + path.TrimStart('/'), $"{before}{what}{at}.");
    }

    // Names of the fields that the reader missed: the quoted words after "including".
    private static IReadOnlyList<string> Lacking(string message)
    {
        const string Mark = "missing required properties including:";
        var from = message.IndexOf(Mark, StringComparison.Ordinal);
        return from < 0
            ? []
            :
            [
                .. message[(from + Mark.Length)..]
                    .Split('\'')
                    .Where((_, i) => i % 2 == 1)
                    .Where(name => name.Length > 0 && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_')),
            ];
    }
}
