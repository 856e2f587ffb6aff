using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Station Close.</summary>
public sealed class CloseModel(JobServices services) : JobPage(services)
{
    public override Station Shown => Station.Close;
}
