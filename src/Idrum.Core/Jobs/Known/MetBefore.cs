using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Known;

/// <summary>What an earlier job met on the same machine at a step: it is said before the step is done again.</summary>
/// <param name="OperationId">The step.</param>
/// <param name="Words">What was met.</param>
/// <param name="Number">The job that met it.</param>
public sealed record MetBefore(OperationId OperationId, string Words, string Number)
{
    /// <summary>What earlier jobs met that stays with the machine: other wires, screws of another kind, more or fewer of
    /// them, what is not there, what was left broken. The newest first.</summary>
    /// <param name="state">The job.</param>
    /// <param name="earlier">Other jobs on the same machine.</param>
    public static IReadOnlyList<MetBefore> Of(JobState state, IEnumerable<JobState> earlier) =>
        [
            .. earlier
                .Where(j => j.OpenedAt < state.OpenedAt && j.Machine.LayoutId == state.Machine.LayoutId)
                .OrderByDescending(j => j.OpenedAt)
                .SelectMany(j =>
                    j.Problems.Where(p =>
                            p.OfThisMachine
                            || p.What is Problem.ExtraScrew or Problem.MissingScrew or Problem.Absent or Problem.Stuck
                            || p.MustBeMended && j.Owed.GetValueOrDefault(p.Id.ToString())?.Outcome != OwedOutcome.Done
                        )
                        .Select(p => new MetBefore(
                            p.OperationId,
                            p.WhatWords + (p.Text.Length > 0 ? ": " + p.Text : ""),
                            j.Number
                        ))
                )
                .DistinctBy(m => (m.OperationId, m.Words)),
        ];
}
