using System.Text.Json;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Week;

namespace Idrum.Core.Tests.Week;

/// <summary>What comes due of the demo's jobs, by hand.</summary>
public class ComesDueTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 30, 10, 0, 0, TimeSpan.Zero);

    private static readonly IReadOnlyDictionary<string, JobState> Demo = JsonSerializer
        .Deserialize<List<JobScript>>(
            File.ReadAllText(Path.Combine(TestShop.Root, "demo/shop.json")),
            IdrumJson.Options
        )!
        .Select(s => JobHistory.Of(JobWalk.Events(s, TestShop.Shop, Now, new Random(1))).State)
        .ToDictionary(s => s.Number);

    private static IReadOnlyList<ComesDue> Of(JobState state) =>
        ComesDue.Of(state, TestShop.Shop.MachineOf(state), TestShop.Shop.Terms, Now);

    [Fact]
    public void A_closed_job_is_asked_after_in_a_week_and_its_warranty_ends()
    {
        var closed = Demo.Values.Where(s => s.Closed is not null && !s.HandedOver).ToList();
        Assert.NotEmpty(closed);
        foreach (var state in closed)
        {
            var day = TestShop.Shop.Terms.DayOf(state.Closed!.Happened);
            var due = Of(state);
            Assert.Equal(day.AddDays(7), Assert.Single(due, d => d.Kind == DueKind.StillQuiet).Day);
            Assert.Equal(
                day.AddMonths(TestShop.Shop.Terms.WarrantyMonths),
                Assert.Single(due, d => d.Kind == DueKind.WarrantyEnds).Day
            );
            Assert.DoesNotContain(due, d => d.Kind is DueKind.Cured or DueKind.PartDue or DueKind.PartsHere);
        }
    }

    [Fact]
    public void What_was_handed_over_is_not_asked_after() =>
        Assert.All(Demo.Values.Where(s => s.Closed is not null && s.HandedOver), s =>
            Assert.DoesNotContain(Of(s), d => d.Kind is DueKind.StillQuiet or DueKind.WarrantyEnds)
        );

    [Fact]
    public void A_part_on_order_comes_on_its_day_and_is_never_told_as_here()
    {
        var waiting = Demo.Values.Where(s => s.Closed is null && s.Lines.Values.Any(l => l.Open > 0)).ToList();
        Assert.NotEmpty(waiting);
        foreach (var state in waiting)
        {
            var due = Of(state);
            Assert.Equal(
                state.Lines.Values.Where(l => l.Open > 0).Select(l => TestShop.Shop.Terms.DayOf(l.Due!.Value)).Order(),
                due.Where(d => d.Kind == DueKind.PartDue).Select(d => d.Day).Order()
            );
            Assert.DoesNotContain(due, d => d.Kind == DueKind.PartsHere);
        }
    }

    [Fact]
    public void No_line_says_who_the_customer_is() =>
        Assert.All(Demo.Values, s =>
            Assert.All(Of(s), d => Assert.DoesNotContain(s.Machine.Place, d.Text, StringComparison.OrdinalIgnoreCase))
        );
}
