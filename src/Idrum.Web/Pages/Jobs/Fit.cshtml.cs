using Idrum.Core.Diagnosis;
using Idrum.Core.Fitting;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Fit.</summary>
public sealed class FitModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Fit;

    /// <summary>The part in work: the one asked for, else the first target nothing was done to.</summary>
    public Part? Part => View.Layout.FindPart(Request.Query["part"].ToString())
        ?? State.Targets.Where(t => !State.Fitted.ContainsKey(t)).Select(View.Layout.FindPart).FirstOrDefault();

    /// <summary>The step that took off what the part in work sits on: the picture shows it where it was taken to, not gone.</summary>
    public IReadOnlyList<Operation> Carrier => Part is { On.Length: > 0 } part ? [.. View.Layout.Operations.Where(o => o.TakesOff.Contains(part.On) && State.Out.Contains(o.Id)).Take(1)] : [];

    public Procedure? Procedure => Part is { } part ? View.Machine.Handbook.For(part.Kind) : null;

    /// <summary>How far the part in work is glued; null where it is not begun.</summary>
    public GlueState? Glue => Part is { } part ? State.Glue.GetValueOrDefault(part.Id) : null;

    /// <summary>Whether the next thing is to coat or to join, not to call it done.</summary>
    public bool Waiting => Procedure is { Glues: true } && Glue?.JoinedAt is null && View.Machine.Diagnostician.Model.Catalog.FindFault(State.FaultId)?.Action != "clean";

    /// <summary>The cause whose why is still to be asked before this part goes in, or null.</summary>
    public Fault? Asks => Part is { } part ? WhyToAsk.Of(State, part.Kind, View.Machine.Diagnostician.Model.Catalog) : null;

    /// <summary>What may stand behind a cause on this machine.</summary>
    public IEnumerable<Fault> Behind(Fault fault) => View.Machine.Diagnostician.Model.Faults.Where(f => f.Id != fault.Id && (fault.With.Any(w => w.Fault == f.Id && w.Factor > 1) || f.With.Any(w => w.Fault == fault.Id && w.Factor > 1)));

    /// <summary>Causes found behind others that are not decided yet.</summary>
    public IEnumerable<Fault> BehindFound => State.Why.Values.Where(w => w != "none" && State.Found.All(f => f.FaultId != w)).Distinct().Select(w => View.Machine.Diagnostician.Model.Catalog.FindFault(w)).OfType<Fault>();

    public bool Holds(Condition? when) => View.Layout.Holds(when);
}
