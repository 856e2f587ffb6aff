using Idrum.Core.Basics;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The repairer goes by another school in this job.</summary>
/// <param name="SchoolId">The matter.</param>
/// <param name="Option">What is done.</param>
public sealed record SchoolChosen(string SchoolId, string Option) : JobEvent
{
    internal override IEnumerable<string> Touches => ["school:" + SchoolId];

    internal override ActEffect Effect =>
        new()
        {
            NeedsShop = true,
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var school = check.Machine.Layout.Schools.FirstOrDefault(s => s.Id == SchoolId);
        check.Errors.If(
            school is null,
            "schoolId",
            $"There is no school '{FieldErrors.Short(SchoolId)}' on this machine."
        );
        check.Errors.If(
            school is not null && school.Options.All(o => o.Id != Option),
            "option",
            $"There is no way '{FieldErrors.Short(Option)}' here."
        );
        if (check.Errors.All.Count > 0)
        {
            return;
        }
        // What was done must be there by the other school too, and a half-done way back must go on.
        var after = check.Shop.MachineOf(Apply(check.State)).Layout;
        foreach (var id in check.State.Out.Where(id => after.FindOperation(id) is null))
        {
            check.Errors.Add(
                "option",
                $"'{check.Machine.Layout.FindOperation(id)?.Name ?? id}' is done already, the other way has no such step."
            );
        }
        foreach (var key in check.State.StepsIn.Where(k => k.In(after) is null))
        {
            check.Errors.Add("option", $"The step '{key}' is done already, the other way has no such step.");
        }
    }

    internal override JobState Apply(JobState state) =>
        state with
        {
            Schools = state.Schools.SetItem(SchoolId, Option),
        };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Way of working: {machine.Layout.Schools.FirstOrDefault(s => s.Id == SchoolId)?.Options.FirstOrDefault(o => o.Id == Option)?.Text ?? Option}";
}
