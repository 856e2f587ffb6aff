using Idrum.Core.Content;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Logbook;
using Idrum.Core.Practice;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Tests;

/// <summary>The shipped content, read once for all tests.</summary>
public static class TestShop
{
    public static string Root { get; } = Path.Combine(AppContext.BaseDirectory, "content");

    public static ShopContent Content { get; } =
        new(
            File.ReadAllText(Path.Combine(Root, "schema/layout.schema.json")),
            Directory.GetFiles(Path.Combine(Root, "layouts")).ToDictionary(f => Path.GetFileName(f), File.ReadAllText),
            Directory
                .GetFiles(Path.Combine(Root, "vocabulary"))
                .ToDictionary(f => Path.GetFileNameWithoutExtension(f), File.ReadAllText),
            File.ReadAllText(Path.Combine(Root, "faults.json")),
            File.ReadAllText(Path.Combine(Root, "findings.json")),
            File.ReadAllText(Path.Combine(Root, "handbook.json"))
        )
        {
            Supplier = File.ReadAllText(Path.Combine(Root, "supplier.json")),
            Gauging = File.ReadAllText(Path.Combine(Root, "gauging.json")),
        };

    private static readonly Lazy<(ShopSnapshot Shop, LayoutIntake Reader)> Loaded = new(static () => Content!.Read());

    public static ShopSnapshot Shop => Loaded.Value.Shop;

    private static readonly Lazy<ShopSnapshot> Wiser = new(static () =>
        Shop.Learn([
            .. new ShopYears(2, 1, 60)
                .Jobs(
                    Shop,
                    [.. Shop.Layouts.Select(l => l.Id)],
                    new DateTimeOffset(2026, 11, 30, 8, 0, 0, TimeSpan.Zero)
                )
                .Select(j => LessonOfJob.Of(JobHistory.Of(j.Log), Shop.Catalog)!),
        ])(Shop)
    );

    /// <summary>The same after a year of closed jobs on all machines.</summary>
    public static ShopSnapshot Taught => Wiser.Value;

    public static LayoutIntake Reader => Loaded.Value.Reader;

    public static MachineKnowledge Machine(string layoutId) => Shop.For(Shop.FindLayout(layoutId)!);

    public static TheoryData<string> LayoutIds => [.. Shop.Layouts.Select(l => l.Id)];
}
