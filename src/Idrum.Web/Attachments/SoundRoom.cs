using System.Globalization;
using Idrum.Core.Jobs.Log;
using Idrum.Storage;

namespace Idrum.Web.Attachments;

/// <summary>How much the recordings of a shop may take, and how much they do.</summary>
public sealed class SoundRoom(SettingStore settings, JobStore store)
{
    /// <summary>Where nobody set it, megabytes: some five hundred half minutes a year over four years.</summary>
    private const int Usual = 2000;

    private const string Kept = "sound-megabytes";

    /// <summary>The least and the most that can be set, megabytes.</summary>
    public static (int Least, int Most) Bounds { get; } = (50, 200_000);

    /// <summary>How much they may take, megabytes.</summary>
    public int Most
    {
        get =>
            int.TryParse(settings.Get(Kept), NumberStyles.None, CultureInfo.InvariantCulture, out var set)
            && set >= Bounds.Least
            && set <= Bounds.Most
                ? set
                : Usual;
        set => settings.Set(Kept, value.ToString(CultureInfo.InvariantCulture));
    }

    /// <summary>How much they take, megabytes.</summary>
    public double Taken => store.SoundBytes() / 1048576.0;

    /// <summary>Why a file of that kind has no room; empty where it has.</summary>
    internal string Fault(AttachmentKind kind, long bytes) =>
        AttachmentKind.Sounds.Contains(kind) && Taken + bytes / 1048576.0 > Most
            ? $"Recordings take {Taken.ToString("0", CultureInfo.InvariantCulture)} of {Most} MB, which is what the shop allows them. Under Shop old ones are dropped or more is allowed; what was heard in them stays. Rhythms can be tapped meanwhile."
            : "";
}
