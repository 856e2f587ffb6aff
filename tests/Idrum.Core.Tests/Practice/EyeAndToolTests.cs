using Idrum.Core.Diagnosis;
using Idrum.Core.Gauging;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests.Practice;

/// <summary>Eye and tool are of one machine: what is seen flat is not measured round.</summary>
public class EyeAndToolTests
{
    [Theory]
    [InlineData("ostrel-ot50")]
    [InlineData("quenby-qd62")]
    [InlineData("ostrel-or70")]
    public void What_is_read_of_a_simulated_machine_is_what_it_shows(string layoutId)
    {
        var knowledge = TestShop.Machine(layoutId);
        var book = knowledge.Handbook.Gauging;
        var model = knowledge.Diagnostician.Model;
        var readable = model.Findings.Where(f => ReadInstead.Of(book, knowledge.Layout, f.Id).Count > 0).ToList();
        Assert.True(readable.Count >= 8, $"{readable.Count} checks of {layoutId} can be measured.");
        var (agree, all, off) = (0, 0, 0);
        for (var seed = 1; seed <= 40; seed++)
        {
            foreach (var check in readable)
            {
                var job = new PracticeJob(knowledge, new(model, 1, new Random(seed)), seed) { Gauges = true };
                job.Check(check);
                if (job.Request.Graded is not [GradedFinding said])
                {
                    continue;
                }
                Assert.Equal(check.Id, said.FindingId);
                var read = check.IndexOf(said.Likelihoods.MaxBy(l => l.Value).Key);
                var seen = check.IndexOf(job.Machine.Answer(check.Id));
                all++;
                off += seen > 0 ? 1 : 0;
                agree += read > 0 == seen > 0 ? 1 : 0;
            }
        }
        Assert.True(off >= 10, $"{off} of {all} were out");
        Assert.True(agree >= 0.95 * all, $"{agree} of {all}");
    }

    [Fact]
    public void Measuring_comes_first_only_where_it_takes_no_longer_than_looking()
    {
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var knowledge = TestShop.Shop.For(layout);
            foreach (var check in knowledge.Diagnostician.Model.Findings)
            {
                var ways = ReadInstead.Of(knowledge.Handbook.Gauging, layout, check.Id);
                Assert.Equal(ways.OrderBy(w => w.Protocol.Minutes), ways);
                // Each part takes its own minutes.
                Assert.All(ways, w => Assert.Equal(w.Protocol.Minutes * Math.Max(1, w.Parts.Count), w.Minutes, 6));
                var job = new PracticeJob(knowledge, new(knowledge.Diagnostician.Model, 1, new Random(3)), 3)
                {
                    Gauges = true,
                    WhereNoSlower = true,
                };
                if (ways.Count > 0 && check.Group is FindingGroup.Outside or FindingGroup.Inside)
                {
                    job.Check(check);
                    Assert.True(
                        job.Checking <= check.Minutes + check.RiskMinutes + 1e-9,
                        $"{layout.Id} {check.Id}: {job.Checking}"
                    );
                }
            }
        }
    }
}
