using Idrum.Core.Fitting;
using Idrum.Core.Jobs;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Floor mode: one step fills the screen, while stripping and while rebuilding.</summary>
public sealed class FloorModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    public override Station Shown => Rebuilding ? Station.Rebuild : Station.Strip;

    /// <summary>True where the machine goes together again.</summary>
    public bool Rebuilding => State.Station >= Station.Rebuild || !View.Stripping && State.Station == Station.Fit;

    /// <summary>The step in work, or null where there is none.</summary>
    public Operation? Step => Rebuilding ? View.Refit.Count > 0 ? View.Refit[0] : null
        : View.Stripping && State.SafeBy.Length > 0 ? View.Plan!.Removal[0] : null;

    public RemovalRecord? Record => Step is null ? null : State.Removals.FirstOrDefault(r => r.OperationId == Step.Id);

    /// <summary>Tray compartments of the step, by fastener group.</summary>
    public IReadOnlyDictionary<string, string> Trays => View.Trays(Step!);

    /// <summary>How many of a group come out, or go in.</summary>
    public int Count(FastenerGroup group) => Rebuilding ? Record!.Out.GetValueOrDefault(group.Id) : FastenerLedger.Expected(State, group);

    /// <summary>Position and length of the run.</summary>
    public (int At, int Of) Progress => Rebuilding
        ? (State.Removals.Count - State.Out.Count + 1, State.Removals.Count)
        : (State.Out.Count + 1, State.Out.Count + View.Plan!.Removal.Count);

    /// <summary>Typical minutes still to go.</summary>
    public double MinutesLeft => Rebuilding ? View.Refit.Sum(o => o.Minutes.In.Typical) : View.Plan!.Removal.Sum(o => o.Minutes.Out.Typical);

    public int MinutesIn => State.Removals.Count == 0 ? 0 : Math.Max(0, (int)(Now - State.Removals[0].DoneAt).TotalMinutes);

    /// <summary>Another fastener group on this machine that looks the same and lies in another tray.</summary>
    public string TwinOf(FastenerGroup group) => View.Ledger.LookAlike(group) is { } twin
        ? group.SameKind(twin.Group) ? $"{group.Where} · same kind as {twin.Tray}" : $"like {twin.Tray}, but {FastenerWords.Difference(group, twin.Group, View.Inch)}: keep apart" : group.Where;

    /// <summary>Cautions of this step.</summary>
    public IReadOnlyList<Hazard> Hazards => Cautions.Before(State, View.Machine, Step!, Rebuilding);

    /// <summary>What the green button records: the act, how many pieces, of what and where.</summary>
    public (string Verb, int Count, string Unit) DoneWords
    {
        get
        {
            var n = Step!.Removed.Sum(Count);
            var piece = Step.Removed.All(f => f.Head is "cross" or "hex" or "star" or "square" or "flat") ? "screw" : "piece";
            var unit = n == 0 ? "" : $"{piece}{(n == 1 ? "" : "s")} {(Rebuilding ? "from" : "in")} {string.Join(", ", Trays.Values)}";
            return (Rebuilding ? "In" : Step.TakesOff.Count > 0 || Step.Removed.Any() ? "Off" : "Done", n, unit);
        }
    }
}
