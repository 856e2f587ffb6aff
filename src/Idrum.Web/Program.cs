using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

try
{
    var options = IdrumOptions.Parse(args);
    var port = PortChoice.Choose(options.Port, Console.WriteLine);
    await using var app = await IdrumHost.BuildAsync(options, port);
    await app.StartAsync();
    var address = app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();
    Console.WriteLine($"Idrum is ready at {address.Replace("localhost", "127.0.0.1", StringComparison.Ordinal)}/ (stop with Ctrl+C; data in {options.DataFolder})");
    await app.WaitForShutdownAsync();
    return 0;
}
catch (Exception e) when (e is ArgumentException or IOException or InvalidDataException or InvalidOperationException or UnauthorizedAccessException)
{
    await Console.Error.WriteLineAsync($"Idrum cannot start: {e.Message}");
    return 1;
}
