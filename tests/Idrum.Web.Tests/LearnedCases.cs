using System.Globalization;
using System.Net;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Idrum.Web.Tests;

/// <summary>A form as a page shows it.</summary>
/// <param name="Address">Where it is sent.</param>
/// <param name="Fields">Names and the values that stand there.</param>
/// <param name="Files">Names of its file fields.</param>
public sealed record LearnedForm(
    string Address,
    IReadOnlyList<KeyValuePair<string, string>> Fields,
    IReadOnlyList<string> Files
);

/// <summary>A call as the API describes it.</summary>
/// <param name="Method">Its method.</param>
/// <param name="Path">Its path with names in braces.</param>
/// <param name="Query">Names of its query.</param>
/// <param name="Body">Schema of its JSON body; null where it takes none.</param>
public sealed record LearnedCall(string Method, string Path, IReadOnlyList<string> Query, JsonNode? Body);

/// <summary>What the running application tells of itself: every address that its pages lead to, every form on them with its
/// fields as they stand, every call of its API with the schema of its body. What is built next is asked for with no word
/// changed here.</summary>
public sealed partial class LearnedCases
{
    private const int MostPages = 160;

    private readonly List<string> pages = [];
    private readonly List<LearnedForm> forms = [];
    private readonly List<LearnedCall> calls = [];
    private JsonNode? schemas;

    /// <summary>Addresses of pages and files.</summary>
    public IReadOnlyList<string> Pages => pages;

    /// <summary>Forms, one of each address and kind.</summary>
    public IReadOnlyList<LearnedForm> Forms => forms;

    /// <summary>Calls of the API.</summary>
    public IReadOnlyList<LearnedCall> Calls => calls;

    /// <summary>Walks from the first page on, and reads the description of the API.</summary>
    /// <param name="client">Follows no redirect.</param>
    public static async Task<LearnedCases> OfAsync(HttpClient client)
    {
        var learned = new LearnedCases();
        await learned.WalkAsync(client);
        var description = await client.GetAsync("/openapi/v1.json");
        if (description.StatusCode == HttpStatusCode.OK)
        {
            learned.Describe(JsonNode.Parse(await description.Content.ReadAsStringAsync())!);
        }
        return learned;
    }

    private async Task WalkAsync(HttpClient client)
    {
        // Of each shape of address a few: the jobs are many and alike.
        var shapes = new Dictionary<string, int>();
        var open = new Queue<string>(["/", "/welcome", "/practice", "/log/says", "/pair"]);
        var seen = new HashSet<string>(open);
        var kinds = new HashSet<string>();
        while (open.TryDequeue(out var path) && pages.Count < MostPages)
        {
            var shape = Shape().Replace(path.Split('?')[0], "*");
            shapes[shape] = shapes.GetValueOrDefault(shape) + 1;
            if (shapes[shape] > 3)
            {
                continue;
            }
            pages.Add(path);
            using var answer = await client.GetAsync(path);
            if (answer.Content.Headers.ContentType?.MediaType != "text/html")
            {
                continue;
            }
            var html = await answer.Content.ReadAsStringAsync();
            foreach (Match link in Link().Matches(html))
            {
                var to = WebUtility.HtmlDecode(link.Groups[1].Value).Split('#')[0];
                // Styles and scripts are the web server's own; the bench does not bring them.
                var file = Path.GetExtension(to.Split('?')[0]) is ".css" or ".js" or ".svg" or ".woff2" or ".txt";
                if (to.StartsWith('/') && !to.StartsWith("//", StringComparison.Ordinal) && !file && seen.Add(to))
                {
                    open.Enqueue(to);
                }
            }
            foreach (Match form in Form().Matches(html))
            {
                Read(form, path, kinds);
            }
        }
    }

    private void Read(Match form, string page, HashSet<string> kinds)
    {
        if (!form.Groups[1].Value.Contains("method=\"post\"", StringComparison.OrdinalIgnoreCase))
        {
            return;
        }
        var action = Attribute(form.Groups[1].Value, "action") is { Length: > 0 } said ? said : page;
        var (fields, files) = (new List<KeyValuePair<string, string>>(), new List<string>());
        foreach (Match field in Field().Matches(form.Groups[2].Value))
        {
            if (Attribute(field.Value, "name") is not { Length: > 0 } name || name == "__RequestVerificationToken")
            {
                continue;
            }
            if (Attribute(field.Value, "type") == "file")
            {
                files.Add(name);
            }
            else
            {
                fields.Add(new(name, Attribute(field.Value, "value") ?? ""));
            }
        }
        if (action.EndsWith("/revoke", StringComparison.Ordinal))
        {
            // Who asks would be a stranger from then on.
            return;
        }
        var kind = fields.Find(f => f.Key is "kind" or "do").Value ?? string.Join(',', fields.Select(f => f.Key));
        if (kinds.Add(Shape().Replace(action, "*") + " " + kind))
        {
            forms.Add(new(action, fields, files));
        }
    }

    private static string? Attribute(string tag, string name) =>
        Regex.Match(tag, $"\\s{name}=\"([^\"]*)\"") is { Success: true } found
            ? WebUtility.HtmlDecode(found.Groups[1].Value)
            : null;

