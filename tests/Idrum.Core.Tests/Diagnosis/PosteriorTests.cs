using CsCheck;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>The posterior against an enumeration written here from the formula alone: three nested loops over faults, noisy-OR
/// or noisy-MAX multiplied out, no shared code.</summary>
public class PosteriorTests
{
    private static readonly Gen<string> LayoutId = Gen.OneOf(Gen.Const("ostrel-ot50"), Gen.Const("quenby-qd62"));

    [Fact]
    public void Marginals_equal_direct_enumeration_for_random_findings()
    {
        Gen.Select(LayoutId, Gen.Int[0, 100_000], Gen.Double[0.1, 3]).Sample((layoutId, seed, wear) =>
        {
            var machine = TestShop.Machine(layoutId);
            var findings = RandomFindings(machine.Diagnostician.Model, new Random(seed));
            var expected = Direct(machine.Layout, TestShop.Shop.Catalog, findings, wear);
            var result = machine.Diagnostician.Diagnose(new(findings, [], wear));
            foreach (var cause in result.Causes)
            {
                Assert.Equal(expected[cause.Fault.Id], cause.Probability, 1e-9);
            }
            Assert.Equal(expected.Count, result.Causes.Count);
        }, iter: 30);
    }

    [Fact]
    public void A_weight_is_the_factor_on_the_odds_when_that_finding_is_added()
    {
        var machine = TestShop.Machine("quenby-qd62");
        var with = new Dictionary<string, string> { ["squeal"] = "yes", ["hand-sound"] = "squeaks", ["rim-gap"] = "even" };
        var without = with.Where(f => f.Key != "hand-sound").ToDictionary();
        double Odds(IReadOnlyDictionary<string, string> f) => Direct(machine.Layout, TestShop.Shop.Catalog, f, 1)["roller-dry"] is var p ? p / (1 - p) : 0;
        var weight = machine.Diagnostician.Diagnose(new(with, [])).Causes.Single(c => c.Fault.Id == "roller-dry").Because.Single(w => w.FindingId == "hand-sound");
        Assert.Equal(10 * Math.Log10(Odds(with) / Odds(without)), weight.Decibans, 0.01);
    }

    [Fact]
    public void Nothing_runs_means_the_belt_on_a_machine_with_a_belt_switch_and_not_on_one_without()
    {
        double Belt(string layoutId, string complaint) => TestShop.Machine(layoutId).Diagnostician
            .Diagnose(new(new Dictionary<string, string> { [complaint] = "yes" }, [])).Causes.Single(c => c.Fault.Id == "belt-broken").Probability;
        Assert.True(Belt("quenby-qd62", "nothing-runs") > 0.3);
        Assert.True(Belt("ostrel-ot50", "nothing-runs") < 0.1);
        Assert.True(Belt("ostrel-ot50", "drum-stands") > 0.5);
        Assert.True(Belt("quenby-qd62", "drum-stands") < 0.2);
    }

    [Fact]
    public void Faults_of_parts_the_layout_lacks_are_left_out()
    {
        var a = TestShop.Machine("ostrel-ot50").Diagnostician.Model;
        Assert.DoesNotContain(a.Faults, f => f.Id is "belt-switch-fault" or "arm-bent");
        Assert.Contains(TestShop.Machine("quenby-qd62").Diagnostician.Model.Faults, f => f.Id == "belt-switch-fault");
        Assert.DoesNotContain(a.Findings, f => f.At.Contains("belt-switch"));
    }

    [Fact]
    public void The_empty_set_and_all_sets_up_to_three_are_enumerated_once()
    {
        var model = TestShop.Machine("quenby-qd62").Diagnostician.Model;
        long n = model.Faults.Count;
        Assert.Equal(1 + n + n * (n - 1) / 2 + n * (n - 1) * (n - 2) / 6, model.Sets.Count);
        Assert.Equal(model.Sets.Count, model.Sets.Distinct().Count());
        Assert.Equal(0u, model.Sets[0]);
    }

    [Fact]
    public void Likelihoods_of_the_outcomes_of_a_finding_add_up_to_one_for_every_set()
    {
        var model = TestShop.Machine("quenby-qd62").Diagnostician.Model;
        for (var f = 0; f < model.Findings.Count; f++)
        {
            for (var s = 0; s < model.Sets.Count; s += 37)
            {
                var sum = 0.0;
                for (var o = 0; o < model.Findings[f].Outcomes.Count; o++)
                {
                    Assert.InRange(model.Likelihood(f, o)[s], 0, 1);
                    sum += model.Likelihood(f, o)[s];
                }
                Assert.Equal(1, sum, 1e-12);
            }
        }
    }

    private static Dictionary<string, string> RandomFindings(NoisyOrModel model, Random random) => model.Findings.OrderBy(_ => random.Next()).Take(random.Next(0, 9))
        .ToDictionary(f => f.Id, f => f.Outcomes[random.Next(f.Outcomes.Count)].Id);

    private static Dictionary<string, double> Direct(Layout layout, DiagnosisCatalog catalog, IReadOnlyDictionary<string, string> findings, double wear)
    {
        bool Holds(Condition? c) => c is null || (layout.Facts.FirstOrDefault(f => f.Id == c.Fact)?.Value ?? "no") == c.Is;
        var faults = catalog.Faults.Where(f => Holds(f.When) && (f.Kinds.Count == 0 || layout.Parts.Any(p => f.Kinds.Contains(p.Kind)))).ToList();
        double Weight(params Fault[] set)
        {
            var w = set.Aggregate(1.0, (p, f) => p * f.Odds * Math.Pow(wear, f.Ageing));
            foreach (var (id, outcome) in findings)
            {
                var finding = catalog.Findings.Single(f => f.Id == id);
                var grade = finding.Outcomes.ToList().FindIndex(o => o.Id == outcome);
                double UpTo(int k) => k < 0 ? 0 : set.Select(f => finding.Links.FirstOrDefault(l => l.Fault == f.Id && Holds(l.When))).OfType<Link>()
                    .Aggregate(1 - finding.Leak.Skip(k).Sum(), (p, l) => p * (1 - l.P.Skip(k).Sum()));
                w *= UpTo(grade) - UpTo(grade - 1);
            }
            return w;
        }
        var total = Weight();
        var sums = faults.ToDictionary(f => f.Id, _ => 0.0);
        void Add(params Fault[] set)
        {
            var w = Weight(set);
            total += w;
            foreach (var f in set)
            {
                sums[f.Id] += w;
            }
        }
        for (var a = 0; a < faults.Count; a++)
        {
            Add(faults[a]);
            for (var b = a + 1; b < faults.Count; b++)
            {
                Add(faults[a], faults[b]);
                for (var c = b + 1; c < faults.Count; c++)
                {
                    Add(faults[a], faults[b], faults[c]);
                }
            }
        }
        return sums.ToDictionary(s => s.Key, s => s.Value / total);
    }
}
