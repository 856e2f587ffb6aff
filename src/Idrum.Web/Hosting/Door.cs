using System.Net;
using Idrum.Core.Jobs.Log;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.Extensions.Primitives;

namespace Idrum.Web.Hosting;

/// <summary>The one place where a request is looked at before anything else reads it: the name it was sent to, where it
/// comes from,
/// its method, its size, and whether its body can be read at all.</summary>
public sealed class Door(RequestDelegate next, IdrumOptions options)
{
    /// <summary>Largest form of an act, bytes.</summary>
    public const long FormBytes = 256 << 10;

    /// <summary>A form that carries a layout file as text: a megabyte, each byte of it as three signs at
    /// worst.</summary>
    public const long LayoutFormBytes = 4 << 20;

    /// <summary>Largest form with a calendar.</summary>
    public const long CalendarFormBytes = 12 << 20;

    /// <summary>Largest event, bytes.</summary>
    public const long EventBytes = 64 << 10;

    /// <summary>Largest layout, alone or within a question, bytes; a little over the megabyte it may have, so that the
    /// message can say so.</summary>
    public const long LayoutBytes = (1 << 20) + (64 << 10);

    // What an act has beside its file.
    private const long Beside = 64 << 10;

    /// <summary>Largest act with the file it carries, bytes; a recording's own page takes more.</summary>
    public static readonly long FileBytes = AttachmentKind.Photo.MostBytes + Beside;

    /// <summary>Largest act with a recording of half an hour.</summary>
    public static readonly long SoundBytes = AttachmentKind.Sound.MostBytes + Beside;

    private const string Trouble = "trouble";
    private static readonly string[] Written =
    [
        "/jobs",
        "/machines",
        "/api",
        "/shop",
        "/pair",
        "/practice",
        "/stock",
        "/week",
        "/welcome",
        LeftBehind.Path,
    ];
    private readonly HashSet<string> here = new(
        ["localhost", "127.0.0.1", "[::1]", .. options.Proxy is { } p ? new[] { p.Host } : []],
        StringComparer.OrdinalIgnoreCase
    );
    private volatile HashSet<string> network = options.Lan
        ? new(options.NetworkNames(), StringComparer.OrdinalIgnoreCase)
        : [];
    private long looked = Environment.TickCount64;

