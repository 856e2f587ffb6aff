using System.Globalization;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Idrum.Core.Shop;
using Idrum.Storage;
using Idrum.Web.Devices;
using Idrum.Web.Forms;
using Idrum.Web.Jobs;
using Microsoft.AspNetCore.Mvc;

namespace Idrum.Web.Pages.Jobs;

/// <summary>Parts of a job: what is needed, what it costs, what is ordered, what came.</summary>
public sealed class PartsModel(JobServices services) : JobPage(services)
{
    private PartsAdvice? advice;
    private IReadOnlyList<JobState>? changed;
    private IReadOnlyDictionary<string, int>? van;

    public override Station Shown => Station.Fit;

    public PartsAdvice Advice => advice ??= PartsAdvice.Of(State, View.Machine, Services.Money.Supplier, Van, HttpContext.RequestAborted);

    public IReadOnlyDictionary<string, int> Van => van ??= Services.Money.Van();

    public Supplier Supplier => Services.Money.Supplier;

    public ShopTerms Terms => Services.Money.Terms;

    public IReadOnlyList<Supplies.Rest> Lines => Supplies.Left(State, View.Layout);

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

    /// <summary>What changing another part now costs, beside coming back for it.</summary>
    public IReadOnlyList<(ExtraCost Part, ComingBack Costs)> WhileOpen => [.. View.Extras.Where(e => e.Part.LifeYears > 0).Select(e => new ExtraCost(e.Part, e.Minutes + FitMinutes(e.Part), BackMinutes(e.Part)))
        .Select(e => (e, ComingBack.Of(e.Part.Price * PartItem.Units(e.Part), e.Minutes, e.BackMinutes,
            Chance(e.Part), Terms)))
        .OrderByDescending(e => e.Item2.Later - e.Item2.Now).Take(8)];

    private double Loads => Math.Max(0.5, State.Machine.UsesPerWeek ?? 5);

    /// <summary>Years since an earlier job on the same tag changed a part; null where none did.</summary>
    private double? ChangedYears(string part) => State.Machine.Tag.Length == 0 ? null : (changed ??= [.. Services.Store.Related(State).Where(r => r.Tag == State.Machine.Tag).Take(6).Select(r => Services.Store.Find(r.Number)?.State).OfType<JobState>().Where(j => j.Number != State.Number)])
        .Where(j => j.Fitted.GetValueOrDefault(part)?.Action == "replaced").Select(j => (double?)Math.Max(0, (Now - j.LastAt).TotalDays / 365.25)).Min();

    /// <summary>A set or assembly that holds more than is needed: what it costs above the part alone, beside coming back for the rest. Empty for others.</summary>
    public string ReasonFor(Article article)
    {
        var needed = Advice.Rows.Where(r => r.Needed > r.Fitted).Select(r => r.Item.Id).ToHashSet();
        var rest = article.Covers.Keys.Where(k => !needed.Contains(k)).Select(View.Layout.FindPart).OfType<Part>().ToList();
        var own = article.Covers.Where(c => needed.Contains(c.Key)).ToDictionary(c => c.Key, c => c.Value);
        if (rest.Count == 0 || own.Count == 0 || rest.Any(p => p.LifeYears <= 0) || PartsCover.Cheapest(own, [.. Advice.Articles.Where(a => a.Covers.Values.Sum() == 1).Select(a => new Offer(a.Id, a.Price, a.Covers))]) is not { } alone)
        {
            return "";
        }
        var more = article.Price - alone.Goods;
        var later = rest.Sum(p => ComingBack.Of(p.Price, 0, BackMinutes(p), Chance(p), Terms).Later);
        return string.Create(CultureInfo.InvariantCulture, $"{Terms.Currency} {more:0} above the part alone; coming back for the rest costs {later:0} expected: {(more < later ? "take it" : "the part alone")}");
    }

    private double Chance(Part part) => ChangedYears(part.Id) is { } since ? ComingBack.Fails(part.LifeYears, since, Loads) : ComingBack.FailsInMachine(part.LifeYears, State.Machine.AgeYears ?? 10, Loads);

    /// <summary>A part that may be changed too.</summary>
    /// <param name="Part">The part.</param>
    /// <param name="Minutes">Minutes more now.</param>
    /// <param name="BackMinutes">Minutes of coming back for it.</param>
    public sealed record ExtraCost(Part Part, double Minutes, double BackMinutes);

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
        var source = Request.Form["source"].ToString() == "van" ? "van" : "supplier";
        var (wanted, errors) = Request.Form["kind"] == "cover-bought" ? Cover(source) : One(source);
        if (errors.Count > 0)
        {
            return await RefuseAsync(errors);
        }
        for (var i = 0; i < wanted.Count; i++)
        {
            // The same ids however often it is sent.
            var bytes = first.ToByteArray();
            bytes[15] ^= (byte)i;
            var act = DeviceClock.Stamp(HttpContext.By(wanted[i]) with { Id = new Guid(bytes) }, Request.Form["madeAt"].ToString(), Request.Form["sentAt"].ToString(), Now);
            var result = await Services.Store.AppendAsync(View.Job.JobId, act);
            if (result.Outcome == AppendOutcome.Refused)
            {
                return await RefuseAsync(result.Errors);
            }
        }
        return this.SeeOther(To("parts"));
    }

    private (IReadOnlyList<JobEvent> Acts, IReadOnlyList<FieldError> Errors) Cover(string source)
    {
        var cover = source == "van" ? Advice.FromVan : Advice.Order;
        return cover is null ? ([], [new("", source == "van" ? "The van does not hold all of it." : "Nothing is short any more.")])
            : ([.. cover.Bought.Select(b => Line(Advice.Find(b.Id)!.Id, b.Count, source)).OfType<JobEvent>()], []);
    }

    private (IReadOnlyList<JobEvent> Acts, IReadOnlyList<FieldError> Errors) One(string source)
    {
        if (!int.TryParse(Request.Form["quantity"].ToString().Trim(), NumberStyles.Integer, CultureInfo.InvariantCulture, out var count) || count is < 1 or > 99)
        {
            return ([], [new("quantity", "A whole number from 1 to 99.")]);
        }
        var id = Request.Form["articleId"].ToString();
        if (source == "van" && Van.GetValueOrDefault(id) < count)
        {
            return ([], [new("quantity", Van.GetValueOrDefault(id) == 0 ? "The van holds none of it." : $"The van holds {Van[id]} of it.")]);
        }
        return Line(id, count, source) is { } line ? ([line], []) : ([], [new("articleId", "There is no such article for this machine.")]);
    }

    private PartsBought? Line(string id, int count, string source) =>
        Advice.Find(id) is { } article ? new(article.Id, article.Name, article.Covers, count, article.Price, source, source == "van" ? 0 : Supplier.Days, Supplier.ReturnDays)
        : Supplier.Small.FirstOrDefault(s => s.Id == id) is { } small ? new(small.Id, small.Name, new Dictionary<string, int>(), count, small.Price, source, source == "van" ? 0 : Supplier.Days, Supplier.ReturnDays)
        : null;

    private double FitMinutes(Part part) => View.Machine.Handbook.For(part.Kind) is { } how ? how.MinutesOf(how.DefaultSchool) : 5;

    private double BackMinutes(Part part) => (View.Machine.Planner.MinutesToFree([part.Id], Core.Teardown.Bits.None) ?? 30) + FitMinutes(part) + View.Machine.Diagnostician.Model.Catalog.Costs.ProveMinutes;
}
