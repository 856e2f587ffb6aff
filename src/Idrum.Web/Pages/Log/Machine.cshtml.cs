using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Log;

/// <summary>One machine's whole life: its jobs, what was changed and how old it is, readings, sounds and pictures.</summary>
public sealed class MachineModel(JobStore store, LogbookStore log, ShopSnapshot shop, TimeProvider clock) : PageModel
{
    private const int Most = 50;

    public string Tag { get; private set; } = "";

    /// <summary>Its jobs, the newest first.</summary>
    public IReadOnlyList<JobState> Jobs { get; private set; } = [];

    /// <summary>Jobs on the tag, those not shown among them.</summary>
    public int Count { get; private set; }

    public Layout? Layout { get; private set; }

    /// <summary>Parts that wear, each with when it went in and how, oldest first; null where it is as the machine came.</summary>
    public IReadOnlyList<(Part Part, JobState? Job)> Parts { get; private set; } = [];

    /// <summary>Readings of one thing over time.</summary>
    public IReadOnlyList<(
        string What,
        string Unit,
        IReadOnlyList<(DateTimeOffset At, string Job, double Value)> Values
    )> Readings { get; private set; } = [];

    public IActionResult OnGet(string? tag)
    {
        Tag = (tag ?? "").Trim();
        if (Tag.Length is 0 or > 60)
        {
            return Redirect("/log");
        }
        (var jobs, Count) = log.Find(new() { Tag = Tag }, 1, Most);
        Jobs = [.. jobs.Select(j => store.Find(j.Number)?.State).OfType<JobState>().OrderByDescending(s => s.OpenedAt)];
        if (Jobs.Count == 0)
        {
            Response.StatusCode = StatusCodes.Status404NotFound;
            return Page();
        }
        Layout = shop.LayoutOf(Jobs[0]);
        Parts =
        [
            .. (Layout?.Parts ?? [])
                .Where(p => p.Wears)
                .Select(p =>
                    (p, Jobs.FirstOrDefault(j => j.Fitted.GetValueOrDefault(p.Id)?.Action == FittedAs.Replaced))
                )
                .OrderBy(p => p.Item2?.LastAt ?? DateTimeOffset.MinValue),
        ];
        Readings =
        [
            .. Jobs.SelectMany(j => j.Gauged.Where(g => !g.Open).Select(g => (Job: j, Reading: g)))
                .GroupBy(r => (r.Reading.Protocol, r.Reading.PartId, r.Reading.Position, r.Reading.Unit))
                .Select(g =>
                    (
                        string.Join(
                            ", ",
                            new[]
                            {
                                shop.Handbook.Gauging.Find(g.Key.Protocol)?.Name ?? g.Key.Protocol,
                                Layout?.FindPart(g.Key.PartId)?.Name ?? g.Key.PartId,
                                g.Key.Position,
                            }.Where(t => t.Length > 0)
                        ),
                        g.Key.Unit,
                        (IReadOnlyList<(DateTimeOffset, string, double)>)
                            [
                                .. g.GroupBy(r => r.Job.Number)
                                    .Select(j =>
                                        (
                                            j.First().Reading.Happened,
                                            j.Key,
                                            Math.Round(j.Average(r => r.Reading.Value ?? 0), 2)
                                        )
                                    )
                                    .OrderBy(v => v.Item1),
                            ]
                    )
                ),
        ];
        return Page();
    }

    /// <summary>How old the machine is now, years; null where nobody said.</summary>
    public double? AgeNow =>
        Jobs.FirstOrDefault(j => j.Machine.AgeYears is not null) is { } told
            ? told.Machine.AgeYears + Math.Max(0, (clock.GetUtcNow() - told.OpenedAt).TotalDays) / 365.25
            : null;

    public string Age(JobState job) => Since((clock.GetUtcNow() - job.LastAt).TotalDays);

    public static string Since(double days) =>
        days < 60 ? $"{Math.Max(0, days):0} days"
        : days < 730 ? $"{days / 30.44:0} months"
        : $"{(days / 365.25).ToString("0.0", System.Globalization.CultureInfo.InvariantCulture)} years";

    public IReadOnlyList<PartChanged> Changed(JobState job) =>
        Layout is null ? [] : PartChanged.Of(job, Layout, shop.Catalog);

    public string Fault(string id) => shop.Catalog.FindFault(id)?.Name ?? id;

    public string Complaint(string id) => shop.Catalog.FindFinding(id)?.Name ?? id;

    public static string Why(string why) =>
        why switch
        {
            PartChanged.Failed => "worn",
            PartChanged.FoundGood => "was good",
            _ => "while it was open",
        };
}
