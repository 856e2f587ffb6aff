using System.Security.Cryptography;
using System.Text.Json.Serialization;

namespace Idrum.Core.Jobs.Log;

/// <summary>What an act may carry beside its words: kind of file, how it is served, how large and how many.</summary>
/// <param name="Name">Its word in files and in the database.</param>
/// <param name="MediaType">As which it is served.</param>
/// <param name="MostBytes">Largest file as it is sent, bytes.</param>
/// <param name="MostOfJob">Most of one job.</param>
public sealed record AttachmentKind(string Name, string MediaType, int MostBytes, int MostOfJob)
{
    /// <summary>A picture, stored upright and reduced as JPEG.</summary>
    public static AttachmentKind Photo { get; } = new("photo", "image/jpeg", 10 << 20, 100);

    /// <summary>A signature written on the glass, stored as JPEG.</summary>
    public static AttachmentKind Signature { get; } = new("signature", "image/jpeg", 1 << 20, 20);

    /// <summary>A recording, up to half an hour as it is sent; stored as WAV of one channel, of a long one the five minutes
    /// that tell.</summary>
    public static AttachmentKind Sound { get; } = new("recording", "audio/wav", 60 << 20, 30);

    /// <summary>A spoken note, stored like a recording.</summary>
    public static AttachmentKind Voice { get; } = new("spoken note", "audio/wav", 10 << 20, 60);

    /// <summary>What a phone on the cabinet felt, stored as JSON.</summary>
    public static AttachmentKind Motion { get; } = new("series of motion", "application/json", 4 << 20, 30);

    /// <summary>Kinds that are heard or felt: large, and their result stands with the act.</summary>
    public static IReadOnlyList<AttachmentKind> Sounds { get; } = [Sound, Motion, Voice];

    /// <summary>All kinds.</summary>
    public static IReadOnlyList<AttachmentKind> All { get; } = [Photo, Signature, Sound, Motion, Voice];

    /// <summary>The kind of that name, or null.</summary>
    public static AttachmentKind? Of(string name) => All.FirstOrDefault(k => k.Name == name);
}

/// <summary>A file that acts name. What they call it is the hash of its bytes; a photo of an older log has a name of its
/// own.</summary>
/// <param name="Name">64 hexadecimal digits.</param>
/// <param name="Kind">Name of its <see cref="AttachmentKind"/>.</param>
/// <param name="Bytes">The file as it is stored; base64 in an archive.</param>
public sealed record Attachment(string Name, string Kind, byte[] Bytes)
{
    /// <summary>SHA-256 of the bytes, 64 hexadecimal digits.</summary>
    [JsonIgnore]
    public string Sha256 => HashOf(Bytes);

    /// <summary>An attachment under the hash of its bytes.</summary>
    public static Attachment Of(AttachmentKind kind, byte[] bytes) => new(HashOf(bytes), kind.Name, bytes);

    /// <summary>SHA-256, 64 hexadecimal digits.</summary>
    public static string HashOf(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));

    /// <summary>Whether a text can be the name of one.</summary>
    public static bool IsName(string name) => name.Length == 64 && name.All(char.IsAsciiHexDigitLower);
}

/// <summary>An act that carries a file. Page, API, queue, export, backup and the look for tampering know it only so: a
/// new kind of act with a file implements this and is done.</summary>
public interface ICarriesAttachment
{
    /// <summary>What it carries.</summary>
    AttachmentKind Carries { get; }

    /// <summary>What it calls the file.</summary>
    string CarriedName { get; }

    /// <summary>SHA-256 of the stored bytes, in the chain with the act; null in a log from before it was kept.</summary>
    string? CarriedSha256 { get; }

    /// <summary>The act for a file that is stored under the hash of its bytes.</summary>
    JobEvent Carrying(string sha256);
}
