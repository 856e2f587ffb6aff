using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs;

/// <summary>A whole job as an open file: its log and its photos.</summary>
/// <param name="Format">Always <c>idrum-job</c>.</param>
/// <param name="Version">Version of the format; this code reads and writes 1.</param>
/// <param name="JobId">Id of the job.</param>
/// <param name="Events">The whole log, taken-back events included.</param>
/// <param name="Photos">Photos the log names.</param>
/// <param name="Layout">The layout the job was worked with, whole; null in files from before layouts were kept.</param>
public sealed record JobArchive(string Format, int Version, Guid JobId, IReadOnlyList<JobEvent> Events, IReadOnlyList<ArchivedPhoto> Photos,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] JsonObject? Layout = null)
{
    /// <summary>Makes an archive.</summary>
    public static JobArchive Of(Guid jobId, IReadOnlyList<JobEvent> events, IReadOnlyList<ArchivedPhoto> photos, Layout? layout = null) =>
        new("idrum-job", 1, jobId, events, photos, layout is null ? null : JsonNode.Parse(Variants.TextOf(layout))!.AsObject());

    /// <summary>Reads an archive and replays every event against the rules, so that nothing gets in that could not have happened.
    /// Whatever an export holds is taken.</summary>
    /// <param name="json">The file's text.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <returns>The archive with its history, or null with the errors.</returns>
    /// <param name="intake">The rules for the layout it carries.</param>
    public static (JobArchive? Archive, JobHistory? History, IReadOnlyList<FieldError> Errors) Read(string json, ShopKnowledge shop, LayoutIntake intake)
    {
        JobArchive? archive;
        try
        {
            if (JsonText.Faults(json) is [var fault, ..])
            {
                return (null, null, [fault]);
            }
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32 });
            if (document.RootElement.ValueKind != JsonValueKind.Object
                || !document.RootElement.TryGetProperty("format", out var format) || format.ValueKind != JsonValueKind.String || format.GetString() != "idrum-job")
            {
                return (null, null, [new("/format", "This is not a job exported by Idrum.")]);
            }
            if (!document.RootElement.TryGetProperty("version", out var version) || version.ValueKind != JsonValueKind.Number || !version.TryGetInt32(out var v) || v != 1)
            {
                return (null, null, [new("/version", "This file is of another version; this Idrum reads version 1.")]);
            }
            archive = JsonSerializer.Deserialize<JobArchive>(json, IdrumJson.Options);
        }
        catch (JsonException e)
        {
            return (null, null, [JsonText.Fault(e, "The file is cut off or is not what it says: ")]);
        }
        catch (NotSupportedException)
        {
            return (null, null, [new("/events", "An event is of a kind this Idrum does not know.")]);
        }
        if (archive is not { Events.Count: > 0, Photos: not null })
        {
            return (null, null, [new("/events", "The file holds no events.")]);
        }
        if (archive.Layout is { } carried)
        {
            var (layout, unsound) = intake.Read(carried.ToJsonString(), shop.ParentOf);
            if (layout is null)
            {
                return (null, null, [.. unsound.Select(e => e with { Pointer = "/layout" + e.Pointer })]);
            }
            shop.Keep(layout);
        }
        var (history, errors) = Replay(archive, shop);
        return errors.Count > 0 ? (null, null, errors) : (archive, history, []);
    }

    private static (JobHistory History, IReadOnlyList<FieldError> Errors) Replay(JobArchive archive, ShopKnowledge shop)
    {
        var history = JobHistory.Empty;
        if (archive.JobId == Guid.Empty)
        {
            return (history, [new("/jobId", "The job needs an id.")]);
        }
        for (var i = 0; i < archive.Events.Count; i++)
        {
            if (archive.Events[i] is not { } e)
            {
                return (history, [new($"/events/{i}", "An empty event.")]);
            }
            if (history.Knows(e.Id))
            {
                return (history, [new($"/events/{i}/id", "This event stands in the file twice.")]);
            }
            if (JobRules.Check(history, e, shop, null) is [var first, ..])
            {
                return (history, [new($"/events/{i}/{first.Pointer.Replace('.', '/')}", first.Message)]);
            }
            history = history.Add(e);
        }
        if (archive.Photos.Any(p => p?.PhotoId is null || p.Jpeg is null))
        {
            return (history, [new("/photos", "A photo without its id or picture.")]);
        }
        var named = archive.Events.OfType<PhotoAdded>().Select(p => p.PhotoId).ToHashSet();
        var held = archive.Photos.Select(p => p.PhotoId).ToList();
        return named.SetEquals(held) && held.Count == named.Count ? (history, []) : (history, [new("/photos", "The photos in the file are not those its log names.")]);
    }
}

/// <summary>One photo within an archive.</summary>
/// <param name="PhotoId">Name of the picture within the job.</param>
/// <param name="Jpeg">The picture, base64 in the file.</param>
public sealed record ArchivedPhoto(string PhotoId, byte[] Jpeg);
