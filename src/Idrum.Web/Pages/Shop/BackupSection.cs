using System.Globalization;
using Idrum.Core.Basics;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Forms;
using Idrum.Web.Hosting;
using Idrum.Web.Shop;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Shop;

/// <summary>Backups: made, taken away, brought back; and what a start found missing.</summary>
public sealed class BackupSection(
    BackupDesk backups,
    RestoreDesk restore,
    SettingStore settings,
    IdrumOptions options,
    TimeProvider clock,
    IServiceProvider services,
    HttpRequest request
)
{
    private IFormCollection Form => request.Form;

    /// <summary>Backups in the folder, the newest first.</summary>
    public IReadOnlyList<FileInfo> Backups => backups.List();

    /// <summary>Where they are made.</summary>
    public string Folder => backups.Folder;

    /// <summary>What is wrong with them; empty where nothing is.</summary>
    public string Trouble => backups.Trouble;

    /// <summary>The folder chosen; empty where it is the one beside the data.</summary>
    public string ChosenFolder { get; private set; } = settings.Get(SettingStore.BackupFolder);

    /// <summary>How many are kept, as typed.</summary>
    public string Kept { get; private set; } = backups.Kept.ToString(CultureInfo.InvariantCulture);

    /// <summary>What was answered once and was missing at a start; empty where nothing was.</summary>
    public string Missing => settings.Get(SettingStore.ActsMissing);

    /// <summary>That the clock stands before the last stored act; empty where it does not.</summary>
    public string ClockOff => StartChecks.Clock(LastArrived, settings, clock.GetUtcNow());

    private DateTimeOffset? LastArrived => services.GetRequiredService<JobStore>().LastArrived;

    internal Reply Seen()
    {
        if (Form["of"] == "clock")
        {
            settings.Set(
                SettingStore.ClockRight,
                LastArrived is { } last ? last.ToString("O", CultureInfo.InvariantCulture) : ""
            );
            return Reply.Said("The clock is right. Acts stored while it was ahead keep the times they have.");
        }
        settings.Set(SettingStore.ActsMissing, "");
        return Reply.Said("It is not told any more.");
    }

    /// <summary>Everything in open formats, sent while it is written.</summary>
    internal StreamedFile Export() =>
        new(
            (to, stop) =>
                ShopExport.Write(
                    to,
                    services.GetRequiredService<JobStore>(),
                    services.GetRequiredService<LayoutStore>(),
                    services.GetRequiredService<ShopKeeper>().Now,
                    stop
                ),
            "application/zip",
            clock.GetUtcNow().ToString("'idrum-export-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture)
        );

    /// <summary>The whole shop as a file.</summary>
    /// <param name="passphrase">With its keys, sealed by it; empty without them.</param>
    internal FileStreamResult WholeShop(string passphrase = "")
    {
        var file = Path.Combine(Path.GetTempPath(), $"idrum-{Guid.NewGuid():N}.zip");
        BackupFormat.Make(options.DataFolder, file, passphrase, clock.GetUtcNow());
        return Zip(
            new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.None, 1 << 16, FileOptions.DeleteOnClose),
            clock.GetUtcNow().ToString("'idrum-'yyyy-MM-dd-HHmm'.zip'", CultureInfo.InvariantCulture)
        );
    }

    private static FileStreamResult Zip(Stream stream, string name) =>
        new(stream, "application/zip") { FileDownloadName = name };

    internal Reply Backup()
    {
        (ChosenFolder, Kept) = (Form["folder"].ToString().Trim(), Form["kept"].ToString().Trim());
        if (!int.TryParse(Kept, CultureInfo.InvariantCulture, out var kept) || kept is < 1 or > 1000)
        {
            return Reply.Refused("How many are kept: a number from 1 to 1000.");
        }
        if (ChosenFolder.Length > 0 && !Path.IsPathFullyQualified(ChosenFolder))
        {
            return Reply.Refused("Folder: the whole path, from the root.");
        }
        try
        {
            var folder = ChosenFolder.Length > 0 ? ChosenFolder : Path.Combine(options.DataFolder, "backups");
            var manifest = BackupFormat.Make(
                options.DataFolder,
                Path.Combine(
                    folder,
                    clock.GetUtcNow().ToString("'idrum-'yyyy-MM-dd'.zip'", CultureInfo.InvariantCulture)
                ),
                "",
                clock.GetUtcNow()
            );
            settings.Set(SettingStore.BackupFolder, ChosenFolder);
            settings.Set(SettingStore.BackupsKept, Kept);
            return Reply.Said($"Backed up and checked: {manifest.Jobs} jobs, {manifest.Acts} acts.");
        }
        catch (Exception e) when (e is IOException or InvalidDataException or UnauthorizedAccessException)
        {
            return Reply.Refused(e.Message);
        }
    }

    /// <summary>How long an answer waits for a backup to be looked at; what takes longer is told as it goes on.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(3);

    /// <summary>The backup that is being looked at, or was last; null where none was.</summary>
    public RestoreWork? Work => restore.Now;

    /// <summary>What a backup holds that is brought back.</summary>
    public static string Brought(BackupManifest manifest) =>
        $"{manifest.Jobs} jobs and {manifest.Acts} acts of {Say.Clock(manifest.MadeAt)} are brought back. Idrum starts anew: load the page again in a few seconds.";

    internal Reply EndRestore()
    {
        restore.End();
        return Reply.Said("Stopped. Nothing was changed.");
    }

    internal async Task<Reply> RestoreAsync()
    {
        if (Form.Files["backup"] is not { Length: > 0 } sent)
        {
            return Reply.Refused("Backup file: choose one first.");
        }
        var file = Path.Combine(options.DataFolder, $"brought-{Guid.NewGuid():N}.zip");
        try
        {
            using (var stream = new FileStream(file, FileMode.CreateNew))
            {
                await sent.CopyToAsync(stream);
            }
            if (restore.Begin(file, Form["passphrase"].ToString()) is not { } work)
            {
                File.Delete(file);
                return Reply.Refused("A backup is being brought back already.");
            }
            await Task.WhenAny(work.Done, Task.Delay(Patience));
            return work switch
            {
                { Wrong.Length: > 0 } => Reply.Refused(work.Wrong),
                { Manifest: { } manifest } => Reply.Said(Brought(manifest)),
                _ => Reply.Said(),
            };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            File.Delete(file);
            return Reply.Refused(e.Message);
        }
    }
}
