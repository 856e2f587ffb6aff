using Idrum.Core.Jobs.Log;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;
using Idrum.Core.Supply;
using Idrum.Core.Teardown;

namespace Idrum.Core.Jobs.Parts;

/// <summary>What changing more than is needed costs now, beside coming back for it, for one job.</summary>
/// <param name="state">The job.</param>
/// <param name="machine">Its machine.</param>
/// <param name="terms">What the shop charges.</param>
/// <param name="earlier">Earlier jobs on the same tag: they tell when a part was last changed.</param>
public sealed class ChangeToo(
    JobState state,
    MachineKnowledge machine,
    ShopTerms terms,
    IReadOnlyList<JobState> earlier
)
{
    private const double UnknownAge = 10,
        UnknownLoads = 5,
        FewestLoads = 0.5,
        UnknownOpening = 30,
        UnknownFitting = 5;

    /// <summary>A part that may be changed too.</summary>
    /// <param name="Part">The part.</param>
    /// <param name="Minutes">Minutes more now.</param>
    /// <param name="BackMinutes">Minutes of coming back for it.</param>
    public sealed record Extra(Part Part, double Minutes, double BackMinutes);

    /// <summary>Parts of which the usual life is known, those first for which it pays most.</summary>
    /// <param name="extras">Wear parts with the minutes they cost more in this opening.</param>
    public IEnumerable<(Extra Part, ComingBack Costs)> Of(IEnumerable<ExtraPart> extras) =>
        extras
            .Where(e => e.Part.LifeYears > 0)
            .Select(e => new Extra(e.Part, e.Minutes + FitMinutes(e.Part), BackMinutes(e.Part)))
            .Select(e =>
                (
                    e,
                    Costs: ComingBack.Of(
                        e.Part.Price * PartItem.Units(e.Part),
                        e.Minutes,
                        e.BackMinutes,
                        Chance(e.Part),
                        terms
                    )
                )
            )
            .OrderByDescending(e => e.Costs.Later - e.Costs.Now);

    /// <summary>A set or assembly that holds more than is needed: what it costs above the part alone, beside coming
    /// back for the rest; null for
    /// anything else, and where nobody says how long the rest lasts.</summary>
    public ComingBack? SetOrPart(Article article, PartsAdvice advice)
    {
        var needed = advice.Rows.Where(r => r.Needed > r.Fitted).Select(r => r.Item.Id).ToHashSet();
        var rest = article
            .Covers.Keys.Where(k => !needed.Contains(k))
            .Select(machine.Layout.FindPart)
            .OfType<Part>()
            .ToList();
        var own = article.Covers.Where(c => needed.Contains(c.Key)).ToDictionary(c => c.Key, c => c.Value);
        return
            rest.Count == 0
            || own.Count == 0
            || rest.Any(p => p.LifeYears <= 0)
            || PartsCover.Cheapest(
                own,
                [
                    .. advice
                        .Articles.Where(a => a.Covers.Values.Sum() == 1)
                        .Select(a => new Offer(a.Id, a.Price, a.Covers)),
                ]
            )
                is not { } alone
            ? null
            : new(
                rest.Max(Chance),
                article.Price - alone.Goods,
                rest.Sum(p => ComingBack.Of(p.Price, 0, BackMinutes(p), Chance(p), terms).Later)
            );
    }

    private double Chance(Part part) =>
        ChangedYears(part.Id) is { } since
            ? ComingBack.Fails(part.LifeYears, since, Loads)
            : ComingBack.FailsInMachine(part.LifeYears, state.Machine.AgeYears ?? UnknownAge, Loads);

    private double Loads => Math.Max(FewestLoads, state.Machine.UsesPerWeek ?? UnknownLoads);

    /// <summary>Years since an earlier job changed a part; null where none did.</summary>
    private double? ChangedYears(PartId part) =>
        earlier
            .Where(j => j.Fitted.GetValueOrDefault(part)?.Action == FittedAs.Replaced)
            .Select(j => (double?)Math.Max(0, (state.LastAt - j.LastAt).TotalDays / 365.25))
            .Min();

    private double FitMinutes(Part part) =>
        machine.Handbook.For(part, machine.Layout) is { } how ? how.MinutesOf(how.DefaultSchool) : UnknownFitting;

    private double BackMinutes(Part part) =>
        (machine.Planner.MinutesToFree([part.Id], Bits.None) ?? UnknownOpening)
        + FitMinutes(part)
        + machine.Diagnostician.Model.Catalog.Costs.ProveMinutes;
}
