using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Storage;
using Idrum.Web.Jobs;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Complaint.</summary>
public sealed class ComplaintModel(JobDesk desk, JobStore store, TimeProvider clock, ShopKnowledge shop) : JobPage(desk, store, clock)
{
    public override Station Shown => Station.Complaint;

    /// <summary>Complaints that can be told of this machine.</summary>
    public IEnumerable<Finding> Complaints => View.Machine.Diagnostician.Model.Findings.Where(f => f.Group == "complaint");

    public IReadOnlyList<Layout> Layouts => shop.Layouts;
}
