using Idrum.Web.Devices;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Idrum.Web.Pages;

/// <summary>Helps a phone trust the shop's authority; the only page served without TLS to the network.</summary>
public sealed class TrustModel(IServiceProvider services, PublicAddress address) : PageModel
{
    public ShopAuthority? Authority { get; } = services.GetService<ShopAuthority>();

    public string Address => address.Network;
}
