using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;

namespace Idrum.Web.Pages.Jobs;

/// <summary>The rest of a visit as it is shown.</summary>
/// <param name="Visit">The visit.</param>
/// <param name="Layout">The machine.</param>
/// <param name="Now">Now.</param>
/// <param name="Persons">Who works.</param>
public sealed record VisitOf(Visit Visit, Layout Layout, DateTimeOffset Now, int Persons)
{
    /// <summary>When he must leave, as it was typed; empty where nothing was.</summary>
    public string Leave { get; init; } = "";

    /// <summary>What that means for the visit; null where nothing was typed.</summary>
    public LeftBy? Left { get; init; }
}

/// <summary>A leaving time held against the visit.</summary>
/// <param name="Leaving">What is not done by then; null where it is no time to come.</param>
/// <param name="Error">What is wrong with it.</param>
/// <param name="Others">Other ways of doing the part in work, each with when it would all be done.</param>
public sealed record LeftBy(Leaving? Leaving, string Error, IReadOnlyList<(School School, DateTimeOffset Done)> Others);
