using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A whole job as an open file: its log and the files its acts carry.</summary>
/// <param name="Format">Always <c>idrum-job</c>.</param>
/// <param name="Version">Version of the format: <see cref="Present"/> is written, every earlier one is read.</param>
/// <param name="JobId">Id of the job.</param>
/// <param name="Events">The whole log, taken-back events included.</param>
/// <param name="Attachments">The files the log names.</param>
/// <param name="Layout">The layout the job was worked with, whole; null in files from before layouts were kept.</param>
public sealed record JobArchive(
    string Format,
    int Version,
    Guid JobId,
    IReadOnlyList<JobEvent> Events,
    IReadOnlyList<Attachment> Attachments,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] JsonObject? Layout = null
)
{
    /// <summary>The version of the format that is written.</summary>
    public const int Present = 2;

    /// <summary>Hashes of the acts, each naming the one before, and whether the shop's own chain held; null in files
    /// from before there was one.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ArchivedChain? Chain { get; init; }

    /// <summary>The layout it carries, read; null where it carries none.</summary>
    [JsonIgnore]
    public Layout? Resolved { get; private init; }

    /// <summary>Makes an archive.</summary>
    /// <param name="jobId">Id of the job.</param>
    /// <param name="events">Its log.</param>
    /// <param name="attachments">The files its acts carry.</param>
    /// <param name="layout">Its layout.</param>
    /// <param name="broken">Where the stored log was changed behind Idrum's back; null where it holds.</param>
    public static JobArchive Of(
        Guid jobId,
        IReadOnlyList<JobEvent> events,
        IReadOnlyList<Attachment> attachments,
        Layout? layout = null,
        string? broken = null
    ) =>
        new(
            "idrum-job",
            Present,
            jobId,
            events,
            attachments,
            layout is null ? null : JsonNode.Parse(Variants.TextOf(layout))!.AsObject()
        )
        {
            Chain = new(LogChain.Of(events.Select(EventText.Of)), broken),
        };

    /// <summary>Reads an archive and replays every event against the rules, so that nothing gets in that could not have
    /// happened.
    /// Whatever an export holds is taken.</summary>
    /// <param name="json">The file's text.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <returns>The archive with its history, or null with the errors.</returns>
    /// <param name="intake">The rules for the layout it carries.</param>
    public static (JobArchive? Archive, JobHistory? History, IReadOnlyList<FieldError> Errors) Read(
        string json,
        ShopSnapshot shop,
        LayoutIntake intake
    )
    {
        JobArchive? archive;
        try
        {
            if (JsonText.Faults(json) is [var fault, ..])
            {
                return (null, null, [fault]);
            }
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { MaxDepth = 32 });
            if (
                document.RootElement.ValueKind != JsonValueKind.Object
                || !document.RootElement.TryGetProperty("format", out var format)
                || format.ValueKind != JsonValueKind.String
                || format.GetString() != "idrum-job"
            )
            {
                return (null, null, [new("/format", "This is not a job exported by Idrum.")]);
            }
            if (
                !document.RootElement.TryGetProperty("version", out var version)
                || version.ValueKind != JsonValueKind.Number
                || !version.TryGetInt32(out var v)
                || v is < 1 or > Present
            )
            {
                return (
                    null,
                    null,
                    [
                        new(
                            "/version",
                            $"This file is of another version; this Idrum reads versions 1 to {Present}. A newer Idrum wrote it: update this one, then bring it in."
                        ),
                    ]
                );
            }
            if (Newer(document.RootElement) is { } newer)
            {
                return (null, null, [newer]);
            }
            archive =
                v == 1
                    ? JsonSerializer.Deserialize<JobArchive1>(json, IdrumJson.Options)?.Upgraded()
                    : JsonSerializer.Deserialize<JobArchive>(json, IdrumJson.Options);
        }
        catch (JsonException e)
        {
            return (null, null, [JsonText.Fault(e, "The file is cut off or is not what it says: ")]);
        }
        catch (NotSupportedException)
        {
            return (null, null, [new("/events", "An event is of a kind this Idrum does not know.")]);
        }
        if (archive is not { Events.Count: > 0, Attachments: not null })
        {
            return (null, null, [new("/events", "The file holds no events.")]);
        }
        if (archive.Chain is { } chain && Parted(archive.Events, chain) is { } parted)
        {
            return (null, null, [parted]);
        }
        if (archive.Layout is { } carried)
        {
            var (layout, unsound) = intake.Read(carried.ToJsonString(), shop.ParentOf);
            if (layout is null)
            {
                return (null, null, [.. unsound.Select(e => e with { Pointer = "/layout" + e.Pointer })]);
            }
            archive = archive with { Resolved = layout };
            shop = shop.Keeping(layout);
        }
        var (history, errors) = Replay(archive, shop);
        return errors.Count > 0 ? (null, null, errors) : (archive, history, []);
    }

    /// <summary>An act of a kind that is not known here: what it does is not known either, so the job is declined
    /// rather than taken without it.</summary>
    private static FieldError? Newer(JsonElement archive)
    {
        if (!archive.TryGetProperty("events", out var events) || events.ValueKind != JsonValueKind.Array)
        {
            return null;
        }
        var i = 0;
        foreach (var act in events.EnumerateArray())
        {
            if (
                act.ValueKind == JsonValueKind.Object
                && act.TryGetProperty("kind", out var kind)
                && kind.ValueKind == JsonValueKind.String
                && !EventShape.Knows(kind.GetString()!)
            )
            {
                return new(
                    $"/events/{i}/kind",
                    $"This Idrum knows no act '{FieldErrors.Short(kind.GetString()!)}': a newer one wrote the file. Update Idrum, then bring it in."
                );
            }
            i++;
        }
        return null;
    }

    /// <summary>The file's text; an act that is not known here stands in it as it was written.</summary>
    public string Text()
    {
        var file = JsonSerializer.SerializeToNode(this, IdrumJson.Options)!.AsObject();
        foreach (var (kept, i) in Events.Select((e, i) => (e as UnknownAct, i)).Where(e => e.Item1 is not null))
        {
            file["events"]![i] = JsonNode.Parse(kept!.Json);
        }
        return file.ToJsonString(IdrumJson.Indented);
    }

    /// <summary>Where acts and their hashes part: the file was changed after it was written.</summary>
    private static FieldError? Parted(IReadOnlyList<JobEvent> events, ArchivedChain chain)
    {
        var hashes = LogChain.Of(events.TakeWhile(e => e is not null).Select(EventText.Of));
        if (chain.Hashes is null || chain.Hashes.Count != events.Count)
        {
            return new(
                "/chain/hashes",
                $"The file holds {events.Count} acts and {chain.Hashes?.Count ?? 0} hashes: it was changed after it was written."
            );
        }
        var at = Enumerable.Range(0, hashes.Count).FirstOrDefault(i => hashes[i] != chain.Hashes[i], -1);
        return at < 0
            ? null
            : new(
                $"/events/{at}",
                "This act was changed after the file was written. Without 'chain' the file can be taken, but proves nothing."
            );
    }

    private static (JobHistory History, IReadOnlyList<FieldError> Errors) Replay(JobArchive archive, ShopSnapshot shop)
    {
        var history = JobHistory.Empty;
        if (archive.JobId == Guid.Empty)
        {
            return (history, [new("/jobId", "The job needs an id.")]);
        }
        if (archive.Events[0] is JobOpened { Number: var number } && !JobNumber.FitsNew(number ?? ""))
        {
            // A shop may still have such a job of its own; another is not given one.
            return (history, [new("/events/0/number", JobNumber.Shape)]);
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
        return (history, Carried(archive) is { } wrong ? [wrong] : []);
    }

    /// <summary>What is wrong with the files: they must be those the log names, each with the bytes its act
    /// states.</summary>
    private static FieldError? Carried(JobArchive archive)
    {
        var named = SoundDropped.Held(archive.Events).ToLookup(a => a.CarriedName);
        var held = new HashSet<string>();
        foreach (var (file, i) in archive.Attachments.Select((a, i) => (a, i)))
        {
            if (file is not { Name: not null, Kind: not null, Bytes: not null })
            {
                return new($"/attachments/{i}", "A file without its name, kind or bytes.");
            }
            if (!held.Add(file.Name) || named[file.Name].FirstOrDefault() is not { } act)
            {
                return new($"/attachments/{i}/name", "No act names this file, or it stands here twice.");
            }
            if (act.Carries.Name != file.Kind)
            {
                return new($"/attachments/{i}/kind", $"Its act carries a {act.Carries.Name}.");
            }
            if (named[file.Name].Any(a => a.CarriedSha256 is { } hash && hash != file.Sha256))
            {
                return new($"/attachments/{i}/bytes", "This is not the file its act was made with: it was changed.");
            }
        }
        return named.FirstOrDefault(a => !held.Contains(a.Key)) is { } missing
            ? new(
                "/attachments",
                $"The {missing.First().Carries.Name} {missing.Key[..8]}… is named and not in the file."
            )
            : null;
    }
}

/// <summary>The chain of an exported log.</summary>
/// <param name="Hashes">Hash of each act, as <see cref="LogChain"/> makes it.</param>
/// <param name="Broken">Where the shop's own chain was broken, in words; null where it held.</param>
public sealed record ArchivedChain(
    IReadOnlyList<string> Hashes,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? Broken = null
);
