using Idrum.Core.Jobs;

namespace Idrum.Web.Hosting;

/// <summary>Reads the content folder.</summary>
public static class ContentFolder
{
    public static ShopContent Read(string folder)
    {
        string Text(string name) => File.ReadAllText(Path.Combine(folder, name));
        return new(
            Text("schema/layout.schema.json"),
            Directory.GetFiles(Path.Combine(folder, "layouts"), "*.json").ToDictionary(f => Path.GetFileName(f), File.ReadAllText),
            Text("faults.json"), Text("findings.json"), Text("handbook.json"));
    }
}
