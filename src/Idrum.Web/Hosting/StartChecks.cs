using Idrum.Storage;
using Idrum.Web.Work;

namespace Idrum.Web.Hosting;

/// <summary>What is looked at before the application starts; each fault is one plain line.</summary>
public static class StartChecks
{
    /// <summary>The keys that protect forms must be readable, and those of a copied folder are often not.</summary>
    /// <exception cref="IOException">One is not.</exception>
    public static void Keys(string dataFolder)
    {
        var folder = Path.Combine(dataFolder, "keys");
        try
        {
            foreach (var file in Directory.Exists(folder) ? Directory.GetFiles(folder, "*.xml") : [])
            {
                System.Xml.Linq.XDocument.Load(file);
            }
        }
        catch (Exception e) when (e is UnauthorizedAccessException or System.Xml.XmlException)
        {
            throw new IOException(
                $"A key in {folder} cannot be read ({e.Message}). See to the rights of the folder, or move it aside: new keys are made, and pages that are open must be loaded anew.",
                e
            );
        }
    }

    /// <summary>A clock that stands before the last stored act was set back, or was ahead when that act was stored.</summary>
    /// <param name="lastArrived">When the last act was stored, by the clock as it was then.</param>
    /// <param name="settings">Whether who keeps the shop has said since that the clock is right.</param>
    /// <param name="now">The clock.</param>
    /// <returns>A warning, or empty.</returns>
    public static string Clock(DateTimeOffset? lastArrived, SettingStore settings, DateTimeOffset now) =>
        lastArrived is { } last
        && now < last - TimeSpan.FromMinutes(2)
        && settings.Get(SettingStore.ClockRight)
            != last.ToString("O", System.Globalization.CultureInfo.InvariantCulture)
            ? $"The clock of the shop's computer stands {Say.Span(last - now)} before the last stored act ({Say.Moment(last)}). Set it right before you go on: times of acts, timers and glue go by it. Was it ahead then and is right now, say so under Shop, Backups."
            : "";

    /// <summary>How long a device keeps what it sent (<c>store.js</c>).</summary>
    private static readonly TimeSpan DeviceKeeps = TimeSpan.FromDays(30);

    /// <summary>Looks whether all that was answered is still there; what is not is told until it was seen.</summary>
    public static void Acts(JobStore store, SettingStore settings, DateTimeOffset now)
    {
        if (store.Missing() is not { Count: > 0 } missing)
        {
            return;
        }
        var words =
            $"Acts that were stored are missing: {string.Join("; ", missing.Take(12))}{(missing.Count > 12 ? $"; and {missing.Count - 12} jobs more" : "")}. Nothing in the database tells why; a damaged disk or a copied file may. Every device that comes by is asked for what it sent these last weeks. Look at the newest backup before you go on.";
        Console.WriteLine(words);
        settings.Set(SettingStore.ActsMissing, words);
        settings.Set(SettingStore.ActsAsked, SettingStore.Asking(now - DeviceKeeps));
    }
}
