using System.Security.Cryptography;
using System.Text;
using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Evaluation;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;

namespace Idrum.Web.Work;

/// <summary>What a calendar that was read in came to.</summary>
/// <param name="New">Appointments that were not there.</param>
/// <param name="Changed">Moved or told otherwise.</param>
/// <param name="Off">Called off.</param>
/// <param name="Left">What was not taken, each with why.</param>
/// <param name="Batch">Under which name it is taken back; empty where nothing came of it.</param>
public sealed record CalendarRead(int New, int Changed, int Off, IReadOnlyList<string> Left, string Batch);

/// <summary>Appointments as iCalendar, out by an address nobody can guess and in from a file.</summary>
public sealed class WeekCalendar(
    WeekStore week,
    WeekDesk desk,
    SettingStore settings,
    ShopSnapshot shop,
    TimeProvider clock
)
{
    /// <summary>Largest file read in.</summary>
    public const int MaxBytes = 1 << 20;

    private const int MostEntries = 2000;
    private const int DaysBack = 31;
    private const int DaysOn = 366;
    private const int DaysOfSeries = 120;
    private const int Shown = 12;

    /// <summary>A rule is given up after so many steps that no day came of.</summary>
    private static readonly EvaluationOptions Bounded = new() { MaxUnmatchedIncrementsLimit = 1000 };

    /// <summary>The secret part of the address; empty while there is none.</summary>
    public string Secret => settings.Get(SettingStore.CalendarSecret);

    /// <summary>Whether names, telephone and address go along.</summary>
    public bool Names => settings.Get(SettingStore.CalendarNames) == "yes";

    /// <summary>A new address; the one before is none any more.</summary>
    public void Renew(bool names)
    {
        settings.Set(SettingStore.CalendarSecret, Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24)));
        settings.Set(SettingStore.CalendarNames, names ? "yes" : "");
    }

    /// <summary>No address any more.</summary>
    public void Revoke() => settings.Set(SettingStore.CalendarSecret, "");

    /// <summary>The calendar, to whoever knows the secret.</summary>
    public static IResult Out(string secret, WeekCalendar calendar, HttpContext context)
    {
        context.Response.Headers.CacheControl = "no-store";
        var (given, kept) = (Encoding.UTF8.GetBytes(secret), Encoding.UTF8.GetBytes(calendar.Secret));
        return kept.Length > 0 && CryptographicOperations.FixedTimeEquals(given, kept)
            ? FollowUp.Text(calendar.Entries(calendar.Names))
            : Results.NotFound();
    }

    /// <summary>The same as a file, for who works here.</summary>
    public static IResult File(WeekCalendar calendar, HttpContext context)
    {
        context.Response.Headers.CacheControl = "no-store";
        return FollowUp.Text(calendar.Entries(true));
    }

    private IEnumerable<CalendarEvent> Entries(bool names)
    {
        var (first, last) = (desk.Today.AddDays(-DaysBack), desk.Today.AddDays(DaysOn));
        foreach (var b in week.Between(first, last))
        {
            var what = b.Complaints.Select(c => shop.Catalog.FindFinding(c)?.Name ?? c).FirstOrDefault()
                ?? "appointment";
            var entry = new CalendarEvent
            {
                Uid = b.Uid,
                Sequence = b.Sequence,
                Summary = names && b.Place.Length > 0 ? $"{b.Place}: {Say.Lower(what)}" : $"Visit: {Say.Lower(what)}",
                Description = names
                    ? string.Join("\n", new[] { b.Telephone, b.Words, b.JobNumber }.Where(t => t.Length > 0))
                    : b.JobNumber,
                Location = names ? b.Address : "",
                Status = b.State == BookingState.Off ? "CANCELLED" : "CONFIRMED",
            };
            if (b.From is { } from)
            {
                var at = Moment(b.Day, from);
                entry.Start = new CalDateTime(at.UtcDateTime, "UTC");
                entry.End = new CalDateTime(at.UtcDateTime.AddMinutes(Math.Round(b.Usual)), "UTC");
            }
            else
            {
                entry.Start = new CalDateTime(b.Day);
                entry.End = new CalDateTime(b.Day.AddDays(1));
            }
            yield return entry;
        }
        foreach (var due in desk.Due(desk.Today, desk.Today.AddDays(DaysBack)))
        {
            yield return FollowUp.OfDay(
                $"{due.JobNumber}-{due.Kind.Stored()}-{due.Day:yyyyMMdd}",
                due.Day,
                // The day is part of its id: nothing else of it changes.
                100,
                $"{due.JobNumber}: {due.Text}",
                "",
                ""
            );
        }
    }

    private DateTimeOffset Moment(DateOnly day, int minute)
    {
        var local = day.ToDateTime(TimeOnly.MinValue).AddMinutes(minute);
        var zone = shop.Terms.Zone;
        // An hour that the clock leaves out is the one after it.
        if (zone.IsInvalidTime(local))
        {
            local = local.AddHours(1);
        }
        return new(local, zone.GetUtcOffset(local));
    }

    /// <summary>Takes over what a calendar holds, merged by its names: what the shop added to an appointment stays.</summary>
    /// <exception cref="InvalidDataException">It is no calendar, or too large; the message says which.</exception>
    public CalendarRead Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        if (
            !text.TrimStart('\uFEFF', ' ', '\r', '\n', '\t')
                .StartsWith("BEGIN:VCALENDAR", StringComparison.OrdinalIgnoreCase)
        )
        {
            throw new InvalidDataException("This is no calendar file: it does not begin with BEGIN:VCALENDAR.");
        }
        Calendar? calendar;
        try
        {
            calendar = Calendar.Load(text);
        }
        // The reader throws what its parts throw: of a file from outside nothing else is to be said than that.
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            throw new InvalidDataException("The calendar file is damaged and cannot be read.", e);
        }
        // A name that the reader made up is another at each reading.
        var unfolded = text.Replace("\r\n ", "").Replace("\n ", "").Replace("\r\n\t", "").Replace("\n\t", "");
        var (keep, left) = (new List<Booking>(), new List<string>());
        var (fresh, changed, off) = (0, 0, 0);
        var entries = calendar is null ? [] : calendar.Events.Take(MostEntries).ToList();
        foreach (var (entry, start, uid) in entries.SelectMany(e => Times(e, unfolded, left)))
        {
            var name = Named(entry.Summary);
            if (start is not { } at)
            {
                left.Add($"“{name}”: its beginning cannot be read.");
                continue;
            }
            var (day, from) = at;
            if (day < desk.Today.AddDays(-DaysBack) || day > desk.Today.AddDays(DaysOn))
            {
                left.Add($"“{name}”, {Say.Day(day)}: too long ago or too far off.");
                continue;
            }
            var known = keep.Find(k => k.Uid == uid) ?? week.FindUid(uid);
            var called = string.Equals(entry.Status, "CANCELLED", StringComparison.OrdinalIgnoreCase);
            if (known is null && called)
            {
                continue;
            }
            if (known is not null && entry.Sequence < known.Sequence)
            {
                left.Add($"“{name}”, {Say.Day(day)}: older than what is here.");
                continue;
            }
            var next = (
                known
                ?? new Booking
                {
                    Id = Guid.NewGuid(),
                    Uid = uid,
                    Place = Short(entry.Summary, 120, "Appointment"),
                }
            ) with
            {
                Day = day,
                From = from,
                Until =
                    known is { From: { } f, Until: { } u } && from is { } n
                        ? Math.Min(24 * 60, n + u - f)
                        : known?.Until,
                Sequence = entry.Sequence,
                State =
                    called ? BookingState.Off
                    : known is { State: BookingState.Done } ? BookingState.Done
                    : BookingState.Planned,
            };
            if (known is null)
            {
                next = next with
                {
                    Address = Short(entry.Location, 200, ""),
                    Words = Short(entry.Description, 2000, ""),
                };
            }
            if (next.Check(shop, desk.Today) is [var wrong, ..])
            {
                left.Add($"“{name}”, {Say.Day(day)}: {wrong.Message}");
                continue;
            }
            if (next == known)
            {
                continue;
            }
            if (known is null)
            {
                fresh++;
            }
            else if (called && known.State != BookingState.Off)
            {
                off++;
            }
            else
            {
                changed++;
            }
            keep.RemoveAll(k => k.Id == next.Id);
            keep.Add(next);
        }
        var batch = "";
        if (keep.Count > 0)
        {
            batch = $"{clock.GetUtcNow():yyyyMMddHHmmssfff}-{Guid.NewGuid():N}";
            week.Keep(keep, batch);
        }
        return new(
            fresh,
            changed,
            off,
            left.Count > Shown ? [.. left.Take(Shown), $"and {left.Count - Shown} more"] : left,
            batch
        );
    }

    /// <summary>Each time an entry happens, by the shop's clock; a series for some months only.</summary>
    private IEnumerable<(CalendarEvent Entry, (DateOnly Day, int? From)? Start, string Uid)> Times(
        CalendarEvent entry,
        string unfolded,
        List<string> left
    )
    {
        if (
            string.IsNullOrWhiteSpace(entry.Uid)
            || entry.Uid.Length > 200
            || !unfolded.Contains("UID:" + entry.Uid, StringComparison.OrdinalIgnoreCase)
        )
        {
            left.Add($"“{Named(entry.Summary)}”: it has no name (UID) to be known by.");
            yield break;
        }
        if (entry.RecurrenceRule is null && entry.RecurrenceDates.GetAllDates().FirstOrDefault() is null)
        {
            yield return (entry, Local(entry.Start), entry.Uid);
            yield break;
        }
        // Only what is sure to end is worked out: days and weeks, on days of the week.
        if (entry.RecurrenceRule is { } rule && !Plain(rule))
        {
            left.Add(
                $"“{Named(entry.Summary)}”: a series by another rule than days or weeks; enter its days one by one."
            );
            yield break;
        }
        List<CalDateTime?> times;
        try
        {
            var until = desk.Today.AddDays(DaysOfSeries).ToDateTime(TimeOnly.MinValue);
            times =
            [
                .. entry
                    .GetOccurrences(new CalDateTime(desk.Today.AddDays(-1)), Bounded)
                    .Select(o => o.Period.StartTime)
                    .TakeWhile(t => t.Value < until)
                    .Take(DaysOfSeries),
            ];
        }
        // The reader throws what its parts throw: such a series has no day.
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            times = [];
        }
        if (times.Count == 0)
        {
            left.Add($"“{Named(entry.Summary)}”: a series without a day in the next {DaysOfSeries}.");
        }
        foreach (var time in times)
        {
            if (Local(time) is { } at)
            {
                yield return (entry, at, $"{entry.Uid}/{at.Day:yyyyMMdd}");
            }
        }
    }

    private static bool Plain(RecurrenceRule rule) =>
        rule.Frequency is FrequencyType.Daily or FrequencyType.Weekly
        && rule.Interval is >= 1 and <= 1000
        && rule.ByMonth.Count
            + rule.ByMonthDay.Count
            + rule.ByYearDay.Count
            + rule.ByWeekNo.Count
            + rule.BySetPosition.Count
            + rule.ByHour.Count
            + rule.ByMinute.Count
            + rule.BySecond.Count
            == 0;

    private (DateOnly Day, int? From)? Local(CalDateTime? time)
    {
        if (time is null)
        {
            return null;
        }
        if (!time.HasTime)
        {
            return (time.Date, null);
        }
        try
        {
            // A time that floats is the shop's own.
            var local = time.IsFloating
                ? time.Value
                : TimeZoneInfo.ConvertTimeFromUtc(DateTime.SpecifyKind(time.AsUtc, DateTimeKind.Utc), shop.Terms.Zone);
            return (DateOnly.FromDateTime(local), local.Hour * 60 + local.Minute);
        }
        catch (Exception e) when (e is ArgumentException or InvalidOperationException or OverflowException)
        {
            return null;
        }
    }

    private static string Named(string? text) => Core.Basics.FieldErrors.Short(text ?? "");

    private static string Short(string? text, int most, string none)
    {
        var clean = new string([.. (text ?? "").Where(c => !char.IsControl(c) || c == '\n')]).Trim();
        return clean.Length == 0 ? none
            : clean.Length <= most ? clean
            : clean[..most];
    }
}
