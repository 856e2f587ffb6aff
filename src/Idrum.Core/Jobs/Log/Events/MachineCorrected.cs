using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What is known of the machine was corrected.</summary>
/// <param name="Machine">The whole card anew.</param>
public sealed record MachineCorrected(MachineCard Machine) : JobEvent
{
    /// <summary>Hash of the layout it is now, where it is another; the shop sets it as the act arrives.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault
    )]
    public string? LayoutHash { get; init; }

    /// <summary>What carries over to another layout; the shop works it out as the act arrives.</summary>
    [System.Text.Json.Serialization.JsonIgnore(
        Condition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingDefault
    )]
    public CarryOver? Carried { get; init; }

    internal override IEnumerable<string> Touches => ["machine"];

    /// <summary>What was done on the machine or chosen for it must be there on the corrected one too.</summary>
    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        Machine.Check(
            "machine",
            check.Shop,
            errors,
            check.Shop.FindPinned(LayoutHash ?? "") ?? check.Shop.LayoutOf(state)
        );
        if (Machine.LayoutId != state.Machine.LayoutId)
        {
            var other = check.Shop.FindPinned(LayoutHash ?? "") ?? check.Shop.FindLayout(Machine.LayoutId);
            errors.If(
                Carried is null
                    ? state.Removals.Count > 0
                    : other is null
                        || !Carried.Fits(state, other.For(Machine.FactsOf(other), new Dictionary<string, string>())),
                "machine.layoutId",
                "What was done so far does not fit this layout."
            );
            return;
        }
        var (before, after) = (check.Machine.Layout, check.Shop.MachineOf(state with { Machine = Machine }).Layout);
        foreach (var id in state.Removals.Select(r => r.OperationId).Where(id => after.FindOperation(id) is null))
        {
            errors.Add(
                "machine.facts",
                $"'{before.FindOperation(id)?.Name ?? id}' has been done in this job, so the machine has it."
            );
        }
        foreach (var id in state.Targets.Where(id => after.FindPart(id) is null))
        {
            errors.Add(
                "machine.facts",
                $"{before.FindPart(id)?.Name ?? id} is what the job strips for. Decide for another part first."
            );
        }
        errors.If(
            state.WaysIn.Any(w => after.Ways.All(x => x.Id != w.Key || !x.Options.Contains(w.Value))),
            "machine.facts",
            "A way in is chosen that such a machine does not have. Choose another way first."
        );
    }

    /// <summary>Parts and ways chosen on another layout mean nothing on this one: the decision is to be made
    /// again.</summary>
    internal override JobState Apply(JobState state) =>
        Machine.LayoutId == state.Machine.LayoutId ? state with { Machine = Machine }
        : Carried is not null && state.Removals.Count > 0
            ? Carried.Carry(Carried.Apply(state)) with
            {
                Machine = Machine,
                LayoutHash = LayoutHash ?? "",
            }
        : (Carried?.Carry(state) ?? state) with
        {
            Machine = Machine,
            LayoutHash = LayoutHash ?? "",
            Schools = state.Schools.Clear(),
            Absent = [],
            LeftOut = [],
            Stuck = [],
            StepsIn = [],
            Ticked = state.Ticked.Clear(),
            Found = [],
            Targets = [],
            WaysIn = state.WaysIn.Clear(),
            Fitted = state.Fitted.Clear(),
            Glue = state.Glue.Clear(),
            Differences = state.Differences.Clear(),
            SafeBy = "",
            SafetyItems = [],
            Station = state.Station > Station.Find ? Station.Find : state.Station,
        };

    /// <inheritdoc />
    public override JobEvent WithoutCustomer() => this with { Machine = Machine.WithoutCustomer() };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => "Machine corrected";
}
