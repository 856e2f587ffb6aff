using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Idrum.Core.Basics;

/// <summary>How Idrum's files are read and written as JSON: camel case, no comments, no trailing commas.</summary>
public static class IdrumJson
{
    /// <summary>Options for every open format of Idrum.</summary>
    public static JsonSerializerOptions Options { get; } = Make(false);

    /// <summary>The same for what others wrote: a whole number may be written as 2.0.</summary>
    public static JsonSerializerOptions Reading { get; } = Make(false, new WholeNumber());

    /// <summary>The same, indented for people.</summary>
    public static JsonSerializerOptions Indented { get; } = Make(true);

    private static JsonSerializerOptions Make(bool indented, params JsonConverter[] more)
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
            Converters = { new EnumWord.Converter() },
            TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
        };
        foreach (var converter in more)
        {
            options.Converters.Add(converter);
        }
        options.MakeReadOnly();
        return options;
    }
}
