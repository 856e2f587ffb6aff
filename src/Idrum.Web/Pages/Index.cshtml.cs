using Idrum.Core.Jobs;
using Idrum.Storage;
using Idrum.Web.Jobs;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>One line of the job list.</summary>
public sealed record JobLine(JobSummary Job, string Machine, string Matter, string Ago);

/// <summary>Something that wants attention.</summary>
public sealed record Need(string Title, string Text, string Link, DateTimeOffset? Ends);

public sealed class BenchModel(JobStore store, ShopKnowledge shop, TimeProvider clock) : PageModel
{
    public IReadOnlyList<JobSummary> Open { get; private set; } = [];

    public IReadOnlyList<JobSummary> Closed { get; private set; } = [];

    public IReadOnlyList<Need> Needs { get; private set; } = [];

    public void OnGet()
    {
        var all = store.List();
        Open = [.. all.Where(j => !j.Closed)];
        Closed = [.. all.Where(j => j.Closed)];
        Needs = [.. Open.SelectMany(NeedsOf)];
    }

    public IReadOnlyList<JobLine> Lines(IEnumerable<JobSummary> jobs) => [.. jobs.Select(j => new JobLine(j, shop.FindLayout(j.LayoutId)?.Title ?? j.LayoutId,
        shop.Catalog.FindFault(j.FaultId)?.Name ?? j.Words, Say.Ago(clock.GetUtcNow() - j.LastAt)))];

    private static IEnumerable<Need> NeedsOf(JobSummary j)
    {
        var link = "/jobs/" + Uri.EscapeDataString(j.Number);
        if (j.NextTimerAt is { } timer)
        {
            yield return new($"{j.Number} · timer", j.Place + ": ", link, timer);
        }
        if (j.PartDueAt is { } due)
        {
            yield return new($"{j.Number} · part on order", $"{j.Place}: due {Say.Day(due)}", link, null);
        }
        if (j.CallBackOf.Length > 0)
        {
            yield return new($"{j.Number} · call-back", $"{j.Place}: same machine as {j.CallBackOf}", link, null);
        }
        if (j.StepsOut > 0)
        {
            yield return new($"{j.Number} · machine open", $"{j.Place}: {Say.Count(j.StepsOut, "step", "steps")} out", link, null);
        }
    }
}
