using System.Text.Json;
using NJsonSchema;
using NJsonSchema.Validation;

namespace Idrum.Core.Machines;

/// <summary>One fault of an input, with the place it stands at.</summary>
/// <param name="Pointer">JSON pointer (RFC 6901) into the file, or a field name of a form.</param>
/// <param name="Message">What is wrong and what would be right.</param>
public sealed record FieldError(string Pointer, string Message);

/// <summary>Reads layout files: JSON, then schema, then what a schema cannot say (ids, cycles, reach).</summary>
public sealed class LayoutReader
{
    private readonly JsonSchema schema;

    private LayoutReader(JsonSchema schema) => this.schema = schema;

    /// <summary>Makes a reader from the text of <c>layout.schema.json</c>.</summary>
    public static async Task<LayoutReader> FromSchemaAsync(string schemaJson) => new(await JsonSchema.FromJsonAsync(schemaJson));

    /// <summary>Reads one layout.</summary>
    /// <param name="json">The file's text; must be JSON.</param>
    /// <returns>The layout where there are no errors, else null, with every error found.</returns>
    /// <exception cref="JsonException">The text is not JSON.</exception>
    public (Layout? Layout, IReadOnlyList<FieldError> Errors) Read(string json)
    {
        using (JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32, AllowDuplicateProperties = false }))
        {
            // Parsed for its exception only: the schema library is laxer about what JSON is.
        }
        var broken = schema.Validate(json).SelectMany(Flatten).Select(e => new FieldError(Pointer(e.Path), Words(e))).Distinct().ToList();
        if (broken.Count > 0)
        {
            return (null, broken);
        }
        Layout layout;
        try
        {
            layout = JsonSerializer.Deserialize<Layout>(json, IdrumJson.Options)!;
        }
        catch (JsonException e)
        {
            return (null, [new(Pointer(e.Path?.TrimStart('$')), e.Message)]);
        }
        var errors = LayoutRules.Check(layout);
        return errors.Count == 0 ? (layout, errors) : (null, errors);
    }

    private static IEnumerable<ValidationError> Flatten(ValidationError error) =>
        error is ChildSchemaValidationError child && child.Errors.Any()
            ? child.Errors.SelectMany(e => e.Value).SelectMany(Flatten)
            : [error];

    private static string Pointer(string? path) =>
        "/" + (path ?? "").TrimStart('#', '/', '.').Replace("[", "/", StringComparison.Ordinal)
            .Replace("]", "", StringComparison.Ordinal).Replace('.', '/');

    private static string Words(ValidationError e) => e.Kind switch
    {
        ValidationErrorKind.PropertyRequired => $"'{e.Property}' is missing.",
        ValidationErrorKind.NoAdditionalPropertiesAllowed => $"'{e.Property}' is not a field of a layout file.",
        ValidationErrorKind.NumberTooSmall => $"'{e.Property}' is smaller than allowed.",
        ValidationErrorKind.NumberTooBig => $"'{e.Property}' is larger than allowed.",
        ValidationErrorKind.StringTooLong => $"'{e.Property}' is too long.",
        ValidationErrorKind.PatternMismatch => $"'{e.Property}' may hold lower-case letters, digits and hyphens only.",
        ValidationErrorKind.NotInEnumeration => $"'{e.Property}' is not one of the allowed words.",
        _ => $"'{e.Property}': {e.Kind}.",
    };
}
