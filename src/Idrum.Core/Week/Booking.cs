using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Week;

/// <summary>How an appointment stands.</summary>
public enum BookingState
{
    /// <summary>To come.</summary>
    Planned,

    /// <summary>Somebody was there.</summary>
    Done,

    /// <summary>Called off.</summary>
    Off,
}

/// <summary>An appointment: when somebody is to be where, as it was said on the telephone. It may come before the job it becomes.</summary>
public sealed record Booking
{
    private const int Midnight = 24 * 60;

    /// <summary>Its id.</summary>
    public Guid Id { get; init; }

    /// <summary>Day, by the shop's calendar.</summary>
    public DateOnly Day { get; init; }

    /// <summary>Promised not before: minutes after midnight by the shop's clock; null where nothing was promised.</summary>
    public int? From { get; init; }

    /// <summary>Promised not after, likewise.</summary>
    public int? Until { get; init; }

    /// <summary>Its place in the order of the day.</summary>
    public int Order { get; init; }

    /// <summary>Minutes of driving from the place before.</summary>
    public int Travel { get; init; } = 20;

    /// <summary>Minutes of work: nine of ten such take longer.</summary>
    public double Low { get; init; } = 45;

    /// <summary>As many take longer as shorter.</summary>
    public double Usual { get; init; } = 75;

    /// <summary>Nine of ten are done by then.</summary>
    public double High { get; init; } = 120;

    /// <summary>Who goes; empty where nobody is named.</summary>
    public string Person { get; init; } = "";

    /// <summary>Customer and place.</summary>
    public string Place { get; init; } = "";

    /// <summary>Address to drive to.</summary>
    public string Address { get; init; } = "";

    /// <summary>Telephone of the customer.</summary>
    public string Telephone { get; init; } = "";

    /// <summary>What was said.</summary>
    public string Words { get; init; } = "";

    /// <summary>Complaints told, ids of findings.</summary>
    public IReadOnlyList<string> Complaints { get; init; } = [];

    /// <summary>Layout of the machine; empty while nobody knows.</summary>
    public string LayoutId { get; init; } = "";

    /// <summary>Age of the machine, years; null where it was not told.</summary>
    public double? AgeYears { get; init; }

    /// <summary>Number of the job it is of; empty before there is one.</summary>
    public string JobNumber { get; init; } = "";

    /// <summary>How it stands.</summary>
    public BookingState State { get; init; }

    /// <summary>Its name in calendars.</summary>
    public string Uid { get; init; } = "";

    /// <summary>Rises with each change that a calendar is to take.</summary>
    public int Sequence { get; init; }

    /// <summary>Errors, field by field.</summary>
    /// <param name="shop">What the shop knows.</param>
    /// <param name="today">The shop's day: what is planned lies within two years of it.</param>
    public IReadOnlyList<FieldError> Check(ShopSnapshot shop, DateOnly today)
    {
        var errors = new FieldErrors();
        new MachineCard
        {
            LayoutId = LayoutId.Length > 0 ? LayoutId : shop.Layouts[0].Id,
            Place = Place,
            Telephone = Telephone,
            Address = Address,
            AgeYears = AgeYears,
        }.Check("card", shop, errors, null);
        var all = new FieldErrors();
        foreach (var error in errors.All)
        {
            all.Add(error.Pointer.Replace("card.", "", StringComparison.Ordinal), error.Message);
        }
        all.If(
            Day < today.AddYears(-2) || Day > today.AddYears(2),
            "day",
            "A day within two years from today is needed."
        );
        all.If(From is < 0 or >= Midnight, "from", "A time of day is needed, as 9:30, or nothing.");
        all.If(Until is < 0 or > Midnight, "until", "A time of day is needed, as 12:00, or nothing.");
        all.If(From > Until, "until", "It is promised to end before it begins.");
        all.If(Travel is < 0 or > 600, "travel", "0 to 600 minutes of driving.");
        all.If(
            !(Low > 0 && Low <= Usual && Usual <= High && High <= 1440),
            "usual",
            "5 to 1,440 minutes of work; “to be safe” is not less than “usual”."
        );
        all.Text(Words, "words", 2000);
        all.Text(Person, "person", 60);
        all.If(Order is < 0 or > 999, "order", "0 to 999.");
        all.If(JobNumber.Length > 0 && !Jobs.Log.JobNumber.Fits(JobNumber), "jobNumber", Jobs.Log.JobNumber.Shape);
        foreach (var complaint in Complaints.Where(c => shop.Catalog.FindFinding(c) is null))
        {
            all.Add("complaints", $"There is no complaint '{FieldErrors.Short(complaint)}'.");
        }
        return all.All;
    }
}
