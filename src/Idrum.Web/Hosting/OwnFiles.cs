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

    [LibraryImport("libc", EntryPoint = "umask")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.System32)]
    private static partial uint Umask(uint mask);
}
