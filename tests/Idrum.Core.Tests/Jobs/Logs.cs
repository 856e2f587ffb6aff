using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Jobs;

/// <summary>Logs as tests speak of them.</summary>
public static class Logs
{
    public static DateTimeOffset Now { get; } = new(2026, 11, 25, 12, 0, 0, TimeSpan.Zero);

    public static JobState Fold(IEnumerable<JobEvent> log) => JobHistory.Of(log).State;

    public static IReadOnlyList<JobEvent> Effective(IEnumerable<JobEvent> log) => JobHistory.Of(log).Effective;

    public static JobEvent? LastAct(IEnumerable<JobEvent> log) => JobHistory.Of(log).LastAct;

    /// <summary>One more event on a state, without its rules: for states that are set up, not lived through.</summary>
    public static JobState Apply(JobState state, JobEvent e) => JobHistory.Apply(state, e);

    /// <summary>A step as the layout says: every screw where it comes out.</summary>
    internal static OperationDone Done(Layout layout, Operation operation) =>
        new(operation.Id, layout.CountedAt(operation).ToDictionary(c => c.Group.Id, c => c.Count));
}
