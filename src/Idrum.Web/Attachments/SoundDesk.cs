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

    /// <summary>A few seconds of a recording close up, to mark the noises in; null where its sound was dropped or was
    /// felt.</summary>
    /// <param name="act">The recording.</param>
    /// <param name="from">From, s; brought within it.</param>
    /// <param name="wide">How much of it, s.</param>
    public MarkPiece? PieceOf(SoundRecorded act, double from, double wide)
    {
        if (
            act.Felt
            || store.FindAttachment(act.SoundId) is not { } file
            || WavFile.Read(file.Bytes).Recording is not { } recording
        )
        {
            return null;
        }
        wide = Math.Min(wide, recording.Seconds);
        from = Math.Clamp(from, 0, recording.Seconds - wide);
        return new(
            act.SoundId,
            from,
            from + wide,
            recording.Seconds,
            SoundTime.Piece(recording.Rate, recording.Samples, (from, from + wide), [])
        );
    }

    // Half an hour is listened through in some seconds; a busy computer takes several times that. An act waits for it, whatever its
    // length: it is not sent away because plans are worked out beside it.
    internal static readonly TimeSpan LongDeadline = TimeSpan.FromSeconds(60);

    /// <summary>The act with what is heard in its file, and the file: of a long recording what is kept of it; another act as
    /// it is.</summary>
    public async Task<(JobEvent Act, Attachment? File)> HearAsync(
        JobEvent act,
        Attachment? file,
        StoredJob job,
        CancellationToken caller
    )
    {
        if (act is NoteSpoken spoken && file is not null)
        {
            return (spoken with { Seconds = Math.Round(WavFile.Read(file.Bytes).Recording!.Seconds, 1) }, file);
        }
        if (act is not SoundRecorded recorded || file is null)
        {
            return (act, file);
        }
        var sources = SoundSource.Of(desk.Open(job).Layout, money.Terms.MainsHertz);
        if (recorded.Felt)
        {
            var series = MotionFile.Read(file.Bytes).Series!;
            var felt = await gate.RunAsync(
                stop => SoundAnalysis.Felt(series, sources, new(), stop),
                caller,
                LongDeadline
            );
            return (recorded with { Heard = HeardInSound.Of(felt) }, file);
        }
        var recording = WavFile.Read(file.Bytes).Recording!;
        var conditions = new SoundConditions
        {
            ByHand = recorded.ByHand,
            LostSeconds = recorded.LostSeconds ?? 0,
            DoorOpened = recorded.DoorOpened,
        };
        if (recording.Seconds <= SoundAnalysis.LongestSeconds)
        {
            var heard = await gate.RunAsync(
                stop => SoundAnalysis.Of(recording, sources, conditions, stop),
                caller,
                LongDeadline
            );
            return (recorded with { Heard = HeardInSound.Of(heard) }, file);
        }
        var course = await gate.RunAsync(
            stop => SoundCourse.Of(recording, sources, conditions, recorded.CalledAt, stop),
            caller,
            LongDeadline
        );
        var kept = Attachment.Of(
            AttachmentKind.Sound,
            WavFile.Write(SoundCourse.Cut(recording, course.Kept.From, course.Kept.To))
        );
        return (
            ((ICarriesAttachment)recorded).Carrying(kept.Name) is SoundRecorded carrying
                ? carrying with
                {
                    Heard = HeardInSound.Of(course.Heard) with { Course = HeardCourse.Of(course) },
                }
                : recorded,
            kept
        );
    }
}

/// <summary>A piece of a recording in which noises are marked.</summary>
/// <param name="SoundId">Its sound.</param>
/// <param name="From">From, s.</param>
/// <param name="To">To, s.</param>
/// <param name="Length">Length of the whole, s.</param>
/// <param name="Picture">The piece, drawn.</param>
public sealed record MarkPiece(
    string SoundId,
    double From,
    double To,
    double Length,
    Microsoft.AspNetCore.Html.HtmlString Picture
);
