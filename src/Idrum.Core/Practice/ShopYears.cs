using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Logbook;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Shop;

namespace Idrum.Core.Practice;

/// <summary>Years of a made-up shop: machines whose parts live by laws that are known, each failure a job from the telephone to its
/// closing. What the log says of it can be held against <see cref="TruthOf"/>.</summary>
/// <param name="Seed">The same seed, the same years.</param>
/// <param name="Years">How far back it goes.</param>
/// <param name="Machines">Machines in its care.</param>
public sealed record ShopYears(int Seed, double Years, int Machines)
{
    /// <summary>Loads a week: all of them stand in laundry rooms.</summary>
    public const double Loads = 10;

    /// <summary>Minutes of a step over what its layout says, in the middle.</summary>
    public const double Pace = 1.12;

    /// <summary>How often it comes back for a reason of the repair's own.</summary>
    public const double ComesBack = 0.06;

    /// <summary>How often what is likely to cost is told before.</summary>
    public const double Told = 0.6;

    /// <summary>Share by which what is charged lies above what was told, on the average.</summary>
    public const double Dearer = 0.04;

    private const double Year = 365.25;

    // So many checks a job, of so many cheapest ones.
    private const int Asked = 3;
    private const int Cheap = 12;

    /// <summary>The number of its first job.</summary>
    public static string First => NumberOf(1);

    private static readonly string[] Places =
    [
        "Laundry room Brunnleite",
        "Student house Aulinger Weg",
        "Hostel Kaltwasser",
        "Nursing home Lerchenau",
        "Wash house Mitterfeld",
        "Camp site Seewiese",
        "Housing block Tannholz",
        "Sports hall Griesbach",
    ];

    private static readonly string[] Workers = ["M. Tannhof", "R. Ilmer", "S. Okwu"];

    /// <summary>The law by which parts of a kind live here: shape and scale, years, at <see cref="Loads"/> a week.</summary>
    /// <param name="part">A part that wears.</param>
    public static (double Shape, double Scale) TruthOf(Part part) =>
        (
            part.Kind is PartKinds.Belt or PartKinds.DrumRoller ? 2.4 : 1.8,
            Math.Max(2, part.LifeYears) * 5 / Loads * 0.9
        );

    /// <summary>The jobs, machine by machine, each as its acts.</summary>
    /// <param name="shop">What the shop knows.</param>
    /// <param name="layouts">Machines it looks after, by layout id.</param>
    /// <param name="now">The present.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <returns>Logs that keep every rule, with the id of each job.</returns>
    public IEnumerable<(Guid Id, IReadOnlyList<JobEvent> Log)> Jobs(
        ShopSnapshot shop,
        IReadOnlyList<string> layouts,
        DateTimeOffset now,
        CancellationToken cancellation = default
    )
    {
        var number = 1;
        for (var m = 0; m < Machines; m++)
        {
            cancellation.ThrowIfCancellationRequested();
            var random = new Random(unchecked(Seed * 7919 + m));
            var machine = shop.For(shop.FindLayout(layouts[m % layouts.Count])!);
            foreach (var script in Machine(machine, shop.Terms, m, random, now))
            {
                cancellation.ThrowIfCancellationRequested();
                var id = new byte[16];
                random.NextBytes(id);
                // A call-back names the job before it.
                var named = script with
                {
                    Number = NumberOf(number),
                    Machine = script.Machine with
                    {
                        CallBackOf = script.CallBackCause.Length > 0 ? NumberOf(number - 1) : "",
                    },
                };
                number++;
                yield return (new Guid(id), JobWalk.Events(named, shop, now, random));
            }
        }
    }

    private static string NumberOf(int n) => FormattableString.Invariant($"H-{n:0000}");

    private IEnumerable<JobScript> Machine(
        MachineKnowledge machine,
        ShopTerms terms,
        int index,
        Random random,
        DateTimeOffset now
    )
    {
        var layout = machine.Layout;
        var model = machine.Diagnostician.Model;
        // Machines come new in the first half of the years: their parts are the first they have.
        var born = -Years + random.NextDouble() * Years / 2;
        var causes = layout
            .Parts.Where(p => p.Wears)
            .Select(p => p.Kind)
            .Distinct()
            .ToDictionary(k => k, k => FaultsOf(model, k));
        var fails = layout
            .Parts.Where(p => p.Wears && causes[p.Kind].Count > 0)
            .ToDictionary(p => p, p => born + Life(p, random));
        var card = new MachineCard
        {
            LayoutId = layout.Id,
            Place = $"{Places[index % Places.Length]} {1 + index / Places.Length}",
            Tag = $"{layout.Id.Split('-')[^1].ToUpperInvariant()}-{3000 + index}",
            UsesPerWeek = Loads,
        };
        while (fails.Count > 0 && fails.MinBy(f => f.Value) is var next && next.Value < -0.03)
        {
            var (part, at) = (next.Key, next.Value);
            var fault = Pick(causes[part.Kind], random);
            var twins = layout.Parts.Where(p => p.Kind == part.Kind && p != part && fails.ContainsKey(p)).ToList();
            var along = random.NextDouble() < 0.5 ? twins : [];
            var script = Script(machine, terms, card, fault, part, [part, .. along], at, born, random);
            if (script is null)
            {
                fails[part] = at + Life(part, random);
                continue;
            }
            yield return script;
            foreach (var changed in along.Append(part))
            {
                fails[changed] = at + Life(changed, random);
            }
            if (random.NextDouble() < ComesBack && at < -0.3)
            {
                var again = at + (5 + 55 * random.NextDouble()) / Year;
                var twin = twins.Except(along).FirstOrDefault() ?? part;
                if (
                    Script(machine, terms, card, fault, twin, [twin], again, born, random) is { } back
                    && fails.Values.Min() > again
                )
                {
                    yield return back with
                    {
                        CallBackCause = twin == part ? "own-closing" : "twin",
                        Promise = null,
                    };
                    fails[twin] = again + Life(twin, random);
                }
            }
        }
    }

