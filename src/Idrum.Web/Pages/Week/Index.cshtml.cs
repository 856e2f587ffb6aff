using System.Globalization;
using System.Text;
using Idrum.Core.Basics;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Week;

/// <summary>Seven days: who is where when, what comes due, what the van lacks; calendars out and in.</summary>
public sealed class IndexModel(WeekDesk desk, WeekStore week, WeekCalendar calendar, TimeProvider clock) : PageModel
{
    public DateOnly First { get; private set; }

    public DateOnly Today => desk.Today;

    public IReadOnlyList<WeekDay> Days { get; private set; } = [];

    public IReadOnlyList<VanLacks> Lacking { get; private set; } = [];

    /// <summary>Whether the shop has more than one van or shelf.</summary>
    public bool Several => desk.Places.Count > 1;

    public WeekCalendar Calendar => calendar;

    public int Begins => desk.Begins;

    public bool Keeps => HttpContext.Caller().Keeps;

    /// <summary>What a calendar that was read in came to; null where none was.</summary>
    public CalendarRead? Taken { get; private set; }

    /// <summary>What is wrong, or empty.</summary>
    public string Wrong { get; private set; } = "";

    /// <summary>Appointments of which it is still being worked out what they want.</summary>
    public int Coming { get; private set; }

    /// <summary>What was done, or empty.</summary>
    public string Done { get; private set; } = "";

    public Task OnGetAsync(CancellationToken stop) => ShowAsync(Request.Query["from"], stop);

    public async Task<IActionResult> OnPostAsync(CancellationToken stop)
    {
        var form = Request.Form;
        var from = form["from"].ToString();
        switch (form["do"].ToString())
        {
            case "seen":
                if (
                    EnumWord.Read<DueKind>(form["kind"]) is { } kind
                    && DayOf(form["day"]) is { } day
                    && Core.Jobs.Log.JobNumber.Fits(form["job"].ToString())
                )
                {
                    week.SeenTo(form["job"]!, kind.Stored(), day, clock.GetUtcNow(), HttpContext.Caller().Person);
                    return this.SeeOther("/week" + (from.Length > 0 ? "?from=" + Uri.EscapeDataString(from) : ""));
                }
                Wrong = "What was seen to is not named.";
                break;
            case "read":
                await ReadAsync(form.Files["calendar"], stop);
                break;
            case "takeback":
                var back = week.TakeBack(form["batch"].ToString());
                Done =
                    back > 0 ? $"Taken back: {Say.Count(back, "appointment is", "appointments are")} as before." : "";
                Wrong = back > 0 ? "" : "That calendar was taken back already, or others were read in since.";
                break;
            case "begins" when Keeps:
                if (TimeOf(form["begins"]) is { } begins)
                {
                    desk.Begins = begins;
                    Done = "Kept.";
                }
                else
                {
                    Wrong = "A time of day is needed, as 8:00.";
                }
                break;
            case "address" when Keeps:
                calendar.Renew(form["names"] == "yes");
                Done = "The calendar has a new address. The one before is none any more.";
                break;
            case "revoke" when Keeps:
                calendar.Revoke();
                Done = "The calendar has no address any more.";
                break;
            default:
                Wrong = "Nothing was done: what was asked for is not known here, or only who keeps the shop may do it.";
                break;
        }
        if (Wrong.Length > 0)
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        }
        await ShowAsync(from, stop);
        return Page();
    }

    /// <summary>Minutes after midnight of a time as typed, or null.</summary>
    public static int? TimeOf(string? text) =>
        TimeOnly.TryParseExact(
            (text ?? "").Trim().Replace('.', ':'),
            ["H:mm", "HH:mm", "HH:mm:ss"],
            CultureInfo.InvariantCulture,
            DateTimeStyles.None,
            out var time
        )
            ? time.Hour * 60 + time.Minute
            : null;

    /// <summary>A day as the address and the forms write it, or null.</summary>
    public static DateOnly? DayOf(string? text) =>
        DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day)
        && day.Year is > 2000 and < 2200
            ? day
            : null;

    /// <summary>A time of day; of the next one it is said.</summary>
    public static string Time(int minutes) =>
        $"{minutes / 60 % 24}:{minutes % 60:00}{(minutes >= 24 * 60 ? " the next day" : "")}";

    private async Task ReadAsync(IFormFile? file, CancellationToken stop)
    {
        if (file is null || file.Length == 0)
        {
            Wrong = "Choose the calendar's file (.ics).";
            return;
        }
        if (file.Length > WeekCalendar.MaxBytes)
        {
            Wrong =
                $"The file has {file.Length / 1048576.0:0.0} MB; {WeekCalendar.MaxBytes >> 20} MB are read. Export fewer months of the calendar.";
            return;
        }
        using var reader = new StreamReader(file.OpenReadStream(), Encoding.UTF8);
        try
        {
            Taken = calendar.Read(await reader.ReadToEndAsync(stop));
        }
        catch (InvalidDataException e)
        {
            Wrong = e.Message;
        }
    }

    private async Task ShowAsync(string? from, CancellationToken stop)
    {
        First = DayOf(from) ?? desk.Today;
        Days = desk.From(First);
        var planned = Days.SelectMany(d => d.Stops)
            .Select(s => s.Booking)
            .Where(b => b.State == BookingState.Planned)
            .ToList();
        var loads = await desk.LoadsAsync(planned, stop);
        Coming = planned.Count(b => !loads.ContainsKey(b.Id));
        Lacking = desk.Lacking(planned, loads);
    }
}
