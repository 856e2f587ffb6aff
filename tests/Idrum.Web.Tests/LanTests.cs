using System.Net;
using System.Net.Http.Headers;
using System.Net.Security;
using System.Net.Sockets;
using System.Security.Cryptography.X509Certificates;
using System.Text;
using System.Text.RegularExpressions;
using Idrum.Storage;
using Idrum.Web.Devices;
using Microsoft.Extensions.Logging;

namespace Idrum.Web.Tests;

/// <summary>A shop served to its network, here the loopback address.</summary>
public sealed class LanHost : IAsyncLifetime
{
    public TestHost Host { get; } =
        new() { With = o => o with { Lan = true, LanAddress = IPAddress.Loopback, LanPort = 0, TrustPort = 0 } };

    public Task InitializeAsync() => Host.InitializeAsync();

    public Task DisposeAsync() => Host.DisposeAsync();
}

/// <summary>The shop served to its network, over TLS, as a stranger, a paired phone and a revoked one find
/// it.</summary>
public sealed partial class LanTests(LanHost lan) : IClassFixture<LanHost>
{
    private readonly TestHost host = lan.Host;
    private readonly Uri network = new(lan.Host.Get<PublicAddress>().Network);

    /// <summary>A phone that trusts the shop's authority and nothing else.</summary>
    private HttpClient Phone(CookieContainer? cookies = null) =>
        new(
            new SocketsHttpHandler
            {
                AllowAutoRedirect = false,
                CookieContainer = cookies ?? new(),
                SslOptions = new()
                {
                    RemoteCertificateValidationCallback = (_, certificate, _, errors) =>
                        errors == SslPolicyErrors.None || Trusted(certificate!, errors),
                },
            }
        )
        {
            BaseAddress = network,
        };

    private bool Trusted(X509Certificate certificate, SslPolicyErrors errors)
    {
        using var chain = new X509Chain
        {
            ChainPolicy =
            {
                TrustMode = X509ChainTrustMode.CustomRootTrust,
                RevocationMode = X509RevocationMode.NoCheck,
            },
        };
        using var authority = X509CertificateLoader.LoadCertificateFromFile(
            Path.Combine(host.DataFolder, "authority", "authority.crt")
        );
        chain.ChainPolicy.CustomTrustStore.Add(authority);
        using var own = new X509Certificate2(certificate);
        return (errors & SslPolicyErrors.RemoteCertificateNameMismatch) == 0 && chain.Build(own);
    }

    private static async Task<string> TokenAsync(HttpClient client, string page) =>
        Token().Match(await client.GetStringAsync(page)).Groups[1].Value;

