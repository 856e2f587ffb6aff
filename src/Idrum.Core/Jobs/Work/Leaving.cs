using System.Globalization;
using Idrum.Core.Basics;

namespace Idrum.Core.Jobs.Work;

/// <summary>A part and the way it would be done.</summary>
/// <param name="PartId">The part.</param>
/// <param name="School">The way.</param>
public sealed record AskedWay(PartId PartId, string School);

/// <summary>When the repairer must leave, held against the rest of the visit.</summary>
/// <param name="At">When.</param>
/// <param name="Short">Minutes that are lacking; 0 where all is done before.</param>
/// <param name="NotDone">What is not done by then, in order.</param>
public sealed record Leaving(DateTimeOffset At, double Short, IReadOnlyList<VisitItem> NotDone)
{
    /// <summary>Holds a visit against it: what ends after it is not done.</summary>
    /// <param name="visit">The rest of the visit.</param>
    /// <param name="from">Its minutes count from here.</param>
    /// <param name="at">When he must leave.</param>
    public static Leaving Of(Visit visit, DateTimeOffset from, DateTimeOffset at)
    {
        var minutes = (at - from).TotalMinutes;
        return new(at, Math.Max(0, visit.Minutes - minutes), [.. visit.Items.Where(i => i.End > minutes + 0.01)]);
    }

    /// <summary>Reads a time of day of the shop: today's, and it is to come.</summary>
    /// <param name="typed">As 13:30.</param>
    /// <param name="now">Now.</param>
    /// <param name="zone">The shop's zone.</param>
    /// <returns>The moment; null with an error at the field <c>leave</c>.</returns>
    public static (DateTimeOffset? At, FieldError? Error) Read(string typed, DateTimeOffset now, TimeZoneInfo zone)
    {
        if (
            !TimeOnly.TryParseExact(
                typed.Trim().Replace('.', ':'),
                ["H:mm", "HH:mm"],
                CultureInfo.InvariantCulture,
                DateTimeStyles.None,
                out var time
            )
        )
        {
            return (null, new("leave", "A time of day, as 13:30."));
        }
        var wall = TimeZoneInfo.ConvertTime(now, zone).Date + time.ToTimeSpan();
        if (zone.IsInvalidTime(wall))
        {
            return (null, new("leave", "That hour is left out today: the clocks go forward."));
        }
        var at = new DateTimeOffset(wall, zone.GetUtcOffset(wall));
        return at <= now
            ? (
                null,
                new(
                    "leave",
                    string.Create(CultureInfo.InvariantCulture, $"{time:HH:mm} is past: write a time to come.")
                )
            )
            : (at, null);
    }
}
