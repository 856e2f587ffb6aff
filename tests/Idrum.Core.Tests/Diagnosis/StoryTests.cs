using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Diagnosis;

/// <summary>The advice against what a repairer would accept and what he would laugh at.</summary>
public class StoryTests
{
    /// <summary>Each of them of a shop that goes by the files, and of one that closed jobs have taught.</summary>
    public static TheoryData<string, bool> Names
    {
        get
        {
            var data = new TheoryData<string, bool>();
            foreach (var story in RepairStories.All)
            {
                data.Add(story.Name, false);
                data.Add(story.Name, true);
            }
            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void The_next_advice_is_one_a_repairer_would_take(string name, bool taught)
    {
        var story = RepairStories.All.Single(s => s.Name == name);
        var shop = taught ? TestShop.Taught : TestShop.Shop;
        var diagnostician = shop.For(
            shop.Layouts.Single(l =>
                l.Arrangement
                == (
                    story.Layout == "ot" ? "A"
                    : story.Layout == "qd" ? "E"
                    : story.Layout
                )
            )
        ).Diagnostician;
        Assert.All(story.Done.Split(' ', StringSplitOptions.RemoveEmptyEntries), o =>
            Assert.NotNull(diagnostician.Model.Layout.FindOperation(o))
        );
        var known = new DiagnosisRequest(
            story.Findings.Split(',').Select(f => f.Split('=')).ToDictionary(f => f[0], f => f[1]),
            [.. story.Done.Split(' ', StringSplitOptions.RemoveEmptyEntries)],
            ComplaintsTold: true
        );
        // The first advice, and what thinking it through puts in its place.
        var first = diagnostician.Diagnose(known).Advice;
        var thought = taught && !TestSize.Long ? first : diagnostician.Improve(known, TimeSpan.FromSeconds(10)).Advice;
        foreach (var advice in new[] { first, thought })
        {
            var group = diagnostician.Model.Catalog.FindFinding(advice.Id)?.Group.Word() ?? "";
            bool Matches(string patterns) =>
                patterns
                    .Split(' ')
                    .Select(p => p.Split(':'))
                    .Any(p => p[0] == advice.Kind.Word() && (p[1] == "*" || p[1] == advice.Id || p[1] == $"({group})"));
            Assert.False(Matches(story.Forbidden), $"{advice.Kind.Word()}:{advice.Id} is forbidden: {advice.Reason}");
            Assert.True(
                advice != first || Matches(story.Accepted),
                $"{advice.Kind.Word()}:{advice.Id} is not accepted: {advice.Reason}"
            );
        }
    }

    [Fact]
    public void Every_story_uses_findings_that_exist_and_many_machines_are_told_of()
    {
        foreach (var story in RepairStories.All)
        {
            foreach (var f in story.Findings.Split(',').Select(f => f.Split('=')))
            {
                Assert.True(
                    TestShop.Shop.Catalog.FindFinding(f[0])?.IndexOf(f[1]) >= 0,
                    $"{story.Name}: {f[0]}={f[1]}"
                );
            }
        }
        Assert.True(RepairStories.All.Count >= 50 && RepairStories.All.GroupBy(s => s.Layout).Count() >= 8);
    }
}