    private static async Task<HttpResponseMessage> FormAsync(
        HttpClient client,
        string page,
        string action,
        params (string, string)[] fields
    )
    {
        var token = await TokenAsync(client, page);
        return await client.PostAsync(
            action,
            new FormUrlEncodedContent(
                fields.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))
            )
        );
    }

    private async Task<string> CodeAsync(bool keeps = false)
    {
        var answer = await FormAsync(
            host.Client,
            "/shop",
            "/shop/pair",
            ("person", "Berta"),
            ("name", "Phone"),
            ("keeps", keeps ? "true" : "")
        );
        return Code().Match(await answer.Content.ReadAsStringAsync()).Groups[1].Value;
    }

    private static Task<HttpResponseMessage> PairAsync(HttpClient phone, string code) =>
        FormAsync(phone, "/pair", "/pair", ("code", code));

    private HttpClient Paired(bool keeps = false)
    {
        var cookies = new CookieContainer();
        cookies.Add(
            network,
            new Cookie(DeviceAuthentication.Cookie, host.Get<DeviceStore>().Add("Phone", "Berta", keeps).Token)
            {
                Secure = true,
            }
        );
        return Phone(cookies);
    }

    /// <summary>Sends bytes as they are over TLS and reads to the end.</summary>
    private async Task<string> RawAsync(string request)
    {
        using var line = new TcpClient();
        await line.ConnectAsync(IPAddress.Loopback, network.Port);
        await using var tls = new SslStream(line.GetStream(), false, (_, certificate, _, errors) =>
            Trusted(certificate!, errors)
        );
        await tls.AuthenticateAsClientAsync("127.0.0.1");
        await tls.WriteAsync(Encoding.ASCII.GetBytes(request));
        using var reader = new StreamReader(tls);
        return await reader.ReadToEndAsync();
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/jobs/J-0148/strip")]
    [InlineData("/jobs/J-0148/floor")]
    [InlineData("/api/v1/jobs")]
    [InlineData("/api/v1/jobs/J-0148/export")]
    [InlineData("/openapi/v1.json")]
    [InlineData("/machines")]
    [InlineData("/shop")]
    [InlineData("/licences.txt")]
    [InlineData("/pair/../jobs/J-0148/strip")]
    [InlineData("/pair/..%2fjobs%2fJ-0148%2fstrip")]
    [InlineData("/PAIR/jobs")]
    [InlineData("/fonts/../api/v1/jobs")]
    [InlineData("/fonts/..%2f..%2fidrum.db")]
    [InlineData("/no-such-page")]
    public async Task A_stranger_gets_nothing(string path)
    {
        using var stranger = Phone();
        var answer = await stranger.GetAsync(path);
        Assert.Contains(answer.StatusCode, new[] { HttpStatusCode.Unauthorized, HttpStatusCode.NotFound });
        var text = await answer.Content.ReadAsStringAsync();
        Assert.DoesNotContain("Guest house", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("//jobs/J-0148/strip")]
    [InlineData("/./jobs/J-0148/strip")]
    [InlineData("/pair/../jobs/J-0148/strip")]
    [InlineData("/jobs/J-0148/strip?x=/pair")]
    [InlineData("https://127.0.0.1/jobs/J-0148/strip")]
    [InlineData("/fonts/%2e%2e/api/v1/jobs")]
    [InlineData("/pair%00/jobs")]
    public async Task Tricks_with_paths_open_nothing(string path)
    {
        var answer = await RawAsync($"GET {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n");
        Assert.Matches("^HTTP/1.1 4\\d\\d", answer);
        Assert.DoesNotContain("Guest house", answer, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_stranger_who_posts_gets_nothing_either()
    {
        using var stranger = Phone();
        var before = host.Store.Find("J-0148")!;
        foreach (
            var path in new[]
            {
                "/jobs/J-0148/strip",
                "/jobs/new",
                "/api/v1/jobs",
                $"/api/v1/jobs/{before.JobId}/events",
                "/shop/pair",
                "/shop/revoke",
                "/machines/file",
            }
        )
        {
            var json = await stranger.PostAsync(
                path,
                new StringContent(
                    "{\"kind\":\"note-added\",\"text\":\"x\",\"operationId\":\"\"}",
                    Encoding.UTF8,
                    path.StartsWith("/api", StringComparison.Ordinal)
                        ? "application/json"
                        : "application/x-www-form-urlencoded"
                )
            );
            Assert.Equal(HttpStatusCode.Unauthorized, json.StatusCode);
        }
        Assert.Equal(before.Version, host.Store.Find("J-0148")!.Version);
    }

    [Fact]
    public async Task A_paired_phone_works_and_every_act_names_its_person_and_device()
    {
        using var phone = Paired();
        var first = await phone.GetAsync("/jobs/J-0148/strip");
        Assert.Contains(
            "max-age",
            first.Headers.GetValues("Strict-Transport-Security").Single(),
            StringComparison.Ordinal
        );
        var page = await first.Content.ReadAsStringAsync();
        Assert.Contains("Guest house", page, StringComparison.Ordinal);
        var kept = await FormAsync(
            phone,
            "/jobs/J-0148/strip",
            "/jobs/J-0148/strip",
            ("kind", "note-added"),
            ("id", Guid.NewGuid().ToString()),
            ("operationId", ""),
            ("text", "Hinge is bent"),
            ("by", "Someone else")
        );
        Assert.Equal(HttpStatusCode.SeeOther, kept.StatusCode);
        var act = host.Store.Find("J-0148")!.Log[^1];
        Assert.Equal(("Berta", "Phone"), (act.By, act.Device));
        Assert.Contains("Berta, Phone", await phone.GetStringAsync("/jobs/J-0148/report"), StringComparison.Ordinal);
        Assert.Contains("Berta, Phone", await phone.GetStringAsync("/jobs/J-0148/strip"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_api_takes_the_same_token_as_bearer_and_no_page_does()
    {
        var (_, token) = host.Get<DeviceStore>().Add("Van", "Cyril", false);
        using var program = Phone();
        program.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        Assert.Equal(HttpStatusCode.OK, (await program.GetAsync("/api/v1/jobs")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await program.GetAsync("/")).StatusCode);
        var job = host.Store.Find("J-0148")!;
        var plain = new StringContent(
            $"{{\"kind\":\"note-added\",\"id\":\"{Guid.NewGuid()}\",\"text\":\"x\",\"operationId\":\"\"}}",
            Encoding.UTF8,
            "text/plain"
        );
        Assert.Equal(
            HttpStatusCode.UnsupportedMediaType,
            (await program.PostAsync($"/api/v1/jobs/{job.JobId}/events", plain)).StatusCode
        );
        var json = new StringContent(
            $"{{\"kind\":\"note-added\",\"id\":\"{Guid.NewGuid()}\",\"text\":\"x\",\"operationId\":\"\",\"by\":\"Forged\"}}",
            Encoding.UTF8,
            "application/json"
        );
        Assert.Equal(
            HttpStatusCode.Created,
            (await program.PostAsync($"/api/v1/jobs/{job.JobId}/events", json)).StatusCode
        );
        Assert.Equal("Cyril", host.Store.Find("J-0148")!.Log[^1].By);
        program.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Bearer",
            token[..^1] + (token[^1] == '0' ? '1' : '0')
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await program.GetAsync("/api/v1/jobs")).StatusCode);
    }

    [Fact]
    public async Task Only_the_hash_of_a_token_is_stored()
    {
        var (_, token) = host.Get<DeviceStore>().Add("Van", "Cyril", false);
        foreach (var file in Directory.GetFiles(host.DataFolder, "idrum.db*"))
        {
            using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
            using var reader = new StreamReader(stream, Encoding.Latin1);
            Assert.DoesNotContain(token, await reader.ReadToEndAsync(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Revoked_it_is_a_stranger_at_once()
    {
        using var phone = Paired();
        Assert.Equal(HttpStatusCode.OK, (await phone.GetAsync("/")).StatusCode);
        var device = host.Get<DeviceStore>().List().MaxBy(d => d.PairedAt)!;
        await FormAsync(host.Client, "/shop", "/shop/revoke", ("device", device.DeviceId.ToString()));
        Assert.Equal(HttpStatusCode.Unauthorized, (await phone.GetAsync("/")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await phone.GetAsync("/api/v1/jobs")).StatusCode);
    }

    [Fact]
    public async Task Revoked_it_leaves_what_it_kept_is_given_nothing_and_forgets_the_shop()
    {
        using var phone = Paired();
        var device = host.Get<DeviceStore>().List().MaxBy(d => d.PairedAt)!;
        Task<HttpResponseMessage> Leave(HttpClient who, string id, params (string, string)[] more) =>
            who.PostAsync(
                "/left",
                new FormUrlEncodedContent(
                    new[]
                    {
                        ("id", id),
                        ("leftJob", "J-0148"),
                        ("leftWords", "Done: top up"),
                        ("kind", "operation-done"),
                        ("operationId", "top-up"),
                        ("madeAt", "2026-11-30T10:00:00Z"),
                        ("__RequestVerificationToken", "of a session that has ended"),
                    }
                        .Concat(more)
                        .Select(f => KeyValuePair.Create(f.Item1, f.Item2))
                )
            );
        var id = Guid.NewGuid().ToString();
        // In use it sends its acts; a stranger is nobody here either.
        Assert.Equal(HttpStatusCode.Forbidden, (await Leave(phone, id)).StatusCode);
        using var stranger = Phone();
        Assert.Equal(HttpStatusCode.Unauthorized, (await Leave(stranger, id)).StatusCode);
        await FormAsync(host.Client, "/shop", "/shop/revoke", ("device", device.DeviceId.ToString()));
        var before = host.Store.Find("J-0148")!.Version;
        Assert.Equal(HttpStatusCode.OK, (await Leave(phone, id)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Leave(phone, id)).StatusCode);
        var ask = new FormUrlEncodedContent([KeyValuePair.Create("ask", "yes")]);
        Assert.Equal(HttpStatusCode.OK, (await phone.PostAsync("/left", ask)).StatusCode);
        using (var photo = new MultipartFormDataContent())
        {
            photo.Add(new StringContent(Guid.NewGuid().ToString()), "id");
            photo.Add(new StringContent("J-0148"), "leftJob");
            photo.Add(new StringContent("a photo"), "leftWords");
            photo.Add(new ByteArrayContent([1, 2, 3]), "photo", "../plug.jpg");
            Assert.Equal(HttpStatusCode.OK, (await phone.PostAsync("/left", photo)).StatusCode);
        }
        Assert.Equal(before, host.Store.Find("J-0148")!.Version);
        var done = await phone.PostAsync("/left", new FormUrlEncodedContent([KeyValuePair.Create("done", "yes")]));
        Assert.Contains("storage", done.Headers.GetValues("Clear-Site-Data").Single());
        // Everywhere else it stays a stranger.
        Assert.Equal(HttpStatusCode.Unauthorized, (await phone.GetAsync("/")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await phone.GetAsync("/left")).StatusCode);
        Assert.Contains("A device that was revoked left 2 acts", await host.Client.GetStringAsync("/"));
        var shop = await host.Client.GetStringAsync("/shop");
        Assert.Contains("Done: top up", shop);
        Assert.DoesNotContain("of a session that has ended", shop);
        var left = host.Get<LeftStore>().List();
        Assert.Equal(2, left.Count);
        var file = left.Single(a => a.FileName.Length > 0);
        Assert.Equal("plug.jpg", file.FileName);
        Assert.Equal([1, 2, 3], await host.Client.GetByteArrayAsync($"/shop/left/{file.Id}"));
        await FormAsync(host.Client, "/shop", "/shop/left-note", ("left", id));
        await FormAsync(host.Client, "/shop", "/shop/left-drop", ("left", file.Id));
        Assert.Empty(host.Get<LeftStore>().List());
        Assert.DoesNotContain("that was revoked left", await host.Client.GetStringAsync("/"));
        var note = host.Store.Find("J-0148")!.State.Notes[^1].Text;
        // What had been stored, and only the answer was lost, is not taken in a second time.
        var known = host.Store.Find("J-0148")!.Log[0].Id.ToString();
        await Leave(phone, known);
        var version = host.Store.Find("J-0148")!.Version;
        var said = await FormAsync(host.Client, "/shop", "/shop/left-note", ("left", known));
        Assert.Contains("had been stored in J-0148", await said.Content.ReadAsStringAsync());
        Assert.Equal(version, host.Store.Find("J-0148")!.Version);
        Assert.Empty(host.Get<LeftStore>().List());
        Assert.Contains("Left by Phone of Berta", note);
        Assert.Contains("operationId: top-up", note);
        Assert.DoesNotContain("T10:00:00Z", note);
    }

    [Fact]
    public void What_one_device_leaves_is_bounded()
    {
        var left = host.Get<LeftStore>();
        LeftAct Act(Guid device, string fields = "") =>
            new(
                Guid.NewGuid().ToString(),
                device,
                "Phone",
                "Berta",
                "J-0148",
                "words",
                "",
                DateTimeOffset.UtcNow,
                fields,
                "",
                0
            );
        var (many, large) = (Guid.NewGuid(), Guid.NewGuid());
        Assert.All(Enumerable.Range(0, LeftStore.MostActs), _ => Assert.True(left.Add(Act(many), null)));
        Assert.False(left.Add(Act(many), null));
        Assert.True(left.Add(Act(large), new byte[LeftStore.MostBytes - 10]));
        Assert.False(left.Add(Act(large), new byte[11]));
        Assert.True(left.Add(Act(large), new byte[5]));
        foreach (var act in left.List().Where(a => a.DeviceId == many || a.DeviceId == large))
        {
            left.Drop(act.Id);
        }
    }

    [Fact]
    public async Task A_code_holds_once_and_wrong_tries_withdraw_it_and_slow_who_guesses()
    {
        var code = await CodeAsync();
        using var first = Phone();
        Assert.Equal(HttpStatusCode.SeeOther, (await PairAsync(first, code)).StatusCode);
        using var second = Phone();
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await PairAsync(second, code)).StatusCode);
        var next = await CodeAsync();
        var answers = new List<HttpStatusCode>();
        for (var n = 0; n < 4; n++)
        {
            answers.Add((await PairAsync(second, "2222-2222")).StatusCode);
        }
        Assert.Contains(HttpStatusCode.TooManyRequests, answers);
        // Even the right one waits now.
        Assert.Equal(HttpStatusCode.TooManyRequests, (await PairAsync(second, next)).StatusCode);
    }

    [Fact]
    public void Codes_run_out_and_are_withdrawn_after_wrong_tries_from_anywhere()
    {
        var clock = new TestClock();
        var desk = new PairingDesk(clock);
        var one = desk.Invite("Phone", "Berta", false);
        clock.Now += TimeSpan.FromMinutes(5);
        Assert.Null(desk.Take(one.Code, IPAddress.Loopback));
        var two = desk.Invite("Phone", "Berta", false);
        for (var n = 0; n < PairingDesk.MostWrong; n++)
        {
            Assert.Null(desk.Take("AAAAAAAA", new IPAddress(new byte[] { 10, 0, 0, (byte)n })));
        }
        Assert.Null(desk.Take(two.Code, IPAddress.Loopback));
        var three = desk.Invite("Phone", "Berta", true);
        Assert.True(
            desk.Take($" {three.Code[..4].ToLowerInvariant()}-{three.Code[4..]}", IPAddress.Loopback) is { Keeps: true }
        );
    }

    /// <summary>What the shop logs, from here on.</summary>
    private sealed class Lines : ILoggerProvider, ILogger
    {
        public System.Collections.Concurrent.ConcurrentQueue<string> Said { get; } = new();

        public ILogger CreateLogger(string categoryName) => this;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        ) => Said.Enqueue(formatter(state, exception));

        public void Dispose() { }
    }

    [Fact]
    public async Task Who_is_let_in_or_refused_and_how_the_shop_is_kept_is_logged_a_line_each()
    {
        using var lines = new Lines();
        host.Get<ILoggerFactory>().AddProvider(lines);
        using var stranger = Phone();
        await PairAsync(stranger, "AAAA-AAAA");
        using var answer = await FormAsync(
            host.Client,
            "/shop",
            "/shop/pair",
            ("person", "Berta"),
            ("name", "Phone\r\nwarn: all is well"),
            ("keeps", "")
        );
        using var phone = Phone();
        await PairAsync(phone, Code().Match(await answer.Content.ReadAsStringAsync()).Groups[1].Value);
        Assert.Equal(HttpStatusCode.Forbidden, (await phone.GetAsync("/shop/file")).StatusCode);
        var device = host.Get<DeviceStore>().List().Single(d => d.Name.StartsWith("Phone\r", StringComparison.Ordinal));
        await FormAsync(host.Client, "/shop", "/shop/revoke", ("device", device.DeviceId.ToString()));
        await host.Client.GetAsync("/shop/file");

        string[] wanted =
        [
            "Wrong pairing code from",
            "kept by this computer of .*: pair Phone  warn: all is well of Berta",
            "Paired: Phone  warn: all is well of Berta \\(keeps the shop: False\\)",
            "Not allowed: Phone  warn: all is well of Berta: GET /shop/file",
            "kept by this computer of .*: revoke Phone  warn: all is well of Berta",
            "kept by this computer of .*: file",
        ];
        Assert.All(wanted, w => Assert.Single(lines.Said, l => Regex.IsMatch(l, w)));
        Assert.DoesNotContain(lines.Said, l => l.Any(char.IsControl));
    }

    [Fact]
    public async Task Who_only_works_keeps_nothing()
    {
        using var phone = Paired();
        var bench = await phone.GetStringAsync("/");
        Assert.DoesNotContain("href=\"/shop\"", bench, StringComparison.Ordinal);
        foreach (
            var path in new[]
            {
                "/shop",
                "/machines/file",
                "/machines/new",
                "/machines/quenby-qc30/edit",
                "/machines/quenby-qc30/edit/",
                "/Machines/quenby-qc30/Edit",
                "/SHOP",
                "/shop/pair",
            }
        )
        {
            Assert.Equal(HttpStatusCode.Forbidden, (await phone.GetAsync(path)).StatusCode);
        }
        var token = await TokenAsync(phone, "/jobs/new");
        foreach (
            var path in new[]
            {
                "/shop/pair",
                "/machines/learned",
                "/machines/quenby-qc30",
                "/machines/quenby-qc30/",
                // A job's differences, made a layout of the shop's own.
                "/jobs/J-0148/variant",
                "/jobs/J-0148/variant/",
            }
        )
        {
            Assert.Equal(
                HttpStatusCode.Forbidden,
                (
                    await phone.PostAsync(
                        path,
                        new FormUrlEncodedContent([
                            new("__RequestVerificationToken", token),
                            new("person", "x"),
                            new("name", "y"),
                        ])
                    )
                ).StatusCode
            );
        }
        using var keeper = Paired(true);
        Assert.Equal(HttpStatusCode.OK, (await keeper.GetAsync("/shop")).StatusCode);
    }

    [Fact]
    public async Task Many_silent_lines_from_one_address_do_not_take_those_of_the_others()
    {
        // Other tests of this host come from the same address.
        var (silent, refused) = (new List<TcpClient>(), 0);
        try
        {
            for (var n = 0; n < 2 * ConnectionShare.Most; n++)
            {
                var line = new TcpClient();
                try
                {
                    await line.ConnectAsync(IPAddress.Loopback, network.Port);
                    silent.Add(line);
                }
                catch (SocketException)
                {
                    refused++;
                    line.Dispose();
                }
            }
            await Task.Delay(300);
            var ended = refused + silent.Count(l => l.Client.Poll(0, SelectMode.SelectRead) && Read(l) == 0);
            Assert.InRange(ended, ConnectionShare.Most / 2, 2 * ConnectionShare.Most);
        }
        finally
        {
            silent.ForEach(l => l.Dispose());
        }
        await Task.Delay(300);
        using var phone = Paired();
        Assert.Equal(HttpStatusCode.OK, (await phone.GetAsync("/pulse")).StatusCode);

        static int Read(TcpClient line)
        {
            try
            {
                return line.GetStream().Read(new byte[1]);
            }
            catch (IOException)
            {
                return 0;
            }
        }
    }

    [Fact]
    public async Task A_backup_from_before_does_not_bring_a_revoked_device_back()
    {
        var devices = host.Get<DeviceStore>();
        var (device, token) = devices.Add("Lost phone", "Berta", true);
        Assert.NotNull(devices.Find(token));
        var file = Path.Combine(host.DataFolder, "before.zip");
        BackupFormat.Make(host.DataFolder, file, "", DateTimeOffset.UtcNow);
        // Its open line ends with it.
        var cookies = new CookieContainer();
        cookies.Add(network, new Cookie(DeviceAuthentication.Cookie, token) { Secure = true });
        using var phone = Phone(cookies);
        using var line = await phone.GetAsync("/jobs/J-0148/live", HttpCompletionOption.ResponseHeadersRead);
        await using var events = await line.Content.ReadAsStreamAsync();
        Assert.True(devices.Revoke(device.DeviceId));
        using var soon = new CancellationTokenSource(TimeSpan.FromSeconds(10));
        var rest = new byte[4096];
        while (await events.ReadAsync(rest, soon.Token) > 0) { }
        Assert.Null(devices.Find(token));
        var other = Directory.CreateTempSubdirectory("idrum-restored").FullName;
        try
        {
            File.Copy(Path.Combine(host.DataFolder, "revoked"), Path.Combine(other, "revoked"));
            ShopRestore.Restore(file, other, DateTimeOffset.UtcNow);
            var restored = new DeviceStore(
                Idrum.Storage.Database.Open(Path.Combine(other, "idrum.db")),
                TimeProvider.System
            );
            Assert.Null(restored.Find(token));
            restored.Settle();
            Assert.NotNull(restored.List().Single(d => d.DeviceId == device.DeviceId).RevokedAt);
        }
        finally
        {
            Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
            Directory.Delete(other, true);
        }
    }

    [Fact]
    public async Task A_stranger_is_not_listened_to()
    {
        foreach (var path in new[] { "/jobs/J-0148/photos", "/jobs/import", "/shop/restore", "/api/v1/jobs" })
        {
            // He says that 400 MB come and sends the first of them: the answer is there before the rest.
            var answer = await RawAsync(
                $"POST {path} HTTP/1.1\r\nHost: 127.0.0.1:{network.Port}\r\nContent-Type: multipart/form-data; boundary=x\r\nContent-Length: 400000000\r\n\r\n--x\r\n"
            );
            Assert.StartsWith("HTTP/1.1 401", answer, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_crowd_of_strangers_does_not_keep_out_who_is_paired()
    {
        using var stranger = Phone(new CookieContainer());
        var answers = new List<HttpResponseMessage>();
        for (var round = 0; round < 20; round++)
        {
            answers.AddRange(await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => stranger.GetAsync("/pair"))));
        }
        Assert.Contains(answers, a => a.StatusCode == HttpStatusCode.TooManyRequests);
        Assert.Contains(answers, a => a.StatusCode == HttpStatusCode.OK);
        using var phone = Paired();
        for (var n = 0; n < 150; n++)
        {
            Assert.Equal(HttpStatusCode.OK, (await phone.GetAsync("/pulse")).StatusCode);
        }
    }

    [Fact]
    public async Task Other_origins_hosts_and_oversized_bodies_are_refused_to_the_paired_too()
    {
        using var phone = Paired();
        var token = await TokenAsync(phone, "/jobs/J-0148/strip");
        HttpRequestMessage Note() =>
            new(HttpMethod.Post, "/jobs/J-0148/strip")
            {
                Content = new FormUrlEncodedContent([
                    new("__RequestVerificationToken", token),
                    new("kind", "note-added"),
                    new("operationId", ""),
                    new("text", "x"),
                ]),
            };
        foreach (
            var (name, value) in new[]
            {
                ("Origin", "https://elsewhere.example"),
                ("Origin", "null"),
                ("Sec-Fetch-Site", "cross-site"),
                ("Sec-Fetch-Site", "same-site"),
                (
                    "Origin",
                    network.GetLeftPart(UriPartial.Authority).Replace("https", "http", StringComparison.Ordinal)
                ),
            }
        )
        {
            var forged = Note();
            forged.Headers.Add(name, value);
            Assert.Equal(HttpStatusCode.Forbidden, (await phone.SendAsync(forged)).StatusCode);
        }
        Assert.StartsWith(
            "HTTP/1.1 421",
            await RawAsync("GET / HTTP/1.1\r\nHost: evil.example\r\nConnection: close\r\n\r\n"),
            StringComparison.Ordinal
        );
        var large = new HttpRequestMessage(HttpMethod.Post, "/jobs/J-0148/strip")
        {
            Content = new ByteArrayContent(new byte[2 << 20]),
        };
        large.Content.Headers.ContentType = new("application/x-www-form-urlencoded");
        try
        {
            Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await phone.SendAsync(large)).StatusCode);
        }
        catch (HttpRequestException)
        {
            // The line was cut while it was still sending: refused too.
        }
        // Without the token against forged posts nothing is taken.
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await phone.PostAsync(
                    "/jobs/J-0148/strip",
                    new FormUrlEncodedContent([new("kind", "note-added"), new("operationId", ""), new("text", "x")])
                )
            ).StatusCode
        );
    }

    [Fact]
    public async Task A_body_that_trickles_is_cut_off()
    {
        using var line = new TcpClient();
        await line.ConnectAsync(IPAddress.Loopback, network.Port);
        await using var tls = new SslStream(line.GetStream(), false, (_, certificate, _, errors) =>
            Trusted(certificate!, errors)
        );
        await tls.AuthenticateAsClientAsync("127.0.0.1");
        await tls.WriteAsync(
            Encoding.ASCII.GetBytes(
                $"POST /pair HTTP/1.1\r\nHost: 127.0.0.1:{network.Port}\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 5000\r\n\r\ncode="
            )
        );
        var ended = Task.Run(async () =>
        {
            var buffer = new byte[4096];
            var all = new StringBuilder();
            try
            {
                while (await tls.ReadAsync(buffer) is var n and > 0)
                {
                    all.Append(Encoding.ASCII.GetString(buffer, 0, n));
                }
            }
            catch (IOException) { }
            return all.ToString();
        });
        var began = DateTime.UtcNow;
        try
        {
            while (!ended.IsCompleted && DateTime.UtcNow - began < TimeSpan.FromSeconds(40))
            {
                await tls.WriteAsync("x"u8.ToArray());
                await Task.Delay(500);
            }
        }
        catch (IOException) { }
        Assert.True(DateTime.UtcNow - began < TimeSpan.FromSeconds(30));
        Assert.DoesNotContain(" 200 ", await ended, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Without_tls_only_the_page_of_trust_is_served()
    {
        using var plain = new HttpClient(new SocketsHttpHandler { AllowAutoRedirect = false })
        {
            BaseAddress = new(host.Get<PublicAddress>().Trust),
        };
        Assert.Equal("/trust", (await plain.GetAsync("/")).Headers.Location!.ToString());
        Assert.Contains(
            host.Get<ShopAuthority>().Fingerprint,
            await plain.GetStringAsync("/trust"),
            StringComparison.Ordinal
        );
        Assert.Equal(
            host.Get<ShopAuthority>().Authority.RawData,
            await plain.GetByteArrayAsync("/idrum-authority.crt")
        );
        foreach (var path in new[] { "/pair", "/jobs/new", "/api/v1/jobs", "/shop", "/app.js", "/openapi/v1.json" })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await plain.GetAsync(path)).StatusCode);
        }
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await plain.PostAsync("/pair", new FormUrlEncodedContent([]))).StatusCode
        );
    }

    [Fact]
    public void The_certificate_is_renewed_in_time_and_for_new_names_and_its_keys_are_the_owners_alone()
    {
        var folder = Directory.CreateTempSubdirectory("idrum-authority").FullName;
        var clock = new TestClock();
        IReadOnlyList<IPAddress> addresses = [IPAddress.Loopback];
        using (var founded = ShopAuthority.Open(folder, () => (["bench"], addresses), clock))
        {
            var first = founded.Server().SerialNumber;
            clock.Now += TimeSpan.FromDays(300);
            Assert.Equal(first, founded.Server().SerialNumber);
            clock.Now += TimeSpan.FromDays(40);
            var renewed = founded.Server();
            Assert.NotEqual(first, renewed.SerialNumber);
            Assert.True(renewed.NotAfter.ToUniversalTime() > clock.Now.AddDays(380));
            Assert.True(renewed.NotAfter - renewed.NotBefore <= TimeSpan.FromDays(398));
            // The network gives this computer another address while it runs.
            addresses = [IPAddress.Loopback, IPAddress.Parse("10.1.2.9")];
            clock.Now += TimeSpan.FromMinutes(2);
            Assert.NotEqual(renewed.SerialNumber, founded.Server().SerialNumber);
        }
        using (var same = ShopAuthority.Open(folder, () => (["bench"], addresses), clock))
        using (var moved = ShopAuthority.Open(folder, () => (["bench"], [IPAddress.Parse("10.1.2.3")]), clock))
        {
            Assert.Equal(same.Fingerprint, moved.Fingerprint);
            Assert.NotEqual(same.Server().SerialNumber, moved.Server().SerialNumber);
        }
        foreach (var file in Directory.GetFiles(folder))
        {
            Assert.Equal(
                UnixFileMode.UserRead | UnixFileMode.UserWrite,
                OperatingSystem.IsLinux() ? File.GetUnixFileMode(file) : default
            );
        }
        File.WriteAllText(Path.Combine(folder, "authority.key"), "no key");
        Assert.Contains(
            "Move that folder aside",
            Assert.Throws<InvalidDataException>(() => ShopAuthority.Open(folder, () => (["bench"], []), clock)).Message,
            StringComparison.Ordinal
        );
        Directory.Delete(folder, true);
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();

    [GeneratedRegex("class=\"paircode\">([A-Z2-9]{4}-[A-Z2-9]{4})")]
    private static partial Regex Code();
}

