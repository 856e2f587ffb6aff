using Idrum.Core.Drive;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>Long recordings: from when on a noise is there that was not there at first, and what is kept of the sound; and what
/// becomes of a noise when the door is opened.</summary>
public class SoundCourseTests
{
    // Seven minutes, of which five are kept; half of that where tests are run at every change.
    private static readonly double Long = TestSize.Long ? 420 : 210;
    private static readonly double Kept = Math.Min(300, Long);

    private static SoundCourse Listened(Core.Machines.Layout layout, NoiseOrder order, double? called = null) =>
        SoundCourse.Of(
            NoiseBench.Render(layout, order with { Seconds = Long }),
            SoundSource.Of(layout, 60),
            new(),
            called
        );

    [Fact]
    public void What_comes_only_when_warm_is_named_with_the_minute_it_began()
    {
        var (right, all) = (0, 0);
        var said = new List<string>();
        foreach (var layout in TestSize.Every(6, TestShop.Shop.Layouts))
        {
            foreach (var fault in new FaultId[] { "roller-dry", "idler-dry" }.Intersect(NoiseBench.FaultsOf(layout)))
            {
                var begins = 60 + 25 * (all % 3);
                var course = Listened(
                    layout,
                    new()
                    {
                        Faults = [fault],
                        Seed = 900 + all,
                        BeginsAt = begins,
                    }
                );
                all++;
                var named =
                    course.Heard.Groups is [var first, ..]
                    && first.Probability > course.Heard.None
                    && first.Sources.Any(s => s.Mechanism == NoiseBench.MechanismOf(fault));
                // It is heard within the half minute in which it has grown, not before it was there.
                if (named && course.BeginsAt is { } at && at >= begins - 30 && at <= begins + 60)
                {
                    right++;
                }
                else
                {
                    said.Add($"{layout.Id} {fault} from {begins}: {course.BeginsAt}, named {named}");
                }
                Assert.Equal(Kept, course.Kept.To - course.Kept.From, 0.5);
                Assert.True(
                    course.BeginsAt is not { } b || course.Kept.From <= b && b < course.Kept.To,
                    "What begins is on what is kept."
                );
            }
        }
        Assert.True(right >= (TestSize.Long ? 0.85 * all : all - 1), $"{right} of {all}: {string.Join("; ", said)}");
    }

    [Fact]
    public void A_sound_machine_begins_nothing_and_what_was_called_is_kept()
    {
        var late = false;
        foreach (var layout in TestSize.Every(6, TestShop.Shop.Layouts))
        {
            late = !late;
            var course = Listened(layout, new() { Seed = 40 }, called: late ? 200 : 20);
            Assert.Null(course.BeginsAt);
            Assert.Null(course.LouderAt);
            Assert.Equal(late ? (Long - Kept, Long) : (0, Kept), course.Kept);
            Assert.Equal("", HeardCourse.Of(course).Words);
        }
    }

    [Fact]
    public void At_the_end_of_a_long_recording_the_door_may_be_opened_too()
    {
        var layout = TestShop.Shop.FindLayout("ostrel-ot50")!;
        var made = NoiseBench.Render(
            layout,
            new()
            {
                Seconds = 90,
                Seed = 12,
                OpensAt = 83,
            }
        );
        var course = SoundCourse.Of(made, SoundSource.Of(layout, 60), new() { DoorOpened = true });
        Assert.InRange(course.Heard.RunDown!.OpensAt, 82.4, 83.6);
        var act = new SoundRecorded("", "chirp", "", false)
        {
            CalledAt = 40,
            DoorOpened = true,
            Heard = HeardInSound.Of(course.Heard) with { Course = HeardCourse.Of(course) },
        };
        Assert.Contains("called at second 40", act.Words(TestShop.Machine("ostrel-ot50")));
        Assert.Contains("dies down over", act.Words(TestShop.Machine("ostrel-ot50")));
    }

    [Fact]
    public void More_than_half_an_hour_says_so_and_is_not_listened_through()
    {
        var course = SoundCourse.Of(
            new(8000, new float[8000 * 1900]),
            SoundSource.Of(TestShop.Shop.FindLayout("ostrel-ot50")!, 60),
            new()
        );
        Assert.False(course.Heard.Enough);
        Assert.Contains("half an hour", course.Heard.Say);
        Assert.Empty(course.LevelsDb);
    }

