using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Drive;

/// <summary>The belt drive against numeric integration, against a minimiser of the energy of spring, weight and belt, and
/// against closed cases; twelve machines with what the trade expects of them.</summary>
public class DriveRunTests
{
    public static TheoryData<string> Ids => TestShop.LayoutIds;

    private static DriveGeometry Drive(string id) => TestShop.Machine(id).Layout.Drive;

    [Theory]
    [MemberData(nameof(Ids))]
    public void The_course_is_as_long_as_its_pitch_line_walked_step_by_step(string id)
    {
        var drive = Drive(id);
        var path = BeltPath.Of(drive);
        var points = path.Points(0.002);
        var walked = 0.0;
        for (var i = 0; i < points.Count; i++)
        {
            var (a, b) = (points[i], points[(i + 1) % points.Count]);
            walked += double.Hypot(a.X - b.X, a.Y - b.Y);
        }
        Assert.InRange(path.LengthMm / walked, 0.9999, 1.0001);
        // No point lies inside a wheel, and each run touches its wheels at a right angle to their radius.
        foreach (var wheel in path.Wraps.Select(w => w.Wheel))
        {
            Assert.All(points, p =>
                Assert.True(double.Hypot(p.X - wheel.X, p.Y - wheel.Y) > wheel.DiameterMm / 2 - 0.01)
            );
        }
    }

    [Theory]
    [MemberData(nameof(Ids))]
    public void At_rest_it_stands_where_the_energy_of_spring_weight_and_stretched_belt_is_least(string id)
    {
        var drive = Drive(id);
        var t = drive.Tensioner;
        var ea = drive.Belt.StiffnessN ?? BeltSpec.UsualStiffnessN;
        foreach (var extra in new[] { 0.0, 6, -6 })
        {
            var mm = drive.Belt.LengthMm + extra;
            double Energy(double share)
            {
                var placed = BeltFit.At(drive, share);
                var stretch = Math.Max(0, BeltPath.Of(placed).LengthMm - mm);
                var belt = ea / (2 * mm) * stretch * stretch;
                if (t.Kind == TensionerKind.LooseIdler)
                {
                    // Bracket: rate and pull at the tight end, along the slot.
                    var left = (1 - share) * double.Hypot(t.Slot[1][0] - t.Slot[0][0], t.Slot[1][1] - t.Slot[0][1]);
                    return belt + Tensioner.UsualBracketN * left + Tensioner.UsualBracketNPerMm * left * left / 2;
                }
                var end = t.Kind == TensionerKind.HingedMotor ? placed.MotorPulley : placed.Tensioner.Idler!;
                var along = (t.SpringOnArmMm ?? t.LengthMm / 2) / t.LengthMm;
                var hook = (X: t.Pivot[0] + along * (end.X - t.Pivot[0]), Y: t.Pivot[1] + along * (end.Y - t.Pivot[1]));
                var drawn = Math.Max(
                    0,
                    double.Hypot(hook.X - t.SpringAnchor[0], hook.Y - t.SpringAnchor[1]) - t.SpringFreeMm
                );
                var spring = t.SpringPreloadN * drawn + t.SpringRateNPerMm * drawn * drawn / 2;
                var (kg, at) =
                    t.Kind == TensionerKind.HingedMotor
                        ? (drive.Motor!.Kg, 1.0)
                        : (t.ArmKg ?? 0.25, Tensioner.ArmCentre);
                return belt + spring + kg * 9.80665 * at * (end.Y - t.Pivot[1]);
            }
            // Golden section, between coarse neighbours of the least.
            var coarse = Enumerable.Range(0, 401).Select(k => k / 400.0).MinBy(Energy);
            var (a, b) = (Math.Max(0, coarse - 0.0025), Math.Min(1, coarse + 0.0025));
            var golden = (Math.Sqrt(5) - 1) / 2;
            for (var i = 0; i < 60; i++)
            {
                var (c, d) = (b - golden * (b - a), a + golden * (b - a));
                (a, b) = Energy(c) < Energy(d) ? (a, d) : (c, b);
            }
            var least = (a + b) / 2;
            var run = DriveRun.Of(drive, DriveCase.Of(drive) with { BeltMm = mm });
            if (t.StopsDeg.Count == 2)
            {
                Assert.InRange((run.Rest.Share - least) * Math.Abs(t.StopsDeg[1] - t.StopsDeg[0]), -0.01, 0.01);
            }
            var pull = ea * (BeltPath.Of(BeltFit.At(drive, run.Rest.Share)).LengthMm - mm) / mm;
            Assert.InRange(run.Rest.SlackN / pull, 0.999, 1.001);
            Assert.InRange(run.Rest.Share - least, -0.0005, 0.0005);
        }
    }

