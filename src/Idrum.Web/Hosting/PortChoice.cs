using System.Net;
using System.Net.Sockets;

namespace Idrum.Web.Hosting;

/// <summary>Finds a port on the loopback address.</summary>
public static class PortChoice
{
    /// <summary>The port to listen on.</summary>
    /// <param name="asked">Asked for by name, or null.</param>
    /// <param name="say">Told when another port than the default is taken.</param>
    /// <exception cref="IOException">The port asked for is taken.</exception>
    public static int Choose(int? asked, Action<string> say)
    {
        if (asked is { } port)
        {
            return port == 0 || IsFree(port)
                ? port
                : throw new IOException(
                    $"Port {port} is taken by another program. Name another one, or leave --port away."
                );
        }
        for (var candidate = IdrumOptions.DefaultPort; candidate < IdrumOptions.DefaultPort + 50; candidate++)
        {
            if (IsFree(candidate))
            {
                if (candidate != IdrumOptions.DefaultPort)
                {
                    say($"Port {IdrumOptions.DefaultPort} is taken; using {candidate}.");
                }
                return candidate;
            }
        }
        return 0;
    }

    private static bool IsFree(int port)
    {
        try
        {
            using var listener = new TcpListener(IPAddress.Loopback, port) { ExclusiveAddressUse = true };
            listener.Start();
            return true;
        }
        catch (SocketException)
        {
            return false;
        }
    }
}
