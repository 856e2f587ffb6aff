using System.Collections.Immutable;
using Idrum.Core.Machines;

namespace Idrum.Core.Jobs.Log;

/// <summary>How far a part is glued.</summary>
/// <param name="School">Way of gluing.</param>
/// <param name="CoatedAt">When the faces were coated, or lifted again after they slipped.</param>
/// <param name="JoinMinutes">Minutes from then to the earliest join.</param>
/// <param name="JoinedAt">When it was joined; null where it was not yet.</param>
/// <param name="CureMinutes">Minutes from the join to the earliest heat run.</param>
public sealed record GlueState(
    string School,
    DateTimeOffset CoatedAt,
    double JoinMinutes,
    DateTimeOffset? JoinedAt,
    double CureMinutes
)
{
    /// <summary>Minutes from the coat to the latest join; null in logs from before windows were kept.</summary>
    public double? LatestMinutes { get; init; }

    /// <summary>Minutes it is pressed.</summary>
    public double PressMinutes { get; init; }

    /// <summary>Minutes from the join until it may be loaded.</summary>
    public double HandlingMinutes { get; init; }

    /// <summary>Whether it slipped and waits to be set again.</summary>
    public bool SetAgain { get; init; }

    /// <summary>Earliest join.</summary>
    public DateTimeOffset JoinFrom => CoatedAt.AddMinutes(JoinMinutes);

    /// <summary>Latest join; null where it is not known.</summary>
    public DateTimeOffset? JoinUntil => LatestMinutes is { } minutes ? CoatedAt.AddMinutes(minutes) : null;

    /// <summary>When it may be loaded; null before the join.</summary>
    public DateTimeOffset? LoadFrom => JoinedAt?.AddMinutes(HandlingMinutes);

    /// <summary>Earliest heat run; null before the join.</summary>
    public DateTimeOffset? RunFrom => JoinedAt?.AddMinutes(CureMinutes);

    /// <summary>Whether it may still slip: it is joined and has not cured.</summary>
    /// <param name="at">When.</param>
    public bool MaySlip(DateTimeOffset at) => JoinedAt is not null && RunFrom > at;

    /// <summary>Lifted after it slipped: a third of the first wait makes it tackier, two minutes at least; it stays
    /// open as long as a coat
    /// stays open after its earliest join.</summary>
    /// <param name="at">When.</param>
    public GlueState Slipped(DateTimeOffset at)
    {
        var wait = Math.Max(2, JoinMinutes / 3);
        return this with
        {
            CoatedAt = at,
            JoinedAt = null,
            JoinMinutes = wait,
            LatestMinutes = LatestMinutes is { } latest ? wait + Math.Max(3, latest - JoinMinutes) : null,
            SetAgain = true,
        };
    }

    /// <summary>Timers of the window: when it opens and when it closes.</summary>
    /// <param name="id">The act that opened it.</param>
    internal IEnumerable<TimerRecord> Window(Guid id)
    {
        if (JoinMinutes > 0)
        {
            yield return new(
                "join:" + id,
                SetAgain ? "Glue tackier: set it again" : "Glue open: join when it no longer transfers",
                CoatedAt,
                JoinMinutes,
                false
            );
        }
        if (LatestMinutes is { } latest)
        {
            yield return new("close:" + id, "Join before", CoatedAt, Math.Max(0.1, latest), false);
        }
    }

    /// <summary>Timers with those of this glue stopped.</summary>
    internal static IEnumerable<TimerRecord> Stop(ImmutableList<TimerRecord> timers, GlueState? glue) =>
        timers.Select(t =>
            glue is not null
            && (
                t.StartedAt == glue.CoatedAt
                    && (
                        t.TimerId.StartsWith("join:", StringComparison.Ordinal)
                        || t.TimerId.StartsWith("close:", StringComparison.Ordinal)
                    )
                || t.StartedAt == glue.JoinedAt && t.TimerId.StartsWith("cure:", StringComparison.Ordinal)
            )
                ? t with
                {
                    Stopped = true,
                }
                : t
        );
}
