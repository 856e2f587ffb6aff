using Idrum.Core.Jobs.Parts;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Log;

/// <summary>What the list of jobs shows of a job; stored beside the log in the same transaction.</summary>
/// <param name="Number">The shop's number.</param>
/// <param name="Place">Customer and place.</param>
/// <param name="LayoutId">The layout.</param>
/// <param name="Station">The station in work.</param>
/// <param name="Closed">True where it is closed.</param>
/// <param name="OpenedAt">When it was opened.</param>
/// <param name="LastAt">When something last happened.</param>
/// <param name="StepsOut">Operations out and not back.</param>
/// <param name="NextTimerAt">When the next running timer rings.</param>
/// <param name="PartDueAt">When the next part on order is due.</param>
/// <param name="CallBackOf">Number of the job it is a call-back of.</param>
/// <param name="FaultId">The cause decided on.</param>
/// <param name="Words">The complaint.</param>
/// <param name="Tag">Model tag of the machine.</param>
/// <param name="Complaints">Complaints ticked.</param>
/// <param name="ReturnBy">Last day on which the first of what is left over is taken back.</param>
public sealed record JobSummary(
    string Number,
    string Place,
    string LayoutId,
    Station Station,
    bool Closed,
    DateTimeOffset OpenedAt,
    DateTimeOffset LastAt,
    int StepsOut,
    DateTimeOffset? NextTimerAt,
    DateTimeOffset? PartDueAt,
    string CallBackOf,
    FaultId FaultId,
    string Words,
    string Tag,
    string Complaints,
    DateTimeOffset? ReturnBy
)
{
    /// <summary>The summary of a state.</summary>
    /// <param name="s">The state.</param>
    /// <param name="layout">Its layout; null where the shop has none.</param>
    public static JobSummary Of(JobState s, Layout? layout) =>
        new(
            s.Number,
            s.Machine.Place,
            s.Machine.LayoutId,
            s.Station,
            s.Closed is not null,
            s.OpenedAt,
            s.LastAt,
            s.Out.Count,
            Earliest(s.Timers.Where(t => !t.Stopped).Select(t => t.EndsAt)),
            Earliest(s.Orders.Values),
            s.Machine.CallBackOf,
            s.FaultId,
            s.Words,
            s.Machine.Tag,
            string.Join(' ', s.Complaints),
            layout is null || s.Lines.IsEmpty ? null : Supplies.LeftOver(s, layout).Select(r => r.Line.ReturnBy).Min()
        );

    private static DateTimeOffset? Earliest(IEnumerable<DateTimeOffset> times) =>
        times.Select(t => (DateTimeOffset?)t).Min();
}
