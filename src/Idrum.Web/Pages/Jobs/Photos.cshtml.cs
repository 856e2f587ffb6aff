using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Jobs;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Photos of a job: the picture is stored first, then the event that names it.</summary>
public sealed class PhotosModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    private readonly JobStore photos = store;

    public override Station Shown => State.Station;

    public override async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        if (OnGet(number) is NotFoundResult missing)
        {
            return missing;
        }
        var file = Request.Form.Files["photo"];
        if (file is null || file.Length == 0)
        {
            return Refuse([new("photo", "Choose a photo first.")]);
        }
        if (file.Length > PhotoFile.MaxBytes)
        {
            return Refuse([new("photo", $"The photo has {file.Length / 1048576.0:0.0} MB; 10 MB is the most.")]);
        }
        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes);
        var (photoId, jpeg, error) = PhotoFile.Read(bytes.ToArray());
        if (error.Length > 0)
        {
            return Refuse([new("photo", error)]);
        }
        var added = new PhotoAdded(photoId, Request.Form["operationId"].ToString(), Request.Form["caption"].ToString().Trim());
        if (JobRules.Check(View.Job.Log, State, added with { Id = Guid.NewGuid() }, Knowledge) is { Count: > 0 } errors)
        {
            return Refuse(errors);
        }
        photos.SavePhoto(View.Job.JobId, photoId, jpeg);
        return await RecordAsync(added, To("photos"));
    }

    private ShopKnowledge Knowledge => HttpContext.RequestServices.GetRequiredService<ShopKnowledge>();
}
