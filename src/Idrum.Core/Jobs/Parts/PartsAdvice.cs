using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;

namespace Idrum.Core.Jobs.Parts;

/// <summary>What to buy for a job.</summary>
/// <param name="Rows">What is needed and what is here.</param>
/// <param name="Articles">Everything that can be had for the machine.</param>
/// <param name="FromVan">Cover of what is short out of the van; null where the van cannot.</param>
/// <param name="Order">Cheapest cover of what is short from the supplier; null where it cannot be had.</param>
/// <param name="Singles">The same in singles alone.</param>
/// <param name="AllThatWears">Cheapest cover of all that wears and lies in reach once the job's parts do, beside what
/// is needed.</param>
/// <param name="WearNames">What that is beyond the need.</param>
/// <param name="Small">Glue, grease and ties, how many, what for; less what the job has.</param>
/// <param name="ReadTag">True where two articles differ by the number on the tag, and it was not read.</param>
public sealed record PartsAdvice(
    IReadOnlyList<Supplies.Row> Rows,
    IReadOnlyList<Article> Articles,
    Cover? FromVan,
    Cover? Order,
    Cover? Singles,
    Cover? AllThatWears,
    IReadOnlyList<string> WearNames,
    IReadOnlyList<(SmallArticle Article, int Count, string For)> Small,
    bool ReadTag
)
{
    /// <summary>How many single parts are short.</summary>
    public int Short => Rows.Sum(r => r.Short);

    /// <summary>The article of that number, or null.</summary>
    public Article? Find(string id) => Articles.FirstOrDefault(a => a.Id == id);

    /// <summary>For a job as it stands.</summary>
    /// <param name="state">The job.</param>
    /// <param name="machine">Its machine.</param>
    /// <param name="supplier">Where parts are bought.</param>
    /// <param name="ratePerHour">What an hour is worth: of two ways of buying, the minutes of fitting count
    /// too.</param>
    /// <param name="van">The supplier's number → how many the van holds.</param>
    /// <param name="cancellation">Ends it.</param>
    public static PartsAdvice Of(
        JobState state,
        MachineKnowledge machine,
        Supplier supplier,
        double ratePerHour,
        IReadOnlyDictionary<string, int> van,
        CancellationToken cancellation = default
    )
    {
        var layout = machine.Layout;
        var rows = Supplies.Rows(state, layout);
        var articles = supplier.For(layout, state.Machine.Tag);
        var need = rows.Where(r => r.Short > 0).ToDictionary(r => r.Item.Id, r => r.Short);
        var offers = articles
            .Select(a => new Offer(
                a.Id,
                a.Price,
                a.Covers,
                Work: WayOfBuying.MoreMinutes(layout, a, articles, machine.Handbook) * ratePerHour / 60
            ))
            .ToList();
        var open = JobPlan.Of(state, machine, cancellation) is null
            ? state.Out.ToHashSet()
            : machine
                .Planner.StateAfterFreeing(state.Targets, machine.Planner.Graph.SetOf(state.Out))
                .ToList()
                .Select(i => layout.Operations[i].Id)
                .ToHashSet();
        var reach = layout
            .Parts.Where(p =>
                p.Wears
                && p.Price > 0
                && !state.Fitted.ContainsKey(p.Id)
                && !state.Targets.Contains(p.Id)
                && p.SeenAfter.All(g => g.Any(open.Contains))
            )
            .ToList();
        var more = PartItem.Need(layout, reach.Select(p => p.Id));
        var all = need
            .Keys.Union(more.Keys)
            .ToDictionary(k => k, k => Math.Min(99, need.GetValueOrDefault(k) + more.GetValueOrDefault(k)));
        var changed = Supplies.Wanted(state).Select(layout.FindPart).OfType<Machines.Part>().ToList();
        var has = state
            .Lines.Values.GroupBy(l => supplier.Present(l.ArticleId))
            .ToDictionary(g => g.Key, g => g.Sum(l => l.Quantity - l.Missing - l.Wrong));
        return new(
            rows,
            articles,
            need.Count == 0
                ? null
                : PartsCover.Cheapest(
                    need,
                    [.. offers.Where(o => van.GetValueOrDefault(o.Id) > 0).Select(o => o with { Most = van[o.Id] })],
                    cancellation: cancellation
                ),
            need.Count == 0
                ? null
                : PartsCover.Cheapest(need, offers, supplier.Minimum, supplier.Surcharge, cancellation),
            need.Count == 0
                ? null
                : PartsCover.Cheapest(
                    need,
                    [.. offers.Where(o => o.Covers.Values.Sum() == 1)],
                    supplier.Minimum,
                    supplier.Surcharge,
                    cancellation
                ),
            more.Count == 0
                ? null
                : PartsCover.Cheapest(all, offers, supplier.Minimum, supplier.Surcharge, cancellation),
            [.. reach.Select(p => p.Name)],
            [
                .. supplier
                    .SmallFor(
                        layout,
                        changed,
                        machine.Handbook,
                        state.Glue.ToDictionary(g => g.Key, g => g.Value.School)
                    )
                    .Select(s => (s.Article, Count: s.Count - has.GetValueOrDefault(s.Article.Id), s.For))
                    .Where(s => s.Count > 0),
            ],
            Supplier.NumberOf(state.Machine.Tag) is null
                && articles.Where(a => a.Serials is not null && a.Covers.Keys.Any(need.ContainsKey)).Skip(1).Any()
        );
    }
}
