using System.Globalization;
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

/// <summary>The whole shop in one file: database with photos, layouts of the shop's own, and the authority where asked
/// for; a zip with a manifest of hashes.</summary>
public static partial class ShopBackup
{
    private const string ManifestName = "manifest.json";
    private const string DatabaseName = "idrum.db";
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    /// <summary>Makes a backup while the shop is in use, and checks it by restoring it to a scratch folder.</summary>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <param name="file">The file to make; written beside and moved there when it is whole.</param>
    /// <param name="withAuthority">With the shop's authority and its key.</param>
    /// <param name="now">The shop's clock.</param>
    /// <exception cref="IOException">It cannot be written.</exception>
    /// <exception cref="InvalidDataException">What was written does not restore.</exception>
    public static BackupManifest Make(string dataFolder, string file, bool withAuthority, DateTimeOffset now)
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
            if (withAuthority)
            {
                files.AddRange(Within(dataFolder, "authority"));
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
            Check(beside);
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
    /// <exception cref="InvalidDataException">It is not; the message says what is wrong.</exception>
    public static BackupManifest Check(string file)
    {
        var scratch = Directory.CreateTempSubdirectory("idrum-check").FullName;
        try
        {
            return Unpack(file, scratch);
        }
        finally
        {
            Directory.Delete(scratch, true);
        }
    }

    /// <summary>Brings a backup back. What it takes the place of is set aside in a folder of its own, never deleted.
    /// The shop must not be running.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="dataFolder">The shop's folder; made where it is missing.</param>
    /// <param name="now">The shop's clock, for the name of the folder aside.</param>
    /// <returns>What was restored, and the folder of what was set aside; empty where there was nothing.</returns>
    /// <exception cref="InvalidDataException">The backup is not sound; nothing was changed.</exception>
    public static (BackupManifest Manifest, string Aside) Restore(string file, string dataFolder, DateTimeOffset now) =>
        Restore(file, dataFolder, now, _ => { });

    /// <param name="file">The backup.</param>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <param name="now">The shop's clock.</param>
    /// <param name="before">Told of each rename before it is made: where a test pulls the plug.</param>
    internal static (BackupManifest Manifest, string Aside) Restore(
        string file,
        string dataFolder,
        DateTimeOffset now,
        Action<string> before
    )
    {
        Directory.CreateDirectory(dataFolder);
        Finish(dataFolder);
        var fresh = Path.Combine(dataFolder, Fresh);
        Directory.CreateDirectory(fresh);
        BackupManifest manifest;
        try
        {
            manifest = Unpack(file, fresh);
        }
        catch
        {
            Directory.Delete(fresh, true);
            throw;
        }
        // From here on it will be finished, now or at the next start: what is to be done stands on the disk before the
        // first rename.
        var aside = now.ToString("'aside-'yyyyMMdd-HHmmss", CultureInfo.InvariantCulture);
        before(Journal);
        using (var journal = new FileStream(Path.Combine(dataFolder, Journal), FileMode.Create, FileAccess.Write))
        {
            JsonSerializer.Serialize(journal, new RestoreJournal(aside, Path.GetFileName(file)), Json);
            journal.Flush(flushToDisk: true);
        }
        Put(dataFolder, aside, before);
        return (manifest, Directory.Exists(Path.Combine(dataFolder, aside)) ? Path.Combine(dataFolder, aside) : "");
    }

    /// <summary>Looks for a restore that was broken off: one that had begun to take its place is finished, one that had
    /// not is cleared away.</summary>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <returns>What was done, for who starts it; empty where there was nothing.</returns>
    /// <exception cref="InvalidDataException">The folder holds no shop, but one that was set aside: no empty one is
    /// made in its place.</exception>
    public static string Finish(string dataFolder)
    {
        var (fresh, journal) = (Path.Combine(dataFolder, Fresh), Path.Combine(dataFolder, Journal));
        if (File.Exists(journal))
        {
            var read = JsonSerializer.Deserialize<RestoreJournal>(File.ReadAllText(journal), Json)
                is { Aside.Length: > 0 } found
                ? found
                : throw new InvalidDataException(
                    $"The journal {journal} of a restore cannot be read. Move it and the folder '{Fresh}' away, and restore again."
                );
            Put(dataFolder, read.Aside, _ => { });
            return $"A restore of {read.File} was broken off and is finished now. What was there before is set aside in {Path.Combine(dataFolder, read.Aside)}";
        }
        if (Directory.Exists(fresh))
        {
            Directory.Delete(fresh, true);
            return "A restore was broken off before it changed anything: the shop is as it was.";
        }
        return "";
    }

    /// <summary>That a folder whose shop was set aside does not begin anew silently.</summary>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <exception cref="InvalidDataException">It holds no shop, but one that was set aside.</exception>
    public static void NotEmptied(string dataFolder)
    {
        if (
            !File.Exists(Path.Combine(dataFolder, DatabaseName))
            && Directory.Exists(dataFolder)
            && Directory.GetDirectories(dataFolder, "aside-*").Order(StringComparer.Ordinal).LastOrDefault()
                is { } aside
        )
        {
            throw new InvalidDataException(
                $"There is no shop in {dataFolder}, but one is set aside in {aside}. Move its files back, or restore a backup; an empty one is not made in its place."
            );
        }
    }

    private const string Fresh = "restoring";
    private const string Journal = "restoring.json";

    private sealed record RestoreJournal(string Aside, string File);

    /// <summary>Puts what was unpacked in its place. Each rename may be the last that is made: done again, it goes on
    /// where it was.</summary>
    private static void Put(string dataFolder, string aside, Action<string> before)
    {
        var (fresh, old) = (Path.Combine(dataFolder, Fresh), Path.Combine(dataFolder, aside));
        void Move(string from, string to)
        {
            before(from);
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            Directory.Move(from, to);
        }
        // Leavings of the old database go first: beside the new one they would be taken for its own.
        foreach (
            var leaving in new[] { DatabaseName + "-wal", DatabaseName + "-shm" }.Where(name =>
                Directory.Exists(fresh)
                && File.Exists(Path.Combine(fresh, DatabaseName))
                && File.Exists(Path.Combine(dataFolder, name))
            )
        )
        {
            Move(Path.Combine(dataFolder, leaving), Path.Combine(old, leaving));
        }
        // The shop's own layouts leave with their shop, also where the backup has none; what is still unpacked is not
        // in place yet, so what stands there is the old one.
        var coming = Directory.Exists(fresh)
            ? Directory
                .GetFileSystemEntries(fresh)
                .Select(e => Path.GetFileName(e)!)
                .OrderBy(n => n == DatabaseName)
                .ToList()
            : [];
        if (
            coming.Contains(DatabaseName)
            && !coming.Contains("layouts")
            && Directory.Exists(Path.Combine(dataFolder, "layouts"))
            && !Directory.Exists(Path.Combine(old, "layouts"))
        )
        {
            Move(Path.Combine(dataFolder, "layouts"), Path.Combine(old, "layouts"));
        }
        foreach (var name in coming)
        {
            var present = Path.Combine(dataFolder, name);
            if (File.Exists(present) || Directory.Exists(present))
            {
                Move(present, Path.Combine(old, name));
            }
            Move(Path.Combine(fresh, name), present);
        }
        // What was answered since the backup is gone by intent: the marks are of the shop that leaves.
        if (File.Exists(Path.Combine(dataFolder, HighWater.Name)))
        {
            Move(Path.Combine(dataFolder, HighWater.Name), Path.Combine(old, HighWater.Name));
        }
        before(Fresh);
        if (Directory.Exists(fresh))
        {
            Directory.Delete(fresh, true);
        }
        File.Delete(Path.Combine(dataFolder, Journal));
    }

    private static BackupManifest Unpack(string file, string folder)
    {
        try
        {
            using var zip = ZipFile.OpenRead(file);
            using var stream = zip.GetEntry(ManifestName)?.Open()
                ?? throw new InvalidDataException("it has no manifest");
            var manifest = JsonSerializer.Deserialize<BackupManifest>(stream, Json);
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
                entry.ExtractToFile(path);
                if (HashOf(path) != held.Sha256)
                {
                    throw new InvalidDataException($"'{held.Name}' was changed");
                }
            }
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

    /// <summary>What a backup may hold.</summary>
    [System.Text.RegularExpressions.GeneratedRegex(@"^(idrum\.db|(layouts|authority)/[^./\\][^/\\]*)\z")]
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
