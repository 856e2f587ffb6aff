using System.Diagnostics;
using System.Net;
using System.Net.Http.Headers;
using System.Net.Sockets;
using System.Text;
using System.Text.RegularExpressions;

namespace Idrum.Web.Tests;

/// <summary>What one run of mutated requests met.</summary>
/// <param name="Sent">Requests sent.</param>
/// <param name="ByStatus">How many of each status.</param>
/// <param name="Faults">Answers of 500 and above, answers that took longer than allowed, errors that name a type of the
/// code or lack the headers.</param>
public sealed record FuzzReport(int Sent, IReadOnlyDictionary<int, int> ByStatus, IReadOnlyList<string> Faults);

/// <summary>Sends requests that nobody would send, seeded: sound ones over all routes and forms, mutated in address,
/// method, headers,
/// fields and body. To the loopback address it is given and no other.</summary>
public sealed partial class RequestFuzzer(
    Uri address,
    int seed,
    IReadOnlyDictionary<string, string> layouts,
    double mostSeconds
)
{
    private static readonly string[] Jobs =
    [
        "J-0138",
        "J-0144",
        "J-0145",
        "J-0146",
        "J-0147",
        "J-0148",
        "J-0149",
        "J-0150",
        "J-0151",
    ];
    private static readonly string[] Stations =
    [
        "complaint",
        "find",
        "strip",
        "floor",
        "fit",
        "rebuild",
        "prove",
        "close",
        "report",
        "photos",
        "",
    ];
    private static readonly string[] Kinds =
    [
        "opened",
        "machine-corrected",
        "complaint-stated",
        "finding-answered",
        "targets-chosen",
        "cause-decided",
        "ways-chosen",
        "safety-signed",
        "operation-done",
        "count-settled",
        "problem-noted",
        "note-added",
        "photo-added",
        "reading-taken",
        "timer-started",
        "timer-stopped",
        "part-ordered",
        "parts-bought",
        "order-settled",
        "parts-returned",
        "estimate-given",
        "estimate-approved",
        "price-made",
        "cover-bought",
        "article-bought",
        "glue-coated",
        "glue-joined",
        "glue-slipped",
        "part-fitted",
        "operation-refitted",
        "step-refitted",
        "proof-recorded",
        "station-entered",
        "closed",
        "reopened",
        "undone",
        "restored",
    ];
    private static readonly string[] Fields =
    [
        "number",
        "words",
        "findings",
        "findingId",
        "outcome",
        "targets",
        "faultId",
        "reason",
        "waysIn[idler-reach]",
        "counts[deck]",
        "counts[",
        "[",
        "]",
        "operationId",
        "stepId",
        "items",
        "signedBy",
        "fastenerId",
        "way",
        "why",
        "text",
        "what",
        "count",
        "value",
        "unit",
        "timerId",
        "label",
        "minutes",
        "partId",
        "dueInDays",
        "school",
        "action",
        "transferred",
        "note",
        "plugs",
        "checks",
        "proofId",
        "station",
        "summary",
        "eventId",
        "next",
        "id",
        "knew",
        "madeAt",
        "sentAt",
        "machine.layoutId",
        "machine.ageYears",
        "machine.facts",
        "machine.callBackOf",
        "decision",
        "parts",
        "joinMinutes",
        "photo",
        "person",
        "name",
        "keeps",
        "here",
        "code",
        "device",
        "trays[deck]",
        "run",
        "by",
    ];
    private static readonly string[] Values =
    [
        "",
        " ",
        "belt",
        "roller-left",
        "idler-out",
        "front-off",
        "yes",
        "change",
        "0",
        "-1",
        "1e400",
        "99999999999999999999",
        "2.5",
        "NaN",
        "\u0000",
        "\ud800",
        "é",
        "/jobs/é",
        "//x",
        "\\\\x",
        "/a\r\nX: y",
        "<script>",
        "' OR 1=1 --",
        "9999-12-31T23:59:59Z",
        "../../etc/passwd",
        "%00",
        "ostrel-ot50",
        "quenby-qd62",
        "water-line",
        "[",
        "{}",
        "null",
        new('x', 3000),
        new('9', 400),
        "2026/117",
        ".",
        "..",
        "new",
    ];
    private readonly Random random = new(seed);
    private readonly List<string> faults = [];
    private readonly SortedDictionary<int, int> statuses = [];
    private string token = "";
    private int connections;
    private LearnedCases learned = null!;
    private IReadOnlyList<string> known = [];

    /// <summary>Token of a paired device for the network's side; empty for a stranger there, null on the loopback
    /// side.</summary>
    public string? DeviceToken { get; init; }

    /// <summary>Whether the device was revoked: half of what it sends goes where such a one leaves what it kept.</summary>
    public bool Revoked { get; init; }

    /// <summary>Sends this many requests, one after the other.</summary>
    public async Task<FuzzReport> RunAsync(int count)
    {
        var cookies = new CookieContainer();
        if (DeviceToken is { Length: > 0 })
        {
            cookies.Add(
                address,
                new Cookie(Idrum.Web.Devices.DeviceAuthentication.Cookie, DeviceToken) { Secure = true }
            );
        }
        var handler = new SocketsHttpHandler
        {
            AllowAutoRedirect = false,
            CookieContainer = cookies,
            SslOptions = new()
            {
                RemoteCertificateValidationCallback = (_, certificate, _, _) =>
                    certificate?.Issuer.Contains("Idrum shop authority", StringComparison.Ordinal) == true,
            },
        };
        if (Revoked || DeviceToken is "")
        {
            // Each from an address of its own: what is behind the share of one stranger is to be met too.
            handler.PooledConnectionLifetime = TimeSpan.FromSeconds(1);
            handler.ConnectCallback = ConnectAsync;
        }
        using var client = new HttpClient(handler) { BaseAddress = address, Timeout = TimeSpan.FromSeconds(30) };
        // A page with a token that nothing is worked out for: on a busy machine advice may not be there in time.
        var page = await client.GetStringAsync(Revoked || DeviceToken is "" ? "/pair" : "/practice");
        token = Token().Match(page).Groups[1].Value;
        learned = await LearnedCases.OfAsync(client);
        known =
        [
            .. layouts.Keys,
            .. Jobs,
            .. Fields,
            .. Values.Where(v => !v.Contains('\ud800', StringComparison.Ordinal)),
        ];
        for (var n = 0; n < count; n++)
        {
            await (n % 25 == 24 ? RawAsync() : SendAsync(client));
        }
        return new(count, statuses, faults);
    }

    private async ValueTask<Stream> ConnectAsync(SocketsHttpConnectionContext context, CancellationToken stop)
    {
        var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
        try
        {
            socket.Bind(
                new IPEndPoint(
                    new IPAddress([127, 0, (byte)(1 + ++connections / 200), (byte)(1 + connections % 200)]),
                    0
                )
            );
            await socket.ConnectAsync(IPAddress.Loopback, context.DnsEndPoint.Port, stop);
            return new NetworkStream(socket, ownsSocket: true);
        }
        catch
        {
            socket.Dispose();
            throw;
        }
    }

    private string Pick(string[] list) => list[random.Next(list.Length)];

    private bool Chance(int oneIn) => random.Next(oneIn) == 0;

    private string Mutate(string text)
    {
        for (var n = random.Next(4); n > 0 && text.Length > 0; n--)
        {
            var at = random.Next(text.Length);
            text = random.Next(4) switch
            {
                0 => text.Remove(at, Math.Min(random.Next(1, 20), text.Length - at)),
                1 => text.Insert(at, Pick(Values)),
                2 => text[..at] + (char)random.Next(1, 300) + text[(at + 1)..],
                _ => Digits().Replace(text, m => Chance(6) ? new string('9', random.Next(1, 420)) : m.Value, 3),
            };
            text = text.Length > 40_000 && Chance(3) ? text[..4000] : text;
        }
        return text;
    }

    private string Path()
    {
        var path = random.Next(9) switch
        {
            0 => "/",
            1 => "/machines/" + Pick([.. layouts.Keys]) + "?part=" + Uri.EscapeDataString(Pick(Values)),
            2 => "/jobs/" + Uri.EscapeDataString(Pick(Values).Replace("\ud800", "x", StringComparison.Ordinal)),
            3 => "/api/v1/"
                + Pick([
                    "layouts",
                    "layouts/quenby-qd62",
                    "jobs",
                    "jobs/J-0147",
                    "jobs/J-0147/export",
                    "identify",
                    "jobs/%20",
                ]),
            4 => Pick([
                "/jobs/new",
                "/jobs/import",
                "/machines",
                "/pulse",
                "/openapi/v1.json",
                "/jobs/%20%20",
                "/jobs/%01",
                "/jobs/J-0147/photos/" + new string('a', 64),
                "/jobs/J-0148/package",
                "/jobs/J-0147/take",
                "/jobs/J-0149/parts",
                "/jobs/J-0149/estimate?new=" + Uri.EscapeDataString(Pick(Values)),
                "/jobs/J-0145/sums.csv",
                "/jobs/J-0145/returns.ics",
                "/shop",
                "/shop/export",
                "/pair",
                "/trust",
                "/away",
                "/manifest.webmanifest",
                "/idrum-authority.crt",
                "/shop/nothing",
                "/shop/money",
            ]),
            _ => $"/jobs/{Pick(Jobs)}/{Pick(Stations)}",
        };
        return Chance(4)
            ? path
                + (path.Contains('?', StringComparison.Ordinal) ? "&" : "?")
                + Pick(["check", "cause", "part", "look", "proof", "view", "step"])
                + "="
                + Uri.EscapeDataString(Pick(Values).Replace("\ud800", "y", StringComparison.Ordinal))
            : path;
    }

    /// <summary>Addresses, forms and calls that the application told of.</summary>
    public LearnedCases Learned => learned;

    /// <summary>What the application itself told of: an address, a form with its fields as they stand or one or two of them
    /// changed, a call with a body of its schema.</summary>
    private HttpRequestMessage FromLearned()
    {
        switch (random.Next(4))
        {
            case 0:
                return new(HttpMethod.Get, Chance(3) ? Mutate(Pick([.. learned.Pages])) : Pick([.. learned.Pages]));
            case 1 when learned.Calls.Count > 0:
                var call = learned.Calls[random.Next(learned.Calls.Count)];
                return new(new HttpMethod(call.Method), LearnedCases.Address(call, random, known))
                {
                    Content = call.Body is null
                        ? null
                        : Json(learned.Body(call.Body, random, known)?.ToJsonString() ?? "null"),
                };
            default:
                if (learned.Forms.Count == 0)
                {
                    goto case 0;
                }
                var form = learned.Forms[random.Next(learned.Forms.Count)];
                var fields = form
                    .Fields.Where(_ => !Chance(12))
                    .Select(f => new KeyValuePair<string, string>(
                        f.Key,
                        Chance(4) ? Pick(Values).Replace("\ud800", "", StringComparison.Ordinal) : f.Value
                    ))
                    .Append(new("__RequestVerificationToken", token))
                    .ToList();
                return new(HttpMethod.Post, form.Address) { Content = Filled(form, fields) };
        }
    }

    private HttpContent Filled(LearnedForm form, List<KeyValuePair<string, string>> fields)
    {
        if (form.Files.Count == 0)
        {
            return new FormUrlEncodedContent(fields);
        }
        var parts = new MultipartFormDataContent();
        foreach (var (name, value) in fields)
        {
            parts.Add(new StringContent(value), $"\"{name}\"");
        }
        var bytes = new byte[random.Next(400)];
        random.NextBytes(bytes);
        parts.Add(
            new ByteArrayContent(Chance(2) ? bytes : Encoding.UTF8.GetBytes(Mutate(Body()))),
            $"\"{form.Files[0]}\"",
            Pick(["a.zip", "a.json", "a.wav", "a.jpg", "a.ics", "..", "a.csv"])
        );
        return parts;
    }

    private HttpRequestMessage Leaving()
    {
        var fields = new List<KeyValuePair<string, string>>();
        foreach (
            var name in new[] { "ask", "done", "id", "leftJob", "leftWords", "madeAt", "kind", "text" }.Where(_ =>
                Chance(2)
            )
        )
        {
            fields.Add(new(name, Chance(3) ? "yes" : Pick(Values).Replace("\ud800", "", StringComparison.Ordinal)));
        }
        return new(HttpMethod.Post, Idrum.Web.Devices.LeftBehind.Path)
        {
            Content = Chance(2) ? Filled(new("", [], ["photo"]), fields) : new FormUrlEncodedContent(fields),
        };
    }

    private HttpRequestMessage Request()
    {
        if (Revoked && Chance(2))
        {
            return Leaving();
        }
        if (Chance(2))
        {
            return FromLearned();
        }
        switch (random.Next(10))
        {
            case < 3:
                return new(
                    new HttpMethod(
                        Chance(5) ? Pick(["TRACE", "OPTIONS", "PROPFIND", "HEAD", "PUT", "DELETE", "WAT"]) : "GET"
                    ),
                    Path()
                );
            case < 7:
                return new(
                    HttpMethod.Post,
                    Chance(8) ? Path()
                        : Chance(12) ? Pick(["/shop/pair", "/shop/revoke", "/shop/here", "/pair"])
                        : $"/jobs/{Pick(Jobs)}/{Pick(Stations)}"
                )
                {
                    Content = Form(),
                };
            case 7:
                return new(
                    HttpMethod.Post,
                    "/api/v1/"
                        + Pick([
                            "layouts/validate",
                            "teardown",
                            "diagnosis",
                            "jobs",
                            "identify",
                            $"jobs/{Guid.NewGuid()}/events",
                        ])
                )
                {
                    Content = Json(Mutate(Body())),
                };
            case 8:
                return new(HttpMethod.Post, "/api/v1/layouts/validate")
                {
                    Content = Json(Mutate(Pick([.. layouts.Values]))),
                };
            default:
                return new(HttpMethod.Post, "/api/v1/teardown")
                {
                    Content = Json("{\"layout\":" + Mutate(Pick([.. layouts.Values])) + ",\"targets\":[\"belt\"]}"),
                };
        }
    }

    private string Body() =>
        Pick([
            """{"layoutId":"quenby-qd62","targets":["idler"],"done":["pull-out"],"waysIn":{"belt-reach":"belt-off-rear"}}""",
            """{"layoutId":"ostrel-ot50","findings":{"squeal":"yes","drum-hand":"normal"},"done":["screen-out"],"wear":1.5}""",
            """{"kind":"note-added","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12","at":"2026-01-01T00:00:00Z","operationId":"","text":"x"}""",
            """{"format":"idrum-job","version":1,"jobId":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b11","photos":[null],"events":[{"kind":"opened","id":"7b0a3c1e-3f1d-4c63-9d59-1f5d33cf0b12","at":"2026-01-01T00:00:00Z","number":"J-1","machine":{"layoutId":"ostrel-ot50","place":"x"}}]}""",
            "{\"format\":\"\\ud800\"}",
            "null",
            "[]",
            "",
        ]);

    private static StringContent Json(string text) =>
        new(text.Replace("\ud800", "\\ud800", StringComparison.Ordinal), Encoding.UTF8, "application/json");

    private ByteArrayContent Form()
    {
        var fields = new List<KeyValuePair<string, string>> { new("kind", Chance(9) ? Pick(Values) : Pick(Kinds)) };
        for (var n = Chance(60) ? 1100 : random.Next(9); n > 0; n--)
        {
            fields.Add(new(Pick(Fields), Pick(Values)));
        }
        if (!Chance(12))
        {
            fields.Add(new("__RequestVerificationToken", token));
        }
        return random.Next(14) switch
        {
            0 => Json("{}"),
            1 => new ByteArrayContent("--x\r\nbroken"u8.ToArray())
            {
                Headers = { ContentType = MediaTypeHeaderValue.Parse("multipart/form-data; boundary=x") },
            },
            2 => new ByteArrayContent([]),
            3 => new StringContent("a=%ZZ&b=%00", Encoding.UTF8, "application/x-www-form-urlencoded"),
            _ => new FormUrlEncodedContent(fields),
        };
    }

    private async Task SendAsync(HttpClient client)
    {
        using var request = Request();
        var what = $"{request.Method} {request.RequestUri} {request.Content?.GetType().Name}";
        if (Chance(10))
        {
            request.Headers.TryAddWithoutValidation(
                Pick(["X-Antiforgery", "RequestVerificationToken", "Accept", "HX-Request", "Cookie", "Range"]),
                Pick(Values)
                    .Replace("\r\n", "", StringComparison.Ordinal)
                    .Replace("\0", "", StringComparison.Ordinal)
                    .Replace("\ud800", "", StringComparison.Ordinal)
            );
        }
        var watch = Stopwatch.StartNew();
        try
        {
            using var answer = await client.SendAsync(request);
            var body = await answer.Content.ReadAsStringAsync();
            Judge(
                what,
                (int)answer.StatusCode,
                watch.Elapsed,
                body,
                answer.Headers.Contains("Content-Security-Policy")
            );
        }
        catch (TaskCanceledException)
        {
            var sent = request.Content is null ? "" : await request.Content.ReadAsStringAsync();
            faults.Add($"no answer in 30 s: {what} {sent[..Math.Min(900, sent.Length)]}");
        }
        catch (Exception e)
            when (e
                    is HttpRequestException
                        or ArgumentException
                        or FormatException
                        or InvalidOperationException
                        or NotSupportedException
            )
        {
            // The client itself will not send such a thing.
            statuses[0] = statuses.GetValueOrDefault(0) + 1;
        }
    }

    /// <summary>Bytes that no client would put together.</summary>
    private async Task RawAsync()
    {
        var text = Pick([
            $"POST /jobs/J-0147/find HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Type: application/x-www-form-urlencoded\r\nTransfer-Encoding: chunked\r\n\r\nFFFFFFFFFFFFFFFF\r\n",
            $"POST /api/v1/teardown HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\nFFFFFFFFFFFFFFFF\r\nx",
            $"POST /api/v1/teardown HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\nzz\r\n",
            $"POST /jobs/J-0147/find HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Length: 0\r\nRequestVerificationToken: {token}\r\n\r\n",
            $"GET / HTTP/1.1\r\nHost: elsewhere.example\r\n\r\n",
            $"GET / HTTP/1.1\r\n\r\n",
            $"GET /jobs/%20 HTTP/1.1\r\nHost: {address.Authority}\r\n\r\n",
            $"GET /jobs/%C0%AF HTTP/1.1\r\nHost: {address.Authority}\r\n\r\n",
            $"POST /jobs/J-0147/find HTTP/1.1\r\nHost: {address.Authority}\r\nOrigin: http://elsewhere.example\r\nContent-Length: 0\r\n\r\n",
        ]);
        var watch = Stopwatch.StartNew();
        using var socket = new TcpClient();
        await socket.ConnectAsync(IPAddress.Loopback, address.Port);
        socket.ReceiveTimeout = 3000;
        var stream = socket.GetStream();
        await stream.WriteAsync(Encoding.Latin1.GetBytes(text));
        socket.Client.Shutdown(SocketShutdown.Send);
        using var late = new CancellationTokenSource(3000);
        var buffer = new byte[4096];
        try
        {
            var read = await stream.ReadAsync(buffer, late.Token);
            var said = Encoding.Latin1.GetString(buffer, 0, read);
            if (said.Length > 12 && int.TryParse(said.AsSpan(9, 3), out var status))
            {
                Judge(text.Split('\r')[0] + " (raw)", status, watch.Elapsed, said, true);
            }
        }
        catch (Exception e) when (e is IOException or OperationCanceledException)
        {
            statuses[0] = statuses.GetValueOrDefault(0) + 1;
        }
    }

    private void Judge(string what, int status, TimeSpan took, string body, bool headers)
    {
        statuses[status] = statuses.GetValueOrDefault(status) + 1;
        if (status >= 500)
        {
            faults.Add($"{status} {what}");
        }
        if (took.TotalSeconds > mostSeconds)
        {
            faults.Add($"{took.TotalSeconds:0.0} s {what}");
        }
        if (
            status >= 400
            && (
                body.Contains("Idrum.Core", StringComparison.Ordinal)
                || body.Contains("Idrum.Web", StringComparison.Ordinal)
                || body.Contains("System.", StringComparison.Ordinal)
                || body.Contains("Exception", StringComparison.Ordinal)
            )
        )
        {
            faults.Add($"names a type: {what}: {body[..Math.Min(300, body.Length)]}");
        }
        if (!headers && status != 400)
        {
            faults.Add($"without headers: {status} {what}");
        }
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();

    [GeneratedRegex("[0-9]+")]
    private static partial Regex Digits();
}