    [Theory]
    [MemberData(nameof(Ids))]
    public void Its_own_belt_stands_between_the_stops_holds_a_full_load_and_its_switch_knows_it(string id)
    {
        var layout = TestShop.Machine(id).Layout;
        var drive = layout.Drive;
        var own = DriveRun.Of(drive);
        Assert.True(own.Runs, own.Why);
        Assert.Equal(TensionerHeld.Free, own.Rest.Held);
        Assert.True(own.Margin > 1, $"{own.Margin:0.00}");
        Assert.InRange(own.DrumRpm, DriveRules.Slowest - 1, DriveRules.Fastest);
        Assert.False(
            own.Rest.IdlerOnTight && drive.Tensioner.Kind != TensionerKind.HingedMotor,
            "the idler loads the slack strand"
        );
        var used = DriveRun.Of(
            drive,
            DriveCase.Of(drive) with
            {
                BeltMm = drive.Belt.LengthMm * (1 + DriveRules.BeltStretch),
            }
        );
        Assert.Equal(TensionerHeld.Free, used.Rest.Held);
        Assert.True(used.Rest.SlackN < own.Rest.SlackN, "a longer belt is pulled less");
        // Belt gone: the arm lies at its stop.
        if (drive.Tensioner.SwitchDeg is { } open)
        {
            Assert.True(own.SwitchClosed);
            Assert.True(used.SwitchMarginDeg > 1 && own.SwitchMarginDeg > used.SwitchMarginDeg);
            var t = drive.Tensioner;
            Assert.True(
                (t.StopsDeg[1] - open) * (t.StopsDeg[1] - t.StopsDeg[0]) > 0,
                "open at the stop without a belt"
            );
        }
        else
        {
            Assert.Null(own.SwitchClosed);
        }
    }

    [Theory]
    [MemberData(nameof(Ids))]
    public void The_running_strands_differ_by_what_drag_and_load_take_and_the_belt_is_as_long_as_its_course(string id)
    {
        var drive = Drive(id);
        var run = DriveRun.Of(drive);
        var radius = (drive.Drum.DiameterMm + drive.Belt.ThicknessMm) / 2000;
        var torque = (run.Loaded.TightN - run.Loaded.SlackN) * radius;
        Assert.InRange(
            torque - drive.Load!.DragNm[1],
            0.2 * drive.Load.WetKg * 9.8 * radius,
            0.3 * drive.Load.WetKg * 9.9 * radius
        );
        // An empty drum takes the drag alone.
        var empty = DriveRun.Of(drive, DriveCase.Of(drive) with { LoadKg = 0 });
        Assert.Equal(drive.Load.DragNm[1], empty.DeltaN * radius, 6);
        Assert.True(empty.Margin > run.Margin);
        // Stretch: mean pull over the belt lies between its strands.
        var ea = drive.Belt.StiffnessN!.Value;
        var mean = ea * (run.Loaded.Path.LengthMm - drive.Belt.LengthMm) / drive.Belt.LengthMm;
        Assert.InRange(mean, run.Loaded.SlackN - 0.01, run.Loaded.TightN + 0.01);
    }

