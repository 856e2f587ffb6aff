using System.Text.Json;
using System.Text.Json.Nodes;
using Idrum.Core.Basics;

namespace Idrum.Core.Jobs.Log;

/// <summary>Events as text.</summary>
public static class EventText
{
    private static readonly string[] Circumstances =
    [
        "at",
        "arrived",
        "clockBehindSeconds",
        "knew",
        "layoutHash",
        "paidIn",
        "by",
        "device",
        "run",
    ];

    /// <summary>As it is stored and exported.</summary>
    public static string Of(JobEvent e) =>
        e is UnknownAct kept ? kept.Json : JsonSerializer.Serialize(e, IdrumJson.Options);

    /// <summary>Whether two say the same, whatever the order of their keys and whenever they were sent.</summary>
    public static bool Same(JobEvent a, JobEvent b) => Canonical(a) == Canonical(b);

    private static string Canonical(JobEvent e)
    {
        var node = JsonSerializer.SerializeToNode(e, IdrumJson.Options)!.AsObject();
        foreach (var name in Circumstances)
        {
            node.Remove(name);
        }
        return Sorted(node)!.ToJsonString();
    }

    private static JsonNode? Sorted(JsonNode? node) =>
        node switch
        {
            JsonObject o => new JsonObject(
                o.OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => KeyValuePair.Create(p.Key, Sorted(p.Value)))
            ),
            JsonArray a => new JsonArray([.. a.Select(Sorted)]),
            _ => node?.DeepClone(),
        };
}