    [Fact]
    public void The_run_down_is_found_where_the_door_was_opened_and_nowhere_else()
    {
        var (found, times, all) = (0, 0, 0);
        var said = new List<string>();
        foreach (var layout in TestSize.Every(3, TestShop.Shop.Layouts))
        {
            var sources = SoundSource.Of(layout, 60);
            foreach (var fault in new[] { "", "roller-dry", "drum-lip", "motor-bearings" })
            {
                if (fault.Length > 0 && !NoiseBench.FaultsOf(layout).Any(f => f == fault))
                {
                    continue;
                }
                var (opens, dies) = (9 + all % 4, 1.2 + 0.5 * (all % 5));
                var order = new NoiseOrder
                {
                    Faults = fault.Length > 0 ? [fault] : [],
                    Seconds = 18,
                    Seed = 70 + all,
                    Load = all % 3 == 0 ? 0.6 : 0,
                };
                all++;
                var down = RunDown.Of(
                    NoiseBench.Render(layout, order with { OpensAt = opens, RunDownSeconds = dies }),
                    60
                );
                found += down is not null && Math.Abs(down.OpensAt - opens) < 0.6 ? 1 : 0;
                times += down is not null && down.DiesOver > RunDown.AtOnce && down.DiesOver < 1.6 * dies ? 1 : 0;
                if (down is null || Math.Abs(down.OpensAt - opens) >= 0.6)
                {
                    said.Add($"{layout.Id} {fault} at {opens} over {dies:0.0}: {down}");
                }
                Assert.Null(RunDown.Of(NoiseBench.Render(layout, order), 60));
            }
        }
        Assert.True(found >= 0.95 * all, $"{found} of {all}: {string.Join("; ", said)}");
        Assert.True(times >= 0.9 * all, $"{times} of {all}");
    }

    [Fact]
    public void A_hum_that_stops_at_once_is_told_from_what_turns()
    {
        foreach (var layout in TestSize.Every(3, TestShop.Shop.Layouts))
        {
            if (!NoiseBench.FaultsOf(layout).Any(f => f == "motor-start"))
            {
                continue;
            }
            var order = new NoiseOrder
            {
                Faults = ["motor-start"],
                Seconds = 16,
                Seed = 7,
                MainsHertz = 50,
                OpensAt = 10,
            };
            var heard = SoundAnalysis.Of(
                NoiseBench.Render(layout, order),
                SoundSource.Of(layout, 50),
                new() { DoorOpened = true }
            );
            Assert.True(heard.RunDown is { HumStops: true }, $"{layout.Id}: {heard.RunDown}");
            Assert.Contains("electrical", heard.RunDown.Words);
            var alone = RunDown.Of(NoiseBench.Render(layout, order with { FaultDb = null }), 50);
            Assert.True(alone is { DiesOver: <= RunDown.AtOnce, HumStops: true }, $"{layout.Id}: {alone}");
            Assert.Contains("does not turn", alone.Words);
        }
    }

    [Fact]
    public void Parts_are_looked_for_in_what_comes_before_the_door_is_opened()
    {
        var layout = TestShop.Shop.FindLayout("ostrel-ot50")!;
        var sources = SoundSource.Of(layout, 60);
        var right = 0;
        for (var seed = 0; seed < 6; seed++)
        {
            var made = NoiseBench.Render(
                layout,
                new()
                {
                    Faults = ["roller-dry"],
                    Seconds = 18,
                    Seed = seed,
                    OpensAt = 12,
                }
            );
            var heard = SoundAnalysis.Of(made, sources, new() { DoorOpened = true });
            right +=
                heard.RunDown is not null
                && heard.Groups[0].Probability > heard.None
                && heard.Groups[0].Mechanism == Mechanism.Roller
                    ? 1
                    : 0;
        }
        Assert.True(right >= 5, $"{right} of 6");
        var runs = SoundAnalysis.Of(
            NoiseBench.Render(layout, new() { Seconds = 10, Seed = 3 }),
            sources,
            new() { DoorOpened = true }
        );
        Assert.Null(runs.RunDown);
        Assert.Contains("open the door", runs.Say);
    }
}
