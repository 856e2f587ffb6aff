using System.Globalization;
using Idrum.Core.Jobs.Log;

namespace Idrum.Web.Forms;

/// <summary>Times of acts made on a device. It says when an act was made and when it is sent, by its own clock; the
/// difference of
/// the sending to the shop's clock is how far its clock is off.</summary>
public static class DeviceClock
{
    /// <summary>Seconds that the way over the network may take without being called a wrong clock.</summary>
    private const double Tolerance = 90;

    /// <summary>The event with its times. A device that says nothing has done it now.</summary>
    /// <param name="act">The event.</param>
    /// <param name="madeAt">When it was made, ISO 8601, or empty.</param>
    /// <param name="sentAt">When it is sent, by the same clock, or empty.</param>
    /// <param name="now">The shop's clock.</param>
    public static JobEvent Stamp(JobEvent act, string madeAt, string sentAt, DateTimeOffset now)
    {
        if (Time(madeAt) is not { } made || Time(sentAt) is not { } sent || made > sent)
        {
            return act with { At = now };
        }
        return act with { At = made, ClockBehindSeconds = Behind(sent, now) };
    }

    /// <summary>Seconds a clock is behind the shop's, 0 within the tolerance.</summary>
    public static double Behind(DateTimeOffset sent, DateTimeOffset now)
    {
        var behind = Math.Round((now - sent).TotalSeconds);
        return Math.Abs(behind) <= Tolerance ? 0 : behind;
    }

    private static DateTimeOffset? Time(string text) =>
        text.Length is > 0 and < 40
        && DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var t)
        && t.Year is > 1970 and < 2200
            ? t.ToUniversalTime()
            : null;
}
