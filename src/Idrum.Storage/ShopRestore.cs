using System.Globalization;
using System.Text.Json;
using Microsoft.Data.Sqlite;

namespace Idrum.Storage;

/// <summary>Brings a backup back, in steps of which each may be the last that is made.</summary>
public static class ShopRestore
{
    private const string DatabaseName = BackupFormat.DatabaseName;
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web) { WriteIndented = true };

    /// <summary>Brings a backup back. What it takes the place of is set aside in a folder of its own, never deleted.
    /// The shop must not be running.</summary>
    /// <param name="file">The backup.</param>
    /// <param name="dataFolder">The shop's folder; made where it is missing.</param>
    /// <param name="now">The shop's clock, for the name of the folder aside.</param>
    /// <param name="passphrase">Opens the backup's keys; empty: all but the keys comes back.</param>
    /// <returns>What was restored, and the folder of what was set aside; empty where there was nothing.</returns>
    /// <exception cref="InvalidDataException">The backup is not sound; nothing was changed.</exception>
    public static (BackupManifest Manifest, string Aside) Restore(
        string file,
        string dataFolder,
        DateTimeOffset now,
        string passphrase = ""
    ) => Restore(file, dataFolder, now, passphrase, _ => { });

    /// <param name="file">The backup.</param>
    /// <param name="dataFolder">The shop's folder.</param>
    /// <param name="now">The shop's clock.</param>
    /// <param name="passphrase">Opens the backup's keys.</param>
    /// <param name="before">Told of each rename before it is made: where a test pulls the plug.</param>
    internal static (BackupManifest Manifest, string Aside) Restore(
        string file,
        string dataFolder,
        DateTimeOffset now,
        string passphrase,
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
            manifest = BackupFormat.Unpack(file, fresh, passphrase);
            // What was stored since is with the devices that made it: they are asked once the shop is back.
            Ask(Path.Combine(fresh, DatabaseName), manifest.MadeAt);
        }
        catch
        {
            Directory.Delete(fresh, true);
            throw;
        }
        // From here on it will be finished, now or at the next start: what is to be done stands on the disk before the
        // first rename.
        var aside = now.ToString("'aside-'yyyyMMdd-HHmmss", CultureInfo.InvariantCulture);
        before(Coming);
        using (var journal = new FileStream(Path.Combine(dataFolder, Coming), FileMode.Create, FileAccess.Write))
        {
            JsonSerializer.Serialize(journal, new RestoreJournal(aside, Path.GetFileName(file)), Json);
            journal.Flush(flushToDisk: true);
        }
        // It is there whole or not at all.
        before(Journal);
        File.Move(Path.Combine(dataFolder, Coming), Path.Combine(dataFolder, Journal), true);
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
            var read = ReadJournal(journal) is { Aside.Length: > 0 } found
                ? found
                : throw new InvalidDataException(
                    $"The journal {journal} of a restore cannot be read. Move it and the folder '{Fresh}' away, and restore again."
                );
            Put(dataFolder, read.Aside, _ => { });
            return $"A restore of {read.File} was broken off and is finished now. What was there before is set aside in {Path.Combine(dataFolder, read.Aside)}";
        }
        File.Delete(Path.Combine(dataFolder, Coming));
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

    private static void Ask(string database, DateTimeOffset since)
    {
        using var connection = new SqliteConnection($"Data Source={database};Pooling=False");
        connection.Open();
        using (
            var settings = connection.Command(
                null,
                "SELECT 1 FROM sqlite_master WHERE type = 'table' AND name = 'setting'"
            )
        )
        {
            // A shop from before there were settings has devices that kept nothing.
            if (settings.ExecuteScalar() is null)
            {
                return;
            }
        }
        using var ask = connection.Command(
            null,
            "INSERT INTO setting (name, value) VALUES ($name, $value) ON CONFLICT (name) DO UPDATE SET value = $value",
            ("$name", SettingStore.ActsAsked),
            ("$value", SettingStore.Asking(since))
        );
        ask.ExecuteNonQuery();
    }

    private const string Fresh = "restoring";
    private const string Journal = "restoring.json";
    private const string Coming = "restoring.json.part";

    /// <summary>The journal; null where it cannot be read.</summary>
    private static RestoreJournal? ReadJournal(string path)
    {
        try
        {
            return JsonSerializer.Deserialize<RestoreJournal>(File.ReadAllText(path), Json);
        }
        catch (JsonException)
        {
            return null;
        }
    }

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
}
