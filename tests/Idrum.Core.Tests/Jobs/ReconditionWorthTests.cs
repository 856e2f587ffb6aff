using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Parts;

namespace Idrum.Core.Tests.Jobs;

/// <summary>A machine that is opened to be sold: what the set of its worn parts takes, and what leaving one out saves.</summary>
public class ReconditionWorthTests
{
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_whole_set_costs_no_more_than_its_parts_one_by_one_and_leaving_one_out_saves_what_it_adds(string id)
    {
        var machine = TestShop.Machine(id);
        var terms = TestShop.Shop.Terms;
        var state = JobState.Empty;
        var worn = ReconditionWorth.Worn(state, machine);
        Assert.Equal(machine.Layout.Parts.Count(p => p.Wears), worn.Count);
        var all = ReconditionWorth.Of(state, machine, worn, terms);
        var alone = worn.Select(p => ReconditionWorth.Of(state, machine, [p], terms)).ToList();
        // Opened once, it is less work than opened for each.
        Assert.True(all.Minutes < alone.Sum(a => a.Minutes), $"{all.Minutes} of {alone.Sum(a => a.Minutes)}");
        Assert.True(all.Minutes >= alone.Max(a => a.Minutes) - 1e-6);
        Assert.True(all.Parts <= alone.Sum(a => a.Parts) + 1e-6);
        foreach (var each in all.Each)
        {
            var rest = ReconditionWorth.Of(state, machine, [.. worn.Where(p => p != each.Part.Id)], terms);
            Assert.Equal(all.Minutes - rest.Minutes, each.Minutes, 6);
            Assert.Equal(each.Minutes * terms.RatePerHour / 60 + all.Parts - rest.Parts, each.Money, 6);
        }
        Assert.Equal(0, ReconditionWorth.Of(state, machine, [], terms).Cost);
    }

    [Fact]
    public void What_was_looked_at_and_seen_good_is_not_in_the_set_and_what_was_seen_worn_is()
    {
        var machine = TestShop.Machine("ostrel-ot50");
        var state = JobState.Empty with
        {
            Seen = JobState
                .Empty.Seen.Add(new("roller-left", "roller-tread"), "round")
                .Add(new("roller-right", "roller-tread"), "flat"),
        };
        var worn = ReconditionWorth.Worn(state, machine);
        Assert.DoesNotContain<PartId>("roller-left", worn);
        Assert.Contains<PartId>("roller-right", worn);
    }
}
