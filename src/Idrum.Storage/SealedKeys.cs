using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;

namespace Idrum.Storage;

/// <summary>The shop's keys under a passphrase, as they travel in a backup that is taken away.</summary>
/// <remarks>A key of 256 bits is derived by PBKDF2 with HMAC-SHA-256 (RFC 8018); the files are encrypted with AES-GCM
/// (NIST SP 800-38D). How the key was derived stands in the file's head and is authenticated with it.</remarks>
public static class SealedKeys
{
    /// <summary>Fewest signs of a passphrase.</summary>
    public const int LeastSigns = 12;

    /// <summary>Name of the file in a backup.</summary>
    internal const string Name = "authority.sealed";

    private const string Format = "idrum-keys";
    private const int Rounds = 600_000;
    private const int MostRounds = 10_000_000;
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    private sealed record Head(string Format, int Version, string Derivation, int Rounds, byte[] Salt, string Cipher)
    {
        internal byte[] Said() =>
            Encoding.UTF8.GetBytes(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{Format} {Version} {Derivation} {Rounds} {Convert.ToHexStringLower(Salt)} {Cipher}"
                )
            );
    }

    private sealed record Sealed(Head Head, byte[] Nonce, byte[] Tag, byte[] Data);

    /// <summary>Why a passphrase will not do; empty where it will.</summary>
    public static string Fault(string passphrase) =>
        passphrase.Length is > 0 and < LeastSigns or > 200
            ? $"Passphrase: {LeastSigns} to 200 signs; leave it empty for a backup without the keys."
            : "";

    /// <summary>Seals files.</summary>
    /// <param name="passphrase">At least <see cref="LeastSigns"/> signs.</param>
    /// <param name="files">Name in the backup and path of each.</param>
    /// <returns>The file, JSON in UTF-8.</returns>
    /// <exception cref="IOException">The passphrase is too short.</exception>
    internal static byte[] Seal(string passphrase, IEnumerable<(string Name, string Path)> files)
    {
        if (Fault(passphrase) is { Length: > 0 } fault)
        {
            throw new IOException(fault);
        }
        var head = new Head(
            Format,
            1,
            "PBKDF2-HMAC-SHA-256",
            Rounds,
            RandomNumberGenerator.GetBytes(16),
            "AES-256-GCM"
        );
        var plain = JsonSerializer.SerializeToUtf8Bytes(
            files.ToDictionary(f => f.Name, f => File.ReadAllBytes(f.Path)),
            Json
        );
        var (nonce, tag, data) = (RandomNumberGenerator.GetBytes(12), new byte[16], new byte[plain.Length]);
        using var cipher = Cipher(head, passphrase);
        cipher.Encrypt(nonce, plain, data, tag, head.Said());
        return JsonSerializer.SerializeToUtf8Bytes(new Sealed(head, nonce, tag, data), Json);
    }

    /// <summary>Opens what <see cref="Seal"/> made.</summary>
    /// <param name="file">The file.</param>
    /// <param name="passphrase">The passphrase.</param>
    /// <returns>Bytes by name.</returns>
    /// <exception cref="InvalidDataException">The passphrase is another, or the file was changed.</exception>
    internal static IReadOnlyDictionary<string, byte[]> Open(byte[] file, string passphrase)
    {
        try
        {
            var read = JsonSerializer.Deserialize<Sealed>(file, Json);
            if (
                read
                is not {
                    Head:
                    {
                        Format: Format,
                        Version: 1,
                        Rounds: > 0 and <= MostRounds,
                        Salt.Length: >= 8,
                        Derivation: not null,
                        Cipher: not null
                    },
                    Nonce.Length: 12,
                    Tag.Length: 16,
                    Data: not null
                }
            )
            {
                throw new InvalidDataException("its keys cannot be read");
            }
            var plain = new byte[read.Data.Length];
            using var cipher = Cipher(read.Head, passphrase);
            cipher.Decrypt(read.Nonce, read.Data, read.Tag, plain, read.Head.Said());
            return JsonSerializer.Deserialize<Dictionary<string, byte[]>>(plain, Json)!;
        }
        catch (AuthenticationTagMismatchException e)
        {
            throw new InvalidDataException(
                "its keys do not open with this passphrase; leave it empty to bring back all but the keys",
                e
            );
        }
    }

    private static AesGcm Cipher(Head head, string passphrase) =>
        new(
            Rfc2898DeriveBytes.Pbkdf2(passphrase, head.Salt, head.Rounds, HashAlgorithmName.SHA256, 32),
            tagSizeInBytes: 16
        );
}
