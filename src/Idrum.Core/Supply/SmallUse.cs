using Idrum.Core.Fitting;
using Idrum.Core.Machines;

namespace Idrum.Core.Supply;

/// <summary>What jobs take of glue, grease and ties: a share of a tube or a bag each.</summary>
public static class SmallUse
{
    /// <summary>The share of one that a job takes.</summary>
    /// <param name="small">Glue, grease or ties.</param>
    /// <param name="layout">The machine.</param>
    /// <param name="parts">Parts that were changed.</param>
    /// <param name="handbook">How they are fitted; the usual way goes for what was not said.</param>
    /// <returns>0 where it takes none; above 1 where one does not do.</returns>
    public static double Of(SmallArticle small, Layout layout, IReadOnlyList<Part> parts, Handbook handbook) =>
        small.Adhesive.Length == 0
            ? parts.Any(p => small.Kinds.Contains(p.Kind))
                ? 1 / small.Jobs
                : 0
            : parts
                .Select(p =>
                    handbook.For(p, layout) is { } how ? handbook.AdhesiveOf(how.School(how.DefaultSchool)) : null
                )
                .Where(a => a?.Id == small.Adhesive)
                .Sum(a => Supplier.FeltDm2(layout) * a!.MillilitresPerDm2 / a.TubeMillilitres);

    /// <summary>When to order again, and up to how many, of what lasts for several jobs.</summary>
    /// <param name="shares">What each job took, above 0.</param>
    /// <param name="years">In how many years.</param>
    /// <param name="leadDays">Days from order to delivery.</param>
    /// <param name="service">Share of the jobs that is to find enough.</param>
    /// <returns>Whole ones. Jobs come at random as in <see cref="Reorder"/>; so many of them as are to find theirs take their middle share
    /// each, and what is begun is not counted.</returns>
    public static (int Point, int Level) Reorders(
        IReadOnlyList<double> shares,
        double years,
        double leadDays,
        double service
    )
    {
        if (shares.Count == 0)
        {
            return (0, 0);
        }
        var (when, _) = Reorder.OfJobs([.. shares.Select(_ => 1)], years, leadDays, service);
        var share = shares.Average();
        var level = Math.Max(1, (int)Math.Ceiling(when.Level * share));
        return (Math.Min(level - 1, (int)Math.Ceiling(when.Point * share)), level);
    }
}
