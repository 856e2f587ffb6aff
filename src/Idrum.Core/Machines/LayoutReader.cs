using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Json.Schema;

namespace Idrum.Core.Machines;

/// <summary>Reads layout files: JSON, then schema, then what a schema cannot say of form and ids.</summary>
public sealed partial class LayoutReader
{
    /// <summary>Longest file, characters.</summary>
    public const int Longest = 1 << 20;

    private static readonly EvaluationOptions Options = new() { OutputFormat = OutputFormat.List };
    private readonly JsonSchema schema;
    private readonly Vocabulary words;

    /// <summary>Makes a reader.</summary>
    /// <param name="schemaJson">Text of <c>layout.schema.json</c>.</param>
    /// <param name="words">Shared words.</param>
    public LayoutReader(string schemaJson, Vocabulary words)
    {
        schema = JsonSchema.FromText(schemaJson);
        this.words = words;
    }

    /// <summary>Reads one layout.</summary>
    /// <param name="json">The file's text; must be JSON.</param>
    /// <param name="parents">Finds the parent of a variant; null where none is to be had. Without it variants are
    /// refused.</param>
    /// <returns>The layout where there are no errors, else null, with every error found.</returns>
    /// <exception cref="JsonException">The text is not JSON.</exception>
    public (Layout? Layout, IReadOnlyList<FieldError> Errors) Read(
        string json,
        Func<LayoutParent, ParentAnswer>? parents = null
    )
    {
        if (json.Length > Longest || Encoding.UTF8.GetByteCount(json) > Longest)
        {
            return (null, [new("", $"A layout file has 1 MB at most; this one has {json.Length / 1048576.0:0.0} MB.")]);
        }
        if (JsonText.Faults(json) is { Count: > 0 } faults)
        {
            return (null, faults);
        }
        using (
            var document = JsonDocument.Parse(
                json,
                new JsonDocumentOptions { MaxDepth = 32, AllowDuplicateProperties = false }
            )
        )
        {
            if (TooEarly(document.RootElement) is { } refused)
            {
                return (null, [refused]);
            }
        }
        var file = JsonNode.Parse(json)!;
        if (Broken(file) is { Count: > 0 } broken)
        {
            return (null, broken);
        }
        if (file["extends"] is { } extends)
        {
            var pin = new LayoutParent((string)extends["id"]!, (string?)extends["hash"] ?? "");
            var parent = parents?.Invoke(pin) ?? new(null, $"The parent '{pin.Id}' is not here.");
            if (parent.Layout is null)
            {
                return (null, [new("/extends", parent.Why)]);
            }
            var (whole, unresolved) = Variants.Resolve(file.AsObject(), parent.Layout);
            if (whole is null)
            {
                return (null, unresolved);
            }
            file = whole;
            if (Broken(file) is { Count: > 0 } brokenWhole)
            {
                return (null, brokenWhole);
            }
        }
        Layout layout;
        try
        {
            layout = file.Deserialize<Layout>(IdrumJson.Reading)!;
        }
        catch (JsonException e)
        {
            return (null, [JsonText.Fault(e)]);
        }
        var errors = LayoutRules.Check(layout, words);
        return errors.Count == 0 ? (layout, errors) : (null, errors);
    }

    /// <summary>A file that is not for this reader at all.</summary>
    private static FieldError? TooEarly(JsonElement root)
    {
        if (root.ValueKind != JsonValueKind.Object)
        {
            return new("", "A layout file is one JSON object.");
        }
        if (
            root.TryGetProperty("version", out var v)
            && v.ValueKind == JsonValueKind.Number
            && v.TryGetInt32(out var n)
            && n == 1
        )
        {
            return new(
                "/version",
                "This file is of format 1. Format 2 tells what is in the way (needs) apart from what prudence wants first (first), gives every operation refit steps of its own, facts with values, and the machine as solids instead of a drawing: see docs/layout-file.md."
            );
        }
        return
            root.TryGetProperty("operations", out var o)
            && o.ValueKind == JsonValueKind.Array
            && o.GetArrayLength() > Layout.MostOperations
            ? new("/operations", $"{o.GetArrayLength()} operations; a layout has {Layout.MostOperations} at most.")
            : null;
    }

    private List<FieldError> Broken(JsonNode file)
    {
        var result = schema.Evaluate(file, Options);
        if (result.IsValid)
        {
            return [];
        }
        var unknown = JsonFields
            .Unknown(file.ToJsonString(), typeof(Layout), IdrumJson.Reading)
            .ToDictionary(e => e.Pointer, e => e.Message);
        // A branch that was only tried says nothing of the file.
        return
        [
            .. result
                .Details.Where(d =>
                    !d.IsValid
                    && d.Errors is not null
                    && !d.EvaluationPath.ToString().Split('/').Any(p => p is "if" or "anyOf")
                )
                .SelectMany(d => d.Errors!.SelectMany(e => Errors(d.InstanceLocation.ToString(), e.Key, e.Value)))
                .Distinct()
                .Select(e =>
                    e.Message == NoField && unknown.TryGetValue(e.Pointer, out var near) ? e with { Message = near } : e
                ),
        ];
    }

    private static IEnumerable<FieldError> Errors(string pointer, string keyword, string message) =>
        keyword == "required"
            ? Missing()
                .Matches(message)
                .Select(m => new FieldError($"{pointer}/{m.Groups[1].Value}", "This field is missing."))
            : [new(pointer, Words(keyword, message))];

    [GeneratedRegex("\"([^\"]+)\"")]
    private static partial Regex Missing();

    private const string NoField = "There is no such field.";

    private static string Words(string keyword, string message) =>
        keyword switch
        {
            "" => NoField,
            "minimum" or "exclusiveMinimum" => "Smaller than allowed.",
            "maximum" or "exclusiveMaximum" => "Larger than allowed.",
            "maxLength" => "Too long.",
            "minLength" => "Too short.",
            "maxItems" => "Too many entries.",
            "minItems" => "Too few entries.",
            "pattern" => "May hold lower-case letters, digits and hyphens only.",
            "anyOf" => "Neither an id nor a list of those that do: {\"any\": [ids]}.",
            "enum" or "const" => "Not one of the allowed words.",
            "type" => "Not of the kind wanted here: " + message,
            _ => message,
        };
}

/// <summary>A variant's parent, or why there is none.</summary>
/// <param name="Layout">The parent, or null.</param>
/// <param name="Why">Why not.</param>
public sealed record ParentAnswer(Layout? Layout, string Why = "");
