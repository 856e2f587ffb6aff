using System.Diagnostics.CodeAnalysis;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Core.Shop;

/// <summary>Machines that were worked out, the least used given up first. All of one cache rest on the same catalog and
/// the same lessons.</summary>
[SuppressMessage(
    "Reliability",
    "CA1001",
    Justification = "It holds memory alone, and goes with the snapshots that share it."
)]
internal sealed class MachineCache
{
    private const int Most = 256;
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most, CompactionPercentage = 0.25 });

    /// <summary>The machine of that layout, facts and schools.</summary>
    internal MachineKnowledge Get(
        string layoutHash,
        IReadOnlyDictionary<string, string> facts,
        IReadOnlyDictionary<string, string> schools,
        Func<MachineKnowledge> build
    ) => known.GetOrCreate(new Key(layoutHash, Said(facts), Said(schools)), entry =>
        {
            entry.Size = 1;
            return build();
        })!;

    private static string Said(IReadOnlyDictionary<string, string> values) =>
        string.Join(',', values.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"{f.Key}={f.Value}"));

    private sealed record Key(string LayoutHash, string Facts, string Schools);
}
