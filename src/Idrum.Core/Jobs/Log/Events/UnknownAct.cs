using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>An act of a kind this Idrum does not know: a newer one wrote it. It is kept letter by letter, changes
/// nothing here, and the job is read-only.</summary>
/// <param name="Json">The act as it was written.</param>
public sealed record UnknownAct(string Json) : JobEvent
{
    /// <summary>What it calls itself.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public string Name
    {
        get
        {
            using var document = JsonDocument.Parse(Json);
            return document.RootElement.TryGetProperty("kind", out var kind) && kind.ValueKind == JsonValueKind.String
                ? FieldErrors.Short(kind.GetString()!)
                : "";
        }
    }

    /// <summary>Reads an act as it is stored: one of a kind that is not known is kept as it stands.</summary>
    /// <param name="json">The text of one act.</param>
    /// <returns>The act; null where the text is none, as when it was spoilt.</returns>
    public static JobEvent? Read(string json)
    {
        try
        {
            return JsonSerializer.Deserialize<JobEvent>(json, IdrumJson.Options);
        }
        catch (Exception e) when (e is JsonException or NotSupportedException)
        {
            return Kept(json);
        }
    }

    private static UnknownAct? Kept(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(json);
            var act = document.RootElement;
            return
                act.ValueKind == JsonValueKind.Object
                && act.TryGetProperty("kind", out var kind)
                && kind.ValueKind == JsonValueKind.String
                && !EventShape.Knows(kind.GetString()!)
                && act.TryGetProperty("id", out var id)
                && id.TryGetGuid(out var key)
                && act.TryGetProperty("at", out var at)
                && at.TryGetDateTimeOffset(out var when)
                ? new(json) { Id = key, At = when }
                : null;
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return null;
        }
    }

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check) =>
        check.Errors.Add("kind", "An act that this Idrum does not know is kept, not made.");

    internal override JobState Apply(JobState state) => state with { Unknown = state.Unknown.Add(Name) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"An act of a newer Idrum ({Name}), kept as it is";
}
