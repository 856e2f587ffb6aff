using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Web.Devices;

/// <summary>Says who makes a request, and keeps out who is nobody: over the network, and behind a proxy, only a paired
/// device gets anything but the
/// pages of trust and pairing and what these need to be drawn.</summary>
public sealed class Gatekeeper(RequestDelegate next, IdrumOptions options, DeviceStore devices, SettingStore settings)
{
    /// <summary>The cookie of a device. Its name binds it to this host and to TLS.</summary>
    public const string Cookie = "__Host-idrum";

    /// <summary>Marks a request refused because it is for who keeps the shop.</summary>
    internal const string Keeps = "keeps";

    private static readonly string[] Pairing = ["/pair", "/trust", "/idrum-authority.crt", "/manifest.webmanifest"];
    private static readonly string[] Drawn =
    [
        "/app.css",
        "/app.js",
        "/htmx.js",
        "/alpine.js",
        "/theme.js",
        "/icon.svg",
        "/sw.js",
    ];
    private static readonly string[] Trusting = ["/trust", "/idrum-authority.crt", "/app.css", "/icon.svg"];

    /// <summary>Pages for who keeps the shop.</summary>
    private static readonly string[] Keeping = ["/shop", "/machines/file", "/machines/new"];

    public async Task InvokeAsync(HttpContext context)
    {
        var path = context.Request.Path;
        var entrance = context.Features.Get<Entrance>()?.Kind ?? EntranceKind.Loopback;
        if (entrance == EntranceKind.Trust)
        {
            if (path == "/")
            {
                context.Response.Redirect("/trust");
                return;
            }
            if (!HttpMethods.IsGet(context.Request.Method) || !Trusting.Contains(path.Value) && !IsFont(path))
            {
                await RefuseAsync(context, 404);
                return;
            }
        }
        var caller =
            entrance == EntranceKind.Loopback && options.Proxy is null
                ? new Caller(settings.Get(SettingStore.PersonHere), "this computer", true, true)
                : Paired(context.Request);
        if (caller is null && !Pairing.Contains(path.Value) && !Drawn.Contains(path.Value) && !IsFont(path))
        {
            await RefuseAsync(context, 401);
            return;
        }
        if (caller is { Keeps: false } && IsKeeping(context.Request))
        {
            context.Items[Keeps] = true;
            await RefuseAsync(context, 403);
            return;
        }
        if (caller is not null)
        {
            context.Features.Set(caller);
        }
        await next(context);
    }

    private Caller? Paired(HttpRequest request)
    {
        var bearer =
            request.Headers.Authorization.ToString() is { } said && said.StartsWith("Bearer ", StringComparison.Ordinal)
                ? said[7..].Trim()
                : null;
        var token = bearer is not null && request.Path.StartsWithSegments("/api") ? bearer : request.Cookies[Cookie];
        return token is { Length: > 0 } && devices.Find(token) is { } device
            ? new(device.Person, device.Name, device.Keeps, false)
            : null;
    }

    private static bool IsFont(PathString path) =>
        path.StartsWithSegments("/fonts", out var file)
        && file.Value is { Length: > 1 } name
        && name.LastIndexOf('/') == 0;

    private static bool IsKeeping(HttpRequest request) =>
        Keeping.Any(k => request.Path.StartsWithSegments(k))
        || request.Path.StartsWithSegments("/machines")
            && !HttpMethods.IsGet(request.Method)
            && !HttpMethods.IsHead(request.Method)
        || request.Path.StartsWithSegments("/machines")
            && request.Path.Value!.EndsWith("/edit", StringComparison.OrdinalIgnoreCase);

    private static Task RefuseAsync(HttpContext context, int status)
    {
        context.Response.StatusCode = status;
        if (status == 401)
        {
            context.Response.Headers.WWWAuthenticate = "Bearer";
        }
        return ErrorAnswer.WriteAsync(context);
    }
}
