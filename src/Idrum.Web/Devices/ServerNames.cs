using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;

namespace Idrum.Web.Devices;

/// <summary>Names and addresses under which this computer can be reached on its network.</summary>
public static class ServerNames
{
    /// <summary>Addresses of this computer, private ones of version 4 first; where one was chosen, that one
    /// alone.</summary>
    /// <param name="chosen">The address to listen on; null or "any" for all.</param>
    public static IReadOnlyList<IPAddress> Addresses(IPAddress? chosen)
    {
        if (chosen is not null && !chosen.Equals(IPAddress.Any) && !chosen.Equals(IPAddress.IPv6Any))
        {
            return [chosen];
        }
        return
        [
            .. NetworkInterface
                .GetAllNetworkInterfaces()
                .Where(n =>
                    n.OperationalStatus == OperationalStatus.Up
                    && n.NetworkInterfaceType != NetworkInterfaceType.Loopback
                )
                .SelectMany(n => n.GetIPProperties().UnicastAddresses.Select(a => a.Address))
                .Where(a =>
                    a.AddressFamily == AddressFamily.InterNetwork
                    || a.AddressFamily == AddressFamily.InterNetworkV6 && !a.IsIPv6LinkLocal
                )
                .Distinct()
                .OrderBy(a => a.AddressFamily)
                .ThenBy(a => IsPrivate(a) ? 0 : 1)
                .ThenBy(a => a.ToString(), StringComparer.Ordinal),
        ];
    }

    /// <summary>Names of this computer, with the one that small networks give it.</summary>
    public static IReadOnlyList<string> Names()
    {
        var own = Dns.GetHostName().ToLowerInvariant();
        return Uri.CheckHostName(own) == UriHostNameType.Dns
            ? own.Contains('.')
                ? [own]
                : [own, own + ".local"]
            : [];
    }

    private static bool IsPrivate(IPAddress a) =>
        a.GetAddressBytes() is [10, ..] or [192, 168, ..] or [172, >= 16 and <= 31, ..];
}
