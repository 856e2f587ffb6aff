using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Week;

/// <summary>The day's list: what is opened in the morning, and stays on the phone where there is no link.</summary>
public sealed class DayModel(WeekDesk desk, WeekStore week, JobStore store, ShopSnapshot shop) : PageModel
{
    public WeekDay Shown { get; private set; } = null!;

    public DateOnly Today => desk.Today;

    public int Begins => desk.Begins;

    /// <summary>What each wants in the van.</summary>
    public IReadOnlyDictionary<Guid, Loading> Loads { get; private set; } = new Dictionary<Guid, Loading>();

    /// <summary>Of whom the list is; empty where all are shown.</summary>
    public string Person { get; private set; } = "";

    public IReadOnlyList<string> Persons { get; private set; } = [];

    /// <summary>An appointment with what its job knows meanwhile: that counts, not what was said first.</summary>
    public Booking Known(Booking booking) =>
        booking.JobNumber.Length > 0 && store.Find(booking.JobNumber) is { State: { CustomerRemoved: false } state }
            ? booking with
            {
                LayoutId = state.Machine.LayoutId,
                Address = Else(state.Machine.Address, booking.Address),
                Telephone = Else(state.Machine.Telephone, booking.Telephone),
                Words = Else(state.Words, booking.Words),
                Complaints = state.Complaints.Count > 0 ? [.. state.Complaints] : booking.Complaints,
            }
            : booking;

    private static string Else(string? known, string said) => known is { Length: > 0 } ? known : said;

    public string Machine(Booking booking) => shop.FindLayout(booking.LayoutId)?.Title ?? "machine not known";

    public IEnumerable<string> Complaints(Booking booking) =>
        booking.Complaints.Select(c => shop.Catalog.FindFinding(c)?.Name ?? c);

    /// <summary>What whoever waits there is told until somebody is there.</summary>
    public IReadOnlyList<string> Tells(Booking booking) => shop.Catalog.Tells(booking.Complaints);

    /// <summary>Whether what is to be loaded is still being worked out for a stop.</summary>
    public bool Coming => Shown.Stops.Any(s => !Over(s.Booking) && !Loads.ContainsKey(s.Booking.Id));

    /// <summary>Whether the shop has more than one van or shelf.</summary>
    public bool Several => desk.Places.Count > 1;

    /// <summary>The van somebody goes there with; null where nobody knows.</summary>
    public StockPlace? VanOf(Booking booking) => desk.VanOf(booking);

    /// <summary>Where what is here for an appointment lies.</summary>
    public string InVan(Booking booking) => VanOf(booking) is { } van ? "in " + van.Name : "in one of the vans";

    /// <summary>Whether somebody was there: it was said, or its job is closed.</summary>
    public bool Over(Booking booking) => desk.Over(booking);

    public Task OnGetAsync(CancellationToken stop) => ShowAsync(Request.Query["on"], Request.Query["who"], stop);

    public IActionResult OnPost()
    {
        var on = IndexModel.DayOf(Request.Form["on"]) ?? desk.Today;
        var back = $"/week/day?on={on:yyyy-MM-dd}";
        if (Guid.TryParse(Request.Form["booking"], out var id) && week.Find(id) is { } booking)
        {
            switch (Request.Form["do"].ToString())
            {
                case "up":
                    Move(booking, -1);
                    break;
                case "down":
                    Move(booking, 1);
                    break;
                case "done":
                    week.Keep([booking with { State = BookingState.Done }]);
                    break;
                case "off":
                    week.Keep([booking with { State = BookingState.Off, Sequence = booking.Sequence + 1 }]);
                    break;
                case "on":
                    week.Keep([booking with { State = BookingState.Planned, Sequence = booking.Sequence + 1 }]);
                    break;
            }
            return this.SeeOther(back + "#b" + booking.Id);
        }
        return this.SeeOther(back);
    }

    /// <summary>Puts it one place earlier or later in the order of its person and day.</summary>
    private void Move(Booking booking, int by)
    {
        var order = week.Between(booking.Day, booking.Day)
            .Where(b => b.Person == booking.Person && b.State != BookingState.Off)
            .ToList();
        var at = order.FindIndex(b => b.Id == booking.Id);
        var to = at + by;
        if (at >= 0 && to >= 0 && to < order.Count)
        {
            (order[at], order[to]) = (order[to], order[at]);
            week.Keep([.. order.Select((b, i) => b with { Order = i + 1 })]);
        }
    }

    private async Task ShowAsync(string? on, string? who, CancellationToken stop)
    {
        Shown = desk.From(IndexModel.DayOf(on) ?? desk.Today, 1)[0];
        Persons = [.. Shown.Persons.Select(p => p.Person)];
        Person = who is { Length: > 0 } && Persons.Contains(who) ? who : "";
        if (Person.Length > 0)
        {
            Shown = Shown with { Persons = [.. Shown.Persons.Where(p => p.Person == Person)] };
        }
        // Whose phone it is sees his own day first.
        var own = HttpContext.Caller().Person;
        Shown = Shown with { Persons = [.. Shown.Persons.OrderBy(p => p.Person == own && own.Length > 0 ? 0 : 1)] };
        Loads = await desk.LoadsAsync(Shown.Stops.Select(s => s.Booking).Where(b => !Over(b)), stop);
    }
}
