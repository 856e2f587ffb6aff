using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The complaint was stated, or stated anew.</summary>
/// <param name="Findings">Complaint ids that hold.</param>
/// <param name="Told">In the customer's own words.</param>
public sealed record ComplaintStated(
    IReadOnlyList<string> Findings,
    [property: System.Text.Json.Serialization.JsonPropertyName("words")] string Told
) : JobEvent
{
    internal override IEnumerable<string> Touches => ["complaint"];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.Text(Told, "words", FieldErrors.LongText);
        errors.If(Findings.Count > 40, "findings", "Too many complaints.");
        foreach (var id in Findings.Where(id => check.Shop.Catalog.FindFinding(id)?.Group != FindingGroup.Complaint))
        {
            errors.Add("findings", $"There is no complaint '{FieldErrors.Short(id)}'.");
        }
        errors.If(
            Findings.Count == 0 && string.IsNullOrWhiteSpace(Told),
            "words",
            "Tick what holds, or say it in words."
        );
    }

    internal override JobState Apply(JobState state) =>
        state.AtLeast(Station.Find) with
        {
            Words = Told,
            Complaints = [.. Findings],
            Answers = state
                .Answers.RemoveRange(state.Complaints.Except(Findings))
                .SetItems(Findings.Select(f => KeyValuePair.Create(f, "yes"))),
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => Told.Length > 0 ? this with { Told = CustomerRemoved.Word } : this;

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Complaint stated";
}
