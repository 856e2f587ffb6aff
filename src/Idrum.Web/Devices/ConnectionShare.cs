using System.Collections.Concurrent;
using System.Net;
using Microsoft.AspNetCore.Connections;

namespace Idrum.Web.Devices;

/// <summary>Lines that one address of the network may hold at once: whoever opens hundreds and says nothing leaves
/// those of the others alone.</summary>
public sealed class ConnectionShare
{
    /// <summary>Lines of one address: a phone needs some ten.</summary>
    public const int Most = 32;

    private readonly ConcurrentDictionary<IPAddress, int> held = new();

    /// <summary>Takes a line, or lets it fall.</summary>
    public ConnectionDelegate Around(ConnectionDelegate next) =>
        async connection =>
        {
            var from = (connection.RemoteEndPoint as IPEndPoint)?.Address ?? IPAddress.None;
            if (held.AddOrUpdate(from, 1, (_, n) => n + 1) > Most)
            {
                Release(from);
                connection.Abort(new ConnectionAbortedException("Too many lines from one address."));
                return;
            }
            try
            {
                await next(connection);
            }
            finally
            {
                Release(from);
            }
        };

    private void Release(IPAddress from)
    {
        if (held.AddOrUpdate(from, 0, (_, n) => n - 1) <= 0)
        {
            held.TryRemove(KeyValuePair.Create(from, 0));
        }
    }
}
