using System.Runtime.CompilerServices;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;

namespace Idrum.Core.Machines;

/// <summary>Variants of layouts: a file that names a parent (<c>extends</c>) and lists only what is added, replaced or
/// removed.</summary>
/// <remarks>Entries of lists go by id: an id of the parent replaces the entry, a new one is added; <c>remove</c> names
/// those that leave.
/// Solids go by part (all of a part's solids together), pairs by their two ids, <c>drive</c> by field.</remarks>
public static class Variants
{
    private static readonly string[] ById = ["facts", "schools", "parts", "operations", "ways"];
    private static readonly string[] Pairs = ["notMirrored", "apart"];

    private static readonly ConditionalWeakTable<Layout, string> Hashes = [];

    /// <summary>The hash by which a layout is pinned: SHA-256 of its own writing, lower-case hexadecimal.</summary>
    public static string HashOf(Layout layout) =>
        Hashes.GetValue(layout, static l =>
            Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(TextOf(l))))
        );

    /// <summary>A layout's own writing: resolved, without line breaks.</summary>
    public static string TextOf(Layout layout) => JsonSerializer.Serialize(layout, LayoutText.Options);

    /// <summary>The same for people: indented.</summary>
    public static string FileOf(Layout layout) => JsonSerializer.Serialize(layout, LayoutText.Indented);

    /// <summary>Puts a variant together with its parent.</summary>
    /// <param name="variant">The variant's file; an object with <c>extends</c>.</param>
    /// <param name="parent">The parent, resolved.</param>
    /// <returns>The whole file, or the errors.</returns>
    public static (JsonObject? Whole, IReadOnlyList<FieldError> Errors) Resolve(JsonObject variant, Layout parent)
    {
        var errors = new FieldErrors();
        var whole = JsonNode.Parse(TextOf(parent))!.AsObject();
        var remove = variant["remove"] as JsonObject ?? [];
        foreach (var (name, value) in variant)
        {
            switch (name)
            {
                case "extends" or "remove":
                    break;
                case "version":
                    // Together they are of the later of both versions.
                    whole[name] = Math.Max((int)value!, parent.Version);
                    break;
                case var _ when ById.Contains(name):
                    Merge(whole, name, value!.AsArray(), Id);
                    break;
                case var _ when Pairs.Contains(name):
                    Merge(whole, name, value!.AsArray(), Pair);
                    break;
                case "solids":
                    var parts = value!.AsArray().Select(s => (string?)s!["part"]).ToHashSet();
                    whole[name] = new JsonArray([
                        .. (whole[name]?.AsArray() ?? [])
                            .Where(s => !parts.Contains((string?)s!["part"]))
                            .Concat(value.AsArray())
                            .Select(s => s!.DeepClone()),
                    ]);
                    break;
                case "drive":
                    foreach (var (field, part) in value!.AsObject())
                    {
                        whole["drive"]![field] = part?.DeepClone();
                    }
                    break;
                default:
                    whole[name] = value?.DeepClone();
                    break;
            }
        }
        foreach (var (name, ids) in remove)
        {
            var key = KeyOf(name) ?? Id;
            var list = whole[name]?.AsArray() ?? [];
            foreach (var id in ids!.AsArray().Select(i => (string?)i))
            {
                errors.If(
                    !list.Any(e => key(e) == id),
                    $"/remove/{name}",
                    $"The parent has no '{FieldErrors.Short(id ?? "")}' to remove."
                );
            }
            var leave = ids.AsArray().Select(i => (string?)i).ToHashSet();
            whole[name] = new JsonArray([.. list.Where(e => !leave.Contains(key(e))).Select(e => e!.DeepClone())]);
        }
        whole["from"] = new JsonObject { ["id"] = parent.Id, ["hash"] = HashOf(parent) };
        return errors.All.Count > 0 ? (null, errors.All) : (whole, []);
    }

    /// <summary>The shortest variant that makes one layout out of another.</summary>
    /// <param name="parent">The parent.</param>
    /// <param name="child">What it is to become; keeps its own id and title.</param>
    public static JsonObject Between(Layout parent, Layout child)
    {
        var (from, to) = (JsonNode.Parse(TextOf(parent))!.AsObject(), JsonNode.Parse(TextOf(child))!.AsObject());
        // A writing leaves out what is as usual; what the parent says and the child does not must be said, or it would
        // be the parent's.
        SayUsual(from, to);
        SayUsual(from["drive"]!.AsObject(), to["drive"]!.AsObject());
        var variant = new JsonObject
        {
            ["format"] = "idrum-layout",
            ["version"] = Layout.FormatVersion,
            ["id"] = child.Id,
            ["title"] = child.Title,
            ["extends"] = new JsonObject { ["id"] = parent.Id, ["hash"] = HashOf(parent) },
        };
        var remove = new JsonObject();
        foreach (var (name, value) in to)
        {
            if (name is "format" or "version" or "id" or "title" or "from" || JsonNode.DeepEquals(value, from[name]))
            {
                continue;
            }
            var key = KeyOf(name);
            if (key is null)
            {
                variant[name] =
                    name == "drive"
                        ? new JsonObject([
                            .. value!
                                .AsObject()
                                .Where(f => !JsonNode.DeepEquals(f.Value, from[name]![f.Key]))
                                .Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone())),
                        ])
                        : value?.DeepClone();
                continue;
            }
            var (before, after) = (Grouped(from[name], key), Grouped(value, key));
            var gone = before.Keys.Except(after.Keys).ToList();
            var changed = after
                .Where(g => !before.TryGetValue(g.Key, out var old) || !JsonNode.DeepEquals(old, g.Value))
                .SelectMany(g => g.Value)
                .ToList();
            if (gone.Count > 0)
            {
                remove[name] = new JsonArray([.. gone.Select(g => (JsonNode?)JsonValue.Create(g))]);
            }
            if (changed.Count > 0)
            {
                variant[name] = new JsonArray([.. changed.Select(c => c!.DeepClone())]);
            }
        }
        if (remove.Count > 0)
        {
            variant["remove"] = remove;
        }
        return variant;
    }

    private static void SayUsual(JsonObject from, JsonObject to)
    {
        foreach (var (name, value) in from.Where(f => f.Key != "from" && !to.ContainsKey(f.Key)).ToList())
        {
            to[name] = value?.GetValueKind() switch
            {
                JsonValueKind.True => false,
                JsonValueKind.Number => 0,
                JsonValueKind.String => "",
                JsonValueKind.Array => new JsonArray(),
                _ => null,
            };
        }
    }

    private static Dictionary<string, JsonArray> Grouped(JsonNode? list, Func<JsonNode?, string?> key) =>
        (list?.AsArray() ?? [])
            .GroupBy(e => key(e) ?? "")
            .ToDictionary(g => g.Key, g => new JsonArray([.. g.Select(e => e!.DeepClone())]));

    private static void Merge(JsonObject whole, string name, JsonArray entries, Func<JsonNode?, string?> key)
    {
        var list = (whole[name]?.AsArray() ?? []).Select(e => e!.DeepClone()).ToList();
        foreach (var entry in entries)
        {
            var at = list.FindIndex(e => key(e) == key(entry));
            if (at < 0)
            {
                list.Add(entry!.DeepClone());
            }
            else
            {
                list[at] = entry!.DeepClone();
            }
        }
        whole[name] = new JsonArray([.. list]);
    }

    private static Func<JsonNode?, string?>? KeyOf(string name)
    {
        if (name == "solids")
        {
            return s => (string?)s?["part"];
        }
        return Pairs.Contains(name) ? Pair
            : ById.Contains(name) ? Id
            : null;
    }

    private static string? Id(JsonNode? entry) => (string?)entry?["id"];

    private static string? Pair(JsonNode? entry) =>
        entry is JsonArray { Count: 2 } pair ? $"{pair[0]}/{pair[1]}" : $"{entry?["operation"]}/{entry?["through"]}";
}
