using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Known;

/// <summary>Where the noise of a job sits, by the recordings at the four spots, and which of the parts that come round
/// alike lies there.</summary>
/// <param name="Levels">Side and end.</param>
/// <param name="Name">What is heard at all four together; empty where no part comes round in them.</param>
/// <param name="PartId">The part of it that lies at that corner; empty where none does, or more than one.</param>
public sealed record HeardPlace(SpotLevels Levels, string Name, PartId PartId)
{
    /// <summary>A place that is no likelier than this names no part.</summary>
    private const double Sure = 0.5;

    /// <summary>Of the last good recording at each spot; after a repair only of those since. Null until all four are
    /// there.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="hertz">Mains, 50 or 60 Hz.</param>
    public static HeardPlace? Of(JobState state, Layout layout, int hertz)
    {
        var since = HeardAfter.Since(state);
        var last = state
            .Sounds.Where(s =>
                s is { Spot.Length: > 0, ByHand: false, Felt: false, Heard.Enough: true }
                && (since is null || s.Happened >= since)
            )
            .GroupBy(s => s.Spot)
            .ToDictionary(g => g.Key, g => g.Last().Heard!);
        if (!SpotLevels.Spots.All(last.ContainsKey))
        {
            return null;
        }
        // What the four name together: one of them alone may hear the blower before it.
        var heard = SoundSource
            .Of(layout, hertz)
            .Select(s => (Source: s, Sum: last.Values.Sum(h => Probability(h, s))))
            .MaxBy(s => s.Sum);
        var named = heard.Sum > last.Values.Sum(h => h.None) ? heard.Source : null;
        // The level of the noise itself; in a log from before it was told, that of everything.
        var own = named is not null && last.Values.All(h => h.SourceDb?.ContainsKey(named.Id) == true);
        var levels = SpotLevels.Of(
            last.ToDictionary(h => h.Key, h => own ? h.Value.SourceDb![named!.Id] : h.Value.LevelDb)
        );
        if (levels is null)
        {
            return null;
        }
        var there = (named?.PartIds ?? [])
            .Where(p => SpotPlace.NearestTo(layout, p) == $"{levels.End}-{levels.Side}")
            .ToList();
        return new(
            levels,
            named?.Name ?? "",
            levels.Probability > Sure && named!?.PartIds.Count > 1 && there is [var one] ? one : ""
        );
    }

    private static double Probability(HeardInSound heard, SoundSource source) =>
        heard
            .Sources.Where(s =>
                s.Mechanism == source.Mechanism.Word()
                && (source.PartIds.Count == 0 || s.PartIds.Count == 0 || s.PartIds.Intersect(source.PartIds).Any())
            )
            .Sum(s => s.Probability);
}
