using System.Runtime.InteropServices;

namespace Idrum.Web.Work;

/// <summary>The operating system's priority of a thread: on Linux each has one of its own. Elsewhere nothing is
/// done.</summary>
internal static partial class WorkThread
{
    private const int OfProcess = 0;
    private const int Behind = 10;

    /// <summary>Number of the present thread; 0 where it has none.</summary>
    internal static int Id() => OperatingSystem.IsLinux() ? ThreadId() : 0;

    /// <summary>Lets everything else go before a thread.</summary>
    /// <param name="thread">Its number; 0 is nobody.</param>
    internal static void Lower(int thread)
    {
        if (thread > 0 && OperatingSystem.IsLinux())
        {
            // A refusal changes nothing but the order in which it is worked.
            _ = SetPriority(OfProcess, thread, Behind);
        }
    }

    [LibraryImport("libc", EntryPoint = "gettid")]
    private static partial int ThreadId();

    [LibraryImport("libc", EntryPoint = "setpriority")]
    private static partial int SetPriority(int which, int who, int priority);
}