    private static JobScript? Script(
        MachineKnowledge machine,
        ShopTerms terms,
        MachineCard card,
        Fault fault,
        Part failed,
        List<Part> changed,
        double at,
        double born,
        Random random
    )
    {
        var model = machine.Diagnostician.Model;
        var age = Math.Round(at - born, 1);
        var simulated = new SimulatedMachine(model, JobState.WearOf(age, Loads), [fault.Id], random);
        if (simulated.Complaints.Count == 0)
        {
            return null;
        }
        var asked = model
            .Findings.Where(f => f is { Group: FindingGroup.Outside, Runs: false, Live: false, Needs.Count: 0 })
            .OrderBy(f => f.Minutes)
            .Take(Cheap)
            .OrderBy(_ => random.Next())
            .Take(Asked)
            .ToDictionary(f => f.Id, f => simulated.Answer(f.Id));
        var look = model.Findings.FirstOrDefault(f =>
            f.Group == FindingGroup.Inside
            && f is { Runs: false, Live: false }
            && f.SeesKinds.Contains(failed.Kind)
            && f.Links.Any(l => l.Fault == fault.Id)
        );
        var labour = 45 + 15 * random.Next(0, 6);
        var sum = new Sum(
            terms.Currency,
            [
                new("labour", "Work at the machine", terms.HoursCharged(labour), "h", terms.RatePerHour),
                .. changed.Where(p => p.Price > 0).Select(p => new SumLine("part", p.Name, p.Count, "piece", p.Price)),
                new("travel", "Trip", 1, "trip", terms.TripCharge),
            ],
            terms.TaxPercent
        );
        var told = random.NextDouble() < Told;
        var more = Math.Exp(Math.Log(1 + Dearer) + 0.12 * Normal(random));
        return new()
        {
            Number = "",
            Machine = card with { AgeYears = Math.Max(0, age) },
            Complaints = simulated.Complaints,
            Answers = asked,
            FaultId = fault.Id,
            Targets = [.. changed.Select(p => p.Id)],
            By = Workers[0],
            Worker = Workers[random.Next(Workers.Length)],
            Until = Station.Prove,
            Acts = 6,
            HoursAgo = -at * Year * 24,
            Close = true,
            Pace = Pace,
            PaceSpread = 0.3,
            Seen = look is null
                ? []
                :
                [
                    .. changed.Select(p => new PartSeen(
                        p.Id,
                        look.Id,
                        look.Outcomes[p == failed ? look.Outcomes.Count - 1 : 0].Id
                    )),
                ],
            Promise = told ? sum : null,
            Charge = sum with
            {
                Lines =
                [
                    .. sum.Lines,
                    new(
                        "other",
                        "Difference",
                        1,
                        "piece",
                        Math.Max(0, Sum.Cents(sum.Lines.Sum(l => l.Amount) * (more - 1)))
                    ),
                ],
            },
            Summary = "",
        };
    }

    /// <summary>Faults that the failing of a part may show as, with how often.</summary>
    private static List<Fault> FaultsOf(FaultModel model, string kind) =>
        [
            .. model.Faults.Where(f =>
                f is { Action: FaultAction.Replace, Hidden: false, FromOutside: false }
                && f.Kinds.Count == 1
                && f.Kinds[0] == kind
            ),
        ];

    private static Fault Pick(List<Fault> faults, Random random)
    {
        var at = random.NextDouble() * faults.Sum(f => f.Incidence);
        return faults.Find(f => (at -= f.Incidence) < 0) ?? faults[^1];
    }

    private static double Life(Part part, Random random)
    {
        var (shape, scale) = TruthOf(part);
        return scale * Math.Pow(-Math.Log(1 - random.NextDouble()), 1 / shape);
    }

    private static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
}