    public async Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        if (
            !(
                (context.Features.Get<Entrance>()?.Kind ?? EntranceKind.Loopback) == EntranceKind.Loopback
                    ? here.Contains(request.Host.Host)
                    : InNetwork(request.Host.Host)
            )
        )
        {
            await RefuseAsync(context, 421);
            return;
        }
        if (
            request.Path.Value is { } path
            && (
                path.Length > 500
                || path.Any(c => char.IsControl(c) || c == '\ufffd')
                || NumberIn(path) is { } number && !JobNumber.Fits(number)
            )
        )
        {
            await RefuseAsync(context, 404);
            return;
        }
        var reads = HttpMethods.IsGet(request.Method) || HttpMethods.IsHead(request.Method);
        // Acts are posted to the pages of a job and to the API; every other address is only read.
        if (!reads && !(HttpMethods.IsPost(request.Method) && Written.Any(w => request.Path.StartsWithSegments(w))))
        {
            context.Response.Headers.Allow = "GET, HEAD, POST";
            await RefuseAsync(context, 405);
            return;
        }
        if (!reads && !FromHere(request))
        {
            await RefuseAsync(context, 403);
            return;
        }
        try
        {
            await next(context);
        }
        catch (Exception e) when (!context.Response.HasStarted && StatusOf(e) is not null)
        {
            context.Response.Clear();
            await RefuseAsync(context, StatusOf(e)!.Value);
        }
        catch (Exception e) when (!context.Response.HasStarted && Unstorable(e) is not null)
        {
            context.Response.Clear();
            context.Items[ErrorAnswer.Words] = Unstorable(e);
            await RefuseAsync(context, StatusCodes.Status507InsufficientStorage);
        }
        catch (OperationCanceledException) when (context.RequestAborted.IsCancellationRequested)
        {
            // The caller has left; there is nobody to answer.
        }
    }

    /// <summary>Whether this computer has that name or address in its network; it may have got a new one since the
    /// start.</summary>
    private bool InNetwork(string name)
    {
        if (!network.Contains(name) && Environment.TickCount64 - Interlocked.Read(ref looked) > 10_000)
        {
            Interlocked.Exchange(ref looked, Environment.TickCount64);
            network = new(options.NetworkNames(), StringComparer.OrdinalIgnoreCase);
        }
        return network.Contains(name);
    }

    /// <summary>A job's number within an address of a page or of the API, or null.</summary>
    private static string? NumberIn(string path)
    {
        var parts = path.Split('/');
        var at =
            parts is ["", "jobs", ..] ? 2
            : parts is ["", "api", "v1", "jobs", ..] ? 4
            : 0;
        return
            at == 0
            || parts.Length <= at
            || parts[at].Length == 0
            || parts[at] is "new" or "import"
            || Guid.TryParse(parts[at], out _)
            ? null
            : parts[at];
    }

    /// <summary>Writes come from pages of this application, or from programs, which send no origin.</summary>
    private bool FromHere(HttpRequest request) =>
        (
            StringValues.IsNullOrEmpty(request.Headers.Origin)
            || request.Headers.Origin == $"{request.Scheme}://{request.Host}"
            || options.Proxy is { } proxy && request.Headers.Origin == proxy.GetLeftPart(UriPartial.Authority)
        ) && request.Headers["Sec-Fetch-Site"].ToString() is "" or "same-origin" or "none";

    /// <summary>What is written: its size, then its body. Runs after it is known who comes and what he may: a stranger
    /// sends nothing.</summary>
    public static async Task BodyAsync(HttpContext context, RequestDelegate next)
    {
        if (!HttpMethods.IsGet(context.Request.Method) && !HttpMethods.IsHead(context.Request.Method))
        {
            await ReadAsync(context);
        }
        await next(context);
    }

    /// <summary>What is said to be the most: without what is taken beside a file or over it.</summary>
    private static long Said(long most) =>
        most == FileBytes || most == SoundBytes ? most - Beside
        : most == LayoutBytes ? 1 << 20
        : most;

    private static string Megabytes(long bytes) =>
        bytes < 1 << 20
            ? string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{bytes / 1024.0:0} kB")
            : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{bytes / 1048576.0:0.#} MB");

    private static async Task ReadAsync(HttpContext context)
    {
        var request = context.Request;
        var api = request.Path.StartsWithSegments("/api", StringComparison.OrdinalIgnoreCase);
        var value = request.Path.Value!;
        var files = request.GetTypedHeaders().ContentType?.MediaType == "multipart/form-data";
        var most = api switch
        {
            true when value.EndsWith("/events", StringComparison.OrdinalIgnoreCase) => files ? SoundBytes : EventBytes,
            true when value.EndsWith("/jobs", StringComparison.OrdinalIgnoreCase) => IdrumHost.MaxBody,
            true when value.EndsWith("/listening/recording", StringComparison.OrdinalIgnoreCase) => Core.Listening
                .WavFile
                .MostBytes,
            true => LayoutBytes,
            false when value.EndsWith("/machines/file", StringComparison.OrdinalIgnoreCase) => LayoutFormBytes,
            false when value.EndsWith("/import", StringComparison.OrdinalIgnoreCase) => IdrumHost.MaxBody,
            false when value.Equals("/shop/restore", StringComparison.OrdinalIgnoreCase) => IdrumHost.MaxBackup,
            false when files && value.Equals("/shop/logo", StringComparison.OrdinalIgnoreCase) => Paper.Logo.FormBytes,
            // More than is read, so that the page can say how large it is.
            false when files && value.Equals("/week", StringComparison.OrdinalIgnoreCase) => CalendarFormBytes,
            false
                when files
                    && (
                        request.Path == LeftBehind.Path
                        || request.Path.StartsWithSegments("/jobs", StringComparison.OrdinalIgnoreCase)
                            && value.EndsWith("/listen", StringComparison.OrdinalIgnoreCase)
                    ) => SoundBytes,
            false when files && request.Path.StartsWithSegments("/jobs", StringComparison.OrdinalIgnoreCase) =>
                FileBytes,
            false => FormBytes,
        };
        if (request.ContentLength > most)
        {
            context.Items[ErrorAnswer.Words] =
                $"{Megabytes(request.ContentLength!.Value)} were sent, and {Megabytes(Said(most))} is the most here. Nothing was stored, and nothing that was is lost.";
            throw new BadHttpRequestException("Too large.", 413);
        }
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
        {
            limit.MaxRequestBodySize = most;
        }
        if (api)
        {
            return;
        }
        if (!request.HasFormContentType)
        {
            throw new BadHttpRequestException("Send a form.", 415);
        }
        try
        {
            await request.ReadFormAsync(
                new FormOptions
                {
                    ValueCountLimit = 512,
                    KeyLengthLimit = 256,
                    ValueLengthLimit = (int)(most == LayoutFormBytes ? most : FormBytes),
                    MultipartBodyLengthLimit = most,
                    MultipartHeadersCountLimit = 16,
                    MultipartHeadersLengthLimit = 4096,
                },
                context.RequestAborted
            );
        }
        catch (Exception e) when (e is InvalidDataException or IOException and not BadHttpRequestException)
        {
            // Reading a form is the one place where a fault of reading is the sender's.
            throw new BadHttpRequestException("This form cannot be read.", 400, e);
        }
    }

    /// <summary>ENOSPC, as the runtime passes it on.</summary>
    private const int DiskFull = 28;

    /// <summary>Why the shop's computer could not store something; null where it is no such fault.</summary>
    private static string? Unstorable(Exception e) =>
        e switch
        {
            Microsoft.Data.Sqlite.SqliteException fault => Storage.DatabaseFaults.Words(fault),
            IOException { HResult: DiskFull } =>
                "The disk of the shop's computer is full. Free some room, then do it again.",
            _ => null,
        };

    /// <summary>What a body that cannot be read is answered with; null for what is not the sender's fault.</summary>
    private static int? StatusOf(Exception e) =>
        e switch
        {
            BadHttpRequestException bad => bad.StatusCode,
            TimeoutException => 503,
            // The link broke while a body was read: nobody is there to be answered.
            Microsoft.AspNetCore.Connections.ConnectionResetException => 400,
            _ => null,
        };

    private static Task RefuseAsync(HttpContext context, int status)
    {
        context.Response.StatusCode = status;
        context.Items[Trouble] = status;
        return ErrorAnswer.WriteAsync(context);
    }
}
