using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Takes a job exported elsewhere.</summary>
public sealed class ImportModel(JobStore store, ShopKnowledge shop) : PageModel
{
    public IReadOnlyList<FieldError> Errors { get; private set; } = [];

    public void OnGet()
    {
    }

    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        if (file is null || file.Length == 0)
        {
            return Refuse([new("file", "Choose a file first.")]);
        }
        using var reader = new StreamReader(file.OpenReadStream());
        var (archive, errors) = JobExport.Read(await reader.ReadToEndAsync(), shop);
        if (archive is null)
        {
            return Refuse(errors);
        }
        if (await store.ImportAsync(archive) is { Count: > 0 } refused)
        {
            return Refuse(refused);
        }
        Response.Headers.Location = $"/jobs/{Uri.EscapeDataString(store.Find(archive.JobId)!.State.Number)}";
        return StatusCode(StatusCodes.Status303SeeOther);
    }

    private PageResult Refuse(IReadOnlyList<FieldError> errors)
    {
        Errors = errors;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
