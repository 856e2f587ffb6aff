using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Week;

/// <summary>An appointment: from the telephone, of a job, or by hand.</summary>
public sealed class EditModel(WeekStore week, WeekDesk desk, JobStore store, ShopSnapshot shop) : PageModel
{
    /// <summary>As it stands or was typed.</summary>
    public Booking Booking { get; private set; } = new();

    /// <summary>Whether it is kept already.</summary>
    public bool Known { get; private set; }

    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    /// <summary>What whoever calls is told until somebody is there.</summary>
    public IReadOnlyList<string> Tells => shop.Catalog.Tells(Booking.Complaints);

    public IEnumerable<Finding> Complaints => shop.Catalog.Findings.Where(f => f.Group == FindingGroup.Complaint);

    public IReadOnlyList<Layout> Layouts => shop.ByUse;

    public IReadOnlyList<string> People => shop.Terms.Signers;

    /// <summary>Others of that day, so that nothing is promised twice.</summary>
    public IReadOnlyList<DayStop> Others { get; private set; } = [];

    public string Bad(string field) => Wrong.FirstOrDefault(w => w.Pointer == field)?.Message ?? "";

    /// <summary>A field as it was typed, else as it is kept.</summary>
    public string Value(string field, string kept) =>
        Request.HasFormContentType ? Request.Form[field].ToString() : kept;

    public static string Clock(int? minutes) => minutes is { } m ? $"{m / 60:00}:{m % 60:00}" : "";

    public IActionResult OnGet([FromRoute] Guid? id)
    {
        if (id is { } known)
        {
            if (week.Find(known) is not { } found)
            {
                return NotFound();
            }
            (Booking, Known) = (found, true);
        }
        else
        {
            Booking = Fresh();
        }
        Around();
        return Page();
    }

