using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.Json;

namespace Idrum.Web.Tests;

/// <summary>The program as it is started: ports, data folder, twice in a row.</summary>
public sealed class StartTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-start").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    private Process Start(params string[] words) => Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"), .. words, "--data", folder])
    {
        RedirectStandardOutput = true,
        RedirectStandardError = true,
    })!;

    private static async Task<string> AddressAsync(Process server)
    {
        while (await server.StandardOutput.ReadLineAsync() is { } line)
        {
            if (line.Contains("ready at ", StringComparison.Ordinal))
            {
                return line.Split("ready at ")[1].Split(' ')[0];
            }
        }
        return "";
    }

    [Fact]
    public async Task A_port_asked_for_by_name_and_taken_ends_with_a_plain_message()
    {
        using var blocker = new TcpListener(IPAddress.Loopback, 0);
        blocker.Start();
        var port = ((IPEndPoint)blocker.LocalEndpoint).Port;
        using var server = Start("--port", port.ToString(System.Globalization.CultureInfo.InvariantCulture));
        var said = await server.StandardError.ReadToEndAsync();
        await server.WaitForExitAsync();
        Assert.Equal(1, server.ExitCode);
        Assert.Contains($"Port {port} is taken", said, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Started_twice_the_demo_keeps_what_was_done_and_is_not_filled_again()
    {
        var counts = new List<int>();
        for (var round = 0; round < 2; round++)
        {
            using var server = Start("--demo", "--port", "0");
            using var client = new HttpClient { BaseAddress = new Uri(await AddressAsync(server)) };
            counts.Add(JsonDocument.Parse(await client.GetStringAsync("/api/v1/jobs")).RootElement.GetArrayLength());
            server.Kill();
            await server.WaitForExitAsync();
        }
        Assert.True(counts[0] >= 8);
        Assert.Equal(counts[0], counts[1]);
    }

    [Fact]
    public async Task Without_the_demo_the_shop_is_empty_and_says_what_to_do()
    {
        using var server = Start("--port", "0");
        using var client = new HttpClient { BaseAddress = new Uri(await AddressAsync(server)) };
        Assert.Contains("No jobs yet", await client.GetStringAsync("/"), StringComparison.Ordinal);
        server.Kill();
        await server.WaitForExitAsync();
    }
}
