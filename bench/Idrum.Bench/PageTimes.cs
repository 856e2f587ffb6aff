using BenchmarkDotNet.Attributes;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;

namespace Idrum.Bench;

/// <summary>Pages fetched over loopback from the real host with the demo data, and the advice computed in process.</summary>
public class PageTimes
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-bench").FullName;
    private WebApplication app = null!;
    private HttpClient client = null!;
    private ShopKnowledge shop = null!;
    private MachineKnowledge machine = null!;
    private int round;

    [GlobalSetup]
    public async Task StartAsync()
    {
        app = await IdrumHost.BuildAsync(new IdrumOptions { DataFolder = folder, ContentFolder = Path.Combine(AppContext.BaseDirectory, "content"), Demo = true }, 0);
        await app.StartAsync();
        client = new HttpClient { BaseAddress = new Uri(app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First()) };
        shop = app.Services.GetRequiredService<ShopKnowledge>();
        machine = shop.For(shop.FindLayout("quenby-qd62")!);
        // The runtime recompiles hot code in pauses; all pages are brought there before any is measured.
        for (var round = 0; round < 10; round++)
        {
            for (var i = 0; i < 150; i++)
            {
                foreach (var path in new[] { "/pulse", "/jobs/J-0147/find", "/jobs/J-0148/strip", "/jobs/J-0149/floor" })
                {
                    (await client.GetAsync(path)).EnsureSuccessStatusCode();
                }
            }
            await Task.Delay(400);
        }
    }

    [GlobalCleanup]
    public async Task StopAsync()
    {
        client.Dispose();
        await app.DisposeAsync();
        Directory.Delete(folder, true);
    }

    [Benchmark(Baseline = true)]
    public Task<byte[]> EmptyPage() => client.GetByteArrayAsync("/pulse");

    [Benchmark]
    public Task<byte[]> FindPage() => client.GetByteArrayAsync("/jobs/J-0147/find");

    [Benchmark]
    public Task<byte[]> StripPage() => client.GetByteArrayAsync("/jobs/J-0148/strip");

    [Benchmark]
    public Task<byte[]> FloorPage() => client.GetByteArrayAsync("/jobs/J-0149/floor");

    /// <summary>The page as after an act: the address is new each time, so that nothing drawn before serves.</summary>
    [Benchmark]
    public Task<byte[]> FindPageDrawn() => client.GetByteArrayAsync($"/jobs/J-0147/find?drawn={round++}");

    /// <summary>Advice as it is asked for all day: another set of answers each time, the machine known.</summary>
    [Benchmark]
    public DiagnosisResult Advice() => machine.Diagnostician.Diagnose(Question(round++));

    internal static DiagnosisRequest Question(int n)
    {
        var findings = new Dictionary<string, string> { ["squeal"] = n % 2 == 0 ? "yes" : "no", ["chirp"] = n % 3 == 0 ? "yes" : "no" };
        findings["drum-hand"] = (n % 4) switch { 0 => "normal", 1 => "stiff", 2 => "free", _ => "normal" };
        findings["hand-sound"] = (n % 5) switch { 0 => "silent", 1 => "squeaks", 2 => "thumps", _ => "squeaks" };
        findings["thump"] = n % 7 == 0 ? "yes" : "no";
        return new(findings, [], 0.5 + n % 11 * 0.2);
    }
}
