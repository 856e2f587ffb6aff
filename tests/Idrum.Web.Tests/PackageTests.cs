using System.Net.Sockets;
using System.Text;
using Idrum.Web.Hosting;

namespace Idrum.Web.Tests;

/// <summary>What a shop's computer sees of Idrum: its commands, whether it lacks something, whether it is up, and under which number an error
/// stands in the log.</summary>
public sealed class PackageTests
{
    [Fact]
    public void Commands_are_understood_first_and_nowhere_else()
    {
        Assert.False(IdrumOptions.Parse(["serve"]).Demo);
        Assert.True(IdrumOptions.Parse(["demo", "--port", "0"]) is { Demo: true, Years: 2 });
        Assert.Equal("check", IdrumOptions.Parse(["check"]).Task);
        Assert.Equal("version", IdrumOptions.Parse(["version"]).Task);
        Assert.Throws<ArgumentException>(() => IdrumOptions.Parse(["--demo", "check"]));
        Assert.Throws<ArgumentException>(() => IdrumOptions.Parse(["--years", "eleven"]));
        Assert.Matches(@"^\d+\.\d+\.\d+", SystemCheck.Version);
    }

    [Fact]
    public void This_computer_lacks_nothing_and_what_is_lacking_is_named()
    {
        var folder = Directory.CreateTempSubdirectory("idrum-check").FullName;
        try
        {
            var options = new IdrumOptions
            {
                DataFolder = folder,
                ContentFolder = Path.Combine(AppContext.BaseDirectory, "content"),
            };
            Assert.All(SystemCheck.Look(options), l => Assert.Equal("", l.Wrong));
            var without = SystemCheck.Look(options with { ContentFolder = Path.Combine(folder, "none") });
            Assert.Contains(without, l => l.What.StartsWith("layouts", StringComparison.Ordinal) && l.Wrong.Length > 0);
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    [Fact]
    public async Task It_says_that_it_is_up_and_nothing_else()
    {
        var host = new TestHost { Demo = false };
        await host.InitializeAsync();
        try
        {
            Assert.Equal("up", await host.Client.GetStringAsync("/health"));
        }
        finally
        {
            await host.DisposeAsync();
        }
    }

    [Fact]
    public async Task The_service_manager_is_told_that_it_is_ready_alive_and_stopping()
    {
        var place = Path.Combine(Directory.CreateTempSubdirectory("idrum-notify").FullName, "socket");
        using var socket = new Socket(AddressFamily.Unix, SocketType.Dgram, ProtocolType.Unspecified);
        socket.Bind(new UnixDomainSocketEndPoint(place));
        var folder = Directory.CreateTempSubdirectory("idrum-start").FullName;
        using var server = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo(
                "dotnet",
                [Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"), "serve", "--port", "0", "--data", folder]
            )
            {
                RedirectStandardOutput = true,
                Environment = { ["NOTIFY_SOCKET"] = place, ["WATCHDOG_USEC"] = "400000" },
            }
        )!;
        try
        {
            var buffer = new byte[64];
            async Task<string> NextAsync()
            {
                using var late = new CancellationTokenSource(TimeSpan.FromSeconds(60));
                var read = await socket.ReceiveAsync(buffer, SocketFlags.None, late.Token);
                return Encoding.UTF8.GetString(buffer, 0, read);
            }
            var heard = new List<string>();
            while (!heard.Contains("READY=1") || heard.Count(h => h == "WATCHDOG=1") < 2)
            {
                heard.Add(await NextAsync());
            }
            using var stop = System.Diagnostics.Process.Start("kill", ["-TERM", $"{server.Id}"]);
            while (heard[^1] != "STOPPING=1")
            {
                heard.Add(await NextAsync());
            }
            await server.WaitForExitAsync();
            Assert.All(heard, h => Assert.Contains(h, new[] { "READY=1", "WATCHDOG=1", "STOPPING=1" }));
        }
        finally
        {
            if (!server.HasExited)
            {
                server.Kill();
            }
            Directory.Delete(folder, true);
            Directory.Delete(Path.GetDirectoryName(place)!, true);
        }
    }
}
