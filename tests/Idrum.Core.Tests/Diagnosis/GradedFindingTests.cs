using Idrum.Core.Diagnosis;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>A reading that is no answer: against the mixture of what each answer would have made believed.</summary>
public class GradedFindingTests
{
    private static readonly Dictionary<string, string> Told = new() { ["thump"] = "yes" };

    private static (double[] There, double[] Speaks) Believed(
        Diagnostician d,
        IReadOnlyDictionary<string, string> findings,
        params GradedFinding[] graded
    )
    {
        var (belief, there) = d.Believe(new(findings, [], 1.3, ComplaintsTold: true) { Graded = graded });
        return ([.. there], belief.Speaks());
    }

    /// <summary>P(S | reading) = Σ λ(o) P(o | known) P(S | known, o) / Σ λ(o) P(o | known): the law of total
    /// probability, with P(o | known) from the posterior's own normalising constants.</summary>
    [Theory]
    [InlineData("ostrel-ot50")]
    [InlineData("quenby-qd62")]
    [InlineData("marlune-mf20")]
    public void It_is_the_mixture_of_its_answers_on_every_finding_of_a_machine(string layoutId)
    {
        var d = TestShop.Machine(layoutId).Diagnostician;
        var random = new Random(5);
        var known = Told.Where(t => d.Model.IndexOfFinding(t.Key) >= 0).ToDictionary();
        // An answer that the machine stands still makes of a told noise one of before; likelihoods do not.
        foreach (
            var finding in d.Model.Findings.Where(f =>
                f.Group is not (FindingGroup.Complaint or FindingGroup.Before)
                && f.Tells is null
                && f.Otherwise.Count == 0
            )
        )
        {
            var graded = new GradedFinding(
                finding.Id,
                finding.Outcomes.ToDictionary(o => o.Id, _ => random.NextDouble()),
                EvidenceSource.Reading
            );
            var (all, mixed) = (0.0, new double[d.Model.Faults.Count]);
            foreach (var outcome in finding.Outcomes)
            {
                var (belief, _) = d.Believe(
                    new(known.Append(new(finding.Id, outcome.Id)).ToDictionary(), [], 1.3, ComplaintsTold: true)
                );
                var weight = graded.Likelihoods[outcome.Id] * belief.Evidence;
                all += weight;
                var speaks = belief.Speaks();
                for (var f = 0; f < mixed.Length; f++)
                {
                    mixed[f] += weight * speaks[f];
                }
            }
            var soft = Believed(d, known, graded).Speaks;
            for (var f = 0; f < mixed.Length; f++)
            {
                Assert.Equal(mixed[f] / all, soft[f], 9);
            }
        }
    }

    [Fact]
    public void One_outcome_alone_is_an_answer_all_alike_say_nothing_and_an_answer_goes_before()
    {
        var d = TestShop.Machine("quenby-qd62").Diagnostician;
        foreach (
            var id in new[] { "rollers-spin", "belt-look" }
                .Where(i => d.Model.IndexOfFinding(i) >= 0)
                .DefaultIfEmpty(d.Model.Findings.First(f => f.Group == FindingGroup.Inside).Id)
        )
        {
            var finding = d.Model.Findings[d.Model.IndexOfFinding(id)];
            var worst = finding.Outcomes[^1].Id;
            var hard = Believed(d, Told.Append(new(id, worst)).ToDictionary());
            var one = Believed(
                d,
                Told,
                new GradedFinding(id, new Dictionary<string, double> { [worst] = 0.3 }, EvidenceSource.Look)
            );
            Assert.All(hard.There.Zip(one.There), p => Assert.Equal(p.First, p.Second, 9));
            var alike = Believed(
                d,
                Told,
                new GradedFinding(id, finding.Outcomes.ToDictionary(o => o.Id, _ => 7.0), EvidenceSource.Reading)
            );
            Assert.All(Believed(d, Told).Speaks.Zip(alike.Speaks), p => Assert.Equal(p.First, p.Second, 9));
            var both = Believed(
                d,
                Told.Append(new(id, worst)).ToDictionary(),
                new GradedFinding(
                    id,
                    new Dictionary<string, double> { [finding.Outcomes[0].Id] = 1 },
                    EvidenceSource.Recording
                )
            );
            Assert.Equal(hard.There, both.There);
        }
    }

    [Fact]
    public void A_recording_is_held_to_twenty_to_one_and_what_cannot_be_is_refused()
    {
        var d = TestShop.Machine("quenby-qd62").Diagnostician;
        var finding = d.Model.Findings.First(f => f.Group == FindingGroup.Inside && f.Outcomes.Count == 2);
        GradedFinding Sure(double against, EvidenceSource source) =>
            new(
                finding.Id,
                new Dictionary<string, double> { [finding.Outcomes[1].Id] = 1, [finding.Outcomes[0].Id] = against },
                source
            );
        var held = Believed(d, Told, Sure(1e-9, EvidenceSource.Recording)).Speaks;
        Assert.Equal(Believed(d, Told, Sure(0.05, EvidenceSource.Reading)).Speaks, held);
        Assert.NotEqual(Believed(d, Told, Sure(1e-9, EvidenceSource.Reading)).Speaks, held);
        var catalog = TestShop.Shop.Catalog;
        GradedFinding With(string id, params (string Outcome, double P)[] by) =>
            new(id, by.ToDictionary(b => b.Outcome, b => b.P), EvidenceSource.Reading);
        Assert.Equal("findingId", Assert.Single(With("ghost", ("yes", 1)).Check(catalog)).Pointer);
        foreach (
            var wrong in new[]
            {
                With(finding.Id, ("ghost", 1)),
                With(finding.Id, (finding.Outcomes[0].Id, 0)),
                With(finding.Id, (finding.Outcomes[0].Id, -1)),
                With(finding.Id, (finding.Outcomes[0].Id, double.NaN)),
                With(finding.Id),
            }
        )
        {
            Assert.Equal("likelihoods", Assert.Single(wrong.Check(catalog)).Pointer);
        }
        Assert.Empty(Sure(0.2, EvidenceSource.Look).Check(catalog));
    }
}
