using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Supply;
using Idrum.Core.Teardown;
using Idrum.Storage;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Work;

/// <summary>What the pages of a job stand on.</summary>
/// <param name="Desk">Jobs with what is computed from them.</param>
/// <param name="Store">The log.</param>
/// <param name="Clock">The shop's clock.</param>
/// <param name="Gate">Where advice and plans are worked out.</param>
/// <param name="Files">What acts carry.</param>
/// <param name="Vans">What vans and shelves hold.</param>
/// <param name="Sounds">Listens to recordings.</param>
public sealed record JobServices(
    JobDesk Desk,
    JobStore Store,
    TimeProvider Clock,
    WorkGate Gate,
    GlueDesk Glue,
    VisitDesk Visits,
    MoneyDesk Money,
    VanDesk Vans,
    AttachmentDesk Files,
    SoundDesk Sounds
);

/// <summary>What all pages of one job share: find it, take an act as an event, show it anew.</summary>
public abstract class JobPage(JobServices services) : PageModel
{
    /// <summary>The job with what is computed from it; set before a page is drawn.</summary>
    public JobView View { get; private set; } = null!;

    public FormState Form { get; private set; } = FormState.None;

    public DateTimeOffset Now => services.Clock.GetUtcNow();

    protected JobServices Services => services;

    /// <summary>Whether the job is shown as it is foreseen, for a device that has no link: such a page carries no ids
    /// and no token.</summary>
    public bool Foreseen { get; private set; }

    /// <summary>Shows the job as it is foreseen.</summary>
    public void Foresee(JobView view) => (View, Foreseen) = (view, true);

    /// <summary>The step of the way back that is next, and what it waits for; null where everything is in. A job that is
    /// foreseen waits on the device, which knows when it was joined there.</summary>
    public (RefitMove Move, IReadOnlyList<WayBackWait> Waits)? NextIn =>
        Foreseen
            ? View.Refit is [var first, ..]
                ? (first, [])
                : null
            : WayBackGuard.Next(State, View.Machine, View.Refit, Now);

    /// <summary>What the shop charges and promises.</summary>
    public Core.Money.ShopTerms Terms => services.Money.Terms;

    private StockPlace? van;

    /// <summary>The van it is done out of, with what that holds now.</summary>
    public StockPlace Van => van ??= services.Vans.Of(State.Number, HttpContext.Features.Get<Caller>()?.Person ?? "");

    /// <summary>What the other vans and shelves of the shop hold of some articles: in words, empty where they hold
    /// none.</summary>
    public string Elsewhere(params IEnumerable<string> articles) =>
        string.Join(
            ", ",
            (places ??= services.Vans.Places())
                .Where(p => p.Id != Van.Id)
                .Select(p => (p.Name, Holds: articles.Sum(a => p.Holds.GetValueOrDefault(a))))
                .Where(p => p.Holds > 0)
                .Select(p => $"{p.Name} holds {p.Holds}")
        );

    private IReadOnlyList<StockPlace>? places;

    /// <summary>Who signs in this shop, to choose from.</summary>
    public IReadOnlyList<string> MaySign => services.Money.Terms.Signers;

    /// <summary>A4 or Letter.</summary>
    public string Paper => services.Money.Terms.Paper;

    /// <summary>The station this page shows, which need not be the one in work.</summary>
    public abstract Station Shown { get; }

    public JobState State => View.State;

    /// <summary>The last act as far as the floor may take it back: not the signature, and nothing of another
    /// station.</summary>
    public JobEvent? CanTakeBack =>
        !Foreseen && View.Last is { } last && ActEffect.All[ActEffect.KindOf(last)].FloorTakesBack ? last : null;

    /// <summary>An act in words, with how many were said at once with it.</summary>
    public string InWords(JobEvent act)
    {
        var with = Math.Max(
            View.Job.History.LastSaidWith(act.Id).Count,
            View.Job.History.LastTakenBackWith(act.Id).Count
        );
        return act.Words(View.Machine) + (with > 1 ? $", and {with - 1} more said with it" : "");
    }

    /// <summary>Address of another page of this job.</summary>
    public string To(string page) => $"/jobs/{Uri.EscapeDataString(State.Number)}/{page}";

