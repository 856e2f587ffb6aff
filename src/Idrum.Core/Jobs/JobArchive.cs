using System.Text.Json;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>A whole job as an open file: its log and its photos.</summary>
/// <param name="Format">Always <c>idrum-job</c>.</param>
/// <param name="Version">Version of the format; this code reads and writes 1.</param>
/// <param name="JobId">Id of the job.</param>
/// <param name="Events">The whole log, taken-back events included.</param>
/// <param name="Photos">Photos the log names.</param>
public sealed record JobArchive(string Format, int Version, Guid JobId, IReadOnlyList<JobEvent> Events, IReadOnlyList<ArchivedPhoto> Photos)
{
    /// <summary>Most events of one job.</summary>
    public const int MaxEvents = 5000;

    /// <summary>Makes an archive.</summary>
    public static JobArchive Of(Guid jobId, IReadOnlyList<JobEvent> events, IReadOnlyList<ArchivedPhoto> photos) => new("idrum-job", 1, jobId, events, photos);

    /// <summary>Reads an archive and replays every event against the rules, so that nothing gets in that could not have happened.</summary>
    /// <param name="json">The file's text.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <returns>The archive, or null with the errors.</returns>
    public static (JobArchive? Archive, IReadOnlyList<FieldError> Errors) Read(string json, ShopKnowledge shop)
    {
        JobArchive? archive;
        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32 });
            if (document.RootElement.ValueKind != JsonValueKind.Object
                || !document.RootElement.TryGetProperty("format", out var format) || format.ValueKind != JsonValueKind.String || format.GetString() != "idrum-job")
            {
                return (null, [new("/format", "This is not a job exported by Idrum.")]);
            }
            if (!document.RootElement.TryGetProperty("version", out var version) || version.ValueKind != JsonValueKind.Number || !version.TryGetInt32(out var v) || v != 1)
            {
                return (null, [new("/version", "This file is of another version; this Idrum reads version 1.")]);
            }
            archive = JsonSerializer.Deserialize<JobArchive>(json, IdrumJson.Options);
        }
        catch (JsonException e)
        {
            return (null, [new("/" + (e.Path ?? "").TrimStart('$', '.'), "The file is cut off or is not what it says: " + FirstSentence(e.Message))]);
        }
        catch (NotSupportedException e)
        {
            return (null, [new("/events", "An event is of a kind this Idrum does not know: " + FirstSentence(e.Message))]);
        }
        if (archive is not { Events.Count: > 0, Photos: not null })
        {
            return (null, [new("/events", "The file holds no events.")]);
        }
        return Replay(archive, shop) is { Count: > 0 } errors ? (null, errors) : (archive, []);
    }

    private static IReadOnlyList<FieldError> Replay(JobArchive archive, ShopKnowledge shop)
    {
        if (archive.JobId == Guid.Empty)
        {
            return [new("/jobId", "The job needs an id.")];
        }
        if (archive.Events.Count > MaxEvents)
        {
            return [new("/events", $"More than {MaxEvents} events.")];
        }
        var log = new List<JobEvent>();
        var ids = new HashSet<Guid>();
        for (var i = 0; i < archive.Events.Count; i++)
        {
            var e = archive.Events[i];
            if (e is null || EventShape.MissingField(e).Length > 0)
            {
                return [new($"/events/{i}", "A field of this event is missing.")];
            }
            if (!ids.Add(e.Id))
            {
                return [new($"/events/{i}/id", "This event stands in the file twice.")];
            }
            if (JobRules.Check(log, e, shop) is [var first, ..])
            {
                return [new($"/events/{i}/{first.Pointer.Replace('.', '/')}", first.Message)];
            }
            log.Add(e);
        }
        var named = log.OfType<PhotoAdded>().Select(p => p.PhotoId).ToHashSet();
        return named.SetEquals(archive.Photos.Select(p => p.PhotoId)) ? [] : [new("/photos", "The photos in the file are not those its log names.")];
    }

    private static string FirstSentence(string message) => message.Split(". ")[0] + ".";
}

/// <summary>One photo within an archive.</summary>
/// <param name="PhotoId">SHA-256 of the picture.</param>
/// <param name="Jpeg">The picture, base64 in the file.</param>
public sealed record ArchivedPhoto(string PhotoId, byte[] Jpeg);
