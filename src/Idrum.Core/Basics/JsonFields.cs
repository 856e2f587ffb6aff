using System.Collections;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace Idrum.Core.Basics;

/// <summary>Fields that a JSON text has and the type it is read as has not: a misspelt optional field would be passed over
/// in silence.</summary>
public static class JsonFields
{
    private const int MostTold = 20,
        MostNamed = 16;

    /// <summary>Unknown fields, each with the known one it is nearest to.</summary>
    /// <param name="json">JSON text, at most 32 deep.</param>
    /// <param name="type">What it is read as.</param>
    /// <param name="options">How.</param>
    /// <returns>Pointers and messages; at most twenty. <c>$schema</c> may stand in the outermost object.</returns>
    /// <exception cref="JsonException">The text is not JSON.</exception>
    public static IReadOnlyList<FieldError> Unknown(string json, Type type, JsonSerializerOptions options)
    {
        using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32 });
        var errors = new List<FieldError>();
        Look(document.RootElement, type, "", options, errors);
        return errors;
    }

    private static void Look(
        JsonElement element,
        Type type,
        string pointer,
        JsonSerializerOptions options,
        List<FieldError> errors
    )
    {
        if (errors.Count >= MostTold)
        {
            return;
        }
        type = Nullable.GetUnderlyingType(type) ?? type;
        if (element.ValueKind == JsonValueKind.Array)
        {
            if (ElementOf(type) is { } of)
            {
                var k = 0;
                foreach (var item in element.EnumerateArray())
                {
                    Look(item, of, string.Create(CultureInfo.InvariantCulture, $"{pointer}/{k++}"), options, errors);
                }
            }
            return;
        }
        if (element.ValueKind != JsonValueKind.Object)
        {
            return;
        }
        var info = options.GetTypeInfo(type);
        if (info.Kind == JsonTypeInfoKind.Dictionary)
        {
            foreach (var p in element.EnumerateObject())
            {
                Look(p.Value, type.GetGenericArguments()[^1], $"{pointer}/{p.Name}", options, errors);
            }
            return;
        }
        if (info.Kind != JsonTypeInfoKind.Object)
        {
            return;
        }
        string[] always = pointer.Length == 0 ? ["$schema"] : [];
        if (info.PolymorphismOptions is { } kinds)
        {
            var told = element.TryGetProperty(kinds.TypeDiscriminatorPropertyName, out var kind)
                ? kinds.DerivedTypes.FirstOrDefault(d => d.TypeDiscriminator is string s && kind.ValueEquals(s))
                : default;
            if (told.DerivedType is null)
            {
                return;
            }
            always = [.. always, kinds.TypeDiscriminatorPropertyName];
            info = options.GetTypeInfo(told.DerivedType);
        }
        var known = info.Properties.ToDictionary(p => p.Name, p => p.PropertyType, StringComparer.OrdinalIgnoreCase);
        foreach (var p in element.EnumerateObject())
        {
            if (known.TryGetValue(p.Name, out var of))
            {
                Look(p.Value, of, $"{pointer}/{p.Name}", options, errors);
            }
            else if (!always.Contains(p.Name) && errors.Count < MostTold)
            {
                errors.Add(
                    new($"{pointer}/{FieldErrors.Short(p.Name)}", "There is no such field." + Near(p.Name, known))
                );
            }
        }
    }

    /// <summary>The nearest known field, or all of them where none is near and they are few.</summary>
    private static string Near(string name, Dictionary<string, Type> known) =>
        Nearest.Hint(name, known.Keys) is { Length: > 0 } hint ? hint
        : known.Count is > 0 and <= MostNamed
            ? $" Here stand {string.Join(", ", known.Keys.Order(StringComparer.Ordinal))}."
        : "";

    /// <summary>What a list is a list of; null where the type is none.</summary>
    private static Type? ElementOf(Type type) =>
        type.IsArray ? type.GetElementType()
        : type != typeof(string) && typeof(IEnumerable).IsAssignableFrom(type) && type.GetGenericArguments() is [var of]
            ? of
        : null;
}
