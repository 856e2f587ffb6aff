using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Web.Hosting;

/// <summary>Reads the content folder.</summary>
public static class ContentFolder
{
    public static ShopContent Read(string folder)
    {
        string Text(string name) => File.ReadAllText(Path.Combine(folder, name));
        return new(
            Text("schema/layout.schema.json"),
            Directory
                .GetFiles(Path.Combine(folder, "layouts"), "*.json")
                .ToDictionary(f => Path.GetFileName(f), File.ReadAllText),
            Directory
                .GetFiles(Path.Combine(folder, "vocabulary"), "*.json")
                .ToDictionary(f => Path.GetFileNameWithoutExtension(f), File.ReadAllText),
            Text("faults.json"),
            Text("findings.json"),
            Text("handbook.json")
        )
        {
            Supplier = Text("supplier.json"),
            Gauging = Text("gauging.json"),
        };
    }

    /// <summary>Layout files of the shop's own in the data folder, where there are any.</summary>
    public static IReadOnlyDictionary<string, string> Own(string dataFolder)
    {
        var folder = Path.Combine(dataFolder, "layouts");
        return Directory.Exists(folder)
            ? Directory.GetFiles(folder, "*.json").ToDictionary(f => Path.GetFileName(f), f => Text(f))
            : new Dictionary<string, string>();
    }

    /// <summary>A file's text; broken UTF-8 and what is far too large are no text, which the rules then say.</summary>
    private static string Text(string file)
    {
        if (new FileInfo(file).Length > 2 * LayoutReader.Longest)
        {
            return "";
        }
        try
        {
            return new System.Text.UTF8Encoding(false, true).GetString(File.ReadAllBytes(file));
        }
        catch (ArgumentException)
        {
            return "\uFFFD";
        }
    }
}
