using Idrum.Core.Basics;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A part was dealt with.</summary>
/// <param name="PartId">Which.</param>
/// <param name="Action">replaced, cleaned, adjusted or left.</param>
/// <param name="School">School id followed, or empty.</param>
/// <param name="Transferred">Small parts that came over from the old one.</param>
/// <param name="Note">Remark.</param>
public sealed record PartFitted(
    string PartId,
    string Action,
    string School,
    IReadOnlyList<string> Transferred,
    string Note
) : JobEvent
{
    internal override IEnumerable<string> Touches => ["part:" + PartId];

    internal override ActEffect Effect => new() { Does = PlaceChange.AtFit() };

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        errors.Text(Note, "note", FieldErrors.LongText);
        errors.If(!FittedAs.Knows(Action), "action", "A part is replaced, cleaned, adjusted or left.");
        if (check.Part(PartId) is not { } part)
        {
            return;
        }
        var graph = JobPlan.Planner(state, check.Machine).Graph;
        var freeing = graph.FreeingOperations(PartId);
        errors.If(
            Action != FittedAs.Left && !freeing.IsEmpty && !freeing.Meets(graph.WithPassed(graph.SetOf(state.Out))),
            "partId",
            $"{part.Name} is not free yet: strip first."
        );
        var procedure = check.Machine.Handbook.For(part.Kind);
        errors.If(
            School.Length > 0 && procedure?.Schools.Any(s => s.Id == School) != true,
            "school",
            $"There is no way '{FieldErrors.Short(School)}' for this part."
        );
        if (Action == FittedAs.Replaced && state.Fitted.GetValueOrDefault(PartId)?.Action != FittedAs.Replaced)
        {
            check.Guard(
                _ => !Supplies.IsHere(state, check.Machine.Layout, part),
                "action",
                $"No {part.Name.ToLowerInvariant()} is here: as many as came are fitted. Record what came, or take one from the van, first."
            );
        }
        foreach (var item in Transferred.Where(i => !part.Transfer.Contains(i)))
        {
            errors.Add("transferred", $"'{FieldErrors.Short(item)}' does not belong to this part.");
        }
        if (
            Action == FittedAs.Replaced
            && procedure?.Glues == true
            && state.Glue.GetValueOrDefault(PartId)?.JoinedAt is null
        )
        {
            var glue = state.Glue.GetValueOrDefault(PartId);
            var left = glue is null ? 0 : Math.Ceiling((glue.JoinFrom - Happened).TotalMinutes);
            check.Guard(
                _ => true,
                "action",
                glue is null ? "Not glued yet: record the coat, wait, then record the join."
                    : left > 0 ? $"Not joined yet: {left:0} min until it may be joined."
                    : Happened > glue.JoinUntil ? "Not joined, and its window is over: clean both faces and coat again."
                    : "Not joined yet: it may be joined now. Record the join first."
            );
        }
    }

    internal override JobState Apply(JobState state) =>
        state.AtLeast(Station.Fit) with
        {
            Fitted = state.Fitted.SetItem(PartId, this),
            Orders = state.Orders.Remove(PartId),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Layout.FindPart(PartId)?.Name ?? PartId} {Action}";
}
