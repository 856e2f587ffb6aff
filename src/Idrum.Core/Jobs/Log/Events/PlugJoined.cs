using Idrum.Core.Basics;
using Idrum.Core.Ledger;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A plug that was left parted when its step went back is joined now.</summary>
/// <param name="OperationId">The step it belongs to.</param>
/// <param name="PlugId">Which.</param>
public sealed record PlugJoined(OperationId OperationId, string PlugId) : JobEvent
{
    internal override IEnumerable<string> Touches => ["plug:" + PlugId];

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check) =>
        check.Errors.If(
            !Parted(check.State, check.Machine).Any(p => p.Plug.Id == PlugId && p.OperationId == OperationId),
            "plugId",
            $"'{FieldErrors.Short(PlugId)}' is not parted, or its step is still out: it is joined there."
        );

    internal override JobState Apply(JobState state) =>
        state with
        {
            Removals =
            [
                .. state.Removals.Select(r =>
                    r.OperationId == OperationId ? r with { Joined = r.Joined.Add(PlugId) } : r
                ),
            ],
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Joined now: {machine.Layout.Operations.SelectMany(o => o.Plugs).FirstOrDefault(p => p.Id == PlugId)?.Name ?? PlugId}";

    /// <summary>Plugs that are parted although their step is back.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    public static IEnumerable<PlugRow> Parted(JobState state, MachineKnowledge machine) =>
        FastenerLedger
            .Of(state.Ledger, machine.Layout, false)
            .Plugs.Where(p => !p.Joined && !state.Out.Contains(p.OperationId));
}
