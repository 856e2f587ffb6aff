using System.Diagnostics;
using System.Text.RegularExpressions;

namespace Idrum.Web.Tests;

/// <summary>The server in a process of its own, which can be killed and whose clock can be moved.</summary>
internal static partial class ServerProcess
{
    /// <summary>Starts it, and waits until it is ready and, where it serves the network too, says where.</summary>
    /// <param name="folder">The shop's folder.</param>
    /// <param name="args">More of the command line.</param>
    /// <param name="environment">More of its environment.</param>
    /// <returns>The process, its address on this computer, and that on the network; null where there is none.</returns>
    /// <exception cref="InvalidOperationException">It ended before it was ready.</exception>
    public static async Task<(Process Server, Uri Shop, Uri? Network)> StartAsync(
        string folder,
        IReadOnlyList<string> args,
        IReadOnlyDictionary<string, string>? environment = null
    )
    {
        var start = new ProcessStartInfo(
            "dotnet",
            [
                Path.Combine(AppContext.BaseDirectory, "Idrum.Web.dll"),
                "--cold",
                "--port",
                "0",
                "--data",
                folder,
                .. args,
            ]
        )
        {
            RedirectStandardOutput = true,
        };
        foreach (var (name, value) in environment ?? new Dictionary<string, string>())
        {
            start.Environment[name] = value;
        }
        var server = Process.Start(start)!;
        var said = "";
        while (await server.StandardOutput.ReadLineAsync() is { } line)
        {
            said += line + "\n";
            var phones = Phones().Match(said);
            if (Ready().Match(said) is { Success: true } ready && (phones.Success || !args.Contains("--lan")))
            {
                // What it says later must not fill the pipe.
                _ = server.StandardOutput.ReadToEndAsync();
                return (server, new(ready.Groups[1].Value), phones.Success ? new(phones.Groups[1].Value) : null);
            }
        }
        throw new InvalidOperationException($"The server did not start: {said}");
    }

    [GeneratedRegex("ready at (http://[^/]+/)")]
    private static partial Regex Ready();

    [GeneratedRegex("For phones: (https://[^/]+/)")]
    private static partial Regex Phones();
}
