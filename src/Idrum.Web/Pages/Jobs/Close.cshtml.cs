using Idrum.Core.Jobs;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Close.</summary>
public sealed class CloseModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    public override Station Shown => Station.Close;
}
