using Idrum.Core.Fitting;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;

namespace Idrum.Core.Tests.Jobs;

/// <summary>When he must leave: read as a time of the shop's day to come, held against the visit, with the ways that would
/// be done before.</summary>
public class LeavingTests : JobStory
{
    private static readonly TimeZoneInfo Vienna = TimeZoneInfo.FindSystemTimeZoneById("Europe/Vienna");

    [Theory]
    [InlineData("13:30", "2026-03-02T13:30:00+01:00")]
    [InlineData(" 9.05 ", "2026-03-02T09:05:00+01:00")]
    public void A_time_to_come_is_of_the_shops_day(string typed, string expected)
    {
        var (at, error) = Leaving.Read(typed, DateTimeOffset.Parse("2026-03-02T07:10:00Z", null), Vienna);
        Assert.Null(error);
        Assert.Equal(DateTimeOffset.Parse(expected, null), at);
    }

    [Theory]
    [InlineData("8:00", "past")]
    [InlineData("soon", "A time of day")]
    [InlineData("25:10", "A time of day")]
    [InlineData("", "A time of day")]
    public void What_is_past_or_no_time_is_said_at_the_field(string typed, string said)
    {
        var (at, error) = Leaving.Read(typed, DateTimeOffset.Parse("2026-03-02T07:10:00Z", null), Vienna);
        Assert.Null(at);
        Assert.Equal("leave", error!.Pointer);
        Assert.Contains(said, error.Message);
    }

    [Fact]
    public void An_hour_that_the_clocks_leave_out_is_said()
    {
        var (at, error) = Leaving.Read("2:30", DateTimeOffset.Parse("2026-03-29T00:10:00Z", null), Vienna);
        Assert.Null(at);
        Assert.Contains("left out", error!.Message);
        // An hour after it is one hour away, not two.
        var (three, _) = Leaving.Read("3:10", DateTimeOffset.Parse("2026-03-29T00:10:00Z", null), Vienna);
        Assert.Equal(60, (three!.Value - DateTimeOffset.Parse("2026-03-29T00:10:00Z", null)).TotalMinutes);
    }

    [Fact]
    public void What_is_not_done_by_then_is_named_and_a_quicker_way_is_quicker()
    {
        OpenFor("front-felt");
        Strip();
        var procedure = Machine.Handbook.For(Machine.Layout.FindPart("front-felt")!, Machine.Layout)!;
        var cold = GlueHabits.Usual with { Celsius = 10 };
        var ways = procedure
            .Schools.Select(s => (s, Visit: VisitPlan.Of(State, Machine, cold, At, 1, new("front-felt", s.Id))!))
            .OrderBy(w => w.Visit.Minutes)
            .ToList();
        Assert.True(ways.Count > 1 && ways[0].Visit.Minutes < ways[^1].Visit.Minutes);
        // The usual way is the one meant where none is named.
        Assert.Equal(
            ways.Single(w => w.s.Id == procedure.DefaultSchool).Visit.Minutes,
            VisitPlan.Of(State, Machine, cold, At)!.Minutes,
            6
        );
        var at = At.AddMinutes((ways[0].Visit.Minutes + ways[^1].Visit.Minutes) / 2);
        Assert.Equal(0, Leaving.Of(ways[0].Visit, At, at).Short);
        Assert.Empty(Leaving.Of(ways[0].Visit, At, at).NotDone);
        var late = Leaving.Of(ways[^1].Visit, At, at);
        Assert.True(late.Short > 0);
        Assert.All(late.NotDone, i => Assert.True(i.End > (at - At).TotalMinutes));
        Assert.Contains(late.NotDone, i => i.Chore.Kind == ChoreKind.Prove);
    }
}
