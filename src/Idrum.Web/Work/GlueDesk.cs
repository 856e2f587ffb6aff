using System.Globalization;
using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Core.Shop;
using Idrum.Storage;

namespace Idrum.Web.Work;

/// <summary>How warm it is where the shop works, and what the labels of its tubes say: typed once, used in every
/// job.</summary>
public sealed class GlueDesk(SettingStore settings, ShopKeeper shop)
{
    private const string Warmth = "glue-celsius";

    private static string LabelOf(string adhesive) => "glue-label:" + adhesive;

    /// <summary>The adhesives there are.</summary>
    public IReadOnlyList<Adhesive> Adhesives => shop.Now.Handbook.Adhesives;

    private GlueHabits? habits;

    /// <summary>What is set; the same one until something else is.</summary>
    public GlueHabits Habits => habits ??= Read();

    private GlueHabits Read() =>
        new(
            double.TryParse(settings.Get(Warmth), CultureInfo.InvariantCulture, out var celsius)
            // One that was stored and cannot be is as good as none.
            && celsius is >= Adhesive.Coldest and <= Adhesive.Warmest
                ? celsius
                : GlueHabits.Usual.Celsius,
            Adhesives
                .Select(a => (a.Id, Text: settings.Get(LabelOf(a.Id))))
                .Where(l => l.Text.Length > 0)
                .ToDictionary(l => l.Id, l => JsonSerializer.Deserialize<TubeLabel>(l.Text, IdrumJson.Options)!)
        );

    /// <summary>Sets how warm it mostly is; an error where no one works so cold or warm.</summary>
    public string KeepWarmth(double celsius, bool fahrenheit)
    {
        if (celsius is not (>= Adhesive.Coldest and <= Adhesive.Warmest))
        {
            return $"Room temperature: must lie between {Degrees.Number(Adhesive.Coldest, fahrenheit)} and {Degrees.Show(Adhesive.Warmest, fahrenheit)}.";
        }
        settings.Set(Warmth, celsius.ToString(CultureInfo.InvariantCulture));
        habits = null;
        return "";
    }

    /// <summary>Keeps what a label says; null forgets it. Errors field by field; nothing is kept where there is
    /// one.</summary>
    public IReadOnlyList<FieldError> KeepLabel(string adhesive, TubeLabel? label)
    {
        var errors = new FieldErrors();
        errors.If(
            Adhesives.All(a => a.Id != adhesive),
            "adhesive",
            $"There is no adhesive '{FieldErrors.Short(adhesive)}'."
        );
        label?.Times.Check(errors, field => field);
        if (label is not null)
        {
            errors.Range(label.Celsius, "celsius", Adhesive.Coldest, Adhesive.Warmest);
        }
        if (errors.All.Count == 0)
        {
            settings.Set(LabelOf(adhesive), label is null ? "" : JsonSerializer.Serialize(label, IdrumJson.Options));
            habits = null;
        }
        return errors.All;
    }
}
