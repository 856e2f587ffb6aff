using System.Globalization;
using System.Security.Cryptography;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Practice;

/// <summary>What can be practised, and how it went.</summary>
public sealed class IndexModel(
    PracticeStore store,
    JobStore jobs,
    DeviceStore devices,
    WorkGate gate,
    ShopSnapshot shop,
    TimeProvider clock
) : PageModel
{
    private const int Most = 20,
        MostJobs = 40,
        LongestName = 60;

    /// <summary>Closed jobs that an exercise may be made of, the newest first; what was found in them is not told here.</summary>
    public IReadOnlyList<JobSummary> Closed =>
        [.. jobs.Closed(1, MostJobs).Where(j => !j.FaultId.IsNone && shop.FindLayout(j.LayoutId) is not null)];

    /// <summary>Who works here.</summary>
    public IReadOnlyList<string> People =>
        [
            .. devices
                .List()
                .Where(d => d.RevokedAt is null)
                .Select(d => d.Person)
                .Append(Person)
                .Where(p => p.Length > 0)
                .Distinct(),
        ];

    /// <summary>For whom, as typed.</summary>
    public string For { get; private set; } = "";

    public string Person => HttpContext.Caller().Person;

    public string Wrong { get; private set; } = "";

    public IReadOnlyList<KeptExercise> Past { get; private set; } = [];

    public IReadOnlyList<(string Id, string Words, int Asked, int Missed, int Due)> Drills { get; private set; } = [];

    public IReadOnlyList<(string Id, string Title)> Machines => [.. shop.ByUse.Select(l => (l.Id, l.Title))];

    public string Title(string id) => shop.FindLayout(id)?.Title ?? id;

    public void OnGet()
    {
        Past = store.Of(Person, Most);
        Drills =
        [
            .. Drill.Kinds.Select(k =>
                store.Standing(Person, k.Id, clock.GetUtcNow()) is var (asked, missed, due)
                    ? (k.Id, k.Words, asked, missed, due)
                    : default
            ),
        ];
    }

    public async Task<IActionResult> OnPostAsync(CancellationToken cancellation)
    {
        if (Request.Form["job"].ToString() is { Length: > 0 } number)
        {
            return await OfJobAsync(number, cancellation);
        }
        var layout = Request.Form["machine"].ToString();
        if (
            shop.FindLayout(layout) is null
            || !int.TryParse(Request.Form["level"], CultureInfo.InvariantCulture, out var level)
            || ExerciseSpec.Levels.All(l => l.Level != level)
        )
        {
            Wrong = shop.FindLayout(layout) is null ? "Choose the machine." : "Choose how hard it is to be.";
            OnGet();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        return Begin(Person, new(layout, level, Seed()));
    }

    private static int Seed() => RandomNumberGenerator.GetInt32(1, int.MaxValue / 64);

    private IActionResult Begin(string person, ExerciseSpec spec)
    {
        var id = Guid.NewGuid();
        store.Keep(new(id, person, spec, clock.GetUtcNow(), null, [], null, null, ""));
        return this.SeeOther($"/practice/{id}");
    }

    /// <summary>An exercise made of a closed job, by whoever teaches for whoever learns.</summary>
    private async Task<IActionResult> OfJobAsync(string number, CancellationToken cancellation)
    {
        For = Request.Form["for"].ToString().Trim();
        var job = JobNumber.Fits(number) ? jobs.Find(number) : null;
        var layout = job is null ? null : shop.FindLayout(job.State.Machine.LayoutId);
        var spec =
            layout is null || For.Length > LongestName
                ? null
                : await gate.RunAsync(_ => ExerciseSpec.Of(job!.State, shop.ByFiles(layout), Seed()), cancellation);
        if (spec is not null)
        {
            return Begin(For.Length > 0 ? For : Person, spec);
        }
        Wrong =
            For.Length > LongestName ? $"For whom: {LongestName} signs at most."
            : job is null ? "There is no such job."
            : layout is null ? "The machine of that job is not in the shop any more."
            : $"Of {number} no exercise can be made: it is open, or nothing was found in it that a customer complains of.";
        OnGet();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
