using Idrum.Core.Listening;

namespace Idrum.Web.Attachments;

/// <summary>A recording as it is kept: one channel of 16 bits at some 16 kHz, which is all that is listened to. What
/// Idrum kept itself stays as it is, byte for byte.</summary>
public static class SoundFile
{
    /// <summary>Reads it.</summary>
    /// <returns>The bytes to store, or what is wrong with the file.</returns>
    public static (byte[] Stored, string Error) Read(byte[] bytes)
    {
        var (recording, problem) = WavFile.Read(bytes);
        return recording is null ? ([], problem) : (WavFile.Write(BandEnvelopes.Lowered(recording)), "");
    }
}
