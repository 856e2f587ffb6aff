using System.Globalization;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Web.Forms;

/// <summary>The machine card as form fields.</summary>
public sealed record MachineFields(string Kind, FormState Form, MachineCard Card, IReadOnlyList<Layout> Layouts)
{
    public string Value(string field, string? now) => Form.Value(Kind, "machine." + field, now);

    public string Error(string field) => Form.ErrorAt(Kind, "machine." + field);

    public static string Number(double? n) => n?.ToString(CultureInfo.InvariantCulture) ?? "";
}
