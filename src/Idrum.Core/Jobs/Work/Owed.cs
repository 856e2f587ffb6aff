using Idrum.Core.Jobs.Log;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Work;

/// <summary>Something that is owed to the machine before it is whole again.</summary>
/// <param name="Id">Of the cleaning, or of the act that noted what broke.</param>
/// <param name="Station">Where it is done.</param>
/// <param name="Do">What is to be done.</param>
/// <param name="Why">Why.</param>
/// <param name="OperationId">The step it belongs to; empty where it is the whole machine's.</param>
public sealed record Owed(string Id, Station Station, string Do, string Why, OperationId OperationId)
{
    /// <summary>All that is owed since the machine was opened: cleaning, and what broke or was cut, whether settled or
    /// not.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IEnumerable<Owed> All(JobState state, MachineKnowledge machine)
    {
        var layout = machine.Layout;
        if (state.Removals.Count > 0)
        {
            bool Has(IReadOnlyList<string> kinds) => layout.PartsOfKind(kinds).Any();
            bool Renewed(IReadOnlyList<string> kinds) =>
                layout.PartsOfKind(kinds).Any(p => state.Fitted.GetValueOrDefault(p.Id)?.Action == FittedAs.Replaced);
            foreach (
                var c in machine.Handbook.Cleaning.Where(c =>
                    layout.Holds(c.When)
                    && (c.Kinds is not { Count: > 0 } kinds || Has(kinds))
                    && (c.Renewed is not { Count: > 0 } renewed || Renewed(renewed))
                )
            )
            {
                yield return new(c.Id, Station.Fit, c.Do, c.Why, "");
            }
        }
        foreach (var p in state.Problems.Where(p => p.MustBeMended))
        {
            var where = layout.FindOperation(p.OperationId)?.Name ?? p.OperationId;
            yield return p.What == Problem.TieCut
                ? new(
                    p.Id.ToString(),
                    Station.Rebuild,
                    $"Cable tie renewed at: {where}",
                    "A wire that hangs is caught by the drum or the belt.",
                    p.OperationId
                )
                : new(
                    p.Id.ToString(),
                    Station.Rebuild,
                    $"Mended or renewed at: {where} ({p.Text})",
                    "What broke there holds nothing.",
                    p.OperationId
                );
        }
    }

    /// <summary>What of it is not settled. A job that closed with nothing open keeps its word, also where more is asked
    /// today.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IEnumerable<Owed> Open(JobState state, MachineKnowledge machine) =>
        state.Closed is { Reason.Length: 0 } ? [] : All(state, machine).Where(o => !state.Owed.ContainsKey(o.Id));
}
