using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>Something that wants attention, with the one act it asks for.</summary>
public sealed record Need(string Job, string Place, string Text, string Act, string Link, DateTimeOffset? Ends)
{
    /// <summary>The same in a few words, where many stand together.</summary>
    public string Short { get; init; } = "";
}

public sealed class BenchModel(
    JobStore store,
    LogbookStore log,
    WeekDesk week,
    ShopSnapshot shop,
    BackupDesk backups,
    SettingStore settings,
    LeftStore left,
    TimeProvider clock
) : PageModel
{
    public IReadOnlyList<JobSummary> Open { get; private set; } = [];

    public IReadOnlyList<JobSummary> Closed { get; private set; } = [];

    /// <summary>What is wrong with the shop's computer.</summary>
    public IEnumerable<string> Warnings =>
        new[]
        {
            settings.Get(SettingStore.ActsMissing),
            StartChecks.Clock(store.LastArrived, settings, clock.GetUtcNow()),
            backups.Worry(),
            HttpContext.Features.Get<Devices.Caller>() is { Keeps: true } && left.Count() is > 0 and var acts
                ? $"A device that was revoked left {Say.Count(acts, "act", "acts")}: look at {(acts == 1 ? "it" : "them")} under Shop, Devices."
                : "",
        }.Where(w => w.Length > 0);

    public IReadOnlyList<Need> Needs { get; private set; } = [];

    /// <summary>Machines that stand open, each in somebody's way: many of them are one line.</summary>
    public IReadOnlyList<Need> Standing { get; private set; } = [];

    /// <summary>Whether nobody has said anything of this shop yet and it has no job.</summary>
    public bool FirstStart =>
        Open.Count == 0
        && Closed.Count == 0
        && At == 1
        && settings.Get(SettingStore.Welcomed).Length == 0
        && HttpContext.Features.Get<Devices.Caller>() is { Keeps: true };

    /// <summary>Appointments of today that are still to come.</summary>
    public IReadOnlyList<Booking> Today { get; private set; } = [];

    /// <summary>Closed jobs of a page.</summary>
    private const int PageSize = 30;

    /// <summary>Which page of closed jobs is shown, from 1.</summary>
    public int At { get; private set; }

    /// <summary>Whether there are older ones.</summary>
    public bool Older { get; private set; }

    /// <summary>What is looked for; empty where the whole bench is shown.</summary>
    public string Looked { get; private set; } = "";

    /// <summary>Jobs that fit it.</summary>
    public IReadOnlyList<JobSummary> Fit { get; private set; } = [];

    private const int MostFit = 40;

    public void OnGet(string? closed, string? q)
    {
        Looked = (q ?? "").Trim();
        if (Looked.Length > 0)
        {
            Looked = Looked[..Math.Min(80, Looked.Length)];
            Fit = log.Find(new() { Words = Looked }, 1, MostFit).Jobs;
            return;
        }
        At =
            int.TryParse(closed, System.Globalization.CultureInfo.InvariantCulture, out var page)
            && page is > 0 and < 1_000_000
                ? page
                : 1;
        Today = week.StillToday();
        Open = store.Open();
        Closed = store.Closed(At, PageSize);
        Older = Closed.Count == PageSize && store.Closed(At * PageSize + 1, 1).Count > 0;
        Standing =
        [
            .. Open.Where(j => j.StepsOut > 0)
                .OrderBy(j => j.LastAt)
                .Select(j =>
                    Of(
                        j,
                        $"Machine stands open, {Say.Count(j.StepsOut, "step", "steps")} not back in",
                        "Go on",
                        null
                    ) with
                    {
                        Short = $"{Say.Count(j.StepsOut, "step", "steps")} not back in",
                    }
                ),
        ];
        // Glue does not wait, an open machine stands in somebody's way, a customer who calls again is angry, a part
        // takes its time.
        Needs =
        [
            .. Open.Where(j => j.NextTimerAt is not null)
                .OrderBy(j => j.NextTimerAt)
                .Select(j => Of(j, TimerOf(j), "Go to it", j.NextTimerAt)),
            .. Open.Where(j => j.CallBackOf.Length > 0)
                .Select(j => Of(j, $"Called back: {j.CallBackOf} was the same machine", "Look into it", null)),
            .. Open.Where(j => j.PartDueAt is not null)
                .OrderBy(j => j.PartDueAt)
                .Select(j =>
                    Of(
                        j,
                        Say.Date(j.PartDueAt!.Value) < Say.Date(clock.GetUtcNow())
                            ? $"Part was due {Say.Day(j.PartDueAt!.Value)}"
                            : $"Part due {Say.Day(j.PartDueAt!.Value)}",
                        "See the order",
                        null
                    )
                ),
            // A closed job too may have something to send back.
            .. store
                .ToReturn()
                .Select(j =>
                    Of(
                        j,
                        Say.Date(j.ReturnBy!.Value) < Say.Date(clock.GetUtcNow())
                            ? $"Left over, was to go back by {Say.Day(j.ReturnBy!.Value)}"
                            : $"Left over: back to the supplier by {Say.Day(j.ReturnBy!.Value)}",
                        "See what",
                        null
                    ) with
                    {
                        Link = $"/jobs/{Uri.EscapeDataString(j.Number)}/parts",
                    }
                ),
        ];
    }

    public IReadOnlyList<JobLine> Lines(IEnumerable<JobSummary> jobs) => JobLine.Of(jobs, shop, clock.GetUtcNow());

    /// <summary>What the timer is of: what rings is named.</summary>
    private string TimerOf(JobSummary j) =>
        store.Find(j.Number)?.State.Timers.FirstOrDefault(t => !t.Stopped && t.EndsAt == j.NextTimerAt)?.Label
            is { Length: > 0 } label
            ? label + ": "
            : "Timer: ";

    private static Need Of(JobSummary j, string text, string act, DateTimeOffset? ends) =>
        new(j.Number, j.Place, text, act, "/jobs/" + Uri.EscapeDataString(j.Number), ends);
}
