namespace Idrum.Web.Hosting;

/// <summary>Headers on every answer: nothing from elsewhere, nothing inline, nothing framed, nothing guessed.</summary>
public static class SecurityHeaders
{
    private const string Csp = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' blob:; connect-src 'self'; " +
        "manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public static IApplicationBuilder UseSecurityHeaders(this IApplicationBuilder app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = Csp;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        return next(context);
    });
}
