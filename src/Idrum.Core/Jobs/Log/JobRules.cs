using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Whether an event may be added to a job. What each kind must satisfy stands with the kind; here is what
/// holds for all.</summary>
public static class JobRules
{
    /// <summary>Most events of one job.</summary>
    public const int MaxEvents = 5000;

    private static readonly TimeSpan Ahead = TimeSpan.FromDays(1);

    /// <summary>Checks an event against the job so far.</summary>
    /// <param name="history">The job so far; empty for a new one.</param>
    /// <param name="e">The event to be added.</param>
    /// <param name="shop">What the shop knows.</param>
    /// <param name="now">The shop's clock; null to read an old log, whose guards were those of its day.</param>
    /// <returns>All errors, empty where the event may be added. They name the event's field in camel case.</returns>
    public static IReadOnlyList<FieldError> Check(
        JobHistory history,
        JobEvent e,
        ShopSnapshot shop,
        DateTimeOffset? now
    )
    {
        if (EventShape.Check(e) is { Count: > 0 } misshapen)
        {
            return misshapen;
        }
        var check = new JobCheck(history, shop, now);
        var errors = check.Errors;
        errors.If(e.Id == Guid.Empty, "id", "An event needs an id of its own.");
        errors.If(
            e.At.Year is < 1970 or > 2200 || e.Happened.Year is < 1970 or > 2200,
            "at",
            "No such time in a shop."
        );
        errors.If(!(Math.Abs(e.ClockBehindSeconds) < 4e8), "clockBehindSeconds", "No clock is off by so much.");
        check.Guard(
            clock => e.Happened > clock + Ahead,
            "at",
            "More than a day ahead of the shop's clock. Set the device's clock, then try again."
        );
        errors.If(
            history.Count >= MaxEvents,
            "kind",
            $"A job holds {MaxEvents} acts at most. Close it and open another."
        );
        if (errors.All.Count > 0)
        {
            return errors.All;
        }
        if (history.Count == 0 != e is JobOpened)
        {
            return [new("kind", history.Count == 0 ? "A job begins with 'opened'." : "The job is already open.")];
        }
        if (history.State.Unknown.Count > 0)
        {
            return
            [
                new(
                    "kind",
                    $"A newer Idrum worked on this job ({history.State.Unknown[0]}): here it can be read, not changed. Update Idrum, then do it again."
                ),
            ];
        }
        if (history.State.Closed is not null && !e.AfterClosing)
        {
            return [new("kind", "The job is closed. Open it again first.")];
        }
        e.Check(check);
        if (errors.All.Count == 0 && Meanwhile(history, e) is { } later)
        {
            errors.Add(
                "knew",
                $"Meanwhile: {later.Words(shop.MachineOf(history.State))}. Look again before you record this."
            );
        }
        return errors.All;
    }

    /// <summary>A later act on the same step, part or question, of which the page that sends this one did not
    /// know.</summary>
    private static JobEvent? Meanwhile(JobHistory history, JobEvent e)
    {
        if (e.Knew is not { } knew || !e.Touches.Any())
        {
            return null;
        }
        var touched = e.Touches.ToHashSet();
        return history
            .After(knew)
            .FirstOrDefault(later =>
                (e.Run is null || later.Run != e.Run)
                && !ActIds.Together(later.Id, e.Id)
                && later.Touches.Any(touched.Contains)
            );
    }
}
