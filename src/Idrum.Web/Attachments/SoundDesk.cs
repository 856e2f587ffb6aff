using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Storage;
using Idrum.Web.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Attachments;

/// <summary>Listens to recordings as they come in, behind the gate where plans are worked out.</summary>
public sealed class SoundDesk(JobDesk desk, MoneyDesk money, WorkGate gate)
{
    /// <summary>The act with what is heard in its file; another act as it is.</summary>
    public async Task<JobEvent> HearAsync(JobEvent act, Attachment? file, StoredJob job, CancellationToken caller)
    {
        if (act is not SoundRecorded recorded || file is null)
        {
            return act;
        }
        var (recording, _) = WavFile.Read(file.Bytes);
        var sources = SoundSource.Of(desk.Open(job).Layout, money.Terms.MainsHertz);
        var heard = await gate.RunAsync(
            stop => SoundAnalysis.Of(recording!, sources, new() { ByHand = recorded.ByHand }, stop),
            caller
        );
        return recorded with { Heard = HeardInSound.Of(heard) };
    }
}
