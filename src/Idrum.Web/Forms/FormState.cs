using Idrum.Core.Basics;

namespace Idrum.Web.Forms;

/// <summary>What was typed and what was wrong with it, so that a refused form comes back as it was sent.</summary>
public sealed class FormState
{
    private readonly IFormCollection? form;

    private FormState(IFormCollection? form, IReadOnlyList<FieldError> errors)
    {
        this.form = form;
        Errors = errors;
    }

    /// <summary>Nothing was sent.</summary>
    public static FormState None { get; } = new(null, []);

    public IReadOnlyList<FieldError> Errors { get; }

    /// <summary>A refused form.</summary>
    public static FormState Refused(IFormCollection form, IReadOnlyList<FieldError> errors) => new(form, errors);

    /// <summary>Whether the refused form is of this kind.</summary>
    public bool Is(string kind) => form is not null && form["kind"] == kind;

    /// <summary>What was typed into a field of this kind of form, or what stands there by default.</summary>
    public string Value(string kind, string field, string? otherwise = "") =>
        Is(kind) && form!.ContainsKey(field) ? form[field].ToString() : otherwise ?? "";

    /// <summary>Whether a box of this kind of form was ticked.</summary>
    public bool Ticked(string kind, string field, string value, bool otherwise = false) =>
        Is(kind) ? form![field].Contains(value) : otherwise;

    /// <summary>Errors at a field, as one text.</summary>
    public string ErrorAt(string kind, string field) =>
        Is(kind) ? string.Join(" ", Errors.Where(e => e.Pointer == field).Select(e => e.Message)) : "";
}