    private void Describe(JsonNode api)
    {
        schemas = api["components"]?["schemas"];
        foreach (var (path, item) in api["paths"]!.AsObject())
        {
            foreach (var (method, call) in item!.AsObject())
            {
                calls.Add(
                    new(
                        method.ToUpperInvariant(),
                        path,
                        [
                            .. (call!["parameters"]?.AsArray() ?? [])
                                .Where(p => (string?)p!["in"] == "query")
                                .Select(p => (string)p!["name"]!),
                        ],
                        call["requestBody"]?["content"]?["application/json"]?["schema"]
                    )
                );
            }
        }
    }

    /// <summary>A body of a schema, its values at their edges: nothing, all alike, far too many, numbers that are none, words
    /// that are known and such that are not.</summary>
    /// <param name="schema">The schema.</param>
    /// <param name="random">Where it comes from.</param>
    /// <param name="known">Words that some field may take.</param>
    public JsonNode? Body(JsonNode? schema, Random random, IReadOnlyList<string> known) =>
        Made(schema, random, known, 0, "");

    private JsonNode? Made(JsonNode? schema, Random random, IReadOnlyList<string> known, int depth, string name)
    {
        if (schema is not JsonObject at || depth > 5 || random.Next(40) == 0)
        {
            return random.Next(3) == 0 ? null : JsonValue.Create(random.Next());
        }
        if ((string?)at["$ref"] is { } reference)
        {
            return Made(schemas?[reference.Split('/')[^1]], random, known, depth + 1, name);
        }
        if ((at["oneOf"] ?? at["anyOf"]) is JsonArray { Count: > 0 } any)
        {
            return Made(any[random.Next(any.Count)], random, known, depth + 1, name);
        }
        var type = at["type"] is JsonArray types ? (string?)types[random.Next(types.Count)] : (string?)at["type"];
        switch (type)
        {
            case "object" or null when at["properties"] is JsonObject properties:
                var made = new JsonObject();
                foreach (var (key, value) in properties)
                {
                    if (random.Next(4) > 0)
                    {
                        made[key] = Made(value, random, known, depth + 1, key);
                    }
                }
                return made;
            case "object":
                return random.Next(2) == 0
                    ? new JsonObject()
                    : new JsonObject { [Word(random, known)] = Word(random, known) };
            case "array":
                var list = new JsonArray();
                var alike = random.Next(3) == 0 ? Made(at["items"], random, known, depth + 1, name) : null;
                var (step, start) = (random.NextDouble() * 2, random.Next(5) - 2);
                for (var n = random.Next(30) == 0 ? 3000 : random.Next(14); list.Count < n; )
                {
                    list.Add(
                        alike is not null ? alike.DeepClone()
                        // Even steps: what rises like a clock.
                        : random.Next(4) > 0 && (string?)(at["items"] as JsonObject)?["type"] == "number"
                            ? JsonValue.Create(start + step * list.Count)
                        : Made(at["items"], random, known, depth + 1, name)
                    );
                }
                return list;
            case "integer":
                return JsonValue.Create(Pick(random, 0, 1, -1, 2, 50, 60, 600, int.MaxValue, int.MinValue));
            case "number":
                return JsonValue.Create(
                    Pick(random, 0, 1, -1, 0.5, 1e-300, 1e12, -1e12, 47.5, 3, random.NextDouble() * 200)
                );
            case "boolean":
                return JsonValue.Create(random.Next(2) == 0);
            case "null":
                return null;
            default:
                return (string?)at["format"] == "uuid" && random.Next(3) > 0
                    ? JsonValue.Create(Guid.NewGuid().ToString())
                    : JsonValue.Create(
                        name == "layoutId" && random.Next(5) > 0
                            ? known[random.Next(Math.Min(12, known.Count))]
                            : Word(random, known)
                    );
        }
    }

    private static T Pick<T>(Random random, params T[] of) => of[random.Next(of.Length)];

    private static string Word(Random random, IReadOnlyList<string> known) =>
        random.Next(3) == 0
            ? Pick(random, "", "x", "-1", "NaN", "../x", new string('y', 3000), "2026-13-45", "\u202e")
            : known[random.Next(known.Count)];

    /// <summary>An address of a call, its names filled in.</summary>
    public static string Address(LearnedCall call, Random random, IReadOnlyList<string> known)
    {
        var path = Braced().Replace(call.Path, _ => Uri.EscapeDataString(known[random.Next(known.Count)]));
        var asked = call
            .Query.Where(_ => random.Next(3) > 0)
            .Select(q =>
                $"{q}={Uri.EscapeDataString(random.Next(2) == 0 ? known[random.Next(known.Count)] : random.Next(-5, 200).ToString(CultureInfo.InvariantCulture))}"
            )
            .ToList();
        return asked.Count == 0 ? path : path + "?" + string.Join('&', asked);
    }

    [GeneratedRegex("href=\"([^\"]+)\"")]
    private static partial Regex Link();

    [GeneratedRegex("<form\\b([^>]*)>(.*?)</form>", RegexOptions.Singleline)]
    private static partial Regex Form();

    [GeneratedRegex("<(?:input|select|textarea|button)\\b[^>]*>")]
    private static partial Regex Field();

    // What tells one thing from its like: numbers, hashes and the names of jobs.
    [GeneratedRegex("(?<=/)(?:[A-Z]-\\d+|[0-9a-f-]{30,}|[a-z]+-[a-z]{2}\\d+)(?=/|$)")]
    private static partial Regex Shape();

    [GeneratedRegex("\\{[^}]+\\}")]
    private static partial Regex Braced();
}
