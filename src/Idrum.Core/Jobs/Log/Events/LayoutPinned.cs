using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The job goes on with another writing of its layout: what was known of the machine when the job began, or a
/// newer one.</summary>
/// <param name="Hash">Hash of the layout.</param>
public sealed record LayoutPinned(string Hash) : JobEvent
{
    internal override IEnumerable<string> Touches => ["machine"];

    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        var (state, errors) = (check.State, check.Errors);
        if (check.Shop.FindPinned(Hash) is not { } layout)
        {
            errors.Add("hash", "The shop does not keep this writing of the layout.");
            return;
        }
        errors.If(
            state.Closed is not null && state.LayoutHash.Length > 0,
            "hash",
            "A closed job keeps the layout it was worked with."
        );
        // A layout pinned for the first time is the one the job was worked with all along.
        if (state.LayoutHash.Length > 0)
        {
            foreach (var lost in LayoutChange.Lost(state, layout.For(state.FactsOf(layout), state.Schools)))
            {
                errors.Add("hash", lost);
            }
        }
    }

    internal override JobState Apply(JobState state) => state with { LayoutHash = Hash };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Layout as of {(Hash.Length >= 8 ? Hash[..8] : Hash)}";
}
