using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Reality differed from the plan.</summary>
/// <param name="OperationId">At which step.</param>
/// <param name="What">extra-screw, missing-screw, found-screw, already-done (by someone before), absent (not on this
/// machine), left-out (wanted first, nothing blocks), stuck, broken, tie-cut (a cable tie), other-wires (colours or
/// places other than the layout's), other-screw (of another kind than the layout's) or other.</param>
/// <param name="FastenerId">Fastener group for screws, else empty.</param>
/// <param name="Count">How many screws.</param>
/// <param name="Text">In words.</param>
public sealed record ProblemNoted(OperationId OperationId, string What, string FastenerId, int Count, string Text)
    : JobEvent
{
    /// <summary>Done already by someone: the groups that came out with it, of which nothing was counted; null where
    /// nothing is said of them.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull
    )]
    public IReadOnlyList<string>? Groups { get; init; }

    internal override IEnumerable<string> Touches => FastenerId.Length > 0 ? ["count:" + FastenerId] : [];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("shift") { Sign = 1, When = PlaceChange.Where(("what", ["extra-screw"])) },
                new("shift") { Sign = -1, When = PlaceChange.Where(("what", ["missing-screw"])) },
                new("choose")
                {
                    By = PlaceChange.Fields(("operation", "operationId"), ("choice", "what")),
                    When = PlaceChange.Where(("what", ["absent", "already-done", "left-out", "stuck"])),
                },
            ],
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        var operation = check.Operation(OperationId);
        errors.Text(
            Text,
            "text",
            FieldErrors.LongText,
            What is "broken" or "other" or "left-out" or "other-wires" or "other-screw"
        );
        if (What is "extra-screw" or "missing-screw" or "found-screw")
        {
            var group = operation?.Fasteners.FirstOrDefault(f => f.Id == FastenerId);
            errors.If(
                group is null,
                "fastenerId",
                $"There are no fasteners '{FieldErrors.Short(FastenerId)}' at this step."
            );
            errors.Range(Count, "count", 1, 20);
            errors.If(
                group is not null && What == "missing-screw" && state.Ledger.Expected(group) < Count,
                "count",
                "More missing than there are."
            );
            errors.If(
                What == "found-screw" && state.Removals.All(r => r.OperationId != OperationId || r.In is null),
                "operationId",
                "This step has not been put back, so nothing of it is missing."
            );
        }
        else
        {
            errors.If(
                What
                    is not (
                        "already-done"
                        or "absent"
                        or "left-out"
                        or "stuck"
                        or "broken"
                        or "tie-cut"
                        or "other-wires"
                        or "other-screw"
                        or "other"
                    ),
                "what",
                "What differs is an extra, missing or found screw, a screw of another kind, something done already, not here, left out, stuck, broken, a tie cut, other wires, or other."
            );
            errors.If(
                What == "left-out"
                    && operation is not null
                    && !JobPlan.MayLeaveOut(state, check.Machine.Layout, JobPlan.Of(state, check.Machine), operation),
                "what",
                "It is in the way of a step to come."
            );
            errors.If(
                What is "already-done" or "absent" or "left-out" && state.Out.Contains(OperationId),
                "what",
                "This step is out already."
            );
            foreach (var id in (Groups ?? []).Where(id => operation?.Removed.All(f => f.Id != id) == true))
            {
                errors.Add("groups", $"No fasteners '{FieldErrors.Short(id)}' come out at this step.");
            }
            errors.If(
                What is "already-done" or "absent" && state.SafeBy.Length == 0,
                "operationId",
                "Make the machine safe and sign for it first."
            );
        }
    }

    internal override JobState Apply(JobState state)
    {
        state = state with { Problems = state.Problems.Add(this) };
        return What switch
        {
            "extra-screw" => Shift(Count),
            "missing-screw" => Shift(-Count),
            "found-screw" => state with
            {
                Removals =
                [
                    .. state.Removals.Select(r =>
                        r.In is { } back && r.Out.ContainsKey(FastenerId)
                            ? r with
                            {
                                In = back.SetItem(FastenerId, back.GetValueOrDefault(FastenerId) + Count),
                            }
                            : r
                    ),
                ],
            },
            "absent" => state with { Absent = state.Absent.Add(OperationId) },
            "left-out" => state with { LeftOut = state.LeftOut.Add(OperationId) },
            "stuck" => state with { Stuck = state.Stuck.Add(OperationId) },
            // What came out with it nobody counted: the ledger asks for it at once.
            "already-done" => state with
            {
                Out = state.Out.Add(OperationId),
                Removals = state
                    .Removals.RemoveAll(r => r.OperationId == OperationId)
                    .Add(
                        new(
                            OperationId,
                            ImmutableSortedDictionary<string, string>.Empty,
                            (Groups ?? []).Distinct().ToImmutableSortedDictionary(g => g, _ => 0),
                            null,
                            [],
                            Happened
                        )
                    ),
                Stuck = state.Stuck.Remove(OperationId),
            },
            _ => state,
        };

        JobState Shift(int by) =>
            state with
            {
                Differences = state.Differences.SetItem(
                    FastenerId,
                    state.Differences.GetValueOrDefault(FastenerId) + by
                ),
            };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"{WhatWords} at {machine.Layout.FindOperation(OperationId)?.Name ?? OperationId}";

    /// <summary>Whether it must be mended or renewed before the machine is whole again.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool MustBeMended => What is "broken" or "tie-cut";

    /// <summary>Whether this machine is so, and will be so the next time.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool OfThisMachine => What is "other-wires" or "other-screw" or "other";

    /// <summary>What differed, in words.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public string WhatWords =>
        What switch
        {
            "extra-screw" => "Extra screw",
            "missing-screw" => "Screw missing",
            "found-screw" => "Screw found",
            "stuck" => "Stuck",
            "already-done" => "Already done by someone",
            "absent" => "Not on this machine",
            "broken" => "Broken",
            "tie-cut" => "Cable tie cut",
            "other-wires" => "Other wires",
            "other-screw" => "Screw of another kind",
            "left-out" => "Left out",
            _ => "Different",
        };
}
