using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The sheet that lies on a machine left open: why, for what it waits, what stands where, where to go
/// on.</summary>
public sealed class LeftModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>Parts nothing was done to.</summary>
    public IReadOnlyList<Part> Missing => LeftOpen.Missing(State, View.Layout);

    /// <summary>Parts not fitted of which one lies here.</summary>
    public IReadOnlyList<PartId> Here =>
        [
            .. Supplies
                .Rows(State, View.Layout)
                .Where(r => r.Here > 0)
                .SelectMany(r => r.Item.Places.Where(p => !State.Fitted.ContainsKey(p.Id)).Take(r.Here))
                .Select(p => p.Id),
        ];

    /// <summary>What else makes it unsafe as it stands.</summary>
    public IEnumerable<string> Hazards
    {
        get
        {
            if (State.Machine.HeatedBy == HeatSource.Gas)
            {
                yield return "Gas: the valve stays closed; it is opened again by someone who may do it.";
            }
            if (State.Machine.Connection == SupplyBy.HardWired)
            {
                yield return "Hard-wired: the breaker stays off, with a note on it.";
            }
        }
    }

    /// <summary>The next thing to do, in words.</summary>
    public string Next =>
        LeftOpen.GoesOnAt(State, View.Machine, HttpContext.RequestAborted) is var (station, what) && what.Length > 0
            ? $"{station.Named()}: {what}."
            : "Prove it.";
}
