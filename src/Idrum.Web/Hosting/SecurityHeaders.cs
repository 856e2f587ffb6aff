namespace Idrum.Web.Hosting;

/// <summary>Headers on every answer, errors too: nothing from elsewhere, nothing inline, nothing framed, nothing
/// guessed.</summary>
public static class SecurityHeaders
{
    private const string Csp =
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' blob:; media-src 'self' blob:; connect-src 'self'; "
        + "manifest-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public static IApplicationBuilder UseSecurityHeaders(this IApplicationBuilder app) =>
        app.Use(
            (context, next) =>
            {
                // At the last moment, because an answer that turns into an error is cleared on the way.
                context.Response.OnStarting(() =>
                {
                    var headers = context.Response.Headers;
                    headers.ContentSecurityPolicy = Csp;
                    headers.XContentTypeOptions = "nosniff";
                    headers["Referrer-Policy"] = "same-origin";
                    headers["Cross-Origin-Opener-Policy"] = "same-origin";
                    headers["Cross-Origin-Resource-Policy"] = "same-origin";
                    headers["Permissions-Policy"] =
                        "microphone=(self), camera=(self), accelerometer=(self), gyroscope=(self), geolocation=(), payment=(), usb=()";
                    if (headers.CacheControl.Count == 0)
                    {
                        // Files of the application say themselves how long they hold; all else is the shop's own.
                        headers.CacheControl = "no-store";
                    }
                    if (context.Request.IsHttps)
                    {
                        headers.StrictTransportSecurity = "max-age=31536000";
                    }
                    return Task.CompletedTask;
                });
                return next(context);
            }
        );
}
