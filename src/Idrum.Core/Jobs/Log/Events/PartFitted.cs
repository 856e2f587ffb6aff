using System.Text.Json.Serialization;
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
    PartId PartId,
    string Action,
    string School,
    IReadOnlyList<string> Transferred,
    string Note
) : JobEvent
{
    /// <summary>Where it is from: one of <see cref="PartSource"/>; null in logs from before it was asked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Source { get; init; }

    /// <summary>Whether it is out of what this job has lines of.</summary>
    [JsonIgnore]
    internal bool FromLines => Source is null or PartSource.Order or PartSource.Van;

    internal override IEnumerable<string> Touches => ["part:" + PartId];

    // What one tap says of twins, and of sitting in its place, the page says in the act's fields besides.
    internal override ActEffect Effect =>
        new()
        {
            Does = PlaceChange.AtFit(
                Said("seatOperation", ("operation", "seatOperation"), ("step", "seatStep")) with
                {
                    When = Where(("seats", "yes")),
                },
                Said("twins", ("part", "twins")) with
                {
                    From = "fit",
                    Through = true,
                    When = Where(("action", AllReplaced)),
                },
                Said("twinSeatOperation", ("operation", "twinSeatOperation"), ("step", "twinSeatStep")) with
                {
                    When = Where(("action", AllReplaced), ("seats", "yes")),
                }
            ),
        };

    /// <summary>What a form says where the part and its twins were replaced alike.</summary>
    public const string AllReplaced = "all-replaced";

    private static PlaceChange Said(string each, params (string Of, string Field)[] by) =>
        new("take")
        {
            From = "back",
            By = PlaceChange.Fields(by),
            Each = each,
        };

    private static Dictionary<string, IReadOnlyList<string>> Where(params (string Field, string Value)[] all) =>
        all.ToDictionary(a => a.Field, a => (IReadOnlyList<string>)[a.Value]);

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        errors.Text(Note, "note", FieldErrors.LongText);
        errors.If(!FittedAs.Knows(Action), "action", "A part is replaced, cleaned, adjusted or left.");
        errors.If(
            Source is { Length: > 0 } said && PartSource.Words(said).Length == 0,
            "source",
            "It is from this order, out of the van, your own, the customer's, or the old one."
        );
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
        if (
            Action == FittedAs.Replaced
            && FromLines
            && state.Fitted.GetValueOrDefault(PartId) is not { Action: FittedAs.Replaced, FromLines: true }
        )
        {
            check.Guard(
                _ => !Supplies.IsHere(state, check.Machine.Layout, part, Source is { Length: > 0 }),
                Source is null ? "action" : "source",
                Source == PartSource.Van
                    ? $"No {part.Name.Inside()} was taken out of the van for this job, and the van holds none. Say where it is from."
                    : $"No {part.Name.Inside()} is here: as many as came are fitted. Record what came, or say where this one is from."
            );
        }
        foreach (var item in Transferred.Where(i => !part.Transfer.Contains(i)))
        {
            errors.Add("transferred", $"'{FieldErrors.Short(item)}' does not belong to this part.");
        }
        if (
            Action == FittedAs.Replaced
            && Source != PartSource.Old
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
            // The old one that went back is no new one: it was looked at and is good.
            Fitted = state.Fitted.SetItem(
                PartId,
                Source == PartSource.Old && Action == FittedAs.Replaced ? this with { Action = FittedAs.Cleaned } : this
            ),
            Orders = state.Orders.Remove(PartId),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Layout.FindPart(PartId)?.Name ?? PartId} {(Source == PartSource.Old ? "refitted" : Action)}{(Action == FittedAs.Replaced && PartSource.Words(Source) is { Length: > 0 } from ? $", {from}" : "")}";
}
