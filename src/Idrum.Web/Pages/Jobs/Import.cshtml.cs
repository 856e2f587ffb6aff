using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Takes a job exported elsewhere.</summary>
public sealed class ImportModel(JobStore store, ShopSnapshot shop, LayoutIntake intake, AttachmentDesk files)
    : PageModel
{
    public IReadOnlyList<FieldError> Errors { get; private set; } = [];

    public void OnGet() { }

    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0)
        {
            return Refuse([new("file", "Choose a file first.")]);
        }
        using var reader = new StreamReader(file.OpenReadStream());
        var (archive, history, errors) = await JobExport.ReadAsync(
            await reader.ReadToEndAsync(HttpContext.RequestAborted),
            shop,
            intake,
            files,
            HttpContext.RequestAborted
        );
        if (archive is null)
        {
            return Refuse(errors);
        }
        if (
            await store.ImportAsync(
                archive,
                history!,
                HttpContext.Caller().Person is { Length: > 0 } person ? person : null,
                HttpContext.Caller().Device
            ) is
            { Count: > 0 } refused
        )
        {
            return Refuse(refused);
        }
        return this.SeeOther($"/jobs/{Uri.EscapeDataString(store.Find(archive.JobId)!.State.Number)}");
    }

    private PageResult Refuse(IReadOnlyList<FieldError> errors)
    {
        Errors = errors;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
