using Idrum.Storage;

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

    /// <summary>A clock that stands before the last stored act was set back.</summary>
    /// <returns>A warning, or empty.</returns>
    public static string Clock(DateTimeOffset? lastArrived, DateTimeOffset now) =>
        lastArrived is { } last && now < last - TimeSpan.FromMinutes(2)
            ? $"The clock of the shop's computer stands {(last - now).TotalMinutes:0} minutes before the last stored act ({last.ToLocalTime():yyyy-MM-dd HH:mm}). Set it right before you go on: times of acts, timers and glue go by it."
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
