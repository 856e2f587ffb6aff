namespace Idrum.Web.Hosting;

/// <summary>What the command line says.</summary>
public sealed record IdrumOptions
{
    public const int DefaultPort = 5080;

    /// <summary>Port asked for by name; null to take the default or the next free one. 0 takes any.</summary>
    public int? Port { get; init; }

    /// <summary>Folder of database and keys.</summary>
    public required string DataFolder { get; init; }

    /// <summary>Folder of layouts, faults, findings and handbook.</summary>
    public required string ContentFolder { get; init; }

    /// <summary>Fill an empty shop with the made-up workshop.</summary>
    public bool Demo { get; init; }

    /// <summary>Reads <c>--port N --data DIR --demo</c>.</summary>
    /// <exception cref="ArgumentException">A word is not understood.</exception>
    public static IdrumOptions Parse(string[] args)
    {
        int? port = null;
        var data = Path.Combine(Directory.GetCurrentDirectory(), "data");
        var demo = false;
        for (var i = 0; i < args.Length; i++)
        {
            switch (args[i])
            {
                case "--port" when i + 1 < args.Length && int.TryParse(args[i + 1], out var n) && n is >= 0 and <= 65535:
                    port = n;
                    i++;
                    break;
                case "--data" when i + 1 < args.Length && args[i + 1].Length > 0:
                    data = Path.GetFullPath(args[++i]);
                    break;
                case "--demo":
                    demo = true;
                    break;
                default:
                    throw new ArgumentException($"'{args[i]}' is not understood. Use --port N (0 to 65535), --data DIR, --demo.");
            }
        }
        return new() { Port = port, DataFolder = data, ContentFolder = Path.Combine(AppContext.BaseDirectory, "content"), Demo = demo };
    }
}
