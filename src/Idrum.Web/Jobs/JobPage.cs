using System.Net;
using Idrum.Core.Jobs;
using Idrum.Storage;
using Idrum.Web.Forms;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Jobs;

/// <summary>What all pages of one job share: find it, take an act as an event, show it anew.</summary>
public abstract class JobPage(JobDesk desk, JobStore store, TimeProvider clock) : PageModel
{
    /// <summary>The job with what is computed from it; set before a page is drawn.</summary>
    public JobView View { get; private set; } = null!;

    public FormState Form { get; private set; } = FormState.None;

    public DateTimeOffset Now => clock.GetUtcNow();

    /// <summary>The station this page shows, which need not be the one in work.</summary>
    public abstract Station Shown { get; }

    public JobState State => View.State;

    /// <summary>Address of another page of this job.</summary>
    public string To(string page) => $"/jobs/{Uri.EscapeDataString(State.Number)}/{page}";

    /// <summary>What every form of an act carries: its kind, an id of its own so that sending it twice changes nothing, where
    /// to go on, and the token against forged posts.</summary>
    public HtmlString Act(string kind, string? next = null)
    {
        var go = next is null ? "" : $"<input type=\"hidden\" name=\"next\" value=\"{WebUtility.HtmlEncode(next)}\">";
        return new($"<input type=\"hidden\" name=\"kind\" value=\"{kind}\"><input type=\"hidden\" name=\"id\" value=\"{NewId}\">{go}{Token}");
    }

    /// <summary>The token alone, for a form that is no act.</summary>
    public static HtmlString Token { get; } = new($"<input type=\"hidden\" name=\"__RequestVerificationToken\" value=\"{PageMemory.Token}\">");

    /// <summary>A fresh id for a form's event.</summary>
    public static HtmlString NewId => PageMemory.Id;

    public override PageResult Page() => new RememberedPage(HttpMethods.IsGet(Request.Method)
        ? new(View.Job.JobId, View.Job.Version, Request.Path + Request.QueryString, Now.ToUnixTimeSeconds() / 60) : null);

    public IActionResult OnGet([FromRoute] string number) => Load(number) ? Page() : NotFound();

    /// <summary>Takes one act. Sent twice it changes nothing; refused it comes back as typed.</summary>
    public virtual async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        var (read, errors) = EventForm.Read(Request.Form);
        if (read is null)
        {
            return Refuse(errors);
        }
        return await RecordAsync(read, Request.Path + Request.QueryString);
    }

    /// <summary>Stores the act of the posted form under the form's id and goes on: to where the form says, else to the given address.</summary>
    protected async Task<IActionResult> RecordAsync(JobEvent act, string otherwise)
    {
        var id = Guid.TryParse(Request.Form["id"], out var given) && given != Guid.Empty ? given : Guid.NewGuid();
        var e = act with { Id = id, At = Now };
        var result = await store.AppendAsync(View.Job.JobId, e);
        if (result.Outcome == AppendOutcome.IdTaken)
        {
            // The form was sent before with other content (Back, then changed): that is a new act, not a repetition.
            result = await store.AppendAsync(View.Job.JobId, e with { Id = Guid.NewGuid() });
        }
        if (result.Outcome == AppendOutcome.Refused)
        {
            return Refuse(result.Errors);
        }
        var next = Request.Form["next"].ToString();
        return Go(next.Length > 0 && Url.IsLocalUrl(next) ? next : otherwise);
    }

    /// <summary>See other: reload never repeats the act.</summary>
    protected IActionResult Go(string url)
    {
        Response.Headers.Location = url;
        return StatusCode(StatusCodes.Status303SeeOther);
    }

    private bool Load(string number)
    {
        if (desk.Open(number) is not { } view)
        {
            return false;
        }
        View = view;
        return true;
    }

    protected IActionResult Refuse(IReadOnlyList<Core.Machines.FieldError> errors)
    {
        Form = FormState.Refused(Request.Form, errors);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
