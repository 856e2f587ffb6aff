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
public sealed record BackupManifest(string Format, int Version, DateTimeOffset MadeAt, int Jobs, int Acts, IReadOnlyList<BackupFile> Files);

/// <summary>One file of a backup.</summary>
public sealed record BackupFile(string Name, long Bytes, string Sha256);

/// <summary>The whole shop in one file: database with photos, layouts of the shop's own, and the authority where asked for; a zip with a manifest of hashes.</summary>
public static class ShopBackup
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
            using (var source = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = Path.Combine(dataFolder, DatabaseName), Pooling = false, Mode = SqliteOpenMode.ReadWrite, DefaultTimeout = 30 }.ToString()))
            using (var target = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = copy, Pooling = false }.ToString()))
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
            var manifest = new BackupManifest("idrum-backup", 1, now, jobs, acts, [.. files.Select(f => new BackupFile(f.Name, new FileInfo(f.Path).Length, HashOf(f.Path)))]);
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

    /// <summary>Checks a backup by restoring it to a scratch folder: every file whole, the database sound and as full as the manifest says.</summary>
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

    /// <summary>Brings a backup back. What it takes the place of is set aside in a folder of its own, never deleted. The shop must not be running.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="dataFolder">The shop's folder; made where it is missing.</param>
    /// <param name="now">The shop's clock, for the name of the folder aside.</param>
    /// <returns>What was restored, and the folder of what was set aside; empty where there was nothing.</returns>
    /// <exception cref="InvalidDataException">The backup is not sound; nothing was changed.</exception>
    public static (BackupManifest Manifest, string Aside) Restore(string file, string dataFolder, DateTimeOffset now)
    {
        Directory.CreateDirectory(dataFolder);
        var fresh = Path.Combine(dataFolder, "restoring");
        if (Directory.Exists(fresh))
        {
            Directory.Delete(fresh, true);
        }
        Directory.CreateDirectory(fresh);
        try
        {
            var manifest = Unpack(file, fresh);
            var aside = Path.Combine(dataFolder, now.ToString("'aside-'yyyyMMdd-HHmmss", CultureInfo.InvariantCulture));
            var moved = "";
            foreach (var name in new[] { DatabaseName, DatabaseName + "-wal", DatabaseName + "-shm", "layouts" }.Concat(Directory.Exists(Path.Combine(fresh, "authority")) ? ["authority"] : Array.Empty<string>()))
            {
                var present = Path.Combine(dataFolder, name);
                if (File.Exists(present) || Directory.Exists(present))
                {
                    Directory.CreateDirectory(aside);
                    Directory.Move(present, Path.Combine(aside, name));
                    moved = aside;
                }
            }
            foreach (var entry in Directory.GetFileSystemEntries(fresh))
            {
                Directory.Move(entry, Path.Combine(dataFolder, Path.GetFileName(entry)));
            }
            return (manifest, moved);
        }
        finally
        {
            Directory.Delete(fresh, true);
        }
    }

    private static BackupManifest Unpack(string file, string folder)
    {
        try
        {
            using var zip = ZipFile.OpenRead(file);
            using var stream = zip.GetEntry(ManifestName)?.Open() ?? throw new InvalidDataException("it has no manifest");
            var manifest = JsonSerializer.Deserialize<BackupManifest>(stream, Json);
            if (manifest is not { Format: "idrum-backup", Files: not null })
            {
                throw new InvalidDataException("it is no backup of Idrum");
            }
            if (manifest.Version != 1)
            {
                throw new InvalidDataException("it was made by a newer Idrum");
            }
            foreach (var held in manifest.Files)
            {
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
            return (jobs, acts) == (manifest.Jobs, manifest.Acts) ? manifest : throw new InvalidDataException($"it holds {jobs} jobs and {acts} acts, not {manifest.Jobs} and {manifest.Acts}");
        }
        catch (Exception e) when (e is InvalidDataException or JsonException or SqliteException)
        {
            throw new InvalidDataException($"The backup {Path.GetFileName(file)} is not sound: {e.Message.TrimEnd('.')}. Nothing was changed.", e);
        }
        catch (FileNotFoundException e)
        {
            throw new IOException($"There is no file {file}.", e);
        }
    }

    private static (int Jobs, int Acts) Count(string database)
    {
        using var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = database, Pooling = false, Mode = SqliteOpenMode.ReadOnly }.ToString());
        connection.Open();
        using var command = connection.Command(null, "SELECT (SELECT COUNT(*) FROM job), (SELECT COUNT(*) FROM event)");
        using var reader = command.ExecuteReader();
        reader.Read();
        return (reader.GetInt32(0), reader.GetInt32(1));
    }

    private static IEnumerable<(string Name, string Path)> Within(string dataFolder, string name)
    {
        var folder = Path.Combine(dataFolder, name);
        return Directory.Exists(folder) ? Directory.GetFiles(folder).Select(f => ($"{name}/{Path.GetFileName(f)}", f)) : [];
    }

    private static string HashOf(string path)
    {
        using var stream = File.OpenRead(path);
        return Convert.ToHexStringLower(SHA256.HashData(stream));
    }
}
