using System.Globalization;
using Idrum.Storage;
using Idrum.Web.Attachments;
using Idrum.Web.Devices;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Shop;

/// <summary>How much recordings take, and dropping the sounds of jobs long closed.</summary>
public sealed class SoundSection(SoundRoom room, JobStore store, TimeProvider clock, HttpRequest request)
{
    /// <summary>How much they take, megabytes.</summary>
    public double Taken => room.Taken;

    /// <summary>How much they may take, as typed or set, megabytes.</summary>
    public string Most => wrong ? request.Form["most"].ToString() : room.Most.ToString(CultureInfo.InvariantCulture);

    private bool wrong;

    internal Reply Keep()
    {
        var (least, most) = SoundRoom.Bounds;
        if (
            !int.TryParse(
                request.Form["most"].ToString().Trim(),
                NumberStyles.None,
                CultureInfo.InvariantCulture,
                out var megabytes
            )
            || megabytes < least
            || megabytes > most
        )
        {
            wrong = true;
            return Reply.Refused($"Recordings: a whole number of megabytes from {least} to {most}.");
        }
        room.Most = megabytes;
        return Reply.Said($"Kept: recordings may take {megabytes} MB.");
    }

    internal async Task<Reply> DropAsync(HttpContext context)
    {
        if (
            !int.TryParse(
                request.Form["months"].ToString().Trim(),
                NumberStyles.None,
                CultureInfo.InvariantCulture,
                out var months
            )
            || months > 240
        )
        {
            return Reply.Refused("Recordings: closed how many months ago? A whole number from 0 to 240.");
        }
        var caller = context.Caller();
        var (jobs, sounds) = (0, 0);
        foreach (var (job, held) in store.SoundsClosedBefore(clock.GetUtcNow().AddMonths(-months)))
        {
            context.RequestAborted.ThrowIfCancellationRequested();
            sounds += await store.DropSoundsAsync(
                job,
                held,
                caller.Person.Length > 0 ? caller.Person : null,
                caller.Device
            );
            jobs++;
        }
        if (sounds == 0)
        {
            return Reply.Said("No job closed so long ago holds a recording.");
        }
        await store.CompactAsync();
        return Reply.Said(
            $"{Say.Count(sounds, "recording", "recordings")} of {Say.Count(jobs, "job", "jobs")} dropped; what was heard in them stays."
        );
    }
}