    public IActionResult OnPost([FromRoute] Guid? id)
    {
        var form = Request.Form;
        Known = id is not null;
        var kept = id is { } known ? week.Find(known) : null;
        if (Known && kept is null)
        {
            return NotFound();
        }
        if (kept is not null && form["do"] == "remove")
        {
            week.Remove(kept.Id);
            return this.SeeOther($"/week/day?on={kept.Day:yyyy-MM-dd}");
        }
        // Sent twice it is one appointment.
        var own = kept?.Id
            ?? (Guid.TryParse(form["bookingId"], out var given) && given != Guid.Empty ? given : Guid.NewGuid());
        kept ??= week.Find(own);
        var errors = new FieldErrors();
        var day = IndexModel.DayOf(form["day"]);
        errors.If(day is null, "day", "A day is needed.");
        int? At(string field)
        {
            var text = form[field].ToString();
            var at = IndexModel.TimeOf(text);
            errors.If(text.Length > 0 && at is null, field, "A time of day is needed, as 9:30, or nothing.");
            return at;
        }
        double Minutes(string field, double usual)
        {
            var text = form[field].ToString();
            var n = text.Length == 0 ? usual : TypedNumber.Read(text);
            errors.If(n is not (>= 5 and <= 1440), field, "5 to 1,440 minutes of work.");
            return n is >= 5 and <= 1440 ? n.Value : usual;
        }
        var travel = TypedNumber.Read(form["travel"].ToString() is { Length: > 0 } t ? t : "0");
        errors.If(travel is not (>= 0 and <= 600), "travel", "0 to 600 minutes of driving.");
        var age = form["age"].ToString() is { Length: > 0 } a ? TypedNumber.Read(a) : null;
        errors.If(form["age"].ToString().Length > 0 && age is null, "age", "A number of years, or nothing.");
        var before = kept ?? new Booking();
        var usual = Minutes("usual", before.Usual);
        Booking = before with
        {
            Id = own,
            Uid = before.Uid.Length > 0 ? before.Uid : own + "@idrum",
            Day = day ?? desk.Today,
            From = At("from"),
            Until = At("until"),
            Travel = (int)Math.Round(travel ?? 0),
            Usual = usual,
            High = Minutes("high", Math.Max(usual, before.High)),
            Low = Math.Min(usual, Minutes("low", before.Low)),
            Person = form["person"].ToString().Trim(),
            Place = form["place"].ToString().Trim(),
            Address = form["address"].ToString().Trim(),
            Telephone = form["telephone"].ToString().Trim(),
            Words = form["words"].ToString().Trim(),
            Complaints = [.. form["complaint"].OfType<string>().Distinct()],
            LayoutId = form["machine"].ToString(),
            AgeYears = age,
            JobNumber = form["job"].ToString(),
            Sequence = kept is null ? 0 : kept.Sequence + 1,
        };
        foreach (var error in Booking.Check(shop, desk.Today).Where(e => errors.All.All(x => x.Pointer != e.Pointer)))
        {
            errors.Add(
                error.Pointer == "ageYears" ? "age"
                    : error.Pointer == "layoutId" ? "machine"
                    : error.Pointer,
                error.Message
            );
        }
        errors.If(
            Booking.JobNumber.Length > 0 && store.Find(Booking.JobNumber) is null,
            "job",
            $"There is no job {FieldErrors.Short(Booking.JobNumber)}."
        );
        Wrong = errors.All;
        if (Wrong.Count > 0)
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            Around();
            return Page();
        }
        if (kept is null || kept.Day != Booking.Day || kept.Person != Booking.Person)
        {
            // After those of its day that are promised earlier, in whatever order they were put by hand.
            Booking = Booking with
            {
                Order = week.Between(Booking.Day, Booking.Day)
                    .Where(b =>
                        b.Id != Booking.Id && b.Person == Booking.Person && (b.From ?? 0) <= (Booking.From ?? 0)
                    )
                    .Select(b => b.Order)
                    .DefaultIfEmpty(0)
                    .Max(),
            };
        }
        week.Keep([Booking]);
        return this.SeeOther($"/week/day?on={Booking.Day:yyyy-MM-dd}#b{Booking.Id}");
    }

    private Booking Fresh()
    {
        var q = Request.Query;
        var complaints = Complaints.Select(c => c.Id).ToHashSet();
        double Of(string field, double usual) =>
            TypedNumber.Read(q[field].ToString()) is >= 5 and <= 1440 and var n ? n : usual;
        var fresh = new Booking
        {
            Id = Guid.NewGuid(),
            Day = IndexModel.DayOf(q["day"]) ?? desk.Today.AddDays(1),
            Complaints = [.. q["complaint"].OfType<string>().Where(complaints.Contains).Distinct()],
            LayoutId = shop.FindLayout(q["machine"].ToString())?.Id ?? "",
            AgeYears = TypedNumber.Read(q["age"].ToString()) is >= 0 and <= 60 and var years ? years : null,
            Person = HttpContext.Caller().Person,
        };
        fresh = fresh with
        {
            Low = Of("low", fresh.Low),
            Usual = Of("usual", fresh.Usual),
            High = Of("high", fresh.High),
        };
        if (store.Find(q["job"].ToString()) is not { State: var state })
        {
            return fresh;
        }
        var m = state.Machine;
        return fresh with
        {
            JobNumber = state.Number,
            Place = state.CustomerRemoved ? "" : m.Place,
            Address = state.CustomerRemoved ? "" : m.Address ?? "",
            Telephone = state.CustomerRemoved ? "" : m.Telephone ?? "",
            LayoutId = shop.FindLayout(m.LayoutId)?.Id ?? "",
            AgeYears = m.AgeYears,
            Complaints = [.. state.Complaints.Where(complaints.Contains)],
        };
    }

    private void Around() =>
        Others = [
            .. desk.From(Booking.Day, 1)[0].Stops.Where(s => s.Booking.Id != Booking.Id).OrderBy(s => s.Arrive.Usual),
        ];

    /// <summary>A number as it stands in a field.</summary>
    public static string Number(double n) => n.ToString("0.#", CultureInfo.InvariantCulture);
}
