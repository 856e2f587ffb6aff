namespace Idrum.Web.Hosting;

/// <summary>A word that changes with any asset, added to their addresses so that nothing stale is used.</summary>
public static class AssetStamp
{
    public static string Query { get; } = Read();

    private static string Read()
    {
        var file = Path.Combine(AppContext.BaseDirectory, "wwwroot", "stamp.txt");
        return File.Exists(file) ? "?v=" + File.ReadAllText(file).Trim() : "";
    }
}
