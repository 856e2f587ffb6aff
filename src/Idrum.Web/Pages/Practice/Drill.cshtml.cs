using System.Globalization;
using System.Security.Cryptography;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Drawing;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Practice;

/// <summary>One question after another; what was missed comes again.</summary>
public sealed class DrillModel(PracticeStore store, JobStore jobs, ShopSnapshot shop, TimeProvider clock) : PageModel
{
    private const int MostJobs = 40;

    public string Kind { get; private set; } = "";

    public string Words { get; private set; } = "";

    public string LayoutId { get; private set; } = "";

    public int Seed { get; private set; }

    public DrillQuestion? Question { get; private set; }

    /// <summary>The belt as it lies, drawn, without what it is called; null where the question is of something else.</summary>
    public HtmlString? Course =>
        Question is { Course.Length: > 0 } q
        && shop.FindLayout(LayoutId) is { } layout
        && BeltCourse.Of(layout).FirstOrDefault(c => c.Id == q.Course) is { } course
            // Whole and close up, whichever it is, and without the arrow: which picture is shown must not say it.
            ? new(
                string.Concat(
                    Enumerable
                        .Range(0, 2)
                        .Select(k =>
                            DriveSvg
                                .Of(layout, course with { Name = "How it lies" }, q.Behind, k == 1, pointed: false)
                                .Value
                        )
                )
            )
            : null;

    /// <summary>The wheels to lay the belt round; null where the question is of something else.</summary>
    public HtmlString? Wheels =>
        Question is { Ways.Count: > 0 } q && shop.FindLayout(LayoutId) is { } layout
            ? DriveSvg.ToRehearse(layout, q.Behind, q.Ways.ToDictionary(w => w, _ => new Rehearsed(false, "", "")))
            : null;

    /// <summary>What was answered; null while nothing was.</summary>
    public int? Answer { get; private set; }

    public (int Asked, int Missed, int Due) Standing { get; private set; }

    private string Person => HttpContext.Caller().Person;

    public IActionResult OnGet(string kind)
    {
        if (!Known(kind))
        {
            return NotFound();
        }
        var now = clock.GetUtcNow();
        // What is due comes first; else something new, on any machine that has something to ask.
        if (store.Due(Person, kind, now) is { } due && Ask(due.LayoutId, due.Seed))
        {
            return Page();
        }
        var from =
            Kind == PhotoDrill.Kind
                ? [.. store.Marked(MostJobs).Select(jobs.Find).OfType<StoredJob>().Select(j => j.State.Number)]
                : shop.Layouts.Select(l => l.Id).ToList();
        for (var tries = 0; tries < 30 && from.Count > 0; tries++)
        {
            if (Ask(from[RandomNumberGenerator.GetInt32(from.Count)], RandomNumberGenerator.GetInt32(1, 1 << 24)))
            {
                break;
            }
        }
        return Page();
    }

    public IActionResult OnPost(string kind)
    {
        if (
            !Known(kind)
            || !int.TryParse(Request.Form["seed"], CultureInfo.InvariantCulture, out var seed)
            || !Ask(Request.Form["machine"].ToString(), seed)
        )
        {
            return NotFound();
        }
        // Of a belt that was laid the way is named.
        if (
            !int.TryParse(
                Question!.Ways.Count > 0
                    ? Question
                        .Ways.ToList()
                        .IndexOf(Request.Form["lay"].ToString())
                        .ToString(CultureInfo.InvariantCulture)
                    : Request.Form["answer"],
                CultureInfo.InvariantCulture,
                out var answer
            )
            || answer < 0
            || answer >= Question!.Choices.Count
        )
        {
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        Answer = answer;
        store.Answered(Person, Question, LayoutId, Seed, answer == Question.Right, clock.GetUtcNow());
        Standing = store.Standing(Person, kind, clock.GetUtcNow());
        return Page();
    }

    /// <summary>The sound of a question, whose address does not say what it is.</summary>
    public static async Task<IResult> SoundAsync(
        string machine,
        int seed,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken cancellation
    )
    {
        if (
            shop.FindLayout(machine) is not { } layout
            || Drill.Of("sound", shop.ByFiles(layout), new Random(seed)) is not { } question
        )
        {
            return Results.NotFound();
        }
        var sound = await gate.RunAsync(
            stop =>
                NoiseBench.Render(
                    shop.ByFiles(layout).Layout,
                    new()
                    {
                        Faults = [question.Sound],
                        Seconds = 8,
                        Seed = seed,
                        MainsHertz = shop.Terms.MainsHertz,
                        FaultDb = 9,
                    },
                    stop
                ),
            cancellation
        );
        return Results.File(WavFile.Write(sound), "audio/wav");
    }

    private bool Known(string kind)
    {
        (Kind, Words) = Drill.Kinds.FirstOrDefault(k => k.Id == kind);
        if (Kind is null)
        {
            return false;
        }
        Standing = store.Standing(Person, kind, clock.GetUtcNow());
        return true;
    }

    private bool Ask(string layoutId, int seed)
    {
        (LayoutId, Seed) = (layoutId, seed);
        if (Kind == PhotoDrill.Kind)
        {
            // Of a photo it is the job that is named.
            Question =
                jobs.Find(layoutId) is { State: var job } && shop.MachineOf(job).Layout is { } of
                    ? PhotoDrill.Of(job, of, new Random(seed))
                    : null;
            return Question is not null;
        }
        Question = shop.FindLayout(layoutId) is { } layout
            ? Drill.Of(Kind, shop.ByFiles(layout), new Random(seed))
            : null;
        return Question is not null;
    }
}
