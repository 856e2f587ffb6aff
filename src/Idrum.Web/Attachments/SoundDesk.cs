using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Storage;
using Idrum.Web.Drawing;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Web.Attachments;

/// <summary>Listens to recordings as they come in, behind the gate where plans are worked out.</summary>
public sealed class SoundDesk(JobDesk desk, JobStore store, MoneyDesk money, WorkGate gate) : IDisposable
{
    private readonly MemoryCache pictures = new(new MemoryCacheOptions { SizeLimit = 60 });

    /// <inheritdoc />
    public void Dispose() => pictures.Dispose();

    /// <summary>A recording, drawn; null where its sound was dropped.</summary>
    public async Task<SoundPictures?> PictureAsync(
        SoundRecorded act,
        IReadOnlyList<SoundSource> sources,
        CancellationToken caller
    )
    {
        var key = (act.SoundId, sources[0].Hz);
        if (pictures.TryGetValue(key, out SoundPictures? known))
        {
            return known;
        }
        if (store.FindAttachment(act.SoundId) is not { } file)
        {
            return null;
        }
        var recording = act.Felt ? null : WavFile.Read(file.Bytes).Recording;
        var series = act.Felt ? MotionFile.Read(file.Bytes).Series : null;
        if (recording is null && series is not { Say.Length: 0 })
        {
            return null;
        }
        List<SoundSource> named =
        [
            .. sources.Where(s =>
                act.Heard?.Named is { } n && n.PartIds.Count > 0 && s.PartIds.Intersect(n.PartIds).Any()
            ),
        ];
        var scale = act.Heard?.SpeedScale ?? 1;
        var picture = await gate.RunAsync(
            stop =>
            {
                var trace = recording is not null
                    ? SoundTrace.Of(recording, named.FirstOrDefault(), scale, stop)
                    : SoundTrace.Of(series!, named.FirstOrDefault(), scale, stop);
                return SoundPictures.Of(trace, recording, sources, scale, named);
            },
            caller
        );
        return pictures.Set(key, picture, new MemoryCacheEntryOptions { Size = 1 });
    }

    /// <summary>The act with what is heard in its file; another act as it is.</summary>
    public async Task<JobEvent> HearAsync(JobEvent act, Attachment? file, StoredJob job, CancellationToken caller)
    {
        if (act is NoteSpoken && file is not null)
        {
            return (NoteSpoken)act with { Seconds = Math.Round(WavFile.Read(file.Bytes).Recording!.Seconds, 1) };
        }
        if (act is not SoundRecorded recorded || file is null)
        {
            return act;
        }
        var sources = SoundSource.Of(desk.Open(job).Layout, money.Terms.MainsHertz);
        if (recorded.Felt)
        {
            var series = MotionFile.Read(file.Bytes).Series!;
            var felt = await gate.RunAsync(stop => SoundAnalysis.Felt(series, sources, new(), stop), caller);
            return recorded with { Heard = HeardInSound.Of(felt) };
        }
        var (recording, _) = WavFile.Read(file.Bytes);
        var heard = await gate.RunAsync(
            stop =>
                SoundAnalysis.Of(
                    recording!,
                    sources,
                    new() { ByHand = recorded.ByHand, LostSeconds = recorded.LostSeconds ?? 0 },
                    stop
                ),
            caller
        );
        return recorded with { Heard = HeardInSound.Of(heard) };
    }
}
