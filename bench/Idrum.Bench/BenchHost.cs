using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;

namespace Idrum.Bench;

/// <summary>The real host with demo data in a folder of its own, on a free loopback port.</summary>
internal sealed class BenchHost : IAsyncDisposable
{
    private readonly string folder;
    private readonly WebApplication app;

    internal string Folder => folder;

    private BenchHost(WebApplication app, string folder) => (this.app, this.folder) = (app, folder);

    /// <summary>Whether every part is only to run to its end: the tests do so, so that none breaks unseen.</summary>
    internal static bool Smallest { get; set; }

    /// <summary>A size, or the least where only the end is wanted.</summary>
    internal static T Size<T>(T usual, T least) => Smallest ? least : usual;

    /// <summary>How far a share seen in a sample may lie from the true one: three standard errors of the
    /// sample.</summary>
    internal static double Spread(double share, int sample) => 3 * Math.Sqrt(share * (1 - share) / Math.Max(1, sample));

    internal static string Content => Path.Combine(AppContext.BaseDirectory, "content");

    internal Uri Address =>
        new(app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First());

    internal T Get<T>()
        where T : notnull => app.Services.GetRequiredService<T>();

    internal List<string> Logged { get; } = [];

    /// <summary>With the network's side too, on the loopback address.</summary>
    internal static Task<BenchHost> StartOnNetworkAsync() => StartAsync(true);

    internal static async Task<BenchHost> StartAsync(bool lan = false)
    {
        var folder = Directory.CreateTempSubdirectory("idrum-bench").FullName;
        BenchHost? host = null;
        var app = await IdrumHost.BuildAsync(
            new IdrumOptions
            {
                DataFolder = folder,
                ContentFolder = Content,
                Demo = true,
                Lan = lan,
                LanAddress = System.Net.IPAddress.Loopback,
                LanPort = 0,
                TrustPort = 0,
            },
            0,
            e => host?.Logged.Add(e)
        );
        host = new(app, folder);
        await app.StartAsync();
        return host;
    }

    /// <summary>Times at a share of the sorted list, milliseconds; no number where none was taken in the time there was.</summary>
    internal static double At(List<double> times, double share) =>
        times.Count == 0 ? double.NaN : times.Order().ElementAt(Math.Min(times.Count - 1, (int)(times.Count * share)));

    public async ValueTask DisposeAsync()
    {
        await app.DisposeAsync();
        Directory.Delete(folder, true);
    }
}
