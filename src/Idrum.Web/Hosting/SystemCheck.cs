using System.Reflection;
using System.Security.Cryptography;
using Idrum.Core.Shop;
using Microsoft.Data.Sqlite;
using SkiaSharp;

namespace Idrum.Web.Hosting;

/// <summary>Whether this computer has what Idrum needs, each in a line.</summary>
public static class SystemCheck
{
    /// <summary>The version of this Idrum.</summary>
    public static string Version =>
        typeof(SystemCheck).Assembly.GetCustomAttribute<AssemblyInformationalVersionAttribute>()?.InformationalVersion
        ?? "unknown";

    /// <summary>Looks at everything.</summary>
    /// <param name="options">Folders it is to use.</param>
    /// <returns>What was looked at, and what is wrong with it; empty words where nothing is.</returns>
    public static IReadOnlyList<(string What, string Wrong)> Look(IdrumOptions options) =>
        [
            (
                "database (libe_sqlite3.so, beside the program)",
                Try(() =>
                {
                    using var connection = new SqliteConnection("Data Source=:memory:");
                    connection.Open();
                    using var words = connection.CreateCommand();
                    words.CommandText = "CREATE VIRTUAL TABLE t USING fts5(a)";
                    words.ExecuteNonQuery();
                })
            ),
            (
                "pictures (libSkiaSharp.so, beside the program; needs libstdc++6)",
                Try(() =>
                {
                    using var picture = new SKBitmap(2, 2);
                    using var made = picture.Encode(SKEncodedImageFormat.Jpeg, 80);
                })
            ),
            (
                "encryption (needs libssl3)",
                Try(() =>
                {
                    using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
                    key.SignData([1], HashAlgorithmName.SHA256);
                })
            ),
            (
                "time zones (needs tzdata)",
                Try(() =>
                {
                    if (TimeZoneInfo.GetSystemTimeZones().Count < 50)
                    {
                        throw new IOException("No list of time zones is there. Install tzdata.");
                    }
                })
            ),
            (
                $"layouts and handbook in {options.ContentFolder}",
                Try(() => ContentFolder.Read(options.ContentFolder).Read())
            ),
            (
                $"the shop's folder {options.DataFolder}",
                Try(() =>
                {
                    OwnFiles.Guard(options.DataFolder);
                    var file = Path.Combine(options.DataFolder, $".check-{Guid.NewGuid():N}");
                    File.WriteAllText(file, "1");
                    File.Delete(file);
                })
            ),
        ];

    private static string Try(Action act)
    {
        try
        {
            act();
            return "";
        }
        catch (Exception e)
            when (e
                    is IOException
                        or UnauthorizedAccessException
                        or InvalidDataException
                        or SqliteException
                        or CryptographicException
                        or DllNotFoundException
                        or TypeInitializationException
                        or TimeZoneNotFoundException
            )
        {
            return (e.InnerException ?? e).Message;
        }
    }
}
