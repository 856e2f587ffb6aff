using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages.Machines;

/// <summary>The usual changes of a layout of the shop's own, by form; each is checked as a whole file before it is
/// stored as the next version.</summary>
public sealed class EditModel(ShopSnapshot shop, LayoutIntake intake, LayoutStore layouts, WorkGate gate) : PageModel
{
    public Layout Layout { get; private set; } = null!;

    /// <summary>Whether it is one of the shop's own; what Idrum came with is read-only.</summary>
    public bool Own { get; private set; }

    /// <summary>The step whose form is shown; null for the list.</summary>
    public Operation? Step { get; private set; }

    /// <summary>What is wrong with the change just tried.</summary>
    public IReadOnlyList<FieldError> Wrong { get; private set; } = [];

    /// <summary>Stored meanwhile by someone else.</summary>
    public bool Meanwhile { get; private set; }

    public string Hash => Variants.HashOf(Layout);

    public bool Saved => Request.Query.ContainsKey("saved");

    /// <summary>Facts that can be changed, with their words.</summary>
    public IEnumerable<(LayoutFact Fact, FactTerm Term)> Facts =>
        Layout.Facts.Select(f => (f, shop.Words.FindFact(f.Id)!));

    /// <summary>What stands in a field: as typed where the change was refused.</summary>
    public string Value(string field, string now) =>
        Request.HasFormContentType && Request.Form.ContainsKey(field) ? Request.Form[field].ToString() : now;

    /// <summary>How the parts stand when the step is come to, its steps before it done by their usual ways.</summary>
    public IReadOnlyDictionary<PartId, PartCondition> Before
    {
        get
        {
            var (done, next) = (new HashSet<Operation>(), new Stack<Operation>([Step!]));
            while (next.TryPop(out var step))
            {
                foreach (
                    var needed in step
                        .Needs.Concat(step.First)
                        .Select(group => Layout.FindOperation(group[0]))
                        .OfType<Operation>()
                        .Where(o => o != Step && done.Add(o))
                )
                {
                    next.Push(needed);
                }
            }
            return PartStates.After(done);
        }
    }

    public static string Number(double n) => n.ToString("0.##", CultureInfo.InvariantCulture);

    public IActionResult OnGet([FromRoute] string id) => Load(id) ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync([FromRoute] string id)
    {
        if (!Load(id))
        {
            return NotFound();
        }
        if (!Own)
        {
            return Refuse([new("", "What Idrum came with is read-only. Start a machine of your own from it.")]);
        }
        if (Request.Form["hash"] != Hash)
        {
            return Conflict409();
        }
        var errors = new FieldErrors();
        var changed = Change(errors);
        if (errors.All.Count > 0)
        {
            return Refuse(errors.All);
        }
        var (layout, unsound) = await gate.RunAsync(
            stop => intake.Read(Variants.TextOf(changed), shop.ParentOf, stop),
            HttpContext.RequestAborted
        );
        if (layout is null)
        {
            return Refuse(unsound);
        }
        if (layouts.Replace(layout, Hash) is not null)
        {
            return Conflict409();
        }
        return this.SeeOther(
            $"/machines/{id}/edit?saved=1"
                + (Step is not null && layout.FindOperation(Step.Id) is not null ? $"&step={Step.Id}" : "")
        );
    }

    private bool Load(string id)
    {
        if (shop.FindLayout(id) is not { } layout)
        {
            return false;
        }
        Layout = layout;
        Own = layouts.Own().Any(o => o.LayoutId == id);
        var wanted = Request.HasFormContentType ? Request.Form["step"].ToString() : Request.Query["step"].ToString();
        Step = layout.FindOperation(wanted);
        return true;
    }

