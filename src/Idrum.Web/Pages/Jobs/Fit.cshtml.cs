using Idrum.Core.Fitting;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Fit.</summary>
public sealed class FitModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    public override Station Shown => Station.Fit;

    /// <summary>The part in work: the one asked for, else the first target nothing was done to.</summary>
    public Part? Part => View.Layout.FindPart(Request.Query["part"].ToString())
        ?? State.Targets.Where(t => !State.Fitted.ContainsKey(t)).Select(View.Layout.FindPart).FirstOrDefault();

    /// <summary>Wear parts that lie free now although they are no target.</summary>
    public IReadOnlyList<Part> AlsoFree => [.. WhileOpen.FreeNow(State, View.Layout)];

    public Procedure? Procedure => Part is { } part ? View.Machine.Handbook.For(part.Kind) : null;

    public bool Holds(Condition? when) => when is null || View.Layout.Has(when.Fact) == when.Is;
}
