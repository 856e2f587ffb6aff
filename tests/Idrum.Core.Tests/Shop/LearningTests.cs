using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;
using Idrum.Core.Money;
using Idrum.Core.Practice;
using Idrum.Core.Shop;

namespace Idrum.Core.Tests.Shop;

/// <summary>What closed jobs teach: the shares come nearer to the world they were drawn from, and each kind of lesson
/// counts as what it is.</summary>
public sealed class LearningTests
{
    private static readonly ShopSnapshot Shop = TestShop.Shop;
    private static readonly string LayoutId = Shop.Layouts[0].Id;
    private static readonly FaultModel Model = new(
        Shop.Layouts[0].For(new Dictionary<string, string>(), new Dictionary<string, string>()),
        Shop.Catalog
    );

    private static Learned Learn(params JobLesson[] lessons) =>
        Learning.From(Shop.Catalog, id => id == LayoutId ? Model : null, lessons);

    private static JobLesson Lesson(
        string number,
        string fault,
        Dictionary<string, string>? answers = null,
        string callBackOf = "",
        bool proved = true,
        string decision = "change"
    ) =>
        new(
            number,
            LayoutId,
            1,
            callBackOf,
            DateTimeOffset.UnixEpoch,
            answers ?? new() { ["squeal"] = "yes" },
            fault.Length > 0 ? [new(fault, decision)] : [],
            proved
        );

    private static Dictionary<string, string> Belt(string looked) =>
        new() { ["drum-stands"] = "yes", ["belt-look"] = looked };

    private static double Met(Learned learned, string fault) => learned.Faults.First(f => f.Fault.Id == fault).Met;

    [Fact]
    public void Four_hundred_jobs_of_another_world_bring_the_shares_nearer_to_it()
    {
        var truth = new FaultModel(Model.Layout, OtherWorld.Of(Shop.Catalog, 0.5, new Random(5)));
        var lessons = Enumerable
            .Range(0, 400)
            .Select(i =>
            {
                var random = new Random(i);
                var machine = new SimulatedMachine(truth, 0.5 + random.NextDouble(), random);
                var answers = machine.Complaints.ToDictionary(c => c, _ => "yes");
                // Whoever repairs it looks at the parts of what he then names, and makes some checks before.
                foreach (
                    var f in truth.Findings.Where(f =>
                        f.Group is FindingGroup.Outside or FindingGroup.Inside
                        && (f.Links.Any(l => machine.Speaking.Contains(l.Fault)) || random.Next(8) == 0)
                    )
                )
                {
                    answers[f.Id] = machine.Answer(f.Id);
                }
                return new JobLesson(
                    $"S-{i}",
                    LayoutId,
                    machine.Wear,
                    "",
                    DateTimeOffset.UnixEpoch,
                    answers,
                    [.. machine.Speaking.Select(f => new LessonCause(f, "change"))],
                    true
                );
            })
            .ToArray();
        var learned = Learn(lessons).For(LayoutId);
        var (before, after) = (Apart(Shop.Catalog), Apart(learned));
        Assert.True(after < 0.5 * before, $"The shares were {before:0.000} apart and are {after:0.000}.");

        double Apart(DiagnosisCatalog catalog)
        {
            var (p, q) = (truth.Believe(1, []).Speaks(), new FaultModel(Model.Layout, catalog).Believe(1, []).Speaks());
            return p.Zip(q, (a, b) => a * Math.Log(a / b) - a + b).Sum();
        }
    }

    [Fact]
    public void Likelihoods_move_towards_what_the_shop_meets()
    {
        // Fifteen broken belts, and each time the drum turned as ever by hand.
        var lessons = Enumerable
            .Range(0, 15)
            .Select(i =>
                Lesson(
                    $"B-{i}",
                    "belt-broken",
                    new()
                    {
                        ["drum-stands"] = "yes",
                        ["belt-look"] = "broken",
                        ["drum-hand"] = "normal",
                    }
                )
            )
            .ToArray();
        var sign = Learn(lessons)
            .Signs.First(s => s.Finding.Id == "drum-hand" && s.Fault.Id == "belt-broken" && s.Outcome.Id == "free");
        Assert.Equal(0, sign.Met);
        Assert.True(sign.Now < 0.75 * sign.Was, $"{sign.Was:0.00} became {sign.Now:0.00}");
        Assert.True(sign.Now > 0.2 * sign.Was, "Fifteen jobs do not turn it over.");
    }

    [Fact]
    public void A_cause_that_was_seen_counts_whole() =>
        Assert.Equal(1, Met(Learn(Lesson("A", "belt-broken", Belt("broken"))), "belt-broken"), 6);

    [Fact]
    public void What_was_changed_on_suspicion_counts_by_its_probability()
    {
        var suspected = Learn(Lesson("A", "motor-start", new() { ["hums"] = "yes" }));
        var unproved = Learn(Lesson("A", "motor-start", new() { ["hums"] = "yes" }, proved: false));
        Assert.InRange(Met(suspected, "motor-start"), 0.05, 0.95);
        Assert.True(Met(unproved, "motor-start") < Met(suspected, "motor-start"), "A passed proof speaks for it.");
        Assert.Equal(1, suspected.From.Suspected);
    }

