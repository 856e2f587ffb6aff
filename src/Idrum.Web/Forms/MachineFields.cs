using System.Globalization;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Web.Forms;

/// <summary>The machine card as form fields.</summary>
public sealed record MachineFields(string Kind, FormState Form, MachineCard Card, IReadOnlyList<Layout> Layouts)
{
    /// <summary>Where another machine is chosen; empty where it cannot be here.</summary>
    public string Another { get; init; } = "";

    /// <summary>What that link says.</summary>
    public string AnotherWords { get; init; } = "Another machine";

    public string Value(string field, string? now) => Form.Value(Kind, "machine." + field, now);

    public string Error(string field) => Form.ErrorAt(Kind, "machine." + field);

    public static string Number(double? n) => n?.ToString(CultureInfo.InvariantCulture) ?? "";

    /// <summary>Whether a fact is asked for on the card: one that varies and changes something in the work; the fuel
    /// has a field of its own, and
    /// where the console sits changes nothing.</summary>
    public static bool Asked(LayoutFact fact) => fact is { Varies: true, Id: not ("gas" or "console-place") };
}
