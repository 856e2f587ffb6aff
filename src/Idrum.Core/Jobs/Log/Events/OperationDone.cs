using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Log;

/// <summary>A removal operation was done.</summary>
/// <param name="OperationId">Which.</param>
/// <param name="Counts">Fastener group id → how many came out now; groups only loosened are not named.</param>
public sealed record OperationDone(OperationId OperationId, IReadOnlyDictionary<string, int> Counts) : JobEvent
{
    /// <summary>Why what prudence wants first was not done; empty where it was.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault
    )]
    public string? SkippedBecause { get; init; }

    /// <summary>Fastener group id → tray it was laid in, as the page said when it was done; null where nothing is said
    /// of it.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    )]
    public IReadOnlyDictionary<string, string>? Trays
    {
        get;
        init => field = value is { Count: > 0 } ? value : null;
    }

    internal override IEnumerable<string> Touches => ["step:" + OperationId];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("take") { From = "out", By = PlaceChange.Fields(("operation", "operationId")) },
                new("trays"),
                new("count") { Way = CountWay.Out },
            ],
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        if (check.Operation(OperationId) is not { } operation)
        {
            return;
        }
        var (state, errors) = (check.State, check.Errors);
        errors.If(
            state.SafeBy.Length == 0,
            "operationId",
            "Make the machine safe and sign for it before the first step."
        );
        errors.Text(SkippedBecause, "skippedBecause", FieldErrors.LongText);
        foreach (var (group, tray) in Trays ?? new Dictionary<string, string>())
        {
            errors.If(
                TrayPlan.IndexOf(tray) < 0,
                "trays",
                $"'{FieldErrors.Short(tray)}' is no tray: one or two letters, without I and O."
            );
            errors.If(!Counts.ContainsKey(group), "trays", $"'{FieldErrors.Short(group)}' was not counted.");
        }
        if (state.WhollyOut.Contains(OperationId))
        {
            errors.Add("operationId", $"'{operation.Name}' is already done.");
            return;
        }
        errors.If(
            state.Absent.Contains(OperationId),
            "operationId",
            $"'{operation.Name}' is not on this machine, as was noted. Take that back if it is."
        );
        var graph = JobPlan.Planner(state, check.Machine).Graph;
        var done = graph.SetOf(state.WhollyOut);
        var inTheWay = graph.InTheWay[graph.IndexOf(OperationId)];
        foreach (var group in inTheWay)
        {
            foreach (var missing in graph.Missing([group], done))
            {
                var first = $"First: {Names(missing, graph)}.";
                // What is not on the machine once opened the way by itself: a log from then is still read.
                check.Guard(_ => group.Meets(graph.Virtual), "operationId", first);
                errors.If(!group.Meets(graph.Virtual), "operationId", first);
            }
        }
        foreach (
            var group in graph
                .Needs[graph.IndexOf(OperationId)]
                .Where(g => !g.Meets(graph.WithPassed(done)) && !inTheWay.Contains(g))
        )
        {
            check.Guard(
                _ => string.IsNullOrWhiteSpace(SkippedBecause),
                "skippedBecause",
                $"First: {Names(group, graph)}. Nothing blocks it; say why if you leave it."
            );
        }
        var counted = check.Machine.Layout.CountedAt(operation).Select(c => c.Group).ToList();
        // In a log from before it was counted where it comes out, the screw left in was counted with the others.
        CheckCounts(
            Counts,
            counted,
            counted.Where(g => g.LeftInTill == OperationId && state.OutCount(g.Id) >= g.Count).Select(g => g.Id),
            "come out",
            errors
        );
    }

    private static string Names(Bits group, PrecedenceGraph graph) =>
        string.Join(" or ", group.ToList().Select(i => graph.Node(i).Name));

    internal override JobState Apply(JobState state)
    {
        var counts = Counts.ToImmutableSortedDictionary();
        // The screw that stayed in joins its fellows' tray.
        var trays = TrayPlan.Assign(
            counts.Where(c => c.Value > 0).Select(c => c.Key),
            state.TraysUsed,
            state.Ledger,
            Trays
        );
        return state with
        {
            Station = Station.Strip,
            Out = state.Out.Remove(OperationId).Add(OperationId),
            StepsIn = state.StepsIn.Except(state.StepsIn.Where(s => s.Operation == OperationId)),
            Absent = state.Absent.Remove(OperationId),
            LeftOut = state.LeftOut.Remove(OperationId),
            Stuck = state.Stuck.Remove(OperationId),
            Removals = state
                .Removals.RemoveAll(r => r.OperationId == OperationId)
                .Add(new(OperationId, trays, counts, null, [], Happened)),
            TraysUsed = TrayPlan.UsedWith(state.TraysUsed, trays.Values),
            Settled = state.Settled.RemoveAll(s => counts.ContainsKey(s.FastenerId)),
            Proofs = state.Proofs.Clear(),
            After = state.After.Clear(),
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Out: {machine.Layout.FindOperation(OperationId)?.Name ?? OperationId}{(Counts.Values.Sum() is > 0 and var n ? $", {n} fasteners" : "")}";

    /// <summary>Every group is counted, and no other.</summary>
    /// <param name="counts">Group id → count.</param>
    /// <param name="groups">Those of the step.</param>
    /// <param name="optional">Ids of those that need not be named.</param>
    /// <param name="verb">come out, or go in.</param>
    /// <param name="errors">Where errors go.</param>
    internal static void CheckCounts(
        IReadOnlyDictionary<string, int> counts,
        IReadOnlyList<FastenerGroup> groups,
        IEnumerable<string> optional,
        string verb,
        FieldErrors errors
    )
    {
        foreach (var (id, n) in counts)
        {
            errors.If(
                groups.All(f => f.Id != id),
                "counts",
                $"No fasteners '{FieldErrors.Short(id)}' {verb} at this step."
            );
            errors.If(n is < 0 or > 99, "counts", "A count lies between 0 and 99.");
        }
        foreach (var group in groups.Where(f => !counts.ContainsKey(f.Id) && !optional.Contains(f.Id)))
        {
            errors.Add("counts", $"Not counted: {FastenerWords.Kind(group)}, {group.Where}.");
        }
    }
}
