using CsCheck;
using Idrum.Core.Drive;
using Idrum.Core.Machines;
using Idrum.Core.Money;

namespace Idrum.Core.Tests.Drive;

public class BeltPathTests
{
    private static DriveGeometry Drive(Circle drum, Circle idler, Circle pulley) =>
        TestShop.Shop.Layouts[0].Drive with
        {
            Drum = drum,
            Tensioner = TestShop.Shop.Layouts[0].Drive.Tensioner with { Idler = idler },
            MotorPulley = pulley,
        };

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void Runs_touch_their_wheels_at_right_angles_and_the_length_is_near_the_layouts_belt(string layoutId)
    {
        var drive = TestShop.Machine(layoutId).Layout.Drive;
        var path = BeltPath.Of(drive);
        AssertTangent(path, drive);
        Assert.Equal(drive.Belt.LengthMm, path.LengthMm, 1.0);
        Assert.True(path.Wraps[0].WrapRadians > Math.PI, "most of the drum is wrapped");
    }

    [Fact]
    public void Random_drives_have_tangent_runs_and_a_length_equal_to_summing_small_steps()
    {
        Gen.Select(Gen.Double[-150, 150], Gen.Double[40, 120], Gen.Double[10, 30], Gen.Double[-60, 60])
            .Sample(
                (px, below, r, shift) =>
                {
                    var drive = Drive(
                        new(0, 0, 580),
                        new(px - 70 + shift / 3, 330 + below / 3, 2 * r),
                        new(px + 40, 350 + below + 40, 22)
                    );
                    var path = BeltPath.Of(drive);
                    AssertTangent(path, drive);
                    Assert.Equal(Integrate(path), path.LengthMm, 0.5);
                },
                iter: 200
            );
    }

    [Fact]
    public void Overlapping_wheels_are_refused() =>
        Assert.Throws<ArgumentException>(() => BeltPath.Of(Drive(new(0, 0, 580), new(0, 100, 50), new(0, 400, 22))));

    private static void AssertTangent(BeltPath path, DriveGeometry drive)
    {
        // The pitch line runs half a belt thickness outside each wheel.
        Circle[] wheels =
        [
            .. new[] { drive.Drum, drive.Tensioner.Idler!, drive.MotorPulley }.Select(w =>
                w with
                {
                    DiameterMm = w.DiameterMm + drive.Belt.ThicknessMm,
                }
            ),
        ];
        for (var i = 0; i < 3; i++)
        {
            var run = path.Runs[i];
            foreach (var (x, y, wheel) in new[] { (run.X1, run.Y1, wheels[i]), (run.X2, run.Y2, wheels[(i + 1) % 3]) })
            {
                var (rx, ry) = (x - wheel.X, y - wheel.Y);
                Assert.Equal(wheel.DiameterMm / 2, double.Hypot(rx, ry), 1e-6);
                Assert.Equal(0, rx * (run.X2 - run.X1) + ry * (run.Y2 - run.Y1), 1e-4);
            }
        }
    }

    /// <summary>Walks each arc in small steps from the end of one run to the start of the next.</summary>
    private static double Integrate(BeltPath path)
    {
        var length = path.Runs.Sum(r => double.Hypot(r.X2 - r.X1, r.Y2 - r.Y1));
        for (var i = 0; i < 3; i++)
        {
            var (into, outOf, wrap) = (path.Runs[(i + 2) % 3], path.Runs[i], path.Wraps[i]);
            var (x, y) = (into.X2 - wrap.Wheel.X, into.Y2 - wrap.Wheel.Y);
            // The belt goes on in the direction it came; the arc ends where the next run starts.
            var turn = x * (into.Y2 - into.Y1) - y * (into.X2 - into.X1) > 0 ? 1e-4 : -1e-4;
            var arc = 0.0;
            for (
                var n = 0;
                n < 70_000
                    && double.Hypot(wrap.Wheel.X + x - outOf.X1, wrap.Wheel.Y + y - outOf.Y1)
                        > wrap.Wheel.DiameterMm / 2 * 1.01e-4;
                n++
            )
            {
                var (nx, ny) = (x * Math.Cos(turn) - y * Math.Sin(turn), x * Math.Sin(turn) + y * Math.Cos(turn));
                arc += double.Hypot(nx - x, ny - y);
                (x, y) = (nx, ny);
            }
            length += arc;
        }
        return length;
    }
}
