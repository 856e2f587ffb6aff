using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Attachments;

namespace Idrum.Web.Work;

/// <summary>A whole job out and in as a file.</summary>
public static class JobExport
{
    public static string Json(StoredJob job, JobStore store, ShopSnapshot shop) =>
        JobArchive
            .Of(
                job.JobId,
                job.Log,
                [
                    .. SoundDropped
                        .Held(job.Log)
                        .DistinctBy(a => a.CarriedName)
                        .Select(a =>
                            store.FindAttachment(a.CarriedName) ?? new Attachment(a.CarriedName, a.Carries.Name, [])
                        ),
                ],
                shop.LayoutOf(job.State),
                store.Broken(job.JobId)
            )
            .Text();

    /// <summary>Reads an archive; its files are read like those that come with an act. What Idrum wrote itself stays
    /// byte by byte; a picture that had to be written anew keeps the name its act gave it.</summary>
    public static async Task<(JobArchive? Archive, JobHistory? History, IReadOnlyList<FieldError> Errors)> ReadAsync(
        string json,
        ShopSnapshot shop,
        LayoutIntake intake,
        AttachmentDesk files,
        CancellationToken caller
    )
    {
        var (archive, history, errors) = JobArchive.Read(json, shop, intake);
        if (archive is null)
        {
            return (null, null, errors);
        }
        var clean = new List<Attachment>();
        var stated = archive
            .Events.OfType<ICarriesAttachment>()
            .Where(a => a.CarriedSha256 is not null)
            .Select(a => a.CarriedName)
            .ToHashSet();
        foreach (var (file, i) in archive.Attachments.Select((f, i) => (f, i)))
        {
            var (bytes, error) = await files.ReadAsync(AttachmentKind.Of(file.Kind)!, file.Bytes, caller);
            var read = file with { Bytes = bytes };
            if (error.Length == 0 && stated.Contains(file.Name) && read.Sha256 != file.Name)
            {
                error = $"This {file.Kind} holds more than Idrum stores, or in another form: it was not made here.";
            }
            if (error.Length > 0)
            {
                return (null, null, [new($"/attachments/{i}", error)]);
            }
            clean.Add(read);
        }
        return (archive with { Attachments = clean }, history, []);
    }
}
