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
                    .. job
                        .Log.OfType<PhotoAdded>()
                        .Select(p => p.PhotoId)
                        .Distinct()
                        .Select(id => new ArchivedPhoto(id, store.FindPhoto(job.JobId, id) ?? [])),
                ],
                shop.LayoutOf(job.State),
                store.Broken(job.JobId)
            )
            .Text();

    /// <summary>Reads an archive; its pictures are decoded and written anew like uploaded ones, under the names they
    /// have.</summary>
    public static async Task<(JobArchive? Archive, JobHistory? History, IReadOnlyList<FieldError> Errors)> ReadAsync(
        string json,
        ShopSnapshot shop,
        LayoutIntake intake,
        PhotoDesk photos,
        CancellationToken caller
    )
    {
        var (archive, history, errors) = JobArchive.Read(json, shop, intake);
        if (archive is null)
        {
            return (null, null, errors);
        }
        var clean = new List<ArchivedPhoto>();
        for (var i = 0; i < archive.Photos.Count; i++)
        {
            var (jpeg, error) = await photos.ReadAsync(archive.Photos[i].Jpeg, caller);
            if (error.Length > 0)
            {
                return (null, null, [new($"/photos/{i}", error)]);
            }
            clean.Add(new(archive.Photos[i].PhotoId, jpeg));
        }
        return (archive with { Photos = clean }, history, []);
    }
}
