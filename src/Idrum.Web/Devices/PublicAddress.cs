using System.Net;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;

namespace Idrum.Web.Devices;

/// <summary>Where a phone finds the shop.</summary>
public sealed class PublicAddress(IServer server, IdrumOptions options)
{
    /// <summary>Address of the network's side without a slash at its end; empty where the shop is served to this
    /// computer alone.</summary>
    public string Network =>
        options.Proxy is { } proxy ? proxy.GetLeftPart(UriPartial.Authority)
        : options.Lan ? $"https://{Host}:{PortOf("https", 0)}"
        : "";

    /// <summary>Address of the page of trust; empty where none is served.</summary>
    public string Trust =>
        options.Lan && options.Certificate.Length == 0 && options.Proxy is null
            ? $"http://{Host}:{PortOf("http", 1)}"
            : "";

    /// <summary>Address for this computer.</summary>
    public string Here => $"http://127.0.0.1:{PortOf("http", 0)}";

    private string Host =>
        options.Certificate.Length > 0 && options.NetworkNames().ToList() is [.., var name] ? name
        : ServerNames.Addresses(options.LanAddress) is [var first, ..]
            ? first.AddressFamily == System.Net.Sockets.AddressFamily.InterNetworkV6 ? $"[{first}]"
                : first.ToString()
        : ServerNames.Names() is [.., var own] ? own
        : IPAddress.Loopback.ToString();

    private int PortOf(string scheme, int place) =>
        server
            .Features.Get<IServerAddressesFeature>()!
            .Addresses.Select(a => BindingAddress.Parse(a))
            .Where(a => a.Scheme == scheme)
            .Skip(place)
            .Select(a => a.Port)
            .FirstOrDefault();
}
