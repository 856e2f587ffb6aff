using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Opens a job.</summary>
public sealed class NewModel(JobStore store, ShopSnapshot shop, MoneyDesk money, TimeProvider clock) : PageModel
{
    public FormState Form { get; private set; } = FormState.None;

    public string Number { get; private set; } = "";

    public Guid JobId { get; private set; } = Guid.NewGuid();

    public IReadOnlyList<Layout> Layouts => shop.Layouts;

    /// <summary>Layout chosen, or empty where it is still to be chosen.</summary>
    public string Chosen { get; private set; } = "";

    /// <summary>Tag read while it was found out which machine it is.</summary>
    public string Tag { get; private set; } = "";

    /// <summary>The machine as it is known so far: of the job that came back, else what was found out by
    /// looking.</summary>
    public MachineCard Card { get; private set; } = new();

    public void OnGet()
    {
        Number = store.NextNumber();
        Chosen = shop.FindLayout(Request.Query["machine"].ToString())?.Id ?? "";
        Tag = Request.Query["tag"].ToString() is { Length: <= 60 } tag ? tag : "";
        Card = Fresh();
        if (store.Find(Request.Query["callback"].ToString()) is { State: var came })
        {
            Chosen = came.Machine.LayoutId;
            var years = (clock.GetUtcNow() - came.OpenedAt).TotalDays / 365.25;
            Card = came.Machine with
            {
                CallBackOf = came.Number,
                AgeYears = came.Machine.AgeYears is { } age ? Math.Round(age + years, 1) : null,
                Place = came.CustomerRemoved ? "" : came.Machine.Place,
                Telephone = came.CustomerRemoved ? null : came.Machine.Telephone,
                Address = came.CustomerRemoved ? null : came.Machine.Address,
            };
        }
    }

    public async Task<IActionResult> OnPostAsync()
    {
        JobId = Guid.TryParse(Request.Form["jobId"], out var id) && id != Guid.Empty ? id : JobId;
        var (read, errors) = EventForm.Read(Request.Form);
        if (read is not JobOpened opened)
        {
            return Refuse(errors);
        }
        var eventId = Guid.TryParse(Request.Form["id"], out var given) && given != Guid.Empty ? given : Guid.NewGuid();
        var e = HttpContext.By(opened) with { Id = eventId, At = clock.GetUtcNow() };
        var result = await store.AppendAsync(JobId, e);
        if (result.Outcome == AppendOutcome.IdTaken)
        {
            // Back, changed, sent again: another job.
            JobId = Guid.NewGuid();
            result = await store.AppendAsync(JobId, e with { Id = Guid.NewGuid() });
        }
        if (result.Job is null || result.Outcome == AppendOutcome.Refused)
        {
            return Refuse(result.Errors);
        }
        return this.SeeOther($"/jobs/{Uri.EscapeDataString(result.Job.State.Number)}/complaint");
    }

    private MachineCard Fresh() =>
        new()
        {
            LayoutId = Chosen,
            Tag = Tag,
            Units = money.Terms.Units,
        };

    private PageResult Refuse(IReadOnlyList<FieldError> errors)
    {
        Form = FormState.Refused(Request.Form, errors);
        Number = store.NextNumber();
        Chosen = Request.Form["machine.layoutId"].ToString() is { Length: > 0 } id ? id : "none";
        Card = Fresh();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
