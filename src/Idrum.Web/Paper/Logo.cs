using Idrum.Storage;
using Idrum.Web.Attachments;

namespace Idrum.Web.Paper;

/// <summary>The shop's sign at the head of estimate and report.</summary>
public sealed class Logo(SettingStore settings)
{
    /// <summary>Where pages find it.</summary>
    public const string Address = "/paper/logo.jpg";

    /// <summary>Largest form with a sign, bytes.</summary>
    internal const long FormBytes = 4 << 20;

    private const string Kept = "logo";

    /// <summary>The picture, on white; null where there is none.</summary>
    internal byte[]? Jpeg => settings.Get(Kept) is { Length: > 0 } text ? Convert.FromBase64String(text) : null;

    /// <summary>Whether there is one.</summary>
    public bool Here => settings.Get(Kept).Length > 0;

    /// <summary>Takes a picture; what is wrong with it, and then what was there stays.</summary>
    internal string Keep(byte[] picture)
    {
        var (jpeg, error) = PhotoFile.Read(picture);
        if (error.Length == 0)
        {
            settings.Set(Kept, Convert.ToBase64String(jpeg));
        }
        return error;
    }

    /// <summary>Takes it away.</summary>
    internal void Drop() => settings.Set(Kept, "");
}
