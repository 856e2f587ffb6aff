using System.Globalization;
using System.Net.Sockets;
using System.Text;

namespace Idrum.Web.Hosting;

/// <summary>Tells the system's service manager that Idrum is ready, that it is alive, and that it stops; nothing where none asked.</summary>
/// <remarks>The protocol of <c>sd_notify(3)</c>: lines in a datagram to the socket that <c>NOTIFY_SOCKET</c> names; alive at half the time
/// of <c>WATCHDOG_USEC</c>.</remarks>
internal sealed class SystemdNotice(IHostApplicationLifetime life, TimeProvider clock) : BackgroundService
{
    private static string Address => Environment.GetEnvironmentVariable("NOTIFY_SOCKET") ?? "";

    /// <inheritdoc />
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (Address.Length == 0)
        {
            return;
        }
        life.ApplicationStarted.Register(() => Say("READY=1"));
        life.ApplicationStopping.Register(() => Say("STOPPING=1"));
        if (
            !long.TryParse(
                Environment.GetEnvironmentVariable("WATCHDOG_USEC"),
                CultureInfo.InvariantCulture,
                out var microseconds
            )
            || microseconds < 2000
        )
        {
            return;
        }
        using var timer = new PeriodicTimer(TimeSpan.FromMicroseconds(microseconds / 2.0), clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            Say("WATCHDOG=1");
        }
    }

    private static void Say(string line)
    {
        try
        {
            using var socket = new Socket(AddressFamily.Unix, SocketType.Dgram, ProtocolType.Unspecified);
            // An abstract name is written with an at sign.
            socket.SendTo(
                Encoding.UTF8.GetBytes(line),
                new UnixDomainSocketEndPoint(Address[0] == '@' ? "\0" + Address[1..] : Address)
            );
        }
        catch (SocketException)
        {
            // Who asked is gone.
        }
    }
}
