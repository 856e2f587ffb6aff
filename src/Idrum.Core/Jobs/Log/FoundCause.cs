using System.Collections.Immutable;

namespace Idrum.Core.Jobs.Log;

/// <summary>One cause found, or one part picked, with what was decided about it.</summary>
/// <param name="FaultId">The cause; empty where parts were picked without one.</param>
/// <param name="Parts">Parts to get at for it.</param>
/// <param name="Decision">change, leave or hand-over.</param>
/// <param name="Reason">Why, or empty.</param>
public sealed record FoundCause(FaultId FaultId, ImmutableList<PartId> Parts, string Decision, string Reason);
