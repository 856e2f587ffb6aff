using System.Net;
using System.Text;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Hosting;

/// <summary>Errors in plain words: problem details for the API, a small page for people.</summary>
public static class ErrorAnswer
{
    /// <summary>Under this name the request carries words of its own for the answer.</summary>
    internal const string Words = "words";

    /// <summary>Under which number an error stands in the log.</summary>
    private static string NumberOf(HttpContext context) =>
        context.Items.TryGetValue(nameof(NumberOf), out var known) && known is string number
            ? number
            : (string)(context.Items[nameof(NumberOf)] = $"E-{Guid.NewGuid().ToString("N")[..8]}");

    /// <summary>The way back to the job that something was meant for.</summary>
    private static string Back(PathString path) =>
        path.Value?.Split('/') is ["", "jobs", { Length: > 0 } number, _, ..] && Core.Jobs.Log.JobNumber.Fits(number)
            ? $"<a class=\"button\" href=\"/jobs/{Uri.EscapeDataString(number)}\">Back to {WebUtility.HtmlEncode(number)}</a> "
            : "";

    public static async Task WriteAsync(HttpContext context)
    {
        if (
            context.Response.StatusCode == StatusCodes.Status500InternalServerError
            && context.Features.Get<Microsoft.AspNetCore.Diagnostics.IExceptionHandlerFeature>() is { Error: var error }
        )
        {
            context.RequestServices.GetRequiredService<LastErrors>().Note(NumberOf(context), context, error);
            context
                .RequestServices.GetRequiredService<ILoggerFactory>()
                .CreateLogger("Idrum")
                .LogError(
                    "{Number}: {Method} {Path}: {Kind}: {Message}",
                    NumberOf(context),
                    context.Request.Method,
                    // The address of the calendar is a secret.
                    context.Request.Path.StartsWithSegments("/calendar", StringComparison.OrdinalIgnoreCase)
                        ? "/calendar/…"
                        : context.Request.Path.Value,
                    error.GetType().Name,
                    Devices.SecurityLog.Plain(error.Message)
                );
        }
        var status = context.Response.StatusCode;
        var (title, text) = status switch
        {
            400 => ("Not understood", "What was sent could not be read. Go back; nothing was stored."),
            401 => (
                "Not paired",
                "This device is not paired with the shop, or was revoked. Pair it with a code from the shop's computer."
            ),
            403 when context.Items.ContainsKey(Devices.DeviceAuthentication.Keeps) => (
                "For who keeps the shop",
                "This is for who keeps the shop. Nothing was changed."
            ),
            429 => (
                "Wait a moment",
                context.Items[Words] as string
                    ?? "Too many wrong codes from this device. Wait a minute, then try again."
            ),
            403 => ("Not from here", "Acts are taken from Idrum's own pages only. Nothing was stored."),
            408 => ("Broken off", "The sending broke off. Nothing was stored; try again."),
            421 => ("Not this name", "Idrum is not served under this name. Use the address it printed at its start."),
            507 => (
                "Not stored",
                $"{context.Items[Words]} Nothing of this act was stored, and nothing that was stored is lost."
            ),
            503 => (
                "Too much at once",
                "This could not be worked out in time. Nothing was lost; try again in a moment."
            ),
            404 => ("Not here", "There is no such job, machine or page."),
            405 => ("Not possible", "This address does not take that kind of request."),
            413 => (
                "Too large",
                context.Items[Words] as string
                    ?? "Too large. An act may have 64 kB, a layout 1 MB, a photo 10 MB, a whole job 80 MB."
            ),
            415 => ("Wrong kind", "This address takes JSON, a page takes its own form."),
            _ => (
                "Something broke",
                $"The act was not stored. Go back and try again. In the log this stands under {NumberOf(context)}."
            ),
        };
        if (context.Request.Path.StartsWithSegments("/api", StringComparison.Ordinal))
        {
            await context.Response.WriteAsJsonAsync(
                new ProblemDetails
                {
                    Status = status,
                    Title = title,
                    Detail = text,
                    Instance = context.Request.Path,
                },
                options: null,
                contentType: "application/problem+json"
            );
            return;
        }
        context.Response.ContentType = "text/html; charset=utf-8";
        await context.Response.WriteAsync(
            $"""
            <!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>{title} · Idrum</title><link rel="stylesheet" href="/app.css"></head>
            <body><main id="page" class="sheet"><h1>{title}</h1><p>{WebUtility.HtmlEncode(text)}</p><p>{(
                status == 401
                    ? "<a class=\"button\" href=\"/pair\">Pair this device</a>"
                    : $"{Back(context.Request.Path)}<a class=\"button\" href=\"/\">To the bench</a>"
            )}</p></main></body></html>
            """,
            Encoding.UTF8
        );
    }
}
