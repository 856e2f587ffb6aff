using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Idrum.Core.Basics;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Hosting;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;

namespace Idrum.Web.Tests;

/// <summary>The real host with demo data in a folder of its own, on a free loopback port.</summary>
public sealed partial class TestHost : IAsyncLifetime
{
    private readonly string folder = Directory.CreateTempSubdirectory("idrum-test").FullName;
    private WebApplication app = null!;

    /// <summary>Whether the shop is filled with the demo.</summary>
    public bool Demo { get; init; } = true;

    /// <summary>What the command line would say beside that.</summary>
    public Func<IdrumOptions, IdrumOptions> With { get; init; } = o => o;

    /// <summary>Exceptions and errors that the host logged.</summary>
    public System.Collections.Concurrent.ConcurrentQueue<string> Logged { get; } = new();

    public HttpClient Client { get; private set; } = null!;

    public ShopSnapshot Shop => app.Services.GetRequiredService<ShopKeeper>().Now;

    /// <summary>A service of the host.</summary>
    public T Get<T>()
        where T : notnull => app.Services.GetRequiredService<T>();

    public JobStore Store => app.Services.GetRequiredService<JobStore>();

    /// <summary>The content it is started with.</summary>
    public string ContentFolder { get; set; } = Path.Combine(AppContext.BaseDirectory, "content");

    /// <summary>Its data folder.</summary>
    public string DataFolder => folder;

    public string DatabasePath => Path.Combine(folder, "idrum.db");

    // A felt of the demo is coated as it is made: a copy that has lain for long shows a window that is over.
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(90);

    private static readonly Lock Making = new();

    private static (Task<string> Folder, long At)? made;

    /// <summary>The demo's jobs, worked for the hosts that start within <see cref="Fresh"/>: each starts from a copy.</summary>
    private static Task<string> WorkedAsync()
    {
        lock (Making)
        {
            if (made is not { } last || System.Diagnostics.Stopwatch.GetElapsedTime(last.At) > Fresh)
            {
                made = last = (WorkAsync(), System.Diagnostics.Stopwatch.GetTimestamp());
            }
            return last.Folder;
        }
    }

    private static async Task<string> WorkAsync()
    {
        var folder = Directory.CreateTempSubdirectory("idrum-worked").FullName;
        await using (
            var app = await IdrumHost.BuildAsync(
                new()
                {
                    DataFolder = folder,
                    ContentFolder = Path.Combine(AppContext.BaseDirectory, "content"),
                    Demo = true,
                },
                0
            )
        ) { }
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(folder, true);
        return folder;
    }

    public async Task InitializeAsync()
    {
        if (Demo && !File.Exists(DatabasePath) && ContentFolder == Path.Combine(AppContext.BaseDirectory, "content"))
        {
            foreach (var file in Directory.GetFiles(await WorkedAsync(), "idrum.db*"))
            {
                File.Copy(file, Path.Combine(folder, Path.GetFileName(file)));
            }
        }
        app = await IdrumHost.BuildAsync(
            With(
                new()
                {
                    DataFolder = folder,
                    ContentFolder = ContentFolder,
                    Demo = Demo,
                }
            ),
            0,
            Logged.Enqueue
        );
        await app.StartAsync();
        Client = NewClient();
    }

    /// <summary>Stops it and starts it again on the same data.</summary>
    public async Task RestartAsync()
    {
        Client.Dispose();
        await app.DisposeAsync();
        await InitializeAsync();
    }

    /// <summary>A browser with cookies of its own.</summary>
    public HttpClient NewClient() =>
        new(new HttpClientHandler { AllowAutoRedirect = false, CookieContainer = new CookieContainer() })
        {
            BaseAddress = new Uri(
                app.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First()
            ),
        };

    public async Task DisposeAsync()
    {
        Client.Dispose();
        await app.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
    }

    public Task<HttpResponseMessage> PostJsonAsync(string path, string json) =>
        Client.PostAsync(path, new StringContent(json, Encoding.UTF8, "application/json"));

    public Task<HttpResponseMessage> PostJsonAsync(string path, object body) =>
        Client.PostAsJsonAsync(path, body, IdrumJson.Options);

    /// <summary>How a page answers, after it has led on to another where it does.</summary>
    public async Task<System.Net.HttpStatusCode> ShownAsync(string page)
    {
        var answer = await Client.GetAsync(page);
        return (answer.Headers.Location is { } on ? await Client.GetAsync(on) : answer).StatusCode;
    }

    /// <summary>Posts a form to a page with the token the page gave.</summary>
    public async Task<HttpResponseMessage> PostFormAsync(string page, params (string Name, string Value)[] fields) =>
        await Client.PostAsync(
            page,
            new FormUrlEncodedContent(
                fields
                    .Append(("__RequestVerificationToken", await TokenAsync(page)))
                    .Select(f => KeyValuePair.Create(f.Item1, f.Item2))
            )
        );

    public async Task<string> TokenAsync(string page) =>
        Token().Match(await Client.GetStringAsync(page)).Groups[1].Value;

    public static async Task<JsonElement> JsonAsync(HttpResponseMessage answer) =>
        JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement;

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
