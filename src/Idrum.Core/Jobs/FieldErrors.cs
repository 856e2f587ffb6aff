using System.Globalization;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs;

/// <summary>Gathers errors while an event is checked.</summary>
internal sealed class FieldErrors
{
    private readonly List<FieldError> errors = [];

    internal IReadOnlyList<FieldError> All => errors;

    internal void Add(string field, string message) => errors.Add(new(field, message));

    internal void If(bool wrong, string field, string message)
    {
        if (wrong)
        {
            Add(field, message);
        }
    }

    /// <summary>Bounded, free of control characters other than line breaks and tabs, and filled in where it must be.</summary>
    internal void Text(string? text, string field, int longest, bool required = false)
    {
        If(required && string.IsNullOrWhiteSpace(text), field, "Fill this in.");
        If(text?.Length > longest, field, $"Too long: {text?.Length} characters, {longest} at most.");
        If(text?.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t')) == true, field, "Holds characters that cannot be shown.");
    }

    internal void Range(double value, string field, double low, double high) =>
        If(!(value >= low && value <= high), field, string.Create(CultureInfo.InvariantCulture, $"Must lie between {low} and {high}."));
}

/// <summary>Rules of a machine card.</summary>
internal static class MachineRules
{
    internal static void Check(MachineCard card, string at, ShopKnowledge shop, FieldErrors errors)
    {
        var layout = shop.FindLayout(card.LayoutId);
        errors.If(layout is null, at + ".layoutId", card.LayoutId.Length == 0 ? "Choose the machine." : "The shop has no such layout.");
        errors.Text(card.Place, at + ".place", JobRules.ShortText, true);
        errors.Text(card.Tag, at + ".tag", 60);
        errors.Text(card.CallBackOf, at + ".callBackOf", 24);
        if (card.AgeYears is { } age)
        {
            errors.Range(age, at + ".ageYears", 0, 60);
        }
        if (card.UsesPerWeek is { } uses)
        {
            errors.Range(uses, at + ".usesPerWeek", 0, 200);
        }
        errors.If(card.Energy is not ("electric" or "gas"), at + ".energy", "Electric or gas.");
        errors.If(card.Energy == "gas" && layout?.Facts.Any(f => f is { Id: "gas", Varies: true }) == false, at + ".energy", "This machine is made for electric heating only.");
        errors.If(card.Connection is not ("plug" or "hard-wired"), at + ".connection", "Plug or hard-wired.");
        errors.If(card.Units is not ("mm" or "inch"), at + ".units", "Millimetres or inches.");
        foreach (var fact in card.Facts.Where(f => layout is not null && !layout.Facts.Any(x => x.Id == f && x.Varies)))
        {
            errors.Add(at + ".facts", $"'{(fact.Length > 40 ? fact[..40] : fact)}' does not vary on this machine.");
        }
    }
}
