using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Opens a job.</summary>
public sealed class NewModel(JobStore store, WeekStore week, ShopSnapshot shop, MoneyDesk money, TimeProvider clock)
    : PageModel
{
    public FormState Form { get; private set; } = FormState.None;

    public string Number { get; private set; } = "";

    public Guid JobId { get; private set; } = Guid.NewGuid();

    public IReadOnlyList<Layout> Layouts => shop.ByUse;

    /// <summary>How many of them, from the first, the shop meets.</summary>
    public int Met => Layouts.Count(shop.Meets);

    /// <summary>Layout chosen, or empty where it is still to be chosen.</summary>
    public string Chosen { get; private set; } = "";

    /// <summary>Tag read while it was found out which machine it is.</summary>
    public string Tag { get; private set; } = "";

    /// <summary>What can be told of the chosen machine.</summary>
    public IReadOnlyList<Finding> Complaints =>
        shop.FindLayout(Chosen) is { } layout
            ? [.. shop.For(layout).Diagnostician.Model.Findings.Where(f => f.Group == FindingGroup.Complaint)]
            : [];

    /// <summary>The machine as it is known so far: of the job that came back, else what was found out by
    /// looking.</summary>
    public MachineCard Card { get; private set; } = new();

    /// <summary>The appointment it is opened at; null where it is none.</summary>
    public Booking? Booking { get; private set; }

    /// <summary>Appointments of about today that no job was opened of yet, to be named where the machine was found out by looking.</summary>
    public IReadOnlyList<Booking> Perhaps { get; private set; } = [];

    public void OnGet()
    {
        Number = store.NextNumber();
        Chosen = shop.FindLayout(Request.Query["machine"].ToString())?.Id ?? "";
        Tag = Request.Query["tag"].ToString() is { Length: <= 60 } tag ? tag : "";
        Card = Fresh();
        Booked(Request.Query["booking"]);
        if (Booking is { } b)
        {
            Chosen = Chosen.Length > 0 ? Chosen : shop.FindLayout(b.LayoutId)?.Id ?? "";
            Card = Card with
            {
                LayoutId = Chosen,
                Place = b.Place,
                Telephone = b.Telephone,
                Address = b.Address,
                AgeYears = b.AgeYears,
            };
        }
        if (store.Find(Request.Query["callback"].ToString()) is { State: var came })
        {
            Chosen = came.Machine.LayoutId;
            var years = Math.Max(0, (clock.GetUtcNow() - came.OpenedAt).TotalDays) / 365.25;
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
        Booked(Request.Form["booking"]);
        var eventId = Guid.TryParse(Request.Form["id"], out var given) && given != Guid.Empty ? given : Guid.NewGuid();
        var stated = new ComplaintStated(
            [.. Request.Form["findings"].OfType<string>().Where(f => f.Length > 0)],
            Request.Form["words"].ToString().Trim()
        );
        var says = stated.Findings.Count > 0 || stated.Told.Length > 0;
        if (says && EventShape.Check(stated) is { Count: > 0 } misshapen)
        {
            return Refuse(misshapen);
        }
        JobEvent[] Acts(Guid first)
        {
            JobEvent[] acts = says ? [opened, stated] : [opened];
            return
            [
                .. acts.Select(
                    (act, i) => HttpContext.By(act) with { Id = ActIds.Beside(first, i), At = clock.GetUtcNow() }
                ),
            ];
        }
        var result = await store.AppendManyAsync(JobId, Acts(eventId));
        if (result.Outcome == AppendOutcome.IdTaken)
        {
            // Back, changed, sent again: another job.
            JobId = Guid.NewGuid();
            result = await store.AppendManyAsync(JobId, Acts(Guid.NewGuid()));
        }
        if (result.Job is null || result.Outcome == AppendOutcome.Refused)
        {
            return Refuse(result.Errors);
        }
        if (Booking is { } booking)
        {
            week.Keep([booking with { JobNumber = result.Job.State.Number, LayoutId = opened.Machine.LayoutId }]);
        }
        return this.SeeOther(
            $"/jobs/{Uri.EscapeDataString(result.Job.State.Number)}/{(result.Job.State.Station > Station.Complaint ? "find" : "complaint")}"
        );
    }

    /// <summary>The appointment that is named, as long as no other job was opened of it; else those it could be.</summary>
    private void Booked(string? id)
    {
        var today = shop.Terms.DayOf(clock.GetUtcNow());
        Booking = Guid.TryParse(id, out var known) && week.Find(known) is { JobNumber: "" } found ? found : null;
        Perhaps = Booking is null
            ?
            [
                .. week.Between(today.AddDays(-1), today)
                    .Where(b => b.JobNumber.Length == 0 && b.State == BookingState.Planned),
            ]
            : [];
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
        Booked(Request.Form["booking"]);
        Form = FormState.Refused(Request.Form, errors);
        Number = store.NextNumber();
        Chosen = Request.Form["machine.layoutId"].ToString() is { Length: > 0 } id ? id : "none";
        Card = Fresh();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
