using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The sheet that lies on a machine left open: why, for what it waits, what stands where, where to go on.</summary>
public sealed class LeftModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;

    /// <summary>Parts nothing was done to.</summary>
    public IReadOnlyList<Part> Missing => [.. State.Targets.Where(t => !State.Fitted.ContainsKey(t)).Select(View.Layout.FindPart).OfType<Part>()];

    /// <summary>Parts not fitted of which one lies here.</summary>
    public IReadOnlyList<string> Here => [.. Supplies.Rows(State, View.Layout).Where(r => r.Here > 0).SelectMany(r => r.Item.Places.Where(p => !State.Fitted.ContainsKey(p.Id)).Take(r.Here)).Select(p => p.Id)];

    /// <summary>What else makes it unsafe as it stands.</summary>
    public IEnumerable<string> Hazards
    {
        get
        {
            if (State.Machine.Energy == "gas")
            {
                yield return "Gas: the valve stays closed; it is opened again by someone who may do it.";
            }
            if (State.Machine.Connection == "hard-wired")
            {
                yield return "Hard-wired: the breaker stays off, with a note on it.";
            }
        }
    }

    /// <summary>The next thing to do, in words.</summary>
    public string Next => OpenItems.PlanOf(State, View.Machine, HttpContext.RequestAborted) switch
    {
        // All is in, or it is being closed: what came back in is not taken out again.
        _ when (Missing.Count == 0 || State.Station >= Station.Rebuild) && View.Refit is [var back, ..] => $"Rebuild: {back.Step.Do}.",
        { Removal: [var step, ..] } => $"Strip: {step.Name}.",
        _ when Missing.Count > 0 => $"Fit: {string.Join(", ", Missing.Select(p => p.Name))}.",
        { Refit: [var move, ..] } => $"Rebuild: {move.Step.Do}.",
        _ => "Prove it.",
    };
}
