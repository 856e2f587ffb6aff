using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The acts before came in as a file: their names and times are the file's, and nobody here saw them made. Said
/// by the shop alone.</summary>
/// <param name="Acts">How many acts came with it.</param>
/// <param name="Chained">Whether the file held the hashes of its acts, and they were right.</param>
public sealed record JobImported(int Acts, bool Chained) : JobEvent
{
    internal override bool AfterClosing => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    internal override void Check(JobCheck check)
    {
        check.Guard(_ => true, "kind", "That a job came in as a file is said by the shop.");
        check.Errors.If(Acts < 1, "acts", "A file holds one act at least.");
    }

    internal override JobState Apply(JobState state) => state with { Imported = [.. state.Imported, this] };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        $"Brought in from a file: the names and times of {Acts} acts are the file's{(Chained ? "" : ", and nothing proves that it was not changed")}";
}