    [Fact]
    public void A_job_and_its_call_back_are_one_machine()
    {
        var learned = Learn(
            Lesson("A", "belt-broken", Belt("broken")),
            Lesson("B", "idler-seized", new() { ["squeal"] = "yes", ["idler-spin"] = "stuck" }, callBackOf: "A")
        );
        Assert.Equal(1, learned.From.CallBacks);
        Assert.Equal(0.5, Met(learned, "belt-broken"), 6);
        Assert.Equal(0.5, Met(learned, "idler-seized"), 6);
    }

    [Fact]
    public void Where_no_cause_was_found_none_is_met_and_all_were_expected()
    {
        var learned = Learn(Lesson("A", ""), Lesson("B", "belt-worn", decision: "leave"));
        Assert.Equal(2, learned.From.Unknown);
        Assert.All(learned.Faults, f => Assert.True(f.Met == 0 && f.Expected > 0 && f.Incidence < f.Fault.Incidence));
    }

    [Fact]
    public void A_layout_is_pulled_towards_the_pool_and_no_further()
    {
        var other = new FaultModel(
            Shop.Layouts[1].For(new Dictionary<string, string>(), new Dictionary<string, string>()),
            Shop.Catalog
        );
        var lessons = Enumerable
            .Range(0, 30)
            .Select(i => Lesson($"A-{i}", "belt-broken", Belt("broken")))
            .Append(Lesson("Q", "idler-dry") with { LayoutId = Shop.Layouts[1].Id })
            .ToArray();
        var learned = Learning.From(Shop.Catalog, id => id == LayoutId ? Model : other, lessons);
        var belt = learned.Faults.First(f => f.Fault.Id == "belt-broken");
        Assert.True(
            belt.ByLayout[LayoutId] > belt.ByLayout[Shop.Layouts[1].Id]
                && belt.ByLayout[Shop.Layouts[1].Id] > belt.Fault.Incidence,
            "The other layout learns less of it, but learns."
        );
    }

    [Fact]
    public void Fifteen_jobs_on_one_layout_make_a_cause_at_most_three_times_as_likely_on_another()
    {
        var elsewhere = Shop.FindLayout("ostrel-or70")!;
        var other = new FaultModel(
            elsewhere.For(new Dictionary<string, string>(), new Dictionary<string, string>()),
            Shop.Catalog
        );
        var lessons = Enumerable.Range(0, 15).Select(i => Lesson($"A-{i}", "belt-broken", Belt("broken"))).ToArray();
        var learned = Learning.From(Shop.Catalog, id => id == LayoutId ? Model : other, lessons);
        foreach (var id in new[] { "belt-broken", "idler-seized", "motor-start" })
        {
            double P(DiagnosisCatalog catalog) =>
                new FaultModel(other.Layout, catalog).Believe(1, []).Speaks()[
                    other.Faults.ToList().FindIndex(f => f.Id == id)
                ]
                    is var p
                    ? p / (1 - p)
                    : 0;
            Assert.InRange(P(learned.For("ostrel-or70")) / P(Shop.Catalog), 1 / 3.2, 3.2);
        }
        Assert.True(
            learned.For(LayoutId).FindFault("belt-broken")!.Incidence
                > learned.For("ostrel-or70").FindFault("belt-broken")!.Incidence
        );
    }

    [Fact]
    public void A_job_that_names_everything_counts_as_two_causes_and_is_named()
    {
        var all = Lesson("A", "belt-broken") with
        {
            Causes = [.. Shop.Catalog.Faults.Concat(Shop.Catalog.Faults).Select(f => new LessonCause(f.Id, "change"))],
        };
        var learned = Learn(all);
        Assert.InRange(learned.Faults.Sum(f => f.Met), 0.5, Learning.MostCauses + 1e-9);
        Assert.Equal("A", Assert.Single(learned.From.Crowded).Job);
        var (before, after) = (
            Model.Believe(1, []).Speaks(),
            new FaultModel(Model.Layout, learned.For(LayoutId)).Believe(1, []).Speaks()
        );
        Assert.All(before.Zip(after), p => Assert.InRange(p.Second / p.First, 0.75, 1.6));
    }

    [Fact]
    public void Wear_that_was_looked_for_and_not_found_becomes_rarer()
    {
        var lessons = Enumerable
            .Range(0, 60)
            .Select(i =>
                Lesson(
                    $"L-{i}",
                    "belt-broken",
                    new()
                    {
                        ["drum-stands"] = "yes",
                        ["belt-look"] = "broken",
                        ["idler-spin"] = "free",
                    }
                )
            )
            .ToArray();
        var idler = Learn(lessons).Faults.First(f => f.Fault.Id == "idler-dry");
        Assert.True(idler.Silent < 0.6 * idler.Fault.Silent, $"{idler.Fault.Silent:0.000} became {idler.Silent:0.000}");
    }

    [Fact]
    public void The_shop_diagnoses_by_it_until_it_is_reset()
    {
        var shop = new ShopSnapshot(Shop.Layouts, Shop.Catalog, Shop.Handbook, Shop.Words);
        double Broken() =>
            shop.For(Shop.Layouts[0]).Diagnostician.Believe(new(new Dictionary<string, string>(), [])).There[
                Model.Faults.ToList().FindIndex(f => f.Id == "belt-broken")
            ];
        var before = Broken();
        shop = shop.Learn([.. Enumerable.Range(0, 40).Select(i => Lesson($"A-{i}", "belt-broken", Belt("broken")))])(
            shop
        );
        Assert.True(Broken() > before * 1.3);
        shop = shop.Learn([])(shop);
        Assert.Equal(before, Broken(), 12);
        Assert.Null(shop.Learned);
    }
}
