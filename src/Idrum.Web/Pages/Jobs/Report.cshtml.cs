using Idrum.Core.Jobs;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The printable record of a job.</summary>
public sealed class ReportModel(JobDesk desk, JobStore store, TimeProvider clock) : JobPage(desk, store, clock)
{
    public override Station Shown => Station.Close;
}
