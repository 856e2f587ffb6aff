using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>Turns a wish to buy into acts of the job: what the advice says, or one article; nothing out of a van that
/// does not hold it.</summary>
/// <param name="state">The job.</param>
/// <param name="layout">Its machine.</param>
/// <param name="advice">What it lacks and what that costs.</param>
/// <param name="supplier">Where parts are bought.</param>
/// <param name="van">The van with what it holds now.</param>
public sealed class Purchase(JobState state, Layout layout, PartsAdvice advice, Supplier supplier, StockPlace van)
{
    /// <summary>Most of one article at once.</summary>
    public const int Most = 99;

    /// <summary>All that is short, as advised.</summary>
    /// <param name="fromVan">Out of the van; else from the supplier.</param>
    /// <returns>One act an article; or why there is none.</returns>
    public (IReadOnlyList<JobEvent> Acts, IReadOnlyList<FieldError> Errors) Cover(bool fromVan) =>
        (fromVan ? advice.FromVan : advice.Order) is { } cover
            ? ([.. cover.Bought.Select(b => Line(advice.Find(b.Id)!.Id, b.Count, fromVan)).OfType<JobEvent>()], [])
            : ([], [new("", fromVan ? $"{van.Named} does not hold all of it." : "Nothing is short any more.")]);

    /// <summary>Some of one article.</summary>
    /// <param name="articleId">Which.</param>
    /// <param name="count">How many; null where no number was said.</param>
    /// <param name="fromVan">Out of the van; else from the supplier.</param>
    /// <returns>The act; or why there is none, by field.</returns>
    public (IReadOnlyList<JobEvent> Acts, IReadOnlyList<FieldError> Errors) One(
        string articleId,
        int? count,
        bool fromVan
    )
    {
        if (count is not (>= 1 and <= Most) || count is not { } wanted)
        {
            return ([], [new("quantity", $"A whole number from 1 to {Most}.")]);
        }
        var held = van.Holds.GetValueOrDefault(articleId);
        return fromVan && held < wanted
                ? (
                    [],
                    [new("quantity", held == 0 ? $"{van.Named} holds none of it." : $"{van.Named} holds {held} of it.")]
                )
            : Line(articleId, wanted, fromVan) is { } line ? ([line], [])
            : ([], [new("articleId", "There is no such article for this machine.")]);
    }

    /// <summary>One out of the van for a part that goes in now; null where the van holds none.</summary>
    /// <param name="state">The job.</param>
    /// <param name="layout">Its machine.</param>
    /// <param name="part">The part.</param>
    /// <param name="supplier">What can be had.</param>
    /// <param name="van">The van with what it holds now.</param>
    public static PartsBought? OutOfVan(JobState state, Layout layout, Part part, Supplier supplier, StockPlace van)
    {
        var item = PartItem.Of(layout, part.Id);
        return supplier
            .For(layout, state.Machine.Tag)
            .Where(a => a.Covers.ContainsKey(item) && van.Holds.GetValueOrDefault(a.Id) > 0)
            // The one that brings least beside it is opened.
            .OrderBy(a => a.Covers.Values.Sum())
            .Select(a => new PartsBought(
                a.Id,
                a.Name,
                a.Covers,
                1,
                a.Price,
                PartSource.Van,
                0,
                supplier.ReturnDays,
                a.Way
            )
            {
                For = [part.Id],
                From = new(van.Id, van.Name),
            })
            .FirstOrDefault();
    }

    private PartsBought? Line(string id, int count, bool fromVan)
    {
        var (source, days) = fromVan ? ("van", 0) : ("supplier", supplier.Days);
        var from = fromVan ? new TakenFrom(van.Id, van.Name) : null;
        return advice.Find(id) is { } article
                ? new(
                    article.Id,
                    article.Name,
                    article.Covers,
                    count,
                    article.Price,
                    source,
                    days,
                    supplier.ReturnDays,
                    article.Way
                )
                {
                    For = Supplies.For(state, layout, article),
                    From = from,
                }
            : supplier.Small.FirstOrDefault(s => s.Id == id) is { } small
                ? new(
                    small.Id,
                    small.Name,
                    new Dictionary<PartId, int>(),
                    count,
                    small.Price,
                    source,
                    days,
                    supplier.ReturnDays
                )
                {
                    From = from,
                }
            : null;
    }
}
