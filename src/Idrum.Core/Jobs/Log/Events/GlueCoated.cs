using Idrum.Core.Basics;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The faces of a part were coated with adhesive. A second coat starts the wait anew.</summary>
/// <param name="PartId">Which part.</param>
/// <param name="School">Way of gluing.</param>
/// <param name="JoinMinutes">Minutes from the coat to the earliest join.</param>
/// <param name="CureMinutes">Minutes from the join to the earliest heat run.</param>
public sealed record GlueCoated(PartId PartId, string School, double JoinMinutes, double CureMinutes) : JobEvent
{
    /// <summary>Minutes from the coat to the latest join; null in logs from before windows were kept.</summary>
    public double? LatestMinutes { get; init; }

    /// <summary>Minutes it is pressed at the join; null as above.</summary>
    public double? PressMinutes { get; init; }

    /// <summary>Minutes from the join until the part may be loaded; null as above.</summary>
    public double? HandlingMinutes { get; init; }

    /// <summary>How warm it is, °C; null where nobody said.</summary>
    public double? Celsius { get; init; }

    internal override IEnumerable<string> Touches => ["part:" + PartId];

    /// <summary>A coat with the times of a way of doing it.</summary>
    /// <param name="partId">Which part.</param>
    /// <param name="school">The way; its id is kept.</param>
    /// <param name="times">Its times.</param>
    /// <param name="celsius">How warm it is, °C.</param>
    public static GlueCoated Of(PartId partId, string school, BondTimes times, double celsius) =>
        new(partId, school, times.Earliest, times.Cure)
        {
            LatestMinutes = times.Latest,
            PressMinutes = times.Press,
            HandlingMinutes = times.Handling,
            Celsius = celsius,
        };

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("stage") { To = "fit" },
                new("take")
                {
                    From = "fit",
                    By = PlaceChange.Fields(("part", "partId")),
                    Through = true,
                    // Its window was missed: cleaned and coated once more, it is joined as before.
                    OrElse = [],
                },
                new("window") { Label = "Glue open: join" },
            ],
            Begins = true,
        };

    internal override void Check(JobCheck check)
    {
        if (LatestMinutes is { } latest)
        {
            new BondTimes(JoinMinutes, latest, PressMinutes ?? 0, HandlingMinutes ?? 0, CureMinutes).Check(
                check.Errors,
                field => (field == "earliest" ? "join" : field) + "Minutes"
            );
        }
        else
        {
            check.Errors.Range(JoinMinutes, "joinMinutes", 0, 240);
            check.Errors.Range(CureMinutes, "cureMinutes", 0, BondTimes.Most);
        }
        if (Celsius is { } celsius)
        {
            check.Errors.Range(celsius, "celsius", Adhesive.Coldest, Adhesive.Warmest);
        }
        if (check.Part(PartId) is { } part)
        {
            var procedure = check.Machine.Handbook.For(part.Kind);
            check.Errors.If(procedure?.Glues != true, "partId", $"{part.Name} is not glued.");
            check.Errors.If(
                procedure?.Glues == true && procedure.Schools.All(s => s.Id != School),
                "school",
                $"There is no way '{FieldErrors.Short(School)}' for this part."
            );
        }
    }

    internal override JobState Apply(JobState state)
    {
        state = state.AtLeast(Station.Fit);
        var glue = new GlueState(School, Happened, JoinMinutes, null, CureMinutes)
        {
            LatestMinutes = LatestMinutes,
            PressMinutes = PressMinutes ?? 0,
            HandlingMinutes = HandlingMinutes ?? 0,
        };
        return state with
        {
            Glue = state.Glue.SetItem(PartId, glue),
            Fitted = state.Fitted.Remove(PartId),
            Timers = [.. GlueState.Stop(state.Timers, state.Glue.GetValueOrDefault(PartId)), .. glue.Window(Id)],
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{machine.Layout.FindPart(PartId)?.Name ?? PartId}: coated";
}
