using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Known;

/// <summary>Readings of one thing by one protocol, and what they say together.</summary>
/// <param name="Protocol">The protocol.</param>
/// <param name="Part">The part; null where it is of the machine.</param>
/// <param name="Acts">Readings, in order.</param>
/// <param name="Result">What they say; null where more is wanted first.</param>
/// <param name="Wants">What is wanted first; empty where there is a result.</param>
/// <param name="After">Taken after the repair: of a part that was changed since it was, of the machine since the first
/// was.</param>
public sealed record GaugedSet(
    GaugeProtocol Protocol,
    Part? Part,
    IReadOnlyList<GaugeRead> Acts,
    GaugeResult? Result,
    string Wants,
    bool After
)
{
    /// <summary>Hours that a load runs.</summary>
    public const double HoursALoad = 0.75;

    // Loads a week where nobody said.
    private const double UsualLoads = 5;

    /// <summary>What it is of, in words.</summary>
    public string Name => Part is null ? Protocol.Name : $"{Part.Name}: {Protocol.Quantity}";

    // Beyond this no date is named.
    private const double LongestWeeks = 520;

    /// <summary>The day its limit is likely passed at the machine's use; null where no earlier reading tells, or it is more
    /// than ten years off.</summary>
    /// <param name="state">The job.</param>
    public DateTimeOffset? Until(JobState state) =>
        Result?.HoursLeft is { } left
        && left.Hours / ((state.Machine.UsesPerWeek ?? UsualLoads) * HoursALoad)
            is >= 0
                and <= LongestWeeks
                and var weeks
            ? Acts[^1].Happened.AddDays(weeks * 7)
            : null;

    /// <summary>All of a job, in the order of their first reading.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="layouts">All machines of the shop, for a belt that is another's; null for this one alone.</param>
    /// <param name="earlier">Earlier jobs on the same tag, for what wore since.</param>
    public static IReadOnlyList<GaugedSet> Of(
        JobState state,
        MachineKnowledge machine,
        IReadOnlyList<Layout>? layouts = null,
        IReadOnlyList<JobState>? earlier = null
    ) =>
        [
            .. state
                .Gauged.GroupBy(g => (g.Protocol, g.PartId, After: IsAfter(g, state)))
                .Select(g => Made([.. g], g.Key.After, state, machine, layouts, earlier))
                .OfType<GaugedSet>(),
        ];

    private static bool IsAfter(GaugeRead read, JobState state) =>
        (!read.PartId.IsNone ? state.Fitted.GetValueOrDefault(read.PartId)?.Happened : HeardAfter.Since(state))
            is { } since
        && read.Happened >= since;

    private static GaugedSet? Made(
        IReadOnlyList<GaugeRead> acts,
        bool after,
        JobState state,
        MachineKnowledge machine,
        IReadOnlyList<Layout>? layouts,
        IReadOnlyList<JobState>? earlier
    )
    {
        var book = machine.Handbook.Gauging;
        if (book.Find(acts[0].Protocol) is not { } protocol)
        {
            return null;
        }
        var part = protocol.Whole ? null : machine.Layout.FindPart(acts[0].PartId);
        var (result, errors) = Gauge.Of(
            protocol,
            machine.Layout,
            part,
            [.. acts.Select(a => a.Reading)],
            new(book, layouts ?? [machine.Layout], acts[^1].MainsHertz is 60 ? 60 : 50)
            {
                Instrument = acts[^1].Instrument,
                Limit = state.GaugeLimits.GetValueOrDefault(new(acts[0].Protocol, acts[0].PartId))?.Limit,
                Earlier = after || earlier is null ? null : Before(acts[0], state, machine, earlier),
            }
        );
        return new(
            protocol,
            part,
            acts,
            result,
            result is null ? string.Join(" ", errors.Select(e => e.Message)) : "",
            after
        );
    }

    // The newest earlier job on the tag that read the same of a part which stayed in.
    private static EarlierReading? Before(
        GaugeRead act,
        JobState state,
        MachineKnowledge machine,
        IReadOnlyList<JobState> earlier
    )
    {
        foreach (
            var job in earlier
                .Where(j => j.OpenedAt < state.OpenedAt && j.Machine.LayoutId == state.Machine.LayoutId)
                .OrderByDescending(j => j.OpenedAt)
        )
        {
            var was = Of(job, machine)
                .LastOrDefault(s => s.Acts[0].Protocol == act.Protocol && s.Acts[0].PartId == act.PartId);
            if (was?.Result is { } result)
            {
                if (!was.After && job.Fitted.GetValueOrDefault(act.PartId)?.Action == FittedAs.Replaced)
                {
                    // That one is gone: what was read of it says nothing of this one.
                    return null;
                }
                var weeks = (state.OpenedAt - job.OpenedAt).TotalDays / 7;
                return new(
                    result.Quantity.Value,
                    weeks * (state.Machine.UsesPerWeek ?? UsualLoads) * HoursALoad,
                    result.Quantity.U
                );
            }
            if (job.Fitted.GetValueOrDefault(act.PartId)?.Action == FittedAs.Replaced)
            {
                return null;
            }
        }
        return null;
    }

    /// <summary>What the readings of before the repair say of the checks they answer: of a check on several parts the one
    /// that speaks loudest for wear.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IReadOnlyList<GradedFinding> Evidence(JobState state, MachineKnowledge machine)
    {
        if (state.Gauged.IsEmpty)
        {
            return [];
        }
        var catalog = machine.Diagnostician.Model.Catalog;
        return
        [
            .. Of(state, machine)
                .Where(s => s is { After: false, Result.Likelihoods.Count: > 0 })
                .Select(s => (Id: s.Protocol.FindingOf(s.Part), s.Result!.Likelihoods))
                .Where(s => catalog.FindFinding(s.Id) is not null)
                .GroupBy(s => s.Id)
                .Select(g =>
                {
                    // The first outcome of a check is the sound one.
                    var sound = catalog.FindFinding(g.Key)!.Outcomes[0].Id;
                    var loudest = g.MinBy(s => s.Likelihoods.GetValueOrDefault(sound) / s.Likelihoods.Values.Max());
                    return new GradedFinding(g.Key, loudest.Likelihoods, EvidenceSource.Reading);
                }),
        ];
    }

    /// <summary>Before and after of the same, for what was read before the repair.</summary>
    /// <param name="sets">All of a job.</param>
    public static IReadOnlyList<(GaugedSet Before, GaugedSet? After)> Again(IReadOnlyList<GaugedSet> sets) =>
        [
            .. sets.Where(s => !s.After && s.Result is not null)
                .Select(s =>
                    (s, sets.LastOrDefault(a => a.After && a.Protocol.Id == s.Protocol.Id && a.Part == s.Part))
                ),
        ];
}
