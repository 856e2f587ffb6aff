using System.Runtime.InteropServices;

namespace Idrum.Web.Hosting;

/// <summary>The shop's files are its own: readable and writable by the user Idrum runs as, and by nobody
/// else.</summary>
public static partial class OwnFiles
{
    private const uint OfOthers = 0b000_111_111;

    /// <summary>From here on whatever this process makes is its own; the data folder is closed to others.</summary>
    /// <param name="folder">The data folder; made where it is missing.</param>
    /// <exception cref="IOException">It belongs to somebody else.</exception>
    public static void Guard(string folder)
    {
        if (OperatingSystem.IsWindows())
        {
            Directory.CreateDirectory(folder);
            return;
        }
        _ = Umask(OfOthers);
        Directory.CreateDirectory(folder);
        foreach (
            var path in Directory.EnumerateFileSystemEntries(folder, "*", SearchOption.AllDirectories).Prepend(folder)
        )
        {
            var mode = File.GetUnixFileMode(path);
            var own = mode & (UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
            if (mode != own)
            {
                File.SetUnixFileMode(path, own);
            }
        }
    }

    // A day: what is younger may be another Idrum's at work.
    private static readonly TimeSpan Old = TimeSpan.FromDays(1);

    private static readonly string[] Halves = ["brought-*.zip", "*.part"],
        Passing = ["idrum-*.zip", "idrum-backup*", "idrum-check*"];

    /// <summary>Clears what a run that was killed has left: backups brought and half made in the data folder, folders and
    /// files of its own among the temporary ones. What cannot be cleared stays.</summary>
    /// <param name="folder">The data folder; this process alone has it.</param>
    /// <param name="temporary">Where temporary files lie.</param>
    public static void Tidy(string folder, string temporary)
    {
        foreach (var left in Halves.SelectMany(p => Find(folder, p)))
        {
            Clear(left);
        }
        foreach (var left in Passing.SelectMany(p => Find(temporary, p)))
        {
            if (DateTime.UtcNow - File.GetLastWriteTimeUtc(left) > Old)
            {
                Clear(left);
            }
        }
    }

    private static string[] Find(string folder, string pattern) =>
        Directory.Exists(folder) ? Directory.GetFileSystemEntries(folder, pattern) : [];

    private static void Clear(string path)
    {
        try
        {
            if (Directory.Exists(path))
            {
                Directory.Delete(path, true);
            }
            else
            {
                File.Delete(path);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // Another user's: it stays.
        }
    }

    [LibraryImport("libc", EntryPoint = "umask")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.System32)]
    private static partial uint Umask(uint mask);
}
