using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Text.Json;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Hosting;
using Idrum.Web.Work;

namespace Idrum.Web.Tests;

/// <summary>The program as it is started: ports, data folder, twice in a row.</summary>
public sealed class StartTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-start").FullName;

    public void Dispose() => Directory.Delete(folder, true);

    private Process Start(params string[] words) =>
        Process.Start(
            new ProcessStartInfo(
                "dotnet",
                [Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"), .. words, "--data", folder]
            )
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
                // It lives for seconds: nothing is gained by compiling it twice.
                Environment = { ["DOTNET_TieredPGO"] = "0" },
            }
        )!;

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
    public async Task What_is_looked_at_first_is_looked_at_once_after_the_start_and_changes_nothing()
    {
        var host = new TestHost();
        await host.InitializeAsync();
        try
        {
            var acts = host.Store.Open().Sum(j => host.Store.Find(j.Number)!.Version);
            await WarmUp.LookAsync(host.Get<IServiceProvider>(), CancellationToken.None);
            var strip = host.Store.Open().First(j => j.Station == Station.Strip);
            Assert.NotNull(host.Get<JobDesk>().Open(strip.Number)!.Package);
            Assert.Equal(acts, host.Store.Open().Sum(j => host.Store.Find(j.Number)!.Version));
            Assert.Empty(host.Logged);
        }
        finally
        {
            await host.DisposeAsync();
        }
        Assert.True(IdrumOptions.Parse(["--cold"]).Cold);
    }

    [Fact]
    [System.Runtime.Versioning.UnsupportedOSPlatform("windows")]
    public async Task What_lies_in_the_shops_folder_is_its_own_what_was_there_before_too()
    {
        const UnixFileMode others =
            UnixFileMode.GroupRead
            | UnixFileMode.GroupWrite
            | UnixFileMode.GroupExecute
            | UnixFileMode.OtherRead
            | UnixFileMode.OtherWrite
            | UnixFileMode.OtherExecute;
        var old = Path.Combine(folder, "layouts");
        Directory.CreateDirectory(old);
        await File.WriteAllTextAsync(Path.Combine(old, "note.txt"), "x");
        File.SetUnixFileMode(old, others | UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        using var server = Start("--port", "0");
        try
        {
            Assert.NotEqual("", await AddressAsync(server));
            var all = Directory.GetFileSystemEntries(folder, "*", SearchOption.AllDirectories).Append(folder).ToList();
            Assert.Contains(all, p => p.EndsWith("idrum.db", StringComparison.Ordinal));
            Assert.All(all, p => Assert.Equal(UnixFileMode.None, File.GetUnixFileMode(p) & others));
        }
        finally
        {
            server.Kill();
            await server.WaitForExitAsync();
        }
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

    private async Task<(int Code, string Said)> EndsAsync(params string[] words)
    {
        using var ended = Start(words);
        var (said, wrong) = (ended.StandardOutput.ReadToEndAsync(), ended.StandardError.ReadToEndAsync());
        await ended.WaitForExitAsync();
        return (ended.ExitCode, await said + await wrong);
    }

    [Fact]
    public async Task What_the_environment_says_to_the_web_server_is_not_heard()
    {
        using var probe = new TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        var port = ((IPEndPoint)probe.LocalEndpoint).Port;
        probe.Stop();
        var start = new ProcessStartInfo(
            "dotnet",
            [Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"), "--port", "0", "--data", folder]
        )
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        foreach (
            var (name, value) in new[]
            {
                ("ASPNETCORE_URLS", $"http://0.0.0.0:{port}"),
                ("Kestrel__Endpoints__Open__Url", $"http://0.0.0.0:{port}"),
                ("ASPNETCORE_HTTP_PORTS", $"{port}"),
                ("ASPNETCORE_FORWARDEDHEADERS_ENABLED", "true"),
            }
        )
        {
            start.Environment[name] = value;
        }
        using var server = Process.Start(start)!;
        using var client = new HttpClient { BaseAddress = new Uri(await AddressAsync(server)) };
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/")).StatusCode);
        using var line = new TcpClient();
        await Assert.ThrowsAsync<SocketException>(() => line.ConnectAsync(IPAddress.Loopback, port));
        // A forged header makes nobody come from elsewhere, and no other name is heard.
        using var forged = new HttpRequestMessage(HttpMethod.Get, "/")
        {
            Headers = { { "X-Forwarded-Host", "evil.example" } },
        };
        Assert.Equal(HttpStatusCode.OK, (await client.SendAsync(forged)).StatusCode);
        server.Kill();
        await server.WaitForExitAsync();
    }

    [Fact]
    public async Task A_second_idrum_on_the_folder_and_a_damaged_database_end_with_one_plain_line()
    {
        using (var first = Start("--port", "0"))
        {
            await AddressAsync(first);
            var second = await EndsAsync("--port", "0");
            Assert.Equal(1, second.Code);
            Assert.Contains("Another Idrum works on", second.Said, StringComparison.Ordinal);
            first.Kill();
            await first.WaitForExitAsync();
        }
        var database = Path.Combine(folder, "idrum.db");
        foreach (var left in Directory.GetFiles(folder, "idrum.db-*"))
        {
            File.Delete(left);
        }
        await File.WriteAllBytesAsync(database, []);
        var damaged = await EndsAsync("--port", "0");
        Assert.Equal(1, damaged.Code);
        Assert.Contains("has no bytes", damaged.Said, StringComparison.Ordinal);
        Assert.DoesNotContain("   at ", damaged.Said, StringComparison.Ordinal);
        Assert.Single(damaged.Said.Trim().Split('\n'));
        Assert.Equal(0, new FileInfo(database).Length);
    }

    [Fact]
    public async Task A_backup_by_command_and_one_brought_back_by_the_page_start_the_shop_anew()
    {
        var file = Path.Combine(folder, "out", "shop.zip");
        using var server = Start("--demo", "--port", "0");
        var address = await AddressAsync(server);
        using var client = new HttpClient { BaseAddress = new Uri(address) };
        var made = await EndsAsync("backup", file);
        Assert.Equal(0, made.Code);
        Assert.Contains("Backed up and checked", made.Said, StringComparison.Ordinal);
        // While it runs, nothing is restored over it by command.
        Assert.Contains("Another Idrum works on", (await EndsAsync("restore", file)).Said, StringComparison.Ordinal);
        var jobs = JsonDocument.Parse(await client.GetStringAsync("/api/v1/jobs")).RootElement.GetArrayLength();
        var opened = new
        {
            kind = "opened",
            id = Guid.NewGuid(),
            number = "J-0999",
            machine = new { layoutId = "ostrel-ot50", place = "Cellar" },
        };
        Assert.True(
            (
                await client.PostAsync(
                    $"/api/v1/jobs/{Guid.NewGuid()}/events",
                    new StringContent(JsonSerializer.Serialize(opened), System.Text.Encoding.UTF8, "application/json")
                )
            ).IsSuccessStatusCode
        );
        var page = await client.GetStringAsync("/shop");
        var token = System
            .Text.RegularExpressions.Regex.Match(page, "name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")
            .Groups[1]
            .Value;
        using var form = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" },
            { new ByteArrayContent(await File.ReadAllBytesAsync(file)), "backup", "shop.zip" },
        };
        Assert.Contains(
            "are brought back",
            await (await client.PostAsync("/shop/restore", form)).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
        // It begins anew by itself, on any free port here, and says so.
        var again = await AddressAsync(server);
        using var fresh = new HttpClient { BaseAddress = new Uri(again) };
        Assert.Equal(jobs, JsonDocument.Parse(await fresh.GetStringAsync("/api/v1/jobs")).RootElement.GetArrayLength());
        Assert.Single(Directory.GetDirectories(folder, "aside-*"));
        server.Kill();
        await server.WaitForExitAsync();
        Assert.Equal(0, (await EndsAsync("restore", file)).Code);
        Assert.Equal(2, Directory.GetDirectories(folder, "aside-*").Length);
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
