using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Idrum.Core.Jobs.Log;

/// <summary>Acts chained by hash: each names the one before, so that an act changed, moved or removed shows.</summary>
/// <remarks>SHA-256 over the hash before, the place in the log and the act's text, a line each. Whoever can write the
/// database can also chain
/// it anew: what shows is a change by hand or by a program that does not know Idrum, not one by who knows it.</remarks>
public static class LogChain
{
    /// <summary>Hash before the first act.</summary>
    public const string Start = "";

    /// <summary>Hash of an act.</summary>
    /// <param name="before">Hash of the act before.</param>
    /// <param name="place">Its place in the log, from 0.</param>
    /// <param name="text">Its text as it is stored.</param>
    /// <returns>64 hexadecimal digits.</returns>
    public static string Next(string before, int place, string text) =>
        Convert.ToHexStringLower(
            SHA256.HashData(
                Encoding.UTF8.GetBytes(string.Create(CultureInfo.InvariantCulture, $"{before}\n{place}\n{text}"))
            )
        );

    /// <summary>Hashes of a whole log.</summary>
    public static IReadOnlyList<string> Of(IEnumerable<string> texts)
    {
        var (hashes, before) = (new List<string>(), Start);
        foreach (var text in texts)
        {
            hashes.Add(before = Next(before, hashes.Count, text));
        }
        return hashes;
    }
}