    private PageResult Conflict409()
    {
        Meanwhile = true;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    private PageResult Refuse(IReadOnlyList<FieldError> wrong)
    {
        Wrong = wrong;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private Layout Change(FieldErrors errors)
    {
        switch (Request.Form["act"].ToString())
        {
            case "facts":
                var all = Layout;
                foreach (var (known, term) in Facts.Where(f => Request.Form.ContainsKey($"fact.{f.Fact.Id}")))
                {
                    var value = Request.Form[$"fact.{known.Id}"].ToString();
                    errors.If(
                        term.Values.All(v => v.Id != value),
                        $"fact.{known.Id}",
                        $"{term.Question} Choose one of its answers."
                    );
                    var differs = Request.Form[$"varies.{known.Id}"] == "on";
                    if (value != known.Value || differs != known.Varies)
                    {
                        all = LayoutEdit.With(
                            all,
                            new LayoutFact(
                                known.Id,
                                value,
                                differs,
                                known.Values?.Contains(value) == true ? known.Values : null
                            )
                        );
                    }
                }
                return all;
            case "remove" when Step is not null:
                return LayoutEdit.Without(Layout, Step.Id);
            case "add":
                var (name, what, before) = (
                    Request.Form["name"].ToString().Trim(),
                    Request.Form["do"].ToString().Trim(),
                    Request.Form["before"].ToString()
                );
                // A name in other letters than these makes no id: its place does.
                var id = NewModel.IdOf(name) is { Length: > 0 } made ? made : $"step-{Layout.Operations.Count + 1}";
                errors.If(
                    Layout.FindOperation(id) is not null,
                    "name",
                    "Another step has this name already. Say what is different about this one."
                );
                errors.Text(name, "name", 60, true);
                errors.Text(what, "do", 60, true);
                errors.If(Layout.FindOperation(before) is null, "before", "Choose the step it stands in the way of.");
                var minutes = Minutes("minutes", errors);
                return errors.All.Count > 0
                    ? Layout
                    : LayoutEdit.WithStepBefore(Layout, id, name, what, before, minutes);
            case "step" when Step is { } step:
                return LayoutEdit.With(Layout, Typed(step, errors));
            default:
                errors.Add("act", "This change is not known.");
                return Layout;
        }
    }

    private Operation Typed(Operation step, FieldErrors errors)
    {
        string Text(string field) => Request.Form[field].ToString().Trim();
        int Whole(string field, int least, int most)
        {
            var right =
                int.TryParse(Text(field), NumberStyles.None, CultureInfo.InvariantCulture, out var n)
                && n >= least
                && n <= most;
            errors.If(!right, field, $"A whole number from {least} to {most} is needed.");
            return n;
        }
        double Length(string field)
        {
            var n = TypedNumber.Read(Text(field));
            errors.If(n is not (>= 0 and <= 300), field, "A length from 0 to 300 mm is needed.");
            return n ?? 0;
        }
        errors.Text(Text("do"), "do", 60, true);
        errors.Text(Text("name"), "name", 60, true);
        errors.Text(Text("why"), "why", 240, false);
        return step with
        {
            Name = Text("name"),
            Do = Text("do"),
            Why = Text("why"),
            Minutes = Minutes("minutes", errors),
            Fasteners =
            [
                .. step.Fasteners.Select(f =>
                    f.WithCount(Whole($"count.{f.Id}", 1, 99)) with
                    {
                        Size = Text($"size.{f.Id}"),
                        LengthMm = Length($"length.{f.Id}"),
                        Where = Text($"where.{f.Id}"),
                    }
                ),
            ],
            Plugs =
            [
                .. step.Plugs.Select(p =>
                    p with
                    {
                        Name = Text($"plug.{p.Id}"),
                        Wires = Text($"wires.{p.Id}").Split([' ', ','], StringSplitOptions.RemoveEmptyEntries),
                        Where = Text($"at.{p.Id}"),
                        Sticker = Text($"sticker.{p.Id}"),
                    }
                ),
            ],
            Refit =
            [
                .. step.Refit.Select(r =>
                    r with
                    {
                        Do = Text($"refit.{r.Id}"),
                        Minutes = Minutes($"refit.{r.Id}.minutes", errors),
                    }
                ),
            ],
        };
    }

    /// <summary>Three numbers, low to high.</summary>
    private Spread Minutes(string field, FieldErrors errors)
    {
        var parts = Request.Form[field].ToString().Split([' ', ';', '–', '/'], StringSplitOptions.RemoveEmptyEntries);
        var n = new double[3];
        var right = parts.Length == 3;
        for (var i = 0; right && i < 3; i++)
        {
            n[i] = TypedNumber.Read(parts[i]) ?? -1;
            right = n[i] is >= 0 and <= 240 && (i == 0 || n[i] >= n[i - 1]);
        }
        errors.If(!right, field, "Three numbers from low to high, in minutes: quick, usual, slow.");
        return new(n[0], n[1], n[2]);
    }
}
