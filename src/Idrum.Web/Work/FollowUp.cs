using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Work;

/// <summary>What is still to come after a visit, as an entry of a calendar.</summary>
public static class FollowUp
{
    private const int Minutes = 15;

    /// <summary>The heat run that glue still bars, as iCalendar; nothing where none does.</summary>
    public static IResult HeatRun(string number, JobStore store, ShopSnapshot shop, TimeProvider clock)
    {
        if (
            store.Find(number) is not { } job
            || job.History.State is not { CuredAt: { } cured } state
            || cured <= clock.GetUtcNow()
        )
        {
            return Results.NotFound();
        }
        var glued = state
            .Glue.Where(g => g.Value.RunFrom > clock.GetUtcNow())
            .Select(g => shop.MachineOf(state).Layout.FindPart(g.Key)?.Name ?? g.Key);
        return Text([
            Entry(
                $"{job.JobId}-heat-run",
                cured,
                job.Version,
                $"{state.Number}: first run with heat",
                state.Machine.Place,
                $"Glue has cured ({string.Join(", ", glued)}). Run with heat, listen, look for the felt."
            ),
        ]);
    }

    /// <summary>What is to go back to the supplier, each on the last day it is taken; nothing where none is.</summary>
    public static IResult Returns(string number, JobStore store, ShopSnapshot shop)
    {
        if (store.Find(number) is not { } job)
        {
            return Results.NotFound();
        }
        var rests = Supplies
            .LeftOver(job.State, shop.MachineOf(job.State).Layout)
            .Where(r => r.Line.ReturnBy is not null)
            .ToList();
        return rests.Count == 0
            ? Results.NotFound()
            : Text(
                rests.Select(r =>
                    OfDay(
                        $"{job.JobId}-return-{r.Line.LineId}",
                        shop.Terms.DayOf(r.Line.ReturnBy!.Value),
                        job.Version,
                        $"{job.State.Number}: last day to return {r.Over} × {r.Line.Name}",
                        "",
                        $"Ordered for {job.State.Machine.Place}, {(r.Line.Wrong > 0 ? "did not fit" : r.Line.Astray ? "was not for this machine" : "not used")}. Number {r.Line.ArticleId}."
                    )
                )
            );
    }

    /// <summary>The day to ask whether it is still quiet, a week after the job was closed.</summary>
    public static IResult StillQuiet(string number, JobStore store, ShopSnapshot shop, TimeProvider clock)
    {
        if (store.Find(number) is not { } job)
        {
            return Results.NotFound();
        }
        var word = CustomerWord.Of(job.State, shop.MachineOf(job.State), shop.Terms, clock.GetUtcNow());
        return Text([
            OfDay(
                $"{job.JobId}-still-quiet",
                word.AskOn,
                job.Version,
                $"{job.State.Number}: still quiet?",
                job.State.Machine.Place,
                string.Join(" ", word.MaySqueak.Prepend(word.Sentence))
            ),
        ]);
    }

    private static CalendarEvent Entry(
        string id,
        DateTimeOffset at,
        int sequence,
        string summary,
        string place,
        string words
    ) =>
        new()
        {
            Uid = id,
            Sequence = sequence,
            Start = new CalDateTime(at.UtcDateTime, "UTC"),
            End = new CalDateTime(at.UtcDateTime.AddMinutes(Minutes), "UTC"),
            Summary = summary,
            Location = place,
            Description = words,
        };

    /// <summary>An entry of a whole day of the shop, with a word in the morning. Its sequence is how many acts the
    /// job has: it rises with whatever changes, so that a calendar takes the newer one.</summary>
    internal static CalendarEvent OfDay(
        string id,
        DateOnly day,
        int sequence,
        string summary,
        string place,
        string words
    )
    {
        var entry = new CalendarEvent
        {
            Uid = id,
            Start = new CalDateTime(day),
            End = new CalDateTime(day.AddDays(1)),
            Sequence = sequence,
            Summary = summary,
            Location = place,
            Description = words,
        };
        entry.Alarms.Add(
            new()
            {
                Action = "DISPLAY",
                Description = summary,
                Trigger = new(Duration.FromHours(8)),
            }
        );
        return entry;
    }

    internal static IResult Text(IEnumerable<CalendarEvent> entries)
    {
        var calendar = new Ical.Net.Calendar { ProductId = "-//Idrum//EN" };
        calendar.Events.AddRange(entries);
        return Results.Text(new CalendarSerializer().SerializeToString(calendar), "text/calendar");
    }
}
