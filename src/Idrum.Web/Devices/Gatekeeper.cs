using Idrum.Web.Hosting;

namespace Idrum.Web.Devices;

/// <summary>Keeps the listener without TLS to the one page it is for: how a phone comes to trust the shop.</summary>
public sealed class Gatekeeper(RequestDelegate next)
{
    private static readonly string[] Trusting = ["/trust", "/idrum-authority.crt", "/app.css", "/icon.svg"];

    public async Task InvokeAsync(HttpContext context)
    {
        if (context.Features.Get<Entrance>()?.Kind != EntranceKind.Trust)
        {
            await next(context);
            return;
        }
        var path = context.Request.Path;
        if (path == "/")
        {
            context.Response.Redirect("/trust");
            return;
        }
        var reads = HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method);
        if (!reads || !Trusting.Contains(path.Value) && !IsFont(path))
        {
            context.Response.StatusCode = 404;
            context.Response.Headers.Connection = "close";
            await ErrorAnswer.WriteAsync(context);
            return;
        }
        await next(context);
    }

    private static bool IsFont(PathString path) =>
        path.StartsWithSegments("/fonts", out var file)
        && file.Value is { Length: > 1 } name
        && name.LastIndexOf('/') == 0;
}
