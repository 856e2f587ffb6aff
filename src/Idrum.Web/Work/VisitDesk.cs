using Idrum.Core.Jobs.Work;
using Microsoft.Extensions.Caching.Memory;

namespace Idrum.Web.Work;

/// <summary>The rest of a visit with the moment it was put in time at.</summary>
/// <param name="Visit">The visit.</param>
/// <param name="At">Its minutes count from here.</param>
public sealed record TimedVisit(Visit Visit, DateTimeOffset At);

/// <summary>Puts visits in time; anew after every act, and every half minute.</summary>
public sealed class VisitDesk(GlueDesk glue) : IDisposable
{
    private const int Most = 200;
    private static readonly TimeSpan Holds = TimeSpan.FromSeconds(30);
    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>The rest of the visit of a job; null where nothing is left of it.</summary>
    /// <param name="view">The job.</param>
    /// <param name="persons">1, or 2 where a helper is there.</param>
    /// <param name="now">Now.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <param name="asked">A part not yet begun and the way it would be done; null for the usual ways.</param>
    public TimedVisit? Of(
        JobView view,
        int persons,
        DateTimeOffset now,
        CancellationToken cancellation,
        AskedWay? asked = null
    )
    {
        var (key, habits) = (new Key(view.Job.JobId, view.Job.Version, view.ShopVersion, persons, asked), glue.Habits);
        if (
            known.TryGetValue<Kept>(key, out var kept)
            && now - kept!.At < Holds
            && ReferenceEquals(kept.Habits, habits)
        )
        {
            return kept.Visit;
        }
        var visit = VisitPlan.Of(view.State, view.Machine, habits, now, persons, asked, cancellation) is { } found
            ? new TimedVisit(found, now)
            : null;
        known.Set(key, new Kept(visit, now, habits), new MemoryCacheEntryOptions { Size = 1 });
        return visit;
    }

    /// <inheritdoc />
    public void Dispose() => known.Dispose();

    private sealed record Key(Guid Job, int Version, int Shop, int Persons, AskedWay? Asked);

    private sealed record Kept(TimedVisit? Visit, DateTimeOffset At, object Habits);
}
