using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Idrum.Core.Machines;

/// <summary>How Idrum's files are read and written as JSON: camel case, no comments, no trailing commas.</summary>
public static class IdrumJson
{
    /// <summary>Options for every open format of Idrum.</summary>
    public static JsonSerializerOptions Options { get; } = Make(false);

    /// <summary>The same, indented for people.</summary>
    public static JsonSerializerOptions Indented { get; } = Make(true);

    private static JsonSerializerOptions Make(bool indented)
    {
        var options = new JsonSerializerOptions(JsonSerializerDefaults.Web)
        {
            WriteIndented = indented,
            NumberHandling = JsonNumberHandling.Strict,
            RespectNullableAnnotations = true,
            RespectRequiredConstructorParameters = true,
            AllowOutOfOrderMetadataProperties = true,
            AllowDuplicateProperties = false,
            MaxDepth = 32,
            Converters = { new SpreadConverter(), new ToolUseConverter(), new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower, false) },
            TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
        };
        options.MakeReadOnly();
        return options;
    }
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

/// <summary>How a layout file is written: like every file of Idrum, but fields that say nothing (empty lists and texts, what is not so)
/// are left out, as whoever writes one by hand leaves them out.</summary>
public static class LayoutText
{
    /// <summary>On one line.</summary>
    public static JsonSerializerOptions Options { get; } = Make(IdrumJson.Options);

    /// <summary>Indented for people.</summary>
    public static JsonSerializerOptions Indented { get; } = Make(IdrumJson.Indented);

    private static JsonSerializerOptions Make(JsonSerializerOptions like)
    {
        var options = new JsonSerializerOptions(like)
        {
            TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { LeaveOut } },
        };
        options.MakeReadOnly();
        return options;
    }

    private static void LeaveOut(JsonTypeInfo type)
    {
        // What is only worked out is not of the file.
        foreach (var derived in type.Properties.Where(p => p.Set is null && p.AssociatedParameter is null).ToList())
        {
            type.Properties.Remove(derived);
        }
        foreach (var property in type.Properties.Where(p => !p.IsRequired))
        {
            var empty = property.PropertyType.IsValueType ? Activator.CreateInstance(property.PropertyType) : null;
            property.ShouldSerialize = (owner, value) => value switch
            {
                null => false,
                string s => s.Length > 0 && !Default(owner, property.Name, s),
                System.Collections.ICollection c => c.Count > 0,
                _ => !value.Equals(empty) && !(value is 1 && owner is Part),
            };
        }
    }

    /// <summary>Words that are meant where nothing is said.</summary>
    private static bool Default(object owner, string property, string value) => (owner, property, value) switch
    {
        (Operation, "view", "door") => true,
        (Part, "soldAs", "single") => true,
        (Solid, "axis", "z") => true,
        _ => false,
    };
}
