using Idrum.Core.Machines;

namespace Idrum.Core.Gauging;

/// <summary>A check that is answered by measuring instead of by eye and thumb, with what that takes.</summary>
/// <param name="Protocol">How it is read.</param>
/// <param name="Parts">The parts it is read of; of the machine as a whole none.</param>
/// <param name="Minutes">Of all of them.</param>
public sealed record ReadInstead(GaugeProtocol Protocol, IReadOnlyList<Part> Parts, double Minutes)
{
    /// <summary>What answers a check by measuring on a machine, the quickest reading first.</summary>
    /// <param name="book">How things are measured.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="findingId">The check.</param>
    public static IReadOnlyList<ReadInstead> Of(GaugingBook book, Layout layout, string findingId) =>
        [
            .. book
                .Protocols.Where(p => p.On(layout))
                .OrderBy(p => p.Minutes)
                .Select(p =>
                    p.Whole
                        ? new ReadInstead(p, [], p.FindingOf(null) == findingId ? p.Minutes : 0)
                        : new ReadInstead(p, [.. p.PartsOf(layout).Where(o => p.FindingOf(o) == findingId)], 0)
                )
                .Select(r => r.Parts.Count > 0 ? r with { Minutes = r.Protocol.Minutes * r.Parts.Count } : r)
                .Where(r => r.Minutes > 0),
        ];

    /// <summary>Whether it takes no longer than the look it stands for: what both tell being the same, it is then the better way, as it
    /// does not depend on who looks.</summary>
    /// <param name="lookMinutes">Minutes of the look.</param>
    public bool NoSlowerThan(double lookMinutes) => Minutes <= lookMinutes;
}