    [Fact]
    public void Two_equal_wheels_hold_by_Euler_and_Eytelwein()
    {
        // A slack strand that is held at T, half a turn on each of two far wheels: Δ = T(e^(µπ) − 1).
        var drive = Drive("ostrel-or70") with { Friction = new([0.2, 0.2], [0.2, 0.2]) };
        var run = DriveRun.Of(drive, DriveCase.Of(drive) with { LoadKg = 0 });
        double Of(string wheel, double mu) =>
            run.Loaded.SlackN * (Math.Exp(mu * Math.PI / 180 * (wheel == "drum" ? Drum() : Pulley())) - 1);
        double Drum() => run.Loaded.Path.Wraps[0].WrapRadians * 180 / Math.PI;
        double Pulley() => run.Loaded.Path.Wraps[^1].WrapRadians * 180 / Math.PI;
        var most = Math.Min(Of("drum", 0.2), Of("pulley", 0.2 / Math.Sin(Math.PI / 9)));
        Assert.Equal(most / run.DeltaN, run.Margin, 6);
        Assert.Equal(run.Margin, run.MarginNew, 9);
    }

    [Fact]
    public void The_bearing_of_an_idler_carries_both_its_runs()
    {
        var run = DriveRun.Of(Drive("quenby-qc30"));
        // Equal pulls T that enclose 180° − wrap add to 2T·sin(wrap/2).
        var wrap = run.Loaded.Path.Wraps[1].WrapRadians;
        Assert.Equal(2 * run.Loaded.SlackN * Math.Sin(wrap / 2), run.BearingN(DriveWheel.Idler), 6);
        Assert.True(run.BearingN(DriveWheel.Pulley) > run.BearingN(DriveWheel.Idler));
    }

    [Theory]
    [MemberData(nameof(Ids))]
    public void A_belt_far_too_long_hangs_and_one_far_too_short_cannot_be_laid_on(string id)
    {
        var drive = Drive(id);
        var own = DriveCase.Of(drive);
        var @long = DriveRun.Of(drive, own with { BeltMm = own.BeltMm + 90 });
        Assert.False(@long.Runs);
        Assert.Contains("lack", @long.Why, StringComparison.Ordinal);
        Assert.Equal(0, @long.DrumRpm);
        var @short = DriveRun.Of(drive, own with { BeltMm = own.BeltMm * 0.95 });
        Assert.False(@short.Runs);
        Assert.Contains("short", @short.Why, StringComparison.OrdinalIgnoreCase);
        // A weaker spring pulls less, a glazed belt holds less.
        var right = DriveRun.Of(drive);
        Assert.True(DriveRun.Of(drive, own with { SpringFactor = 0.6 }).Margin < right.Margin);
        Assert.True(DriveRun.Of(drive, own with { FrictionFactor = DriveCase.Glazed }).Margin < right.Margin);
    }

    [Fact]
    public void A_wheel_that_is_pulled_by_a_lost_spring_says_that_nothing_pulls()
    {
        var drive = Drive("marlune-ml45");
        var run = DriveRun.Of(drive, DriveCase.Of(drive) with { SpringFactor = 0 });
        Assert.False(run.Runs);
        Assert.Contains("lack", run.Why, StringComparison.Ordinal);
    }

    [Fact]
    public void Where_a_wheel_would_run_into_another_the_tensioner_stops_before_it()
    {
        // A stop far beyond where the idler meets the pulley: a belt too long is said to be slack, and nothing breaks.
        var drive = Drive("ostrel-or70");
        var t = drive.Tensioner;
        var wild = drive with { Tensioner = t with { StopsDeg = [t.StopsDeg[0], t.StopsDeg[0] - 170] } };
        var run = DriveRun.Of(wild, DriveCase.Of(drive) with { BeltMm = drive.Belt.LengthMm * 1.1 });
        Assert.False(run.Runs);
        Assert.Equal(TensionerHeld.Tight, run.Rest.Held);
        Assert.InRange(run.Rest.Share, 0, 0.99);
        Assert.True(DriveRun.Of(wild).Rest.Share > 0);
    }

    [Fact]
    public void A_question_is_answered_in_five_thousandths_of_a_second()
    {
        var drives = TestShop.Shop.Layouts.Select(l => l.Drive).ToList();
        drives.ForEach(d => DriveRun.Of(d));
        var times = drives
            .SelectMany(d => Enumerable.Repeat(d, 5))
            .Select(d =>
            {
                var from = System.Diagnostics.Stopwatch.GetTimestamp();
                DriveRun.Of(d);
                return System.Diagnostics.Stopwatch.GetElapsedTime(from).TotalMilliseconds;
            })
            .Order()
            .ToList();
        Assert.InRange(times[times.Count / 2], 0, 5);
    }
}
