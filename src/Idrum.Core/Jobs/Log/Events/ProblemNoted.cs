using System.Collections.Immutable;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>Reality differed from the plan.</summary>
/// <param name="OperationId">At which step.</param>
/// <param name="What">One of <see cref="Problem"/>.</param>
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
                new("shift") { Sign = 1, When = PlaceChange.Where(("what", [Problem.ExtraScrew])) },
                new("shift") { Sign = -1, When = PlaceChange.Where(("what", [Problem.MissingScrew])) },
                new("choose")
                {
                    By = PlaceChange.Fields(("operation", "operationId"), ("choice", "what")),
                    When = PlaceChange.Where(
                        ("what", [Problem.Absent, Problem.AlreadyDone, Problem.LeftOut, Problem.Stuck])
                    ),
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
            What is Problem.Broken or Problem.Other or Problem.LeftOut or Problem.OtherWires or Problem.OtherScrew
        );
        if (What is Problem.ExtraScrew or Problem.MissingScrew or Problem.FoundScrew)
        {
            var group = operation?.Fasteners.FirstOrDefault(f => f.Id == FastenerId);
            errors.If(
                group is null,
                "fastenerId",
                $"There are no fasteners '{FieldErrors.Short(FastenerId)}' at this step."
            );
            errors.Range(Count, "count", 1, 20);
            errors.If(
                group is not null && What == Problem.MissingScrew && state.Ledger.Expected(group) < Count,
                "count",
                "More missing than there are."
            );
            errors.If(
                What == Problem.FoundScrew && state.Removals.All(r => r.OperationId != OperationId || r.In is null),
                "operationId",
                "This step has not been put back, so nothing of it is missing."
            );
        }
        else
        {
            errors.If(
                What
                    is not (
                        Problem.AlreadyDone
                        or Problem.Absent
                        or Problem.LeftOut
                        or Problem.Stuck
                        or Problem.Broken
                        or Problem.TieCut
                        or Problem.OtherWires
                        or Problem.OtherScrew
                        or Problem.Other
                    ),
                "what",
                "What differs is an extra, missing or found screw, a screw of another kind, something done already, not here, left out, stuck, broken, a tie cut, other wires, or other."
            );
            errors.If(
                What == Problem.LeftOut
                    && operation is not null
                    && !JobPlan.MayLeaveOut(state, check.Machine.Layout, JobPlan.Of(state, check.Machine), operation),
                "what",
                "It is in the way of a step to come."
            );
            errors.If(
                What is Problem.AlreadyDone or Problem.Absent or Problem.LeftOut && state.Out.Contains(OperationId),
                "what",
                "This step is out already."
            );
            foreach (var id in (Groups ?? []).Where(id => operation?.Removed.All(f => f.Id != id) == true))
            {
                errors.Add("groups", $"No fasteners '{FieldErrors.Short(id)}' come out at this step.");
            }
            errors.If(
                What is Problem.AlreadyDone or Problem.Absent && state.SafeBy.Length == 0,
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
            Problem.ExtraScrew => Shift(Count),
            Problem.MissingScrew => Shift(-Count),
            Problem.FoundScrew => state with
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
            Problem.Absent => state with { Absent = state.Absent.Add(OperationId) },
            Problem.LeftOut => state with { LeftOut = state.LeftOut.Add(OperationId) },
            Problem.Stuck => state with { Stuck = state.Stuck.Add(OperationId) },
            // What came out with it nobody counted: the ledger asks for it at once.
            Problem.AlreadyDone => state with
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
    public bool MustBeMended => What is Problem.Broken or Problem.TieCut;

    /// <summary>Whether this machine is so, and will be so the next time.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool OfThisMachine => What is Problem.OtherWires or Problem.OtherScrew or Problem.Other;

    /// <summary>What differed, in words.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public string WhatWords =>
        What switch
        {
            Problem.ExtraScrew => "Extra screw",
            Problem.MissingScrew => "Screw missing",
            Problem.FoundScrew => "Screw found",
            Problem.Stuck => "Stuck",
            Problem.AlreadyDone => "Already done by someone",
            Problem.Absent => "Not on this machine",
            Problem.Broken => "Broken",
            Problem.TieCut => "Cable tie cut",
            Problem.OtherWires => "Other wires",
            Problem.OtherScrew => "Screw of another kind",
            Problem.LeftOut => "Left out",
            _ => "Different",
        };
}
