using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;
using Idrum.Web.Shop;
using Idrum.Web.Work;

namespace Idrum.Web.Pages.Jobs;

/// <summary>What to put in the van before driving there.</summary>
public sealed class TakeModel(JobServices services, SmallDesk smalls) : JobPage(services)
{
    private IReadOnlyList<Article>? articles;

    public override Station Shown => Station.Find;

    /// <summary>The advice; worked out before the page is drawn.</summary>
    public TakeAlong Advice { get; private set; } = null!;

    /// <summary>Glue, grease and ties that go with what is taken.</summary>
    public IReadOnlyList<(SmallArticle Article, int Count, string For)> Small =>
        Services.Money.Supplier.SmallFor(
            View.Layout,
            [.. Advice.Items.Where(i => i.Take).Select(i => i.Item.Part)],
            View.Machine.Handbook,
            new Dictionary<PartId, string>()
        );

    /// <summary>What the van holds of it, and how old what is begun is.</summary>
    public string InVanOf(string number)
    {
        var (here, begun) = (Van.Holds.GetValueOrDefault(number), smalls.OpenedOf(number, Van.Id));
        return (here > 0 ? $" · {here} in {Van.Name}" : "")
            + (
                begun.Count > 0
                    ? $" · one begun, {Say.Count(smalls.Today.DayNumber - begun[0].DayNumber, "day", "days")} ago"
                    : ""
            );
    }

    /// <summary>What can be had for the machine.</summary>
    private IReadOnlyList<Article> Articles => articles ??= Services.Money.Supplier.For(View.Layout, State.Machine.Tag);

    /// <summary>How likely a thing does not fit, where that is more than the supplier's usual.</summary>
    public double? Doubt(PartItem item) =>
        Services.Money.Supplier.MisfitOf(item, Articles) is var p && p > Services.Money.Supplier.Misfit + 1e-9
            ? p
            : null;

    /// <summary>How many of a thing the van holds anyway, sets counted.</summary>
    public int InVan(PartItem item) => Supplier.InVan(item, Articles, Van.Holds);

    /// <summary>Which of the shop's other places hold some of a thing; empty where none does.</summary>
    public string ElsewhereOf(PartItem item) =>
        Elsewhere(Articles.Where(a => a.Covers.ContainsKey(item.Id)).Select(a => a.Id));

    /// <summary>Tools, each once, for the likeliest of what is taken: nobody drives back for a driver bit.</summary>
    public IReadOnlyList<string> Tools { get; private set; } = [];

    public string Pay(double amount) =>
        $"{Terms.Currency} {amount.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture)}";

    protected override async Task PrepareAsync()
    {
        (Advice, Tools) = await Services.Gate.RunAsync(
            stop =>
            {
                var (belief, _) = View.Machine.Diagnostician.Believe(
                    QuestionOfJob.Of(State, View.Machine, View.Evidence)
                );
                var advice = TakeAlong.Of(belief, View.Layout, Terms, Services.Money.Supplier.ReturnShare, InVan, i =>
                    Services.Money.Supplier.MisfitOf(i, Articles)
                );
                var targets = advice.Items.Where(i => i.Take).SelectMany(i => i.Item.Places).Select(p => p.Id).ToList();
                var plan =
                    targets.Count == 0 ? null : View.Machine.Planner.Plan(new(targets, State.Out, State.WaysIn), stop);
                var tools = plan?.Removal.SelectMany(o => o.Tools)
                    .Concat(plan.Refit.SelectMany(m => m.Step.Tools))
                    .Select(t => string.Join(" or ", t.Any.Select(View.Machine.Words.ToolName)))
                    .Concat(
                        View.Machine.Handbook.FittingTools(
                            targets.Select(View.Layout.FindPart).OfType<Part>(),
                            View.Layout
                        )
                    )
                    .Distinct()
                    .ToList()
                    ?? [];
                return (advice, tools);
            },
            HttpContext.RequestAborted
        );
    }
}