    public virtual async Task<IActionResult> OnGetAsync([FromRoute] string number)
    {
        if (!Load(number))
        {
            return NotFound();
        }
        await PrepareAsync();
        HttpContext.RequestServices.GetService<PackageAhead>()?.Offer(View);
        return Page();
    }

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
            return await RefuseAsync(errors);
        }
        var otherwise = Request.Path + Request.QueryString;
        // What one tap said, one tap takes back and brings again.
        IReadOnlyList<JobEvent> together = read switch
        {
            Undone u => [.. View.Job.History.LastSaidWith(u.EventId).Select(e => u with { EventId = e.Id })],
            Restored r => [.. View.Job.History.LastTakenBackWith(r.EventId).Select(e => r with { EventId = e.Id })],
            _ => [],
        };
        if (together.Count > 1)
        {
            return await RecordAllAsync(
                together,
                // Sent twice it is known by what it named.
                together.First(t => t == read),
                LocalAddress.Of(Request.Form["next"].ToString(), otherwise)
            );
        }
        return read is ICarriesAttachment act
            ? await RecordWithFileAsync(act, otherwise)
            : await RecordAsync(read, otherwise);
    }

    /// <summary>Stores an act with the file it carries: both, or none.</summary>
    private async Task<IActionResult> RecordWithFileAsync(ICarriesAttachment act, string otherwise)
    {
        var field = Request.Form.Files.Count > 0 ? Request.Form.Files[0].Name : act.Carries.Name;
        if (Request.Form.Files is not [var sent])
        {
            return await RefuseAsync([new(field, $"Choose a {act.Carries.Name} first.")]);
        }
        // What the rules would refuse anyway is not decoded before.
        var foreseen = act.Carrying(new string('0', 64)) with { Id = Guid.NewGuid(), At = Now };
        if (services.Store.Check(View.Job, foreseen) is { Count: > 0 } errors)
        {
            return await RefuseAsync(errors);
        }
        var (file, e, error) = await services.Files.TakeAsync(act, sent, HttpContext.RequestAborted);
        if (e is null)
        {
            return await RefuseAsync([new(field, error)]);
        }
        var (heard, kept) = await services.Sounds.HearAsync(e, file, View.Job, HttpContext.RequestAborted);
        return await RecordAsync(heard, otherwise, kept);
    }

    /// <summary>Works out what the page shows.</summary>
    protected virtual Task PrepareAsync() => View.PlanAsync(services.Gate, HttpContext.RequestAborted);

    /// <summary>Stores the act of the posted form under the form's id and goes on: to where the form says, else to the
    /// given address.</summary>
    protected async Task<IActionResult> RecordAsync(JobEvent act, string otherwise, Attachment? file = null)
    {
        var e = Stamped(act, FormId);
        var result = await services.Store.AppendAsync(View.Job.JobId, e, file);
        if (result.Outcome == AppendOutcome.IdTaken)
        {
            // The form was sent before with other content (Back, then changed): that is a new act, not a repetition.
            result = await services.Store.AppendAsync(View.Job.JobId, e with { Id = Guid.NewGuid() }, file);
        }
        return result.Outcome == AppendOutcome.Refused
            ? await RefuseAsync(result.Errors)
            : this.SeeOther(LocalAddress.Of(Request.Form["next"].ToString(), otherwise));
    }

    /// <summary>The id the form gave its act.</summary>
    private Guid FormId =>
        Guid.TryParse(Request.Form["id"], out var given) && given != Guid.Empty ? given : Guid.NewGuid();

    /// <summary>An act as the form made it: by whom, when, on which device, knowing what.</summary>
    private JobEvent Stamped(JobEvent act, Guid id) =>
        DeviceClock.Stamp(
            HttpContext.By(act) with
            {
                Id = id,
                Run = Guid.TryParse(Request.Form["run"], out var run) && run != Guid.Empty ? run : null,
                Knew = Guid.TryParse(Request.Form["knew"], out var knew) && knew != Guid.Empty ? knew : null,
            },
            Request.Form["madeAt"].ToString(),
            Request.Form["sentAt"].ToString(),
            Now
        );

    /// <summary>Stores several acts of one form, all of them or none; the same ids however often it is sent. One is
    /// what the form says and has its id, so that the device that made it can take it back.</summary>
    protected async Task<IActionResult> RecordAllAsync(IReadOnlyList<JobEvent> acts, JobEvent said, string next)
    {
        var first = FormId;
        var result = await services.Store.AppendManyAsync(
            View.Job.JobId,
            [.. acts.Select((act, i) => Stamped(act, ActIds.Beside(first, act == said ? 0 : i + 1)))]
        );
        return result.Outcome == AppendOutcome.Refused ? await RefuseAsync(result.Errors) : this.SeeOther(next);
    }

    /// <summary>Finds the job of an address. An act says besides of which job it is: after a restore its number may be
    /// another's.</summary>
    protected bool Load(string number)
    {
        if (
            HttpMethods.IsPost(Request.Method)
            && Request.HasFormContentType
            && Guid.TryParse(Request.Form["jobId"], out var meant)
        )
        {
            number = services.Store.Find(meant)?.State.Number ?? "";
        }
        if (services.Desk.Open(number) is not { } view)
        {
            return false;
        }
        View = view;
        return true;
    }

    protected async Task<IActionResult> RefuseAsync(IReadOnlyList<FieldError> errors)
    {
        // What is now true is shown beside what was typed.
        Load(State.Number);
        await PrepareAsync();
        Form = FormState.Refused(Request.Form, errors);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
