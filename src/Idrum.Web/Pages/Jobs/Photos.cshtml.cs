using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Web.Attachments;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Photos of a job: the picture is stored first, then the event that names it.</summary>
public sealed class PhotosModel(JobServices services, ShopSnapshot shop, PhotoDesk photos) : JobPage(services)
{
    public override Station Shown => State.Station;

    public override async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        var file = Request.Form.Files["photo"];
        if (file is null || file.Length == 0)
        {
            return await RefuseAsync([new("photo", "Choose a photo first.")]);
        }
        if (file.Length > PhotoFile.MaxBytes)
        {
            return await RefuseAsync([
                new("photo", $"The photo has {file.Length / 1048576.0:0.0} MB; 10 MB is the most."),
            ]);
        }
        using var bytes = new MemoryStream();
        await file.CopyToAsync(bytes, HttpContext.RequestAborted);
        // The same act sent again names the same picture.
        var id = Guid.TryParse(Request.Form["id"], out var given) ? given : Guid.NewGuid();
        var name = Convert.ToHexStringLower(
            System.Security.Cryptography.SHA256.HashData([.. id.ToByteArray(), .. bytes.ToArray()])
        );
        var added = new PhotoAdded(
            name,
            Request.Form["operationId"].ToString(),
            Request.Form["caption"].ToString().Trim()
        );
        if (
            JobRules.Check(View.Job.History, added with { Id = Guid.NewGuid(), At = Now }, shop, Now) is
            { Count: > 0 } errors
        )
        {
            return await RefuseAsync(errors);
        }
        var (jpeg, error) = await photos.ReadAsync(bytes.ToArray(), HttpContext.RequestAborted);
        if (error.Length > 0)
        {
            return await RefuseAsync([new("photo", error)]);
        }
        Services.Store.SavePhoto(View.Job.JobId, name, jpeg);
        return await RecordAsync(added, To("photos"));
    }
}
