using System.IO.Compression;
using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>What a backup holds.</summary>
/// <param name="Format">Always <c>idrum-backup</c>.</param>
/// <param name="Version">Version of the format; this code reads and writes 1.</param>
/// <param name="MadeAt">When it was made.</param>
/// <param name="Jobs">How many jobs.</param>
/// <param name="Acts">How many acts.</param>
/// <param name="Files">Name, bytes and SHA-256 of every file in it.</param>
public sealed record BackupManifest(
    string Format,
    int Version,
    DateTimeOffset MadeAt,
    int Jobs,
    int Acts,
    IReadOnlyList<BackupFile> Files
)
{
    /// <summary>The least reader the shop in it needs; 0 in backups from before it was kept.</summary>
    public int Reader { get; init; }
}

/// <summary>One file of a backup.</summary>
public sealed record BackupFile(string Name, long Bytes, string Sha256);

/// <summary>The whole shop in one file: database with photos, layouts of the shop's own, and its keys under a passphrase
/// where one is given; a zip with a manifest of hashes.</summary>
public static partial class BackupFormat
{
    internal const string DatabaseName = "idrum.db";
    private const string ManifestName = "manifest.json";
    private const int MostFiles = 10_000;
    private const long MostBytes = 1L << 40;
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    /// <summary>Makes a backup while the shop is in use, and checks it by restoring it to a scratch folder.</summary>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <param name="file">The file to make; written beside and moved there when it is whole.</param>
    /// <param name="passphrase">With the shop's authority and its key, sealed by it; empty without them.</param>
    /// <param name="now">The shop's clock.</param>
    /// <exception cref="IOException">It cannot be written.</exception>
    /// <exception cref="InvalidDataException">What was written does not restore.</exception>
    public static BackupManifest Make(string dataFolder, string file, string passphrase, DateTimeOffset now)
    {
        var scratch = Directory.CreateTempSubdirectory("idrum-backup").FullName;
        var beside = file + ".part";
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
            var copy = Path.Combine(scratch, DatabaseName);
            using (
                var source = new SqliteConnection(
                    new SqliteConnectionStringBuilder
                    {
                        DataSource = Path.Combine(dataFolder, DatabaseName),
                        Pooling = false,
                        Mode = SqliteOpenMode.ReadWrite,
                        DefaultTimeout = 30,
                    }.ToString()
                )
            )
            using (
                var target = new SqliteConnection(
                    new SqliteConnectionStringBuilder { DataSource = copy, Pooling = false }.ToString()
                )
            )
            {
                source.Open();
                target.Open();
                source.BackupDatabase(target);
                using var one = target.Command(null, "PRAGMA journal_mode = DELETE");
                one.ExecuteNonQuery();
            }
            var files = new List<(string Name, string Path)> { (DatabaseName, copy) };
            files.AddRange(Within(dataFolder, "layouts"));
            if (passphrase.Length > 0)
            {
                var keys = Path.Combine(scratch, SealedKeys.Name);
                File.WriteAllBytes(keys, SealedKeys.Seal(passphrase, Within(dataFolder, "authority")));
                files.Add((SealedKeys.Name, keys));
            }
            var (jobs, acts) = Count(copy);
            var manifest = new BackupManifest(
                "idrum-backup",
                1,
                now,
                jobs,
                acts,
                [.. files.Select(f => new BackupFile(f.Name, new FileInfo(f.Path).Length, HashOf(f.Path)))]
            )
            {
                Reader = Database.Reader,
            };
            using (var zip = ZipFile.Open(beside, ZipArchiveMode.Create))
            {
                using (var writer = zip.CreateEntry(ManifestName).Open())
                {
                    JsonSerializer.Serialize(writer, manifest, Json);
                }
                foreach (var (name, path) in files)
                {
                    zip.CreateEntryFromFile(path, name, CompressionLevel.Fastest);
                }
            }
            Check(beside, passphrase);
            File.Move(beside, file, true);
            return manifest;
        }
        catch (UnauthorizedAccessException e)
        {
            throw new IOException($"The backup {file} cannot be written: see to the rights of its folder.", e);
        }
        catch (SqliteException e)
        {
            throw new IOException($"The backup could not be made: {DatabaseFaults.Words(e) ?? e.Message}", e);
        }
        finally
        {
            File.Delete(beside);
            Directory.Delete(scratch, true);
        }
    }

    /// <summary>Checks a backup by restoring it to a scratch folder: every file whole, the database sound and as full
    /// as the manifest says.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="passphrase">Opens its keys; empty where they are not asked for.</param>
    /// <param name="told">Told the share that is unpacked, 0 to 1.</param>
    /// <param name="stop">Ends it; nothing is left behind.</param>
    /// <exception cref="InvalidDataException">It is not; the message says what is wrong.</exception>
    public static BackupManifest Check(
        string file,
        string passphrase = "",
        Action<double>? told = null,
        CancellationToken stop = default
    )
    {
        var scratch = Directory.CreateTempSubdirectory("idrum-check").FullName;
        try
        {
            return Unpack(file, scratch, passphrase, told, stop);
        }
        finally
        {
            Directory.Delete(scratch, true);
        }
    }

    /// <summary>Unpacks a backup into an empty folder and checks it.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="folder">The folder.</param>
    /// <param name="passphrase">Opens its keys; where it is empty they are left out.</param>
    /// <exception cref="InvalidDataException">It is not sound; the message says what is wrong.</exception>
    /// <param name="told">Told the share that is unpacked, 0 to 1.</param>
    /// <param name="stop">Ends it.</param>
    internal static BackupManifest Unpack(
        string file,
        string folder,
        string passphrase,
        Action<double>? told = null,
        CancellationToken stop = default
    )
    {
        try
        {
            using var zip = ZipFile.OpenRead(file);
            using var stream = zip.GetEntry(ManifestName)?.Open()
                ?? throw new InvalidDataException("it has no manifest");
            var manifest = JsonSerializer.Deserialize<BackupManifest>(Bounded(stream), Json);
            if (manifest is not { Format: "idrum-backup", Files: not null })
            {
                throw new InvalidDataException("it is no backup of Idrum");
            }
            if (manifest.Version != 1 || manifest.Reader > Database.Reader)
            {
                throw new InvalidDataException("it was made by a newer Idrum");
            }
            if (manifest.Files.Any(f => f is not { Name: not null, Sha256: not null }))
            {
                throw new InvalidDataException("a file in it has no name or hash");
            }
            if (manifest.Files.DistinctBy(f => f.Name).Count() < manifest.Files.Count)
            {
                throw new InvalidDataException("a file stands in it twice");
            }
            if (manifest.Files.Count > MostFiles || manifest.Files.Any(f => f.Bytes is < 0 or > MostBytes))
            {
                throw new InvalidDataException("it names more than a shop has");
            }
            var needs = manifest.Files.Sum(f => f.Bytes);
            if (needs > new DriveInfo(Path.GetFullPath(folder)).AvailableFreeSpace)
            {
                throw new IOException(
                    $"The backup takes {needs / 1048576.0:0} MB, and the disk has less room. Free some, then try again."
                );
            }
            var written = 0L;
            foreach (var held in manifest.Files)
            {
                if (!Known().IsMatch(held.Name))
                {
                    throw new InvalidDataException($"'{held.Name}' belongs to no backup");
                }
                var path = Path.GetFullPath(Path.Combine(folder, held.Name));
                if (!path.StartsWith(Path.GetFullPath(folder) + Path.DirectorySeparatorChar, StringComparison.Ordinal))
                {
                    throw new InvalidDataException($"'{held.Name}' would lie outside");
                }
                var entry = zip.GetEntry(held.Name) ?? throw new InvalidDataException($"'{held.Name}' is missing");
                if (entry.Length != held.Bytes)
                {
                    throw new InvalidDataException($"'{held.Name}' is cut off or changed");
                }
                Directory.CreateDirectory(Path.GetDirectoryName(path)!);
                Extract(entry, path, held, n =>
                {
                    stop.ThrowIfCancellationRequested();
                    written += n;
                    told?.Invoke((double)written / needs);
                });
                if (HashOf(path) != held.Sha256)
                {
                    throw new InvalidDataException($"'{held.Name}' was changed");
                }
            }
            OpenKeys(folder, passphrase);
            var database = Path.Combine(folder, DatabaseName);
            if (!File.Exists(database))
            {
                throw new InvalidDataException("it holds no database");
            }
            DatabaseFaults.Look(database);
            var (jobs, acts) = Count(database);
            return (jobs, acts) == (manifest.Jobs, manifest.Acts)
                ? manifest
                : throw new InvalidDataException(
                    $"it holds {jobs} jobs and {acts} acts, not {manifest.Jobs} and {manifest.Acts}"
                );
        }
        catch (Exception e) when (e is InvalidDataException or JsonException or SqliteException)
        {
            throw new InvalidDataException(
                $"The backup {Path.GetFileName(file)} is not sound: {e.Message.TrimEnd('.')}. Nothing was changed.",
                e
            );
        }
        catch (FileNotFoundException e)
        {
            throw new IOException($"There is no file {file}.", e);
        }
    }

    // Ten thousand files with long names and hashes have some two megabytes.
    private const int MostManifest = 4 << 20;

    /// <summary>What an entry unpacks to, to a bound: a few bytes of a zip may unpack to any length.</summary>
    private static byte[] Bounded(Stream entry)
    {
        using var text = new MemoryStream();
        var piece = new byte[1 << 16];
        for (int n; (n = entry.Read(piece)) > 0; )
        {
            if (text.Length + n > MostManifest)
            {
                throw new InvalidDataException("its manifest is longer than any");
            }
            text.Write(piece, 0, n);
        }
        return text.ToArray();
    }

    /// <summary>No more is written than the manifest says, whatever the entry unpacks to.</summary>
    private static void Extract(ZipArchiveEntry entry, string path, BackupFile held, Action<int> wrote)
    {
        using var from = entry.Open();
        using var to = new FileStream(path, FileMode.CreateNew);
        var piece = new byte[1 << 16];
        var left = held.Bytes;
        for (int n; (n = from.Read(piece)) > 0; left -= n)
        {
            if (n > left)
            {
                throw new InvalidDataException($"'{held.Name}' is larger than it says");
            }
            to.Write(piece, 0, n);
            wrote(n);
        }
    }

    private static void OpenKeys(string folder, string passphrase)
    {
        var file = Path.Combine(folder, SealedKeys.Name);
        if (!File.Exists(file))
        {
            return;
        }
        if (passphrase.Length > 0)
        {
            foreach (var (name, bytes) in SealedKeys.Open(File.ReadAllBytes(file), passphrase))
            {
                if (!name.StartsWith("authority/", StringComparison.Ordinal) || !Known().IsMatch(name))
                {
                    throw new InvalidDataException($"'{name}' is no key");
                }
                Directory.CreateDirectory(Path.Combine(folder, "authority"));
                File.WriteAllBytes(Path.Combine(folder, name), bytes);
            }
        }
        File.Delete(file);
    }

    /// <summary>What a backup may hold.</summary>
    [System.Text.RegularExpressions.GeneratedRegex(
        @"^(idrum\.db|authority\.sealed|(layouts|authority)/[^./\\][^/\\]*)\z"
    )]
    private static partial System.Text.RegularExpressions.Regex Known();

    private static (int Jobs, int Acts) Count(string database)
    {
        using var connection = new SqliteConnection(
            new SqliteConnectionStringBuilder
            {
                DataSource = database,
                Pooling = false,
                Mode = SqliteOpenMode.ReadOnly,
            }.ToString()
        );
        connection.Open();
        using var command = connection.Command(null, "SELECT (SELECT COUNT(*) FROM job), (SELECT COUNT(*) FROM event)");
        using var reader = command.ExecuteReader();
        reader.Read();
        return (reader.GetInt32(0), reader.GetInt32(1));
    }

    private static IEnumerable<(string Name, string Path)> Within(string dataFolder, string name)
    {
        var folder = Path.Combine(dataFolder, name);
        return Directory.Exists(folder)
            ? Directory
                .GetFiles(folder)
                .Select(f => ($"{name}/{Path.GetFileName(f)}", f))
                .Where(f => Known().IsMatch(f.Item1))
            : [];
    }

    private static string HashOf(string path)
    {
        using var stream = File.OpenRead(path);
        return Convert.ToHexStringLower(SHA256.HashData(stream));
    }
}
