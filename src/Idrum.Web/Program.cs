using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Hosting;
using Idrum.Web.Shop;

try
{
    var options = IdrumOptions.Parse(args);
    if (options.Task == "version")
    {
        Console.WriteLine($"Idrum {SystemCheck.Version}");
        return 0;
    }
    if (options.Task == "check")
    {
        var looked = SystemCheck.Look(options);
        foreach (var (what, wrong) in looked)
        {
            Console.WriteLine(wrong.Length == 0 ? $"ok     {what}" : $"lacks  {what}: {wrong}");
        }
        return looked.All(l => l.Wrong.Length == 0) ? 0 : 1;
    }
    if (options.Task != "backup")
    {
        OwnFiles.Guard(options.DataFolder);
    }
    switch (options.Task)
    {
        case "backup":
            DatabaseFaults.Look(options.DatabasePath);
            if (!File.Exists(options.DatabasePath))
            {
                throw new IOException($"There is no shop in {options.DataFolder}. Name its folder with --data DIR.");
            }
            var target = Path.GetFullPath(
                options.File.Length > 0 ? options.File : $"idrum-{DateTime.Now:yyyy-MM-dd-HHmm}.zip"
            );
            var made = BackupFormat.Make(
                options.DataFolder,
                target,
                options.WithAuthority ? Passphrase.Ask() : "",
                TimeProvider.System.GetUtcNow()
            );
            Console.WriteLine(
                $"Backed up and checked: {made.Jobs} jobs, {made.Acts} acts, {new FileInfo(target).Length / 1048576.0:0.0} MB in {target}"
            );
            return 0;
        case "restore":
            using (FolderLock.Take(options.DataFolder))
            {
                var (manifest, aside) = ShopRestore.Restore(
                    options.File,
                    options.DataFolder,
                    TimeProvider.System.GetUtcNow(),
                    options.WithAuthority ? Passphrase.Ask() : ""
                );
                Console.WriteLine(
                    $"Brought back: {manifest.Jobs} jobs, {manifest.Acts} acts, as of {manifest.MadeAt.ToLocalTime():yyyy-MM-dd HH:mm}.{(aside.Length > 0 ? $" What was there is set aside in {aside}" : "")}"
                );
            }
            return 0;
    }
    var port = PortChoice.Choose(options.Port, Console.WriteLine);
    while (true)
    {
        var app = await IdrumHost.BuildAsync(options, port);
        await app.StartAsync();
        var address = app.Services.GetRequiredService<PublicAddress>();
        Console.WriteLine($"Idrum is ready at {address.Here}/ (stop with Ctrl+C; data in {options.DataFolder})");
        if (address.Network.Length > 0)
        {
            Console.WriteLine($"For phones: {address.Network}/");
        }
        if (address.Trust.Length > 0)
        {
            Console.WriteLine(
                $"A phone that does not know this shop yet begins at {address.Trust}/ ; fingerprint of the shop's authority: {app.Services.GetRequiredService<ShopAuthority>().Fingerprint}"
            );
        }
        if (
            options.Proxy is not null
            && !app.Services.GetRequiredService<DeviceStore>().List().Any(d => d.Keeps && d.RevokedAt is null)
        )
        {
            Console.WriteLine(
                $"Nobody keeps this shop yet. Pair the first device at {address.Network}/pair within five minutes with the code {app.Services.GetRequiredService<PairingDesk>().Invite("First device", "Keeper", true).Code}"
            );
        }
        if (
            StartChecks.Clock(
                app.Services.GetRequiredService<JobStore>().LastArrived,
                app.Services.GetRequiredService<SettingStore>(),
                TimeProvider.System.GetUtcNow()
            ) is
            { Length: > 0 } warning
        )
        {
            Console.WriteLine(warning);
        }
        if (!options.Cold)
        {
            WarmUp.Begin(app.Services);
        }
        await app.WaitForShutdownAsync();
        var waiting = app.Services.GetRequiredService<RestoreDesk>().Waiting;
        await app.DisposeAsync();
        if (waiting.File.Length == 0)
        {
            return 0;
        }
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        using (FolderLock.Take(options.DataFolder))
        {
            var (_, aside) = ShopRestore.Restore(
                waiting.File,
                options.DataFolder,
                TimeProvider.System.GetUtcNow(),
                waiting.Passphrase
            );
            File.Delete(waiting.File);
            Console.WriteLine($"A backup was brought back; what was there is set aside in {aside}");
        }
    }
}
catch (Exception e)
    when (e
            is ArgumentException
                or IOException
                or InvalidDataException
                or InvalidOperationException
                or UnauthorizedAccessException
    )
{
    await Console.Error.WriteLineAsync($"Idrum cannot start: {e.Message}");
    return 1;
}
