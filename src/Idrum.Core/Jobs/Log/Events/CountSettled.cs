using Idrum.Core.Basics;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Ledger;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>A count that did not come out even was explained, on the step where it was counted.</summary>
/// <param name="FastenerId">Fastener group.</param>
/// <param name="Way">out: when it was taken out; in: when it was put back.</param>
/// <param name="Why">One of the reasons the ledger offers, or <c>found</c>: one of the missing has turned up.</param>
/// <param name="Text">In words, or empty.</param>
public sealed record CountSettled(string FastenerId, string Way, string Why, string Text) : JobEvent
{
    internal override IEnumerable<string> Touches => ["count:" + FastenerId];

    internal override ActEffect Effect =>
        new()
        {
            Does =
            [
                new("settle"),
                new("add") { When = PlaceChange.Where(("why", [OddReason.Found]), ("way", [CountWay.Out])) },
            ],
            Beside = true,
            FloorTakesBack = true,
        };

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.Text(Text, "text", FieldErrors.LongText);
        var input = check.State.Ledger;
        var ledger = FastenerLedger.Of(input, check.Machine.Layout, false);
        var odd = OddCounts
            .Of(ledger, input)
            .Concat(OddCounts.StillOpen(ledger, input).Select(o => o.Count))
            .FirstOrDefault(o => o.Row.Group.Id == FastenerId && o.Way == Way);
        if (odd is null)
        {
            errors.Add("fastenerId", $"The count of '{FieldErrors.Short(FastenerId)}' comes out even.");
            return;
        }
        errors.If(
            OddCounts.Reasons(odd.Way, odd.More).All(r => r.Id != Why) && Why != OddReason.Found,
            "why",
            "Choose one of the reasons."
        );
        errors.If(Why == OddReason.Found && odd.More, "why", "Only a screw that is missing can be found.");
    }

    internal override JobState Apply(JobState state)
    {
        var removal = state.Removals.FirstOrDefault(r => r.Out.ContainsKey(FastenerId));
        if (removal is null && (Way == CountWay.In || Why == OddReason.Found))
        {
            return state;
        }
        if (removal is not null && Why == OddReason.Found)
        {
            // One more lies in its tray, or sits in its hole.
            var more =
                Way == CountWay.Out
                    ? removal with
                    {
                        Out = removal.Out.SetItem(FastenerId, removal.Out[FastenerId] + 1),
                    }
                    : removal with
                    {
                        In = removal.In!.SetItem(FastenerId, removal.In!.GetValueOrDefault(FastenerId) + 1),
                    };
            return state with { Removals = state.Removals.Replace(removal, more) };
        }
        var count = Way == CountWay.Out ? state.OutCount(FastenerId) : removal!.In!.GetValueOrDefault(FastenerId);
        return state with
        {
            Settled = state
                .Settled.RemoveAll(s => s.FastenerId == FastenerId && s.Way == Way)
                .Add(new(FastenerId, Way, count, Why, Text)),
        };
    }

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine)
    {
        var group = machine.Layout.Operations.SelectMany(o => o.Fasteners).FirstOrDefault(f => f.Id == FastenerId);
        var said = OddCounts.WordsOf(Way, Why) ?? "Found and fitted";
        return $"Count at {group?.Where ?? FastenerId}: {said.Inside()}";
    }
}
