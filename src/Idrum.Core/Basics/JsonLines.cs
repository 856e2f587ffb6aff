using System.Text;
using System.Text.Json;

namespace Idrum.Core.Basics;

/// <summary>Where in a JSON text a pointer stands, so that a message can be shown at its line.</summary>
public static class JsonLines
{
    /// <summary>Line of what a JSON pointer (RFC 6901) names; of its nearest parent that is there, where it is
    /// not.</summary>
    /// <param name="json">The text; where it is no JSON, line 1 is the answer for every pointer within what can be
    /// read.</param>
    /// <param name="pointer">Pointer; the empty one is the whole text.</param>
    /// <returns>Line, counted from 1.</returns>
    public static int LineOf(string json, string pointer)
    {
        var bytes = Encoding.UTF8.GetBytes(json);
        var wanted = pointer
            .Split('/', StringSplitOptions.RemoveEmptyEntries)
            .Select(p => p.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal))
            .ToArray();
        var at = 0L;
        try
        {
            var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = 64 });
            reader.Read();
            foreach (var step in wanted)
            {
                if (!Enter(ref reader, step))
                {
                    break;
                }
                at = reader.TokenStartIndex;
            }
        }
        catch (JsonException)
        {
            // The line of what could be read is still the best that can be said.
        }
        return 1 + bytes.AsSpan(0, (int)at).Count((byte)'\n');
    }

    private static bool Named(ref Utf8JsonReader reader, string step)
    {
        try
        {
            return reader.ValueTextEquals(step);
        }
        catch (InvalidOperationException)
        {
            // A name with half a character in it is none that a pointer could name.
            return false;
        }
    }

    /// <summary>Moves to a member or an element of the value the reader stands on; to a member's name, then its
    /// value.</summary>
    private static bool Enter(ref Utf8JsonReader reader, string step)
    {
        if (reader.TokenType == JsonTokenType.StartObject)
        {
            // A field that stands twice is told where it stands last.
            var last = reader;
            var any = false;
            try
            {
                while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
                {
                    var found = Named(ref reader, step);
                    reader.Read();
                    if (found)
                    {
                        last = reader;
                        any = true;
                    }
                    reader.Skip();
                }
            }
            catch (JsonException) when (any)
            {
                // It breaks off behind what was found.
            }
            reader = any ? last : reader;
            return any;
        }
        else if (reader.TokenType == JsonTokenType.StartArray && int.TryParse(step, out var index))
        {
            while (reader.Read() && reader.TokenType != JsonTokenType.EndArray)
            {
                if (index-- == 0)
                {
                    return true;
                }
                reader.Skip();
            }
        }
        return false;
    }
}
