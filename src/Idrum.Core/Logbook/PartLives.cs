using Idrum.Core.Machines;

namespace Idrum.Core.Logbook;

/// <summary>Lives of one kind of part.</summary>
/// <param name="Kind">Part kind.</param>
/// <param name="Lives">Lives, those that run still among them.</param>
/// <param name="AtFirstSight">How many had failed when their machine was first met: nobody knows since when they ran alone, so they are
/// counted and not fitted.</param>
public sealed record PartLives(string Kind, IReadOnlyList<Life> Lives, int AtFirstSight)
{
    /// <summary>Share that had failed by each age at which one did, by the product limit (Kaplan and Meier, JASA 53, 1958): at risk
    /// at an age is what had been met before it and ran until it.</summary>
    public IReadOnlyList<(double Years, double Share)> Failed
    {
        get
        {
            var (steps, runs) = (new List<(double, double)>(), 1d);
            foreach (var age in Lives.Where(l => l.Failed).GroupBy(l => l.Years).OrderBy(g => g.Key))
            {
                runs *= 1 - (double)age.Count() / Lives.Count(l => l.From < age.Key && l.Years >= age.Key);
                steps.Add((age.Key, 1 - runs));
            }
            return steps;
        }
    }

    private const double Year = 365.25;
    private const double Shortest = 1 / Year;

    /// <summary>Lives by kind of what wears, read off closed jobs machine by machine (by tag).</summary>
    /// <param name="records">Closed jobs.</param>
    /// <param name="layoutOf">Layout by id.</param>
    /// <param name="now">Until when what was not heard of again has run.</param>
    /// <remarks>A part fitted here runs from that day; one that was there before from when its machine was new, met at the age it then
    /// had (delayed entry). It ends by a failure where it was changed for one, else unfinished: changed along, or running at
    /// <paramref name="now"/>. A machine of unknown age tells nothing of its first parts.</remarks>
    public static IReadOnlyList<PartLives> Of(
        IEnumerable<JobRecord> records,
        Func<string, Layout?> layoutOf,
        DateTimeOffset now
    )
    {
        var lives = new Dictionary<string, List<Life>>();
        var first = new Dictionary<string, int>();
        foreach (var machine in records.Where(r => r.Tag.Length > 0).GroupBy(r => (r.Tag, r.LayoutId)))
        {
            if (layoutOf(machine.Key.LayoutId) is not { } layout)
            {
                continue;
            }
            var jobs = machine.OrderBy(r => r.ClosedAt).ToList();
            var born = jobs.Find(j => j.AgeYears is not null) is { } told
                ? told.OpenedAt.AddDays(-told.AgeYears!.Value * Year)
                : (DateTimeOffset?)null;
            var met = jobs[0].ClosedAt;
            foreach (var part in layout.Parts.Where(p => p.Wears))
            {
                void Add(DateTimeOffset since, DateTimeOffset until, bool failed, DateTimeOffset? from)
                {
                    var years = (until - since).TotalDays / Year;
                    var entry = from is { } at ? Math.Max(0, (at - since).TotalDays / Year) : 0;
                    if (years - entry >= Shortest)
                    {
                        (lives.TryGetValue(part.Kind, out var list) ? list : lives[part.Kind] = []).Add(
                            new(years, failed, entry)
                        );
                    }
                }
                var since = born;
                DateTimeOffset? entered = met;
                foreach (var job in jobs)
                {
                    if (job.Changed.FirstOrDefault(c => c.PartId == part.Id) is not { } changed)
                    {
                        continue;
                    }
                    // What a repair itself did wrong is no end of a life.
                    var failed =
                        changed.Why == PartChanged.Failed && job.CallBackCause is not ("own-closing" or "wrong-part");
                    if (job == jobs[0])
                    {
                        first[part.Kind] = first.GetValueOrDefault(part.Kind) + (failed ? 1 : 0);
                    }
                    else if (since is { } start)
                    {
                        Add(start, job.OpenedAt, failed, entered);
                    }
                    (since, entered) = (job.ClosedAt, null);
                }
                if (since is { } last)
                {
                    Add(last, now, false, entered);
                }
            }
        }
        return
        [
            .. lives
                .Keys.Union(first.Keys)
                .Select(k => new PartLives(k, lives.GetValueOrDefault(k) ?? [], first.GetValueOrDefault(k)))
                .OrderByDescending(p => p.Lives.Count(l => l.Failed))
                .ThenBy(p => p.Kind, StringComparer.Ordinal),
        ];
    }
}
