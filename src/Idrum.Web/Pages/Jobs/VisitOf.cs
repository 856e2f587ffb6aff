using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The rest of a visit as it is shown.</summary>
/// <param name="Visit">The visit.</param>
/// <param name="Layout">The machine.</param>
/// <param name="Now">Now.</param>
/// <param name="Persons">Who works.</param>
public sealed record VisitOf(Visit Visit, Layout Layout, DateTimeOffset Now, int Persons);
