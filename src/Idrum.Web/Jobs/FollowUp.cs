using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Idrum.Core.Jobs;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Jobs;

/// <summary>What is still to come after a visit, as an entry of a calendar.</summary>
public static class FollowUp
{
    private const int Minutes = 15;

    /// <summary>The heat run that glue still bars, as iCalendar; nothing where none does.</summary>
    public static IResult HeatRun(string number, JobStore store, ShopKnowledge shop, TimeProvider clock)
    {
        if (store.Find(number) is not { } job || job.History.State is not { CuredAt: { } cured } state || cured <= clock.GetUtcNow())
        {
            return Results.NotFound();
        }
        var glued = state.Glue.Where(g => g.Value.RunFrom > clock.GetUtcNow()).Select(g => shop.MachineOf(state).Layout.FindPart(g.Key)?.Name ?? g.Key);
        var calendar = new Ical.Net.Calendar { ProductId = "-//Idrum//EN" };
        calendar.Events.Add(new CalendarEvent
        {
            Uid = $"{job.JobId}-heat-run",
            Start = new CalDateTime(cured.UtcDateTime, "UTC"),
            End = new CalDateTime(cured.UtcDateTime.AddMinutes(Minutes), "UTC"),
            Summary = $"{state.Number}: first run with heat",
            Location = state.Machine.Place,
            Description = $"Glue has cured ({string.Join(", ", glued)}). Run with heat, listen, look for the felt.",
        });
        return Results.Text(new CalendarSerializer().SerializeToString(calendar), "text/calendar");
    }
}
