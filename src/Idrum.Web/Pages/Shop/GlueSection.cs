using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Web.Forms;
using Idrum.Web.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Shop;

/// <summary>How warm it is where glue is used, and what its labels say.</summary>
public sealed class GlueSection(GlueDesk glue, MoneyDesk money, HttpRequest request)
{
    private IFormCollection Form => request.Form;

    public IReadOnlyList<Adhesive> Adhesives => glue.Adhesives;

    public GlueHabits Habits => glue.Habits;

    public bool Fahrenheit => money.Terms.Fahrenheit;

    /// <summary>What was typed as a label and refused: field → text; empty where nothing was.</summary>
    public IReadOnlyDictionary<string, string> Typed { get; private set; } = new Dictionary<string, string>();

    /// <summary>Errors of a label, by field.</summary>
    public IReadOnlyList<FieldError> LabelWrong { get; private set; } = [];

    /// <summary>Fields of a label, with words.</summary>
    public IReadOnlyList<(string Id, string Words)> Fields =>
        [
            ("earliest", "Join from, min"),
            ("latest", "Join before, min"),
            ("press", "Press, min"),
            ("handling", "Handle after, min"),
            ("cure", "Heat after, min"),
            ("celsius", "At " + Degrees.Unit(Fahrenheit)),
        ];

    /// <summary>What stands in a field of a label.</summary>
    public string Value(Adhesive adhesive, string field)
    {
        if (Typed.GetValueOrDefault("adhesive") == adhesive.Id)
        {
            return Typed.GetValueOrDefault(field, "");
        }
        return Habits.Labels.TryGetValue(adhesive.Id, out var label)
            ? field == "celsius"
                ? Degrees.Number(label.Celsius, Fahrenheit)
                : (
                    field switch
                    {
                        "earliest" => label.Times.Earliest,
                        "latest" => label.Times.Latest,
                        "press" => label.Times.Press,
                        "handling" => label.Times.Handling,
                        _ => label.Times.Cure,
                    }
                ).ToString(CultureInfo.InvariantCulture)
            : "";
    }

    internal Reply KeepWarmth() =>
        Reply.Of(
            TypedNumber.Read(Form["warmth"]) is { } shown
                ? glue.KeepWarmth(Degrees.Celsius(shown, Fahrenheit), Fahrenheit)
                : "Room temperature: a number is needed here.",
            "Kept."
        );

    internal Reply KeepLabel()
    {
        var adhesive = Form["adhesive"].ToString();
        if (Form["forget"] == "yes")
        {
            return Reply.Of(
                glue.KeepLabel(adhesive, null) is [var none, ..] ? none.Message : "",
                "Forgotten: Idrum's own times hold again."
            );
        }
        var numbers = Fields.ToDictionary(f => f.Id, f => TypedNumber.Read(Form[f.Id]));
        LabelWrong = numbers.Any(n => n.Value is null)
            ? [.. numbers.Where(n => n.Value is null).Select(n => new FieldError(n.Key, "A number is needed here."))]
            : glue.KeepLabel(
                adhesive,
                new(
                    new(
                        numbers["earliest"]!.Value,
                        numbers["latest"]!.Value,
                        numbers["press"]!.Value,
                        numbers["handling"]!.Value,
                        numbers["cure"]!.Value
                    ),
                    Degrees.Celsius(numbers["celsius"]!.Value, Fahrenheit)
                )
            );
        if (LabelWrong.Count == 0)
        {
            return Reply.Said("Kept: from now on this label's times are used.");
        }
        Typed = Fields
            .ToDictionary(f => f.Id, f => Form[f.Id].ToString())
            .Append(new("adhesive", adhesive))
            .ToDictionary();
        return Reply.Refused(
            "Label: "
                + string.Join(
                    " ",
                    LabelWrong.Select(e =>
                        $"{Fields.FirstOrDefault(f => f.Id == e.Pointer).Words ?? e.Pointer}: {e.Message}"
                    )
                )
        );
    }
}
