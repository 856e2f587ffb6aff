using System.Globalization;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Web.Jobs;

/// <summary>Backs the shop up daily by itself, keeps a stated number, and says when it could not.</summary>
public sealed class BackupDesk(IdrumOptions options, SettingStore settings, TimeProvider clock, ILogger<BackupDesk> log) : BackgroundService
{
    /// <summary>How many daily backups are kept where nothing else is said.</summary>
    public const int UsuallyKept = 14;

    private const string Pattern = "idrum-????-??-??.zip";
    private static readonly TimeSpan Look = TimeSpan.FromHours(1);
    private static readonly TimeSpan Day = TimeSpan.FromHours(23);

    /// <summary>Folder the daily backups go to.</summary>
    public string Folder => settings.Get(SettingStore.BackupFolder) is { Length: > 0 } chosen ? chosen : Path.Combine(options.DataFolder, "backups");

    /// <summary>How many are kept.</summary>
    public int Kept => int.TryParse(settings.Get(SettingStore.BackupsKept), CultureInfo.InvariantCulture, out var n) ? n : UsuallyKept;

    /// <summary>Why the last one could not be made; empty where it could.</summary>
    public string Trouble { get; private set; } = "";

    /// <summary>The daily backups there are, the newest first.</summary>
    public IReadOnlyList<FileInfo> List() => Directory.Exists(Folder) ? [.. new DirectoryInfo(Folder).GetFiles(Pattern).OrderByDescending(f => f.Name, StringComparer.Ordinal)] : [];

    /// <summary>Makes today's backup where the last is older than a day, and drops those beyond the number kept.</summary>
    /// <returns>Whether one was made.</returns>
    public bool MakeDue()
    {
        var now = clock.GetUtcNow();
        try
        {
            var today = Path.Combine(Folder, now.ToString("'idrum-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture));
            if (List() is [var newest, ..] && now - newest.LastWriteTimeUtc < Day || File.Exists(today))
            {
                return false;
            }
            ShopBackup.Make(options.DataFolder, today, false, now);
            foreach (var old in List().Skip(Kept))
            {
                old.Delete();
            }
            Trouble = "";
            return true;
        }
        catch (Exception e) when (e is IOException or InvalidDataException or UnauthorizedAccessException or ArgumentException)
        {
            Trouble = $"The daily backup could not be made: {e.Message}";
            log.LogWarning(e, "The daily backup could not be made.");
            return false;
        }
    }

    /// <inheritdoc />
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // After the start: who starts wants to work first.
        await Task.Delay(TimeSpan.FromSeconds(30), clock, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        while (!stoppingToken.IsCancellationRequested)
        {
            MakeDue();
            await Task.Delay(Look, clock, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}

/// <summary>A backup to be brought back: the application stops, puts it in place and starts anew.</summary>
public sealed class RestoreDesk(IHostApplicationLifetime lifetime)
{
    /// <summary>The backup to bring back, checked; empty where there is none.</summary>
    public string Waiting { get; private set; } = "";

    /// <summary>Checks a backup and asks the application to begin anew with it.</summary>
    /// <exception cref="InvalidDataException">It is not sound; nothing was changed.</exception>
    public BackupManifest Ask(string file)
    {
        var manifest = ShopBackup.Check(file);
        Waiting = file;
        // The answer goes out first.
        _ = Task.Delay(500).ContinueWith(_ => lifetime.StopApplication(), TaskScheduler.Default);
        return manifest;
    }
}
