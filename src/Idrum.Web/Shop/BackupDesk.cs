using System.Globalization;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Idrum.Web.Work;

namespace Idrum.Web.Shop;

/// <summary>Backs the shop up daily by itself, keeps a stated number, and says when it could not.</summary>
public sealed class BackupDesk(IdrumOptions options, SettingStore settings, TimeProvider clock, ILogger<BackupDesk> log)
    : BackgroundService
{
    /// <summary>How many daily backups are kept where nothing else is said.</summary>
    public const int UsuallyKept = 14;

    private const string Pattern = "idrum-????-??-??.zip";
    private static readonly TimeSpan Look = TimeSpan.FromHours(1);
    private static readonly TimeSpan Late = TimeSpan.FromDays(2.5);
    private static readonly TimeSpan Day = TimeSpan.FromHours(23);

    /// <summary>Folder the daily backups go to.</summary>
    public string Folder =>
        settings.Get(SettingStore.BackupFolder) is { Length: > 0 } chosen
            ? chosen
            : Path.Combine(options.DataFolder, "backups");

    /// <summary>How many are kept.</summary>
    public int Kept =>
        int.TryParse(settings.Get(SettingStore.BackupsKept), CultureInfo.InvariantCulture, out var n) ? n : UsuallyKept;

    /// <summary>Why the last one could not be made; empty where it could.</summary>
    public string Trouble { get; private set; } = "";

    /// <summary>The daily backups there are, the newest first.</summary>
    public IReadOnlyList<FileInfo> List() =>
        Directory.Exists(Folder)
            ? [.. new DirectoryInfo(Folder).GetFiles(Pattern).OrderByDescending(f => f.Name, StringComparer.Ordinal)]
            : [];

    /// <summary>Those that can have been made by now: one dated ahead, by its name or its time, was made with a clock
    /// that was wrong, and stands for no day.</summary>
    private List<FileInfo> Made(DateTimeOffset now)
    {
        var today = now.ToString("'idrum-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture);
        return
        [
            .. List()
                .Where(f =>
                    string.CompareOrdinal(f.Name, today) <= 0 && f.LastWriteTimeUtc <= now + TimeSpan.FromHours(1)
                ),
        ];
    }

    /// <summary>What is wrong with the daily backups, for who keeps the shop: the last failed, is old, or one is dated
    /// ahead; empty where nothing is.</summary>
    public string Worry()
    {
        var (now, all) = (clock.GetUtcNow(), List());
        var made = Made(now);
        return Trouble.Length > 0 ? Trouble
            : made is [var newest, ..] && now - newest.LastWriteTimeUtc > Late
                ? $"The last daily backup is of {Say.Day(newest.LastWriteTimeUtc)}. See under Shop."
            : all.Count > made.Count
                ? $"The backup {all.First(f => made.TrueForAll(m => m.Name != f.Name)).Name} is dated ahead: a clock was wrong. It is not counted; daily ones are made all the same."
            : "";
    }

    /// <summary>Makes today's backup where the last is older than a day, and drops those beyond the number
    /// kept.</summary>
    /// <returns>Whether one was made.</returns>
    public bool MakeDue()
    {
        var now = clock.GetUtcNow();
        try
        {
            var today = Path.Combine(Folder, now.ToString("'idrum-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture));
            var made = Made(now);
            if (made is [var newest, ..] && now - newest.LastWriteTimeUtc < Day || File.Exists(today))
            {
                return false;
            }
            BackupFormat.Make(options.DataFolder, today, "", now);
            File.SetLastWriteTimeUtc(today, now.UtcDateTime);
            // Those dated ahead are neither counted nor deleted: they would push the good ones out.
            foreach (var old in Made(now).Skip(Kept))
            {
                old.Delete();
            }
            Trouble = "";
            return true;
        }
        catch (Exception e)
            when (e
                    is IOException
                        or InvalidDataException
                        or UnauthorizedAccessException
                        or ArgumentException
                        or Microsoft.Data.Sqlite.SqliteException
            )
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
        await Task.Delay(TimeSpan.FromSeconds(30), clock, stoppingToken)
            .ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        while (!stoppingToken.IsCancellationRequested)
        {
            MakeDue();
            await Task.Delay(Look, clock, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
