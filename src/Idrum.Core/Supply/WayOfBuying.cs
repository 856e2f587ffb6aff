using Idrum.Core.Fitting;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Supply;

/// <summary>One way of having a part new: what is bought and how long it takes to fit that way.</summary>
/// <param name="Way">The way of fitting it, as the handbook names it.</param>
/// <param name="Article">What is bought.</param>
/// <param name="Minutes">Minutes to fit it.</param>
/// <param name="RatePerHour">What an hour is worth.</param>
public sealed record WayOfBuying(School Way, Article Article, double Minutes, double RatePerHour)
{
    /// <summary>Price and minutes at the rate.</summary>
    public double Cost => Article.Price + Minutes * RatePerHour / 60;

    /// <summary>The part alone or the ready-built assembly: each way in which a part is sold for itself, the cheapest
    /// article of each, the way first
    /// that costs least in money and minutes together. Empty where there are not two.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="articles">What can be had for the machine.</param>
    /// <param name="handbook">How parts are fitted.</param>
    /// <param name="ratePerHour">What an hour is worth.</param>
    public static IReadOnlyList<WayOfBuying> Of(
        Layout layout,
        Part part,
        IReadOnlyList<Article> articles,
        Handbook handbook,
        double ratePerHour
    )
    {
        if (handbook.For(part, layout) is not { } procedure)
        {
            return [];
        }
        var item = PartItem.Of(layout, part.Id);
        var ways = articles
            .Where(a =>
                a.Covers.Count == 1
                && a.Covers.GetValueOrDefault(item) == 1
                && procedure.Schools.Any(s => s.Id == a.Way)
            )
            .GroupBy(a => a.Way)
            .Select(g => new WayOfBuying(
                procedure.School(g.Key)!,
                g.MinBy(a => a.Price)!,
                procedure.MinutesOf(g.Key),
                ratePerHour
            ))
            .OrderBy(w => w.Cost)
            .ToList();
        return ways.Count > 1 ? ways : [];
    }

    /// <summary>The rate above which the dearer article, quicker to fit, is the cheaper way; null where it is not
    /// quicker.</summary>
    /// <param name="other">The other way.</param>
    public double? TurnsAtRate(WayOfBuying other)
    {
        var (money, minutes) = (other.Article.Price - Article.Price, Minutes - other.Minutes);
        return money * minutes > 0 ? money / minutes * 60 : null;
    }

    /// <summary>Minutes that fitting an article takes above the quickest way of its parts.</summary>
    /// <param name="layout">The machine.</param>
    /// <param name="article">What is bought.</param>
    /// <param name="articles">What can be had for the machine.</param>
    /// <param name="handbook">How parts are fitted.</param>
    public static double MoreMinutes(
        Layout layout,
        Article article,
        IReadOnlyList<Article> articles,
        Handbook handbook
    ) =>
        article.Covers.Sum(c =>
        {
            if (layout.FindPart(c.Key) is not { } part || handbook.For(part, layout) is not { } procedure)
            {
                return 0;
            }
            double Minutes(Article a) =>
                procedure.MinutesOf(procedure.Schools.Any(s => s.Id == a.Way) ? a.Way : procedure.DefaultSchool);
            return c.Value * (Minutes(article) - articles.Where(a => a.Covers.ContainsKey(c.Key)).Min(Minutes));
        });
}
