using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The file of a recording was dropped for good, by who keeps the shop: what was heard in it stays with the act that
/// brought it. Said by the shop alone, since it alone holds the file.</summary>
/// <param name="SoundId">Name of the file.</param>
public sealed record SoundDropped(string SoundId) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    /// <summary>Acts that carry a file which is still held.</summary>
    public static IEnumerable<ICarriesAttachment> Held(IEnumerable<JobEvent> log)
    {
        var acts = log.ToList();
        var dropped = acts.OfType<SoundDropped>().Select(d => d.SoundId).ToHashSet();
        return acts.OfType<ICarriesAttachment>().Where(a => !dropped.Contains(a.CarriedName));
    }

    internal override void Check(JobCheck check)
    {
        check.Guard(_ => true, "kind", "A sound is dropped by who keeps the shop, on the job's page Listen.");
        check.Errors.If(!Attachment.IsName(SoundId), "soundId", "The name of a recording has 64 hexadecimal digits.");
    }

    internal override JobState Apply(JobState state) => state with { Attachments = state.Attachments.Remove(SoundId) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        "A recording’s sound was dropped; what was heard in it stays";
}
