using Idrum.Core.Basics;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>What lay in a tray for the machine it was thought to be has found its place.</summary>
/// <param name="Stray">What it was, as it stands among the open items.</param>
/// <param name="Text">Where it went.</param>
public sealed record StraySettled(string Stray, string Text) : JobEvent
{
    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Errors.If(!check.State.Strays.Contains(Stray), "stray", "Nothing of the kind is open.");
        check.Errors.Text(Text, "text", FieldErrors.ShortText, true);
    }

    internal override JobState Apply(JobState state) => state with { Strays = state.Strays.Remove(Stray) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) => $"Found its place: {Stray}: {Text}";
}
