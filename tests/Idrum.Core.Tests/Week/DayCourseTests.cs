using Idrum.Core.Week;

namespace Idrum.Core.Tests.Week;

/// <summary>How a day goes, against days drawn by hand.</summary>
public class DayCourseTests
{
    private static Booking Stop(int? from, int? until, int travel, double low, double usual, double high) =>
        new()
        {
            From = from,
            Until = until,
            Travel = travel,
            Low = low,
            Usual = usual,
            High = high,
        };

    [Fact]
    public void Drawn_days_begin_and_end_when_it_says_and_come_late_as_often()
    {
        var day = new[]
        {
            Stop(8 * 60, 9 * 60, 20, 40, 70, 130),
            Stop(10 * 60, 10 * 60 + 45, 25, 30, 45, 60),
            Stop(null, 13 * 60, 10, 60, 100, 190),
        };
        var stops = DayCourse.Of(day, 7 * 60 + 30);
        var random = new Random(30);
        double Normal() =>
            Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        const int Days = 20_000;
        var (arrive, leave, late) = (new List<double>[3], new List<double>[3], new int[3]);
        for (var d = 0; d < Days; d++)
        {
            var at = 450.0;
            for (var s = 0; s < day.Length; s++)
            {
                at = Math.Max(day[s].From ?? 0, at + day[s].Travel);
                (arrive[s] ??= []).Add(at);
                late[s] += day[s].Until is { } until && at >= until + 0.5 ? 1 : 0;
                // One decile of the normal lies 1.2816 from its middle.
                at += day[s].Usual * Math.Exp(Normal() * Math.Log(day[s].High / day[s].Low) / (2 * 1.2815516));
                (leave[s] ??= []).Add(at);
            }
        }
        static double At(List<double> drawn, double share)
        {
            drawn.Sort();
            return drawn[(int)(share * drawn.Count)];
        }
        for (var s = 0; s < day.Length; s++)
        {
            foreach (var (likely, drawn) in new[] { (stops[s].Arrive, arrive[s]), (stops[s].Leave, leave[s]) })
            {
                Assert.InRange(likely.Early - At(drawn, 0.1), -2.5, 2.5);
                Assert.InRange(likely.Usual - At(drawn, 0.5), -2.5, 2.5);
                Assert.InRange(likely.Late - At(drawn, 0.9), -3.5, 3.5);
            }
            Assert.InRange(stops[s].TooLate - (double)late[s] / Days, -0.015, 0.015);
        }
        Assert.Equal(0, stops[0].TooLate, 9);
        Assert.InRange(stops[1].TooLate, 0.02, 0.5);
    }

    [Fact]
    public void Nobody_begins_before_it_was_promised_and_what_is_called_off_takes_no_time()
    {
        var off = Stop(8 * 60, null, 30, 500, 600, 700) with { State = BookingState.Off };
        var stops = DayCourse.Of([off, Stop(14 * 60, null, 10, 60, 60, 60)], 8 * 60);
        var only = Assert.Single(stops);
        Assert.Equal(new LikelyTime(840, 840, 840), only.Arrive);
        Assert.Equal(new LikelyTime(900, 900, 900), only.Leave);
        Assert.Equal(0, only.TooLate);
    }

    [Fact]
    public void A_day_that_cannot_be_kept_says_so_and_stays_finite()
    {
        var stops = DayCourse.Of([.. Enumerable.Range(0, 20).Select(_ => Stop(0, 12 * 60, 60, 60, 240, 960))], 8 * 60);
        Assert.All(stops, s => Assert.InRange(s.TooLate, 0, 1 + 1e-9));
        Assert.True(stops[^1].TooLate > 0.999);
        Assert.All(stops, s => Assert.InRange(s.Leave.Late, 0, 48 * 60));
    }
}
