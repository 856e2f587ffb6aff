using System.Globalization;

namespace Idrum.Core.Basics;

/// <summary>One fault of an input, with the place it stands at.</summary>
/// <param name="Pointer">JSON pointer (RFC 6901) into the file, or a field name of a form.</param>
/// <param name="Message">What is wrong and what would be right.</param>
public sealed record FieldError(string Pointer, string Message);

/// <summary>Gathers errors while an input is checked.</summary>
public sealed class FieldErrors
{
    private readonly List<FieldError> errors = [];

    /// <summary>Most characters of a name or place.</summary>
    public const int ShortText = 120;

    /// <summary>Most characters of a note, reason or complaint.</summary>
    public const int LongText = 2000;

    /// <summary>All errors so far.</summary>
    public IReadOnlyList<FieldError> All => errors;

    /// <summary>Adds one.</summary>
    public void Add(string field, string message) => errors.Add(new(field, message));

    /// <summary>Adds one where the condition holds.</summary>
    public void If(bool wrong, string field, string message)
    {
        if (wrong)
        {
            Add(field, message);
        }
    }

    /// <summary>Bounded, free of control characters other than line breaks and tabs, and filled in where it must
    /// be.</summary>
    public void Text(string? text, string field, int longest, bool required = false)
    {
        If(required && string.IsNullOrWhiteSpace(text), field, "Fill this in.");
        If(text?.Length > longest, field, $"Too long: {text?.Length} characters, {longest} at most.");
        If(
            text?.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t')) == true,
            field,
            "Holds characters that cannot be shown."
        );
    }

    /// <summary>Within bounds, ends included; not a number is outside.</summary>
    public void Range(double value, string field, double low, double high) =>
        If(
            !(value >= low && value <= high),
            field,
            string.Create(CultureInfo.InvariantCulture, $"Must lie between {low} and {high}.")
        );

    /// <summary>An unknown id as it may be repeated in a message.</summary>
    public static string Short(string id) => id.Length <= 40 ? id : id[..40] + "…";
}
