using Idrum.Core.Jobs;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests;

/// <summary>The shipped content, read once for all tests.</summary>
public static class TestShop
{
    public static string Root { get; } = Path.Combine(AppContext.BaseDirectory, "content");

    public static ShopContent Content { get; } = new(
        File.ReadAllText(Path.Combine(Root, "schema/layout.schema.json")),
        Directory.GetFiles(Path.Combine(Root, "layouts")).ToDictionary(f => Path.GetFileName(f), File.ReadAllText),
        File.ReadAllText(Path.Combine(Root, "faults.json")),
        File.ReadAllText(Path.Combine(Root, "findings.json")),
        File.ReadAllText(Path.Combine(Root, "handbook.json")));

    private static readonly Lazy<(ShopKnowledge Shop, LayoutReader Reader)> Loaded = new(static () => Content!.ReadAsync().GetAwaiter().GetResult());

    public static ShopKnowledge Shop => Loaded.Value.Shop;

    public static LayoutReader Reader => Loaded.Value.Reader;

    public static MachineKnowledge Machine(string layoutId) => Shop.For(Shop.FindLayout(layoutId)!);

    public static TheoryData<string> LayoutIds => [.. Shop.Layouts.Select(l => l.Id)];
}
