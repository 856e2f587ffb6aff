using Idrum.Core.Jobs.Log;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Photos of a job.</summary>
public sealed class PhotosModel(JobServices services) : JobPage(services)
{
    public override Station Shown => State.Station;
}
