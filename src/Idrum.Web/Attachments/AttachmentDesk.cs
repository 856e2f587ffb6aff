using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;

namespace Idrum.Web.Attachments;

/// <summary>Files that acts carry, as they come in: looked at, made safe to store and named by their hash, two at a time
/// (a picture may take some hundred megabytes while it is open). One reader a kind.</summary>
public sealed class AttachmentDesk(SoundRoom room) : IDisposable
{
    private static readonly Dictionary<string, Func<byte[], (byte[] Stored, string Error)>> Readers = new()
    {
        [AttachmentKind.Photo.Name] = PhotoFile.Read,
        [AttachmentKind.Signature.Name] = SignatureFile.Read,
        [AttachmentKind.Sound.Name] = SoundFile.Read,
        [AttachmentKind.Voice.Name] = SoundFile.Read,
        [AttachmentKind.Motion.Name] = bytes =>
            MotionFile.Read(bytes) is { Series: { } series }
                ? (MotionFile.Write(series), "")
                : ([], MotionFile.Read(bytes).Problem),
    };

    private readonly SemaphoreSlim free = new(2);

    /// <returns>The bytes to store, or what is wrong with the file.</returns>
    public async Task<(byte[] Stored, string Error)> ReadAsync(
        AttachmentKind kind,
        byte[] bytes,
        CancellationToken caller
    )
    {
        if (bytes.Length > kind.MostBytes)
        {
            return ([], TooLarge(kind, bytes.Length));
        }
        await free.WaitAsync(caller);
        try
        {
            return await Task.Run(() => Readers[kind.Name](bytes), caller);
        }
        finally
        {
            free.Release();
        }
    }

    /// <summary>The file of an act that came with it, and the act that names it.</summary>
    public async Task<(Attachment? File, JobEvent? Act, string Error)> TakeAsync(
        ICarriesAttachment act,
        IFormFile sent,
        CancellationToken caller
    )
    {
        if (sent.Length == 0)
        {
            return (null, null, $"Choose a {act.Carries.Name} first.");
        }
        if (sent.Length > act.Carries.MostBytes)
        {
            return (null, null, TooLarge(act.Carries, sent.Length));
        }
        if (room.Fault(act.Carries, sent.Length) is { Length: > 0 } full)
        {
            return (null, null, full);
        }
        var bytes = new byte[sent.Length];
        await using (var stream = sent.OpenReadStream())
        {
            await stream.ReadExactlyAsync(bytes, caller);
        }
        var (stored, error) = await ReadAsync(act.Carries, bytes, caller);
        if (error.Length > 0)
        {
            return (null, null, error);
        }
        var file = Attachment.Of(act.Carries, stored);
        return (file, act.Carrying(file.Name), "");
    }

    private static string TooLarge(AttachmentKind kind, long bytes) =>
        $"The {kind.Name} has {bytes / 1048576.0:0.0} MB; {kind.MostBytes / 1048576} MB is the most.";

    public void Dispose() => free.Dispose();
}
