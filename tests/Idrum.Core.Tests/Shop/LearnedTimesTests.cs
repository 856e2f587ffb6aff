using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Shop;

public class LearnedTimesTests
{
    private const string Id = "quenby-qc30";
    private const double Decile = 1.2815515655;

    /// <summary>A normal deviate by Box and Muller.</summary>
    private static double Normal(Random random) =>
        Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());

    /// <summary>Minutes that a person takes who is so much slower than the file: log-normal with the file's
    /// deciles.</summary>
    private static double Takes(Spread file, double pace, Random random) =>
        pace * file.Typical * Math.Exp(Math.Log(file.High / file.Low) / (2 * Decile) * Normal(random));

    private static JobLesson Lesson(int n, Dictionary<StepRef, double> minutes) =>
        new($"J-{n}", Id, 1, "", DateTimeOffset.UnixEpoch, new Dictionary<string, string>(), [], true)
        {
            Minutes = minutes,
        };

    [Fact]
    public void Two_hundred_jobs_of_a_person_a_fifth_slower_bring_mean_and_range_to_what_he_takes()
    {
        var layout = TestShop.Shop.FindLayout(Id)!;
        var random = new Random(5);
        var steps = layout
            .Operations.SelectMany(o =>
                o.Steps.Select(s => (new StepRef(o.Id, s.Id), s.Minutes)).Prepend((new(o.Id), o.Minutes))
            )
            .ToList();
        var lessons = Enumerable
            .Range(0, 200)
            .Select(n =>
                Lesson(
                    n,
                    steps.Where(_ => random.Next(3) > 0).ToDictionary(s => s.Item1, s => Takes(s.Item2, 1.2, random))
                )
            )
            .ToList();
        var times = LearnedTimes.From(lessons, id => id == Id ? layout : null);
        Assert.InRange(times.Pace, 1.2 * 0.95, 1.2 * 1.05);
        var file = steps.Sum(s => s.Item2.Typical);
        Assert.InRange(steps.Sum(s => times.Of(Id, s.Item1, s.Item2).Typical) / file, 1.2 * 0.95, 1.2 * 1.05);
        // New jobs of the same person: eight of ten times of a step lie within its range.
        var (within, all) = (0, 0);
        for (var i = 0; i < 60; i++)
        {
            foreach (var (key, minutes) in steps)
            {
                var (range, took) = (times.Of(Id, key, minutes), Takes(minutes, 1.2, random));
                within += took >= range.Low && took <= range.High ? 1 : 0;
                all++;
            }
        }
        Assert.InRange((double)within / all, 0.75, 0.85);
    }

    [Fact]
    public void One_job_moves_little_and_none_moves_nothing()
    {
        var layout = TestShop.Shop.FindLayout(Id)!;
        Assert.Same(layout, LearnedTimes.From([], _ => layout).Apply(layout));
        var once = LearnedTimes.From(
            [Lesson(1, new() { [new("front-off")] = 3 * layout.FindOperation("front-off")!.Minutes.Typical })],
            _ => layout
        );
        Assert.InRange(once.Of(Id, new("front-off"), new(1, 2, 4)).Typical, 2.1, 4);
        Assert.InRange(once.Pace, 1.02, 1.6);
        // Steps nobody timed follow the shop's pace only, in a range at least as wide as the file's.
        var other = once.Of(Id, new("motor-out"), new(2, 4, 8));
        Assert.True(other.Typical > 4 && other.High / other.Low > 4);
    }

    [Fact]
    public void Absurd_minutes_move_nothing_are_named_and_one_job_never_doubles_the_others()
    {
        var layout = TestShop.Shop.FindLayout(Id)!;
        double Moved(LearnedTimes times) =>
            layout
                .Operations.Where(o => o.Id.Value is not ("front-off" or "top-open" or "belt-off" or "unplug"))
                .Max(o => times.Of(Id, new(o.Id), o.Minutes).Typical / o.Minutes.Typical);
        var three = layout.Operations.Where(o => o.Minutes.Typical > 0).Take(3).ToList();
        // Three absurd ones, of one job and of three; too quick by as much as well.
        foreach (var times in new[] { 40.0, 1 / 40.0 })
        {
            var one = LearnedTimes.From(
                [Lesson(1, three.ToDictionary(o => new StepRef(o.Id), o => times * o.Minutes.Typical))],
                _ => layout
            );
            var each = LearnedTimes.From(
                [.. three.Select((o, i) => Lesson(i, new() { [new(o.Id)] = times * o.Minutes.Typical }))],
                _ => layout
            );
            Assert.All(new[] { one, each }, t => Assert.Equal((3, 1.0), (t.LeftOut.Count, Math.Round(t.Pace, 9))));
            Assert.Equal(1, Math.Round(Moved(each), 9));
        }
        // A whole job at three times the minutes, none of them absurd alone: one day, not the shop's pace.
        var slow = LearnedTimes.From(
            [Lesson(1, layout.Operations.ToDictionary(o => new StepRef(o.Id), o => 3 * o.Minutes.Typical))],
            _ => layout
        );
        Assert.InRange(slow.Pace, 1.1, 1.8);
        // A shop that is always slow is slow: its own median is the measure.
        var always = LearnedTimes.From(
            [
                .. Enumerable
                    .Range(0, 40)
                    .Select(n =>
                        Lesson(n, layout.Operations.ToDictionary(o => new StepRef(o.Id), o => 2.5 * o.Minutes.Typical))
                    ),
            ],
            _ => layout
        );
        Assert.Empty(always.LeftOut);
        Assert.InRange(always.Pace, 2.2, 2.6);
    }

    [Fact]
    public void A_learned_layout_is_sound_and_plans_by_what_was_learned()
    {
        var shop = TestShop.Content.Read().Shop;
        var layout = shop.FindLayout(Id)!;
        shop = shop.Learn([
            .. Enumerable
                .Range(0, 30)
                .Select(n =>
                    Lesson(n, layout.Operations.ToDictionary(o => new StepRef(o.Id), o => 2 * o.Minutes.Typical))
                ),
        ])(shop);
        var (file, here) = (TestShop.Machine(Id), shop.For(layout));
        Assert.Equal((0, 30), (file.TimedJobs, here.TimedJobs));
        var (planned, learned) = (
            file.Planner.Plan(new(["belt"], [], new Dictionary<string, OperationId>()))!,
            here.Planner.Plan(new(["belt"], [], new Dictionary<string, OperationId>()))!
        );
        Assert.InRange(learned.RemovalMinutes.Typical / planned.RemovalMinutes.Typical, 1.8, 2.1);
        Assert.Empty(
            TestShop.Reader.Read(Variants.FileOf(shop.Times!.Apply(layout) with { Id = "learned", From = null })).Errors
        );
    }

    [Fact]
    public void Pauses_timers_and_other_stations_between_two_steps_are_not_counted()
    {
        var at = DateTimeOffset.UnixEpoch;
        JobEvent At(double minute, JobEvent e) => e with { Id = Guid.NewGuid(), At = at.AddMinutes(minute) };
        var none = new Dictionary<string, int>();
        var minutes = StepTimes.Of([
            At(0, new SafetySigned([], "A")),
            At(2, new OperationDone("a", none)),
            At(3, new NoteAdded("", "x")),
            At(5, new OperationDone("b", none)),
            At(95, new OperationDone("c", none)),
            At(97, new TimerStarted("t", "glue", 10)),
            At(110, new OperationDone("d", none)),
            At(110.02, new OperationDone("e", none)),
            At(112, new StationEntered(Station.Rebuild)),
            At(120, new StepRefitted("e", "back", none, [], [], true)),
            At(123, new StepRefitted("d", "back", none, [], [], true)),
        ]);
        Assert.Equal(
            new Dictionary<string, double>
            {
                ["a"] = 2,
                ["b"] = 3,
                ["d/back"] = 3,
            },
            minutes.ToDictionary(m => m.Key.ToString(), m => m.Value)
        );
        // Steps of the machine it was taken for teach nothing of the one it is.
        Assert.Equal(
            ["d"],
            StepTimes
                .Of([
                    At(0, new SafetySigned([], "A")),
                    At(2, new OperationDone("a", none)),
                    At(3, new MachineCorrected(new() { LayoutId = "x" }) { LayoutHash = "h" }),
                    At(5, new OperationDone("c", none)),
                    At(8, new OperationDone("d", none)),
                ])
                .Keys.Select(k => k.ToString())
        );
    }
}
