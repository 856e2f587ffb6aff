using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using Microsoft.Net.Http.Headers;

namespace Idrum.Web.Forms;

/// <summary>A file that is sent while it is written: its first byte goes out at once, and nothing of it lies on a
/// disk.</summary>
/// <param name="write">Writes it; asked to stop when whoever wants it is gone.</param>
/// <param name="mediaType">Its kind.</param>
/// <param name="name">Under which name it is kept.</param>
public sealed class StreamedFile(Action<Stream, CancellationToken> write, string mediaType, string name) : IActionResult
{
    /// <inheritdoc />
    public async Task ExecuteResultAsync(ActionContext context)
    {
        var (response, gone) = (context.HttpContext.Response, context.HttpContext.RequestAborted);
        response.ContentType = mediaType;
        var disposition = new ContentDispositionHeaderValue("attachment");
        disposition.SetHttpFileName(name);
        response.Headers.ContentDisposition = disposition.ToString();
        // A zip is written as it comes; the web server's own buffer is all that stands between.
        context.HttpContext.Features.Get<IHttpBodyControlFeature>()!.AllowSynchronousIO = true;
        try
        {
            await Task.Run(() => write(response.Body, gone), gone);
        }
        catch (Exception e) when (response.HasStarted && e is not OperationCanceledException)
        {
            // Half a file must not look like a whole one.
            context.HttpContext.Abort();
            throw;
        }
    }
}
