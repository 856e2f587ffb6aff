using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Web.Work;

/// <summary>Numbers and times in words.</summary>
public static class Say
{
    /// <summary>A spread as "18–26 min", or one number where both ends round alike.</summary>
    public static string Minutes(Spread s)
    {
        var (low, high) = (Math.Round(s.Low), Math.Round(s.High));
        return low == high ? $"{low:0} min" : $"{low:0}–{high:0} min";
    }

    public static string Minutes(double m) =>
        m is > 0 and < 1 ? "½ min" : $"{m.ToString(m < 10 ? "0.#" : "0", CultureInfo.InvariantCulture)} min";

    /// <summary>A long stretch: "47 min", from two hours on "3 h 47 min".</summary>
    public static string Long(int minutes) => minutes < 120 ? $"{minutes} min" : $"{minutes / 60} h {minutes % 60} min";

    public static string Signed(double m) =>
        m < -0.5 ? $"−{-m:0} min"
        : m > 0.5 ? $"+{m:0} min"
        : "±0 min";

    public static string Percent(double p) =>
        p >= 0.995 ? ">99%"
        : p < 0.005 ? "<1%"
        : $"{100 * p:0}%";

    /// <summary>Money in the shop's currency: "EUR 34".</summary>
    public static string Money(double amount, MachineKnowledge machine) =>
        $"{machine.Diagnostician.Model.Catalog.Costs.Currency} {amount.ToString("0.##", CultureInfo.InvariantCulture)}";

    private static readonly AsyncLocal<TimeZoneInfo?> Here = new();

    /// <summary>The shop's time zone, for all that is said until this request ends.</summary>
    public static void In(TimeZoneInfo zone) => Here.Value = zone;

    /// <summary>A moment by the clock on the shop's wall.</summary>
    public static DateTimeOffset Local(DateTimeOffset at) =>
        TimeZoneInfo.ConvertTime(at, Here.Value ?? TimeZoneInfo.Utc);

    /// <summary>The day of a moment in the shop.</summary>
    public static DateOnly Date(DateTimeOffset at) => DateOnly.FromDateTime(Local(at).DateTime);

    public static string Day(DateTimeOffset at) => Local(at).ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    public static string Day(DateOnly day) => day.ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    public static string Clock(DateTimeOffset at) => Local(at).ToString("d MMM HH:mm", CultureInfo.InvariantCulture);

    /// <summary>A time of day.</summary>
    public static string Hour(DateTimeOffset at) => Local(at).ToString("HH:mm", CultureInfo.InvariantCulture);

    /// <summary>A moment with its year, for the record.</summary>
    public static string Moment(DateTimeOffset at) =>
        Local(at).ToString("d MMM yyyy HH:mm", CultureInfo.InvariantCulture);

    /// <summary>How long, without a sign: minutes, hours or days, the way one would say it.</summary>
    public static string Span(TimeSpan t) =>
        t.Duration() is var span && span.TotalHours < 2 ? Count((int)Math.Round(span.TotalMinutes), "minute", "minutes")
        : span.TotalDays < 2 ? $"{span.TotalHours:0} hours"
        : $"{span.TotalDays:0} days";

    public static string Ago(TimeSpan t) =>
        t.TotalMinutes < -2 ? "by a clock that was ahead"
        : t.TotalMinutes < 2 ? "just now"
        : t.TotalHours < 1 ? $"{t.TotalMinutes:0} min ago"
        : t.TotalDays < 1 ? $"{t.TotalHours:0} h ago"
        : t.TotalDays < 2 ? "yesterday"
        : $"{t.TotalDays:0} days ago";

    public static string Count(int n, string one, string many) => n == 1 ? $"1 {one}" : $"{n} {many}";

    public static string Machine(JobState s, Layout layout) =>
        string.Join(
            " · ",
            new[]
            {
                layout.Title,
                s.Machine.Place,
                s.Machine.HeatedBy + (s.Machine.Connection == SupplyBy.HardWired ? ", hard-wired" : ""),
            }.Where(t => t.Length > 0)
        );

    /// <summary>A step as its layout says it; its id where there is none such.</summary>
    public static string Step(Layout? layout, StepRef step) =>
        layout?.FindOperation(step.Operation) is not { } o ? step.ToString()
        : step.IsWhole ? Lower(o.Do)
        : $"back: {Lower(o.FindStep(step.Step)?.Do ?? o.Do)}";

    public static string Lower(string s) => s.Inside();

    /// <summary>Who did an act and on what, as an ending; empty where nobody was named and it was done at the shop's
    /// computer.</summary>
    public static string ByWhom(Core.Jobs.Log.JobEvent e) =>
        (e.By, e.Device) switch
        {
            ({ Length: > 0 } by, { Length: > 0 } device) => $", {by}, {device}",
            (null or "", { Length: > 0 } device) => $", {device}",
            ({ Length: > 0 } by, _) => $", {by}",
            _ => "",
        };
}
