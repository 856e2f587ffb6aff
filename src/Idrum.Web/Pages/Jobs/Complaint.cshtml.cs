using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Complaint.</summary>
public sealed class ComplaintModel(JobServices services, ShopSnapshot shop) : JobPage(services)
{
    public override Station Shown => Station.Complaint;

    /// <summary>Complaints that can be told of this machine.</summary>
    public IEnumerable<Finding> Complaints =>
        View.Machine.Diagnostician.Model.Findings.Where(f => f.Group == "complaint");

    public IReadOnlyList<Layout> Layouts => shop.Layouts;

    /// <summary>Other jobs on the same tag, the job it comes back from and those that came back from it.</summary>
    public IReadOnlyList<JobSummary> Related => Services.Store.Related(State);

    /// <summary>How another job has to do with this one.</summary>
    public string Relation(JobSummary other) =>
        other.Number == State.Machine.CallBackOf ? "this is the call-back of it"
        : other.CallBackOf == State.Number ? "came back from this one"
        : "same tag";
}
