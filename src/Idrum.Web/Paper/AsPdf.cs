using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Shop;

namespace Idrum.Web.Paper;

/// <summary>Gives a sheet of a job as PDF under the page's own address with ".pdf": whoever may see the page may have
/// it.</summary>
internal static class AsPdf
{
    private static readonly string[] Sheets = ["report", "estimate"];

    /// <summary>Turns the address into the page's, and its answer into a PDF.</summary>
    internal static async Task AnswerAsync(HttpContext context, RequestDelegate rest)
    {
        if (!HttpMethods.IsGet(context.Request.Method) || Page(context.Request.Path.Value ?? "") is not { } page)
        {
            await rest(context);
            return;
        }
        var (whole, answer) = (context.Response.Body, new MemoryStream());
        context.Request.Path = page;
        // The page is rendered whole, whatever the browser has of it.
        context.Request.Headers.Remove("If-None-Match");
        context.Request.Headers.Remove("HX-Request");
        context.Response.Body = answer;
        try
        {
            await rest(context);
        }
        finally
        {
            context.Response.Body = whole;
        }
        if (
            context.Response.StatusCode == StatusCodes.Status200OK
            && context.Response.ContentType?.StartsWith("text/html", StringComparison.OrdinalIgnoreCase) == true
        )
        {
            var services = context.RequestServices;
            var number = page.Split('/')[2];
            var sheet = PaperSheet.Of(
                System.Text.Encoding.UTF8.GetString(answer.ToArray()),
                services.GetRequiredService<MoneyDesk>().Terms.Paper,
                Path.Combine(services.GetRequiredService<IWebHostEnvironment>().WebRootPath, "fonts"),
                address => Picture(address, services)
            );
            answer.SetLength(0);
            answer.Write(sheet);
            context.Response.ContentType = "application/pdf";
            context.Response.Headers.ContentDisposition =
                $"attachment; filename=\"{Uri.UnescapeDataString(number)}-{page.Split('/')[3]}.pdf\"";
            context.Response.ContentLength = sheet.Length;
        }
        answer.Position = 0;
        await answer.CopyToAsync(whole, context.RequestAborted);
    }

    /// <summary>/jobs/N/report for /jobs/N/report.pdf; null for every other address.</summary>
    private static string? Page(string path) =>
        path.EndsWith(".pdf", StringComparison.OrdinalIgnoreCase)
        && path[..^4].Split('/') is ["", "jobs", { Length: > 0 }, var sheet]
        && Sheets.Contains(sheet, StringComparer.OrdinalIgnoreCase)
            ? path[..^4]
            : null;

    private static byte[]? Picture(string address, IServiceProvider services) =>
        address == Logo.Address ? services.GetRequiredService<Logo>().Jpeg
        : address.Split('/')[^1] is { } name
        && Attachment.IsName(name)
        && services.GetRequiredService<JobStore>().FindAttachment(name) is { } file
            ? file.Bytes
        : null;
}
