namespace Idrum.Web.Devices;

/// <summary>By which listener a request came in; a feature of its connection.</summary>
/// <param name="Kind">Which.</param>
public sealed record Entrance(EntranceKind Kind);

/// <summary>The listeners.</summary>
public enum EntranceKind
{
    /// <summary>This computer alone, without TLS.</summary>
    Loopback,

    /// <summary>The shop's network, TLS always.</summary>
    Network,

    /// <summary>The page that helps a phone trust the shop's authority; nothing else is served there, for it is without
    /// TLS.</summary>
    Trust,
}
