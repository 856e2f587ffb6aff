using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Taking out of a closed job what tells who the customer is.</summary>
public sealed class CustomerModel(JobServices services, JobStore store) : JobPage(services)
{
    public override Station Shown => Station.Close;

    public string Wrong { get; private set; } = "";

    public async Task<IActionResult> OnPostRemoveAsync([FromRoute] string number, [FromForm] string? typed)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        if (State.Closed is null)
        {
            Wrong = "The job is open: its address is still needed. Close it first.";
        }
        else if (typed?.Trim() != State.Number)
        {
            Wrong = $"To be sure: type {State.Number}.";
        }
        else
        {
            var caller = HttpContext.Caller();
            await store.RemoveCustomerAsync(
                View.Job.JobId,
                caller.Person.Length > 0 ? caller.Person : null,
                caller.Device
            );
            return this.SeeOther(To("report"));
        }
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
