using System.Globalization;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Supply;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Parts of a job: what is needed, what it costs, what is ordered, what came.</summary>
public sealed class PartsModel(JobServices services) : JobPage(services)
{
    private PartsAdvice? advice;
    private ChangeToo? more;

    public override Station Shown => Station.Fit;

    public PartsAdvice Advice =>
        advice ??= PartsAdvice.Of(
            State,
            View.Machine,
            Services.Money.Supplier,
            Terms.RatePerHour,
            Van.Holds,
            HttpContext.RequestAborted
        );

    public Supplier Supplier => Services.Money.Supplier;

    public IReadOnlyList<Supplies.Rest> Lines => Supplies.Left(State, View.Layout);

    /// <summary>Those of which something is to go back.</summary>
    public IReadOnlyList<Supplies.Rest> LeftOver => [.. Supplies.LeftOver(State, View.Layout)];

    /// <summary>What a part does not fit, as a share of a hundred, where it is not the usual.</summary>
    public double MisfitOf(Article article) => article.Misfit ?? Supplier.Misfit;

    /// <summary>Articles that stand beside the cheapest: for things the job needs, not bought by the advice.</summary>
    public IEnumerable<Article> Others
    {
        get
        {
            var needed = Advice.Rows.Where(r => r.Needed > r.Fitted).Select(r => r.Item.Id).ToHashSet();
            return Advice.Articles.Where(a => a.Covers.Keys.Any(needed.Contains));
        }
    }

    /// <summary>What is short, with which of the shop's other places hold some of it.</summary>
    public IEnumerable<(string Name, string Where)> ShortButElsewhere =>
        Advice
            .Rows.Where(r => r.Short > 0)
            .Select(r =>
                (r.Item.Name, Elsewhere(Advice.Articles.Where(a => a.Covers.ContainsKey(r.Item.Id)).Select(a => a.Id)))
            )
            .Where(r => r.Item2.Length > 0);

    /// <summary>Part or assembly, for parts still short that are sold both ways.</summary>
    public IEnumerable<IReadOnlyList<WayOfBuying>> Ways =>
        Advice
            .Rows.Where(r => r.Short > 0)
            .Select(r =>
                WayOfBuying.Of(View.Layout, r.Item.Part, Advice.Articles, View.Machine.Handbook, Terms.RatePerHour)
            )
            .Where(w => w.Count > 1);

    /// <summary>What changing more now costs, beside coming back for it.</summary>
    public ChangeToo More => more ??= new(State, View.Machine, Terms, Earlier);

    /// <summary>Wear parts that may be changed too, those first for which it pays most.</summary>
    public IReadOnlyList<(ChangeToo.Extra Part, ComingBack Costs)> WhileOpen => [.. More.Of(View.Extras).Take(8)];

    /// <summary>A set that holds more than is needed, in one line; empty for others.</summary>
    public string ReasonFor(Article article) =>
        More.SetOrPart(article, Advice) is not { } weighed
            ? ""
            : string.Create(
                CultureInfo.InvariantCulture,
                $"{Terms.Currency} {weighed.Now:0} above the part alone; coming back for the rest costs {weighed.Later:0} expected: {(weighed.Change ? "take it" : "the part alone")}"
            );

    /// <summary>Earlier jobs on the same tag.</summary>
    private IReadOnlyList<JobState> Earlier =>
        State.Machine.Tag.Length == 0
            ? []
            :
            [
                .. Services
                    .Store.Related(State)
                    .Where(r => r.Tag == State.Machine.Tag && r.Number != State.Number)
                    .Take(6)
                    .Select(r => Services.Store.Find(r.Number)?.State)
                    .OfType<JobState>(),
            ];

    public override async Task<IActionResult> OnPostAsync([FromRoute] string number)
    {
        if (Request.Form["kind"].ToString() is not ("cover-bought" or "article-bought"))
        {
            return await base.OnPostAsync(number);
        }
        if (!Load(number))
        {
            return NotFound();
        }
        var first = Guid.TryParse(Request.Form["id"], out var given) ? given : Guid.NewGuid();
        if (View.Job.History.Knows(first))
        {
            // Sent twice: it is bought already.
            return this.SeeOther(To("parts"));
        }
        var fromVan = Request.Form["source"] == "van";
        var purchase = new Purchase(State, View.Layout, Advice, Supplier, Van);
        int? count = int.TryParse(
            Request.Form["quantity"].ToString().Trim(),
            NumberStyles.Integer,
            CultureInfo.InvariantCulture,
            out var said
        )
            ? said
            : null;
        var (wanted, errors) =
            Request.Form["kind"] == "cover-bought"
                ? purchase.Cover(fromVan)
                : purchase.One(Request.Form["articleId"].ToString(), count, fromVan);
        if (errors.Count > 0)
        {
            return await RefuseAsync(errors);
        }
        // One purchase, all of it or nothing.
        return await RecordAllAsync(wanted, wanted[^1], To("parts"));
    }
}
