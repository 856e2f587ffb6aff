using System.Text.Json.Nodes;

namespace Idrum.Core.Jobs.Log;

/// <summary>Version 1 of a job's file: photos were the only files. Read for ever, never written.</summary>
/// <param name="Format">Always <c>idrum-job</c>.</param>
/// <param name="JobId">Id of the job.</param>
/// <param name="Events">The whole log.</param>
/// <param name="Photos">Photos the log names.</param>
/// <param name="Layout">The layout, or null.</param>
/// <param name="Chain">Hashes of the acts, or null.</param>
internal sealed record JobArchive1(
    string Format,
    Guid JobId,
    IReadOnlyList<JobEvent> Events,
    IReadOnlyList<ArchivedPhoto1> Photos,
    JsonObject? Layout = null,
    ArchivedChain? Chain = null
)
{
    /// <summary>The same as version 2.</summary>
    internal JobArchive Upgraded() =>
        new(
            Format,
            JobArchive.Present,
            JobId,
            Events,
            // What is missing is named by the reader.
            Photos?.Select(p => new Attachment(p?.PhotoId!, AttachmentKind.Photo.Name, p?.Jpeg!)).ToList()!,
            Layout
        )
        {
            Chain = Chain,
        };
}

/// <summary>A photo in version 1.</summary>
/// <param name="PhotoId">Name of the picture.</param>
/// <param name="Jpeg">The picture, base64 in the file.</param>
internal sealed record ArchivedPhoto1(string PhotoId, byte[] Jpeg);
