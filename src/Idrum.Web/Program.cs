using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Hosting;

try
{
    var options = IdrumOptions.Parse(args);
    var port = PortChoice.Choose(options.Port, Console.WriteLine);
    await using var app = await IdrumHost.BuildAsync(options, port);
    await app.StartAsync();
    var address = app.Services.GetRequiredService<PublicAddress>();
    Console.WriteLine($"Idrum is ready at {address.Here}/ (stop with Ctrl+C; data in {options.DataFolder})");
    if (address.Network.Length > 0)
    {
        Console.WriteLine($"For phones: {address.Network}/");
    }
    if (address.Trust.Length > 0)
    {
        Console.WriteLine($"A phone that does not know this shop yet begins at {address.Trust}/ ; fingerprint of the shop's authority: {app.Services.GetRequiredService<ShopAuthority>().Fingerprint}");
    }
    if (options.Proxy is not null && !app.Services.GetRequiredService<DeviceStore>().List().Any(d => d.Keeps && d.RevokedAt is null))
    {
        Console.WriteLine($"Nobody keeps this shop yet. Pair the first device at {address.Network}/pair within five minutes with the code {app.Services.GetRequiredService<PairingDesk>().Invite("First device", "Keeper", true).Code}");
    }
    await app.WaitForShutdownAsync();
    return 0;
}
catch (Exception e) when (e is ArgumentException or IOException or InvalidDataException or InvalidOperationException or UnauthorizedAccessException)
{
    await Console.Error.WriteLineAsync($"Idrum cannot start: {e.Message}");
    return 1;
}
