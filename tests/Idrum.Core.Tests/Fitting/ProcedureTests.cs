using Idrum.Core.Fitting;

namespace Idrum.Core.Tests.Fitting;

/// <summary>How parts are replaced, held against what the trade does.</summary>
public class ProcedureTests
{
    private static Handbook Book => TestShop.Shop.Handbook;

    [Fact]
    public void Whatever_wears_on_any_machine_has_steps_minutes_and_says_when_it_is_right_by_every_way()
    {
        foreach (var part in TestShop.Shop.Layouts.SelectMany(l => l.Parts).Where(p => p.Wears))
        {
            var procedure = Book.For(part.Kind);
            Assert.True(procedure is not null, $"{part.Kind}: no procedure");
            Assert.True(procedure.Accept.Length > 0, part.Kind);
            foreach (var school in procedure.Schools.Select(s => s.Id).DefaultIfEmpty(""))
            {
                Assert.True(procedure.StepsOf(school).Count() >= 3, $"{part.Kind} {school}");
                Assert.InRange(procedure.MinutesOf(school), 3, 45);
            }
        }
    }

    [Theory]
    [InlineData("belt", "Latch", "Hold the idler with one hand", "slack", "rear access panel")]
    [InlineData("drum-roller", "all rollers", "Only|only the bad one", "ball-bearing")]
    [InlineData("idler-arm", "spring last", "Spring on first")]
    [InlineData("idler-pulley", "change the pulley", "assembly")]
    [InlineData("rear-shaft", "alone", "as a set")]
    [InlineData("ball-hitch", "alone", "complete set")]
    [InlineData("front-felt", "both faces", "metal only")]
    [InlineData("rear-felt", "inject", "both faces")]
    [InlineData("motor", "Motor alone", "one unit")]
    [InlineData("heater", "coil alone", "ready-built can")]
    public void Where_repairers_disagree_each_way_is_there_and_differs_from_the_usual_one(string kind, params string[] ways)
    {
        var procedure = Book.For(kind)!;
        foreach (var way in ways)
        {
            Assert.Contains(procedure.Schools, s => way.Split('|').Any(w => s.Text.Contains(w, StringComparison.OrdinalIgnoreCase)));
        }
        Assert.True(procedure.Schools[0].Why.Length > 0, "the usual way says why");
    }

    [Fact]
    public void A_left_hand_nut_is_drawn_with_its_arrow_and_loosens_clockwise()
    {
        var steps = Book.Procedures.SelectMany(p => p.Steps).Where(s => (s.Do + s.Why).Contains("left-hand", StringComparison.OrdinalIgnoreCase)).ToList();
        Assert.True(steps.Count >= 4);
        Assert.All(steps, s => Assert.Equal("left-hand", s.Turn));
        Assert.DoesNotContain(steps, s => (s.Do + s.Why).Contains("loosens anticlockwise", StringComparison.OrdinalIgnoreCase) || (s.Do + s.Why).Contains("tightens clockwise", StringComparison.OrdinalIgnoreCase));
    }

    [Fact]
    public void What_must_be_known_before_is_a_step()
    {
        Assert.Contains(Book.For("belt")!.StepsOf("latch"), s => s.Why.Contains("old cause comes back", StringComparison.Ordinal));
        Assert.Contains(Book.For("motor")!.StepsOf("unit"), s => s.Do.Contains("cloth", StringComparison.Ordinal));
        Assert.DoesNotContain(Book.For("motor")!.StepsOf("unit"), s => s.Do.Contains("wheel off first", StringComparison.Ordinal));
        Assert.Contains(Book.For("drum-roller")!.StepsOf("all"), s => s.Why.Contains("replace the spring washer", StringComparison.Ordinal));
        Assert.Contains(Book.For("ball-hitch")!.StepsOf("part"), s => s.Do.Contains("cut its threads first", StringComparison.Ordinal));
    }
}