/// <summary>Behind a reverse proxy strangers arrive by loopback.</summary>
public sealed class ProxyTests : IAsyncLifetime
{
    private readonly TestHost host = new() { With = o => o with { Proxy = new("https://idrum.shop.example") } };

    public Task InitializeAsync() => host.InitializeAsync();

    public Task DisposeAsync() => host.DisposeAsync();

    [Fact]
    public async Task Loopback_is_no_pass_behind_a_proxy()
    {
        Assert.Equal(HttpStatusCode.Unauthorized, (await host.Client.GetAsync("/")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await host.Client.GetAsync("/shop")).StatusCode);
        // Whoever comes by its name came over TLS: so do the cookies, and they stay there.
        using var named = new HttpRequestMessage(HttpMethod.Get, "/pair") { Headers = { Host = "idrum.shop.example" } };
        using var pair = await host.Client.SendAsync(named);
        Assert.Equal("max-age=31536000", pair.Headers.GetValues("Strict-Transport-Security").Single());
        Assert.All(pair.Headers.GetValues("Set-Cookie"), c => Assert.Contains("; secure", c));
        Assert.False((await host.Client.GetAsync("/pair")).Headers.Contains("Strict-Transport-Security"));
        var (_, token) = host.Get<DeviceStore>().Add("Phone", "Berta", false);
        HttpRequestMessage Act() =>
            new(HttpMethod.Post, "/api/v1/diagnosis")
            {
                Headers = { Host = "idrum.shop.example", Authorization = new("Bearer", token) },
                Content = new StringContent("{}", Encoding.UTF8, "application/json"),
            };
        var own = Act();
        own.Headers.Add("Origin", "https://idrum.shop.example");
        Assert.NotEqual(HttpStatusCode.Forbidden, (await host.Client.SendAsync(own)).StatusCode);
        var other = Act();
        other.Headers.Add("Origin", "https://elsewhere.example");
        Assert.Equal(HttpStatusCode.Forbidden, (await host.Client.SendAsync(other)).StatusCode);
    }
}
