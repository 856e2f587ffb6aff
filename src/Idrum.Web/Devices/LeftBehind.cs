using Idrum.Core.Jobs.Log;
using Idrum.Storage;
using Idrum.Web.Hosting;

namespace Idrum.Web.Devices;

/// <summary>The one address at which a device that was revoked is still known: it leaves what it had kept, is given nothing, and
/// is told to forget the shop.</summary>
public static class LeftBehind
{
    /// <summary>The address.</summary>
    public const string Path = "/left";

    private const int Longest = 200;

    /// <summary>Takes one act, or with <c>done</c> ends it.</summary>
    public static async Task<IResult> TakeAsync(HttpContext context, LeftStore left, TimeProvider clock)
    {
        var device = context.Features.Get<Device>()!;
        var form = await context.Request.ReadFormAsync(context.RequestAborted);
        if (form["done"] == "yes")
        {
            context.Response.Headers["Clear-Site-Data"] = "\"cache\", \"cookies\", \"storage\"";
            return Results.Json(new { left = left.List().Count(a => a.DeviceId == device.DeviceId) });
        }
        if (form["ask"] == "yes")
        {
            return Results.Json(new { left = 0 });
        }
        // What an older page kept may lack its id, or name no job: it is taken all the same.
        var act = Guid.TryParse(form["id"].ToString(), out var own) ? own : Guid.NewGuid();
        var job = JobNumber.Fits(form["leftJob"].ToString()) ? form["leftJob"].ToString() : "";
        byte[]? bytes = null;
        var file = form.Files.Count > 0 ? form.Files[0] : null;
        if (file is not null)
        {
            using var copy = new MemoryStream();
            await file.CopyToAsync(copy, context.RequestAborted);
            bytes = copy.ToArray();
        }
        var fields = string.Join(
            "\n",
            form.Where(f => f.Key is not ("id" or "leftJob" or "leftWords" or "madeAt" or "sentAt" or "run" or "knew"))
                .Where(f => !f.Key.StartsWith("__", StringComparison.Ordinal) && f.Value.ToString().Length > 0)
                .Select(f => $"{f.Key}: {f.Value}")
        );
        var taken = left.Add(
            new(
                act.ToString(),
                device.DeviceId,
                device.Name,
                device.Person,
                job,
                Short(form["leftWords"].ToString()),
                Short(form["madeAt"].ToString()),
                clock.GetUtcNow(),
                fields,
                file is null ? "" : Short(System.IO.Path.GetFileName(file.FileName)),
                bytes?.Length ?? 0
            ),
            bytes
        );
        if (taken)
        {
            return Results.Json(new { left = 1 });
        }
        context.Items[ErrorAnswer.Words] = "This device has left as much as is taken of one.";
        return Results.StatusCode(StatusCodes.Status413PayloadTooLarge);
    }

    /// <summary>The file that an act left behind carries, as it came, for who keeps the shop.</summary>
    public static IResult File(Guid id, LeftStore left) =>
        left.Find(id.ToString()) is { FileName.Length: > 0 } act && left.FileOf(act.Id) is { } bytes
            ? Results.File(bytes, "application/octet-stream", act.FileName)
            : Results.NotFound();

    private static string Short(string text)
    {
        var line = string.Concat(text.Where(c => !char.IsControl(c)));
        return line.Length > Longest ? line[..Longest] : line;
    }
}
