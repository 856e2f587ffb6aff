using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Week;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Complaint.</summary>
public sealed class ComplaintModel(JobServices services, WeekStore week, ShopSnapshot shop) : JobPage(services)
{
    public override Station Shown => Station.Complaint;

    /// <summary>Complaints that can be told of this machine.</summary>
    public IEnumerable<Finding> Complaints =>
        View.Machine.Diagnostician.Model.Findings.Where(f => f.Group == FindingGroup.Complaint);

    /// <summary>What was said on the telephone, while nothing was stated yet; null where nobody called.</summary>
    public Booking? Said =>
        State.Complaints.Count == 0 && State.Words.Length == 0
            ? week.OfJob(State.Number).FirstOrDefault(b => b.Complaints.Count > 0 || b.Words.Length > 0)
            : null;

    public IReadOnlyList<Layout> Layouts => shop.ByUse;

    /// <summary>Other jobs on the same tag, the job it comes back from and those that came back from it.</summary>
    public IReadOnlyList<JobSummary> Related => Services.Store.Related(State);

    /// <summary>How another job has to do with this one.</summary>
    public string Relation(JobSummary other) =>
        other.Number == State.Machine.CallBackOf ? "this is the call-back of it"
        : other.CallBackOf == State.Number ? "came back from this one"
        : "same tag";
}
