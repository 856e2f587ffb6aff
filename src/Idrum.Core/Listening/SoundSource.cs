using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Listening;

/// <summary>Something that makes a rhythm of its own; parts that come round equally often are one.</summary>
/// <param name="Id">Of its rate line; of several the first.</param>
/// <param name="Name">In the trade's words.</param>
/// <param name="PartIds">Parts that cannot be told from each other by their rate; empty where it is no part.</param>
/// <param name="Mechanism">What makes it.</param>
/// <param name="PerDrumTurn">How often in one turn of the drum; null where it does not turn with it.</param>
/// <param name="Hz">How often a second.</param>
public sealed record SoundSource(
    string Id,
    string Name,
    IReadOnlyList<PartId> PartIds,
    Mechanism Mechanism,
    double? PerDrumTurn,
    double Hz
)
{
    /// <summary>Rates closer than this share are one: a roller's own tolerance of 0.2 mm in 80 mm.</summary>
    public const double Same = 0.003;

    /// <summary>Whether it stands still with the belt off while the drum is turned by hand.</summary>
    public bool StillWithoutBelt =>
        Mechanism is Mechanism.Idler or Mechanism.Motor or Mechanism.Blades or Mechanism.BeltPass;

    /// <summary>Sources of a machine, slowest first.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz.</param>
    /// <param name="drumRpm">Turns of the drum where they were counted, r/min; else null.</param>
    /// <exception cref="ArgumentOutOfRangeException">As <see cref="DriveRates.Of"/>.</exception>
    public static IReadOnlyList<SoundSource> Of(Layout layout, int hertz, double? drumRpm = null)
    {
        var sources = new List<SoundSource>();
        foreach (var line in DriveRates.Of(layout, hertz, drumRpm).Lines)
        {
            var mechanism = line.Mechanism;
            PartId[] part = !line.Part.IsNone ? [line.Part] : [];
            var twin = sources.FindIndex(s =>
                s.Mechanism == mechanism && mechanism == Mechanism.Roller && Math.Abs(s.Hz / line.PerSecond - 1) < Same
            );
            if (twin < 0)
            {
                sources.Add(new(line.Id, line.Name, part, mechanism, line.PerDrumTurn, line.PerSecond));
            }
            else
            {
                PartId[] parts = [.. sources[twin].PartIds, .. part];
                sources[twin] = sources[twin] with { PartIds = parts, Name = Alike(layout, parts, line.Name) };
            }
        }
        return sources;
    }

    /// <summary>Several that cannot be told apart by what their names end in alike: "One of the 2 drum rollers".</summary>
    private static string Alike(Layout layout, PartId[] parts, string name)
    {
        var names = parts.Select(p => (layout.FindPart(p)?.Name ?? p).Split(' ')).ToList();
        var words = name.Split(' ');
        var alike = 0;
        while (
            alike < words.Length
            && names.TrueForAll(n =>
                n.Length > alike
                && string.Equals(n[^(alike + 1)], words[^(alike + 1)], StringComparison.OrdinalIgnoreCase)
            )
        )
        {
            alike++;
        }
        return alike == 0
            ? string.Join(" or ", parts.Select(p => layout.FindPart(p)?.Name ?? p))
            : $"One of the {parts.Length} {string.Join(' ', words[^alike..])}s";
    }
}
