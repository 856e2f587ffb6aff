using System.Security.Cryptography;
using System.Text.Json;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;

namespace Idrum.Web.Jobs;

/// <summary>A whole job out and in as a file.</summary>
public static class JobExport
{
    public static string Json(StoredJob job, JobStore store) => JsonSerializer.Serialize(
        JobArchive.Of(job.JobId, job.Log, [.. job.Log.OfType<PhotoAdded>().Select(p => p.PhotoId).Distinct()
            .Select(id => new ArchivedPhoto(id, store.FindPhoto(job.JobId, id) ?? []))]),
        IdrumJson.Indented);

    /// <summary>Reads an archive and looks at its pictures too: each must be one and must be the one its id says.</summary>
    public static (JobArchive? Archive, IReadOnlyList<FieldError> Errors) Read(string json, ShopKnowledge shop)
    {
        var (archive, errors) = JobArchive.Read(json, shop);
        for (var i = 0; i < archive?.Photos.Count; i++)
        {
            var photo = archive.Photos[i];
            if (Convert.ToHexStringLower(SHA256.HashData(photo.Jpeg)) != photo.PhotoId || !PhotoFile.IsPicture(photo.Jpeg))
            {
                return (null, [new($"/photos/{i}", "This photo is damaged.")]);
            }
        }
        return (archive, errors);
    }
}
