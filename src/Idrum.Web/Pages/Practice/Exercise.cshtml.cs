using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Drawing;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Practice;

/// <summary>An exercise under way, and its reckoning once it is over.</summary>
public sealed class ExerciseModel(PracticeStore store, ShopSnapshot shop, WorkGate gate, TimeProvider clock) : PageModel
{
    public KeptExercise Kept { get; private set; } = null!;

    public Exercise Exercise { get; private set; } = null!;

    public string Wrong { get; private set; } = "";

    /// <summary>Why it cannot be gone on with; empty where it can.</summary>
    public string Stale { get; private set; } = "";

    public Layout Layout => Exercise.Knowledge.Layout;

    /// <summary>Checks that can be made, by where one stands for them; not in the order of their worth, which is what is practised.</summary>
    public IEnumerable<IGrouping<string, PricedCheck>> Checks =>
        Exercise
            .Prices.Checks.Where(c =>
                !c.Finding.Live && Exercise.Refused(new(MoveKind.Check, c.Finding.Id)).Length == 0
            )
            .OrderBy(c => c.Minutes)
            .ThenBy(c => c.Finding.Name, StringComparer.Ordinal)
            .GroupBy(c =>
                c.TeardownMinutes > 0 ? "Inside, after opening up to it"
                : c.Finding.Group == FindingGroup.History ? "Ask the customer"
                : c.Finding.Runs ? "With the machine running"
                : "From here"
            )
            .OrderBy(g => g.First().TeardownMinutes > 0);

    /// <summary>Faults it might be, by name.</summary>
    public IEnumerable<Fault> Faults =>
        Exercise
            .Knowledge.Diagnostician.Model.Faults.Where(f =>
                f.Action != FaultAction.Refer && Exercise.Refused(new(MoveKind.Repair, f.Id)).Length == 0
            )
            .OrderBy(f => f.Name, StringComparer.Ordinal);

    /// <summary>Parts one may open up to.</summary>
    public IEnumerable<Part> Parts => Layout.Parts.Where(p => p.Wears).OrderBy(p => p.Name, StringComparer.Ordinal);

    /// <summary>Whether its noise can be heard as it stands.</summary>
    public bool Sounds => Exercise is { IsOpen: false, Over: false } && NoiseBench.FaultsOf(Layout).Count > 0;

    public async Task<IActionResult> OnGetAsync([FromRoute] Guid id, CancellationToken cancellation) =>
        await LoadAsync(id, cancellation) ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync([FromRoute] Guid id, CancellationToken cancellation)
    {
        if (!await LoadAsync(id, cancellation))
        {
            return NotFound();
        }
        if (Stale.Length > 0)
        {
            return this.SeeOther($"/practice/{id}");
        }
        // The page may be an older one, or pressed twice: what was seen then counts.
        if (
            Request.Form["made"].ToString()
            != Kept.Moves.Count.ToString(System.Globalization.CultureInfo.InvariantCulture)
        )
        {
            return this.SeeOther($"/practice/{id}");
        }
        if (EnumWord.Read<MoveKind>(Request.Form["kind"]) is not { } kind)
        {
            return Refuse("That is no act of this exercise. Choose one of those on the page.");
        }
        var move = new ExerciseMove(kind, kind == MoveKind.Hands ? HandsSaid() : Request.Form["id"].ToString());
        if (await gate.RunAsync(_ => Exercise.Try(move), cancellation) is { Length: > 0 } wrong)
        {
            return Refuse(wrong);
        }
        store.Keep(
            Kept with
            {
                Moves = [.. Kept.Moves, move],
                EndedAt = Exercise.Over ? clock.GetUtcNow() : null,
                Marks = Exercise.Over ? Exercise.Marks : null,
                Lost = Exercise.Over ? Exercise.Lost : null,
                Unsafe = Exercise.Unsafe,
            }
        );
        return this.SeeOther($"/practice/{id}");
    }

    private PageResult Refuse(string why)
    {
        Wrong = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    /// <summary>What the hands' form says, as an exercise keeps it.</summary>
    private string HandsSaid()
    {
        var (form, task) = (Request.Form, Request.Form["id"].ToString());
        return task
            + ":"
            + task switch
            {
                "plugs" => string.Join(',', form["plug"].OfType<string>()),
                "screws" => string.Join(
                    ',',
                    form.Keys.Where(k =>
                            k.StartsWith("place.", StringComparison.Ordinal) && form[k].ToString().Length > 0
                        )
                        .Select(k => $"{k["place.".Length..]}={form[k]}")
                ),
                "belt" => form["lay"].ToString(),
                _ => form["minutes"].ToString().Trim(),
            };
    }

    /// <summary>What may be measured, with its minutes; 0 where it is only looked at.</summary>
    public double ReadMinutes(PricedCheck check) =>
        Exercise.Refused(new(MoveKind.Measure, check.Finding.Id)).Length == 0
            ? Exercise.ReadMinutes(check.Finding.Id) + check.TeardownMinutes
            : 0;

    /// <summary>The wheels to lay the belt round; what a course would do is not told.</summary>
    public HtmlString Wheels =>
        DriveSvg.ToRehearse(
            Layout,
            Exercise.FromBehind,
            Rehearsal.Of(Layout).ToDictionary(w => w.Key, _ => new Rehearsed(false, "", ""))
        );

    /// <summary>How the machine sounds as it stands.</summary>
    public static async Task<IResult> SoundAsync(
        Guid id,
        PracticeStore store,
        ShopSnapshot shop,
        WorkGate gate,
        CancellationToken cancellation
    )
    {
        if (store.Find(id) is not { } kept || shop.FindLayout(kept.Spec.LayoutId) is not { } layout)
        {
            return Results.NotFound();
        }
        var sound = await gate.RunAsync(
            stop =>
            {
                var machine = shop.ByFiles(layout);
                var exercise = Exercise.Of(kept.Spec, machine, kept.Moves, stop);
                return NoiseBench.Render(
                    machine.Layout,
                    new()
                    {
                        Faults = [.. exercise.Speaking.Intersect(NoiseBench.FaultsOf(machine.Layout))],
                        Seconds = 8,
                        Seed = kept.Spec.Seed,
                        MainsHertz = shop.Terms.MainsHertz,
                        FaultDb = 6,
                    },
                    stop
                );
            },
            cancellation
        );
        return Results.File(WavFile.Write(sound), "audio/wav");
    }

    private async Task<bool> LoadAsync(Guid id, CancellationToken cancellation)
    {
        if (store.Find(id) is not { } kept)
        {
            return false;
        }
        Kept = kept;
        if (shop.FindLayout(kept.Spec.LayoutId) is not { } layout)
        {
            Stale = "The machine of this exercise is not in the shop any more.";
            return true;
        }
        try
        {
            Exercise = await gate.RunAsync(
                stop => Exercise.Of(kept.Spec, shop.ByFiles(layout), kept.Moves, stop),
                cancellation
            );
        }
        catch (ArgumentException)
        {
            Stale =
                "The machine's layout was changed since this exercise was begun: it cannot be gone on with. What came of it stays.";
        }
        return true;
    }

    public string Outcome(string finding, string outcome) =>
        Exercise.Knowledge.Diagnostician.Model.Catalog.FindFinding(finding) is { } f
            ? $"{f.Name}: {f.Outcomes.FirstOrDefault(o => o.Id == outcome)?.Label ?? outcome}"
            : finding;
}
