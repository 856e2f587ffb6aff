using Idrum.Core.Drive;
using Idrum.Core.Listening;

namespace Idrum.Core.Tests;

public class SourceMatchTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void Every_line_is_in_one_source_and_equal_rollers_are_together(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var sources = SoundSource.Of(layout, 60);
        var lines = DriveRates.Of(layout, 60).Lines;
        Assert.Equal(
            lines.Where(l => !l.Part.IsNone).Select(l => l.Part).Order(),
            sources.SelectMany(s => s.PartIds).Order()
        );
        foreach (var pair in layout.Drive.Rollers.GroupBy(r => r.DiameterMm))
        {
            Assert.Single(sources, s => s.PartIds.Intersect(pair.Select(r => r.Part)).Any());
        }
    }

    /// <summary>At any speed within the tolerance the true source is in the first group, and another machine's rhythm
    /// far from all is none.</summary>
    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void The_source_that_is_heard_is_in_the_first_group_at_any_speed(string layoutId)
    {
        var sources = SoundSource.Of(TestShop.Machine(layoutId).Layout, 50);
        var (runs, right, probable) = (0, 0, 0.0);
        foreach (var source in sources.Where(s => s.Mechanism is not (Mechanism.Mains or Mechanism.Blades)))
        {
            for (var scale = 0.945; scale < 1.06; scale += 0.01)
            {
                var match = SourceMatch.Of(sources, source.Hz * scale, source.Hz * 0.004);
                runs++;
                right += match.Groups[0].Sources.Contains(source) ? 1 : 0;
                probable += match.Groups.Where(g => g.Sources.Contains(source)).Sum(g => g.Probability);
                Assert.Equal(1, match.Groups.Sum(g => g.Probability) + match.None, 9);
            }
        }
        Assert.True(right >= 0.95 * runs, $"{right} of {runs}");
        Assert.True(probable >= 0.9 * runs, $"{probable / runs:0.00}");
        Assert.True(SourceMatch.Of(sources, 2.9 * sources[0].Hz * 0.62, 0.002).None > 0.5);
    }

    [Fact]
    public void A_counted_drum_parts_what_the_unknown_speed_left_together()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var sources = SoundSource.Of(layout, 60);
        var (drum, belt) = (
            sources.Single(s => s.Mechanism == Mechanism.Drum),
            sources.Single(s => s.Mechanism == Mechanism.BeltPass)
        );
        var loose = SourceMatch.Of(sources, drum.Hz, 0.004).Groups[0];
        Assert.Contains(drum, loose.Sources);
        var counted = SourceMatch.Of(sources, belt.Hz, 0.004, SourceMatch.CountedTolerance).Groups[0];
        Assert.Equal([belt], counted.Sources);
        var rollers = sources.First(s => s.PartIds.Count > 1);
        Assert.Contains(
            "equally often",
            SourceMatch.Of(sources, rollers.Hz, 0.01).Groups[0].SeparateBy,
            StringComparison.Ordinal
        );
    }
}
