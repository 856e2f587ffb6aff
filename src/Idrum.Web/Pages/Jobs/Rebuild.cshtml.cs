using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Rebuild.</summary>
public sealed class RebuildModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Rebuild;
}
