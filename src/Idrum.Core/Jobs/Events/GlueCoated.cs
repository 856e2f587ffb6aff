using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs;

/// <summary>The faces of a part were coated with adhesive. A second coat starts the wait anew.</summary>
/// <param name="PartId">Which part.</param>
/// <param name="School">Way of gluing.</param>
/// <param name="JoinMinutes">Minutes to the earliest join, by the label on the tube or else the handbook.</param>
/// <param name="CureMinutes">Minutes from the join to the earliest heat run.</param>
public sealed record GlueCoated(string PartId, string School, double JoinMinutes, double CureMinutes) : JobEvent
{
    internal override IEnumerable<string> Touches => ["part:" + PartId];

    internal override void Check(JobCheck check)
    {
        check.Errors.Range(JoinMinutes, "joinMinutes", 0, 240);
        check.Errors.Range(CureMinutes, "cureMinutes", 0, 10080);
        if (check.Part(PartId) is { } part)
        {
            var procedure = check.Machine.Handbook.For(part.Kind);
            check.Errors.If(procedure?.Glues != true, "partId", $"{part.Name} is not glued.");
            check.Errors.If(procedure?.Glues == true && procedure.Schools.All(s => s.Id != School), "school", $"There is no way '{FieldErrors.Short(School)}' for this part.");
        }
    }

    internal override JobState Apply(JobState state)
    {
        state = state.AtLeast(Station.Fit);
        return state with
        {
            Glue = state.Glue.SetItem(PartId, new(School, Happened, JoinMinutes, null, CureMinutes)),
            Timers = JoinMinutes <= 0 ? state.Timers : state.Timers.Add(new("join:" + Id, "Glue open: join when it no longer transfers", Happened, JoinMinutes, false)),
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"{machine.Layout.FindPart(PartId)?.Name ?? PartId}: coated";
}
