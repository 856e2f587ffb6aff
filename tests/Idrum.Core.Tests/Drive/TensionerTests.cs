using Idrum.Core.Drive;
using Idrum.Core.Machines;

namespace Idrum.Core.Tests.Drive;

/// <summary>What a step says of the tensioner against its geometry: pushed the wrong way, it only tightens the
/// belt.</summary>
public class TensionerTests
{
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_idler_is_pushed_the_way_that_slackens_the_belt_and_the_words_name_that_side_from_where_one_stands(
        string layoutId
    )
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var drive = layout.Drive;
        Assert.True(
            BeltPath.Of(BeltFit.At(drive, 0)).LengthMm < BeltPath.Of(BeltFit.At(drive, 1)).LengthMm,
            "The course is shorter at the slack end."
        );
        var pushes = layout
            .Operations.Where(o => o.Motion?.Kind == MotionKind.Turn && o.Hazards.Contains("idler"))
            .ToList();
        Assert.Equal(drive.Tensioner.Kind == TensionerKind.HingedMotor, pushes.Count == 0);
        foreach (var operation in pushes)
        {
            var away = BeltFit.At(drive, 0).Tensioner.Idler!.X - drive.Tensioner.Idler!.X;
            var path = operation.Motion!.Path;
            Assert.True(
                Math.Sign(path[^1][0] - path[0][0]) == Math.Sign(away),
                $"{operation.Id}: the arrow tightens the belt"
            );
            var side = operation.View == "behind" == away < 0 ? "right" : "left";
            Assert.Contains(side, operation.Do, StringComparison.Ordinal);
            Assert.Contains(side, operation.Motion.Text, StringComparison.Ordinal);
            Assert.Contains(
                operation.View == "behind" ? "from behind" : "from the door",
                operation.Motion.Text,
                StringComparison.Ordinal
            );
        }
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void The_spring_pulls_towards_the_tight_end(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var t = layout.Drive.Tensioner;
        if (
            layout.Solids.FirstOrDefault(s => layout.FindPart(s.Part)?.Kind is PartKinds.IdlerSpring or "motor-spring")
            is not { } spring
        )
        {
            return;
        }
        var (x, y) = (spring.Points[0][0] - t.Pivot[0], spring.Points[0][1] - t.Pivot[1]);
        var (pullX, pullY) = (spring.Points[^1][0] - spring.Points[0][0], spring.Points[^1][1] - spring.Points[0][1]);
        Assert.Equal(Math.Sign(t.StopsDeg[1] - t.StopsDeg[0]), Math.Sign(x * pullY - y * pullX));
        // It is drawn to where the drive says it is hooked.
        Assert.InRange(
            double.Hypot(spring.Points[^1][0] - t.SpringAnchor[0], spring.Points[^1][1] - t.SpringAnchor[1]),
            0,
            12
        );
    }

    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void What_lies_left_or_right_in_the_words_lies_there_in_the_machine(string layoutId)
    {
        // Pairs named by their side: the left one has the smaller x, seen from the door, as every name of a part is.
        var layout = TestShop.Machine(layoutId).Layout;
        double X(Part part) =>
            layout
                .Solids.Where(s => s.Part == part.Id)
                .Average(s => s.Bounds() is var (low, high) ? (low[0] + high[0]) / 2 : 0);
        foreach (var left in layout.Parts.Where(p => p.Id.Value.Contains("left", StringComparison.Ordinal)))
        {
            var right = layout.FindPart(left.Id.Value.Replace("left", "right", StringComparison.Ordinal));
            Assert.NotNull(right);
            Assert.True(X(left) < X(right), left.Id);
        }
    }

    /// <summary>A used belt is 0 to 1.5 % longer than new: it must still be kept tight, the switch must not call it
    /// broken, and without a belt the arm must open the switch.</summary>
    [Theory]
    [MemberData(nameof(TestShop.LayoutIds), MemberType = typeof(TestShop))]
    public void A_used_belt_has_room_to_its_tight_stop_and_the_switch_knows_it_from_none(string layoutId)
    {
        var drive = TestShop.Machine(layoutId).Layout.Drive;
        var t = drive.Tensioner;
        // The longest course within the stops, looked for by small steps from the working place on.
        var at = BeltFit.Of(drive, drive.Belt.LengthMm)!.Share;
        var places = Enumerable.Range(0, 2001).Select(k => at + (1 - at) * k / 2000).ToList();
        var lengths = places.Select(p => BeltPath.Of(BeltFit.At(drive, p)).LengthMm).ToList();
        Assert.True(lengths[^1] >= 1.015 * drive.Belt.LengthMm, $"{lengths[^1] / drive.Belt.LengthMm - 1:P2}");
        // On the way the belt is taken up at every place: no dead point at which the tensioner stays behind.
        Assert.All(lengths.Zip(lengths.Skip(1)), p => Assert.True(p.Second > p.First));
        if (t.SwitchDeg is { } open)
        {
            var stretched = places[lengths.FindIndex(l => l >= 1.015 * drive.Belt.LengthMm)];
            var angle = t.StopsDeg[0] + stretched * (t.StopsDeg[1] - t.StopsDeg[0]);
            Assert.True(Math.Abs(angle - t.StopsDeg[0]) + 2 < Math.Abs(open - t.StopsDeg[0]), $"{angle:0.0}");
            Assert.True(Math.Abs(open - t.StopsDeg[0]) + 2 < Math.Abs(t.StopsDeg[1] - t.StopsDeg[0]));
        }
    }

    [Fact]
    public void A_layout_of_version_3_without_room_for_a_used_belt_is_refused_and_one_of_version_2_is_read()
    {
        var good = TestShop.Machine("quenby-qd62").Layout;
        Layout With(int version, Func<Tensioner, Tensioner> change) =>
            good with
            {
                Version = version,
                Drive = good.Drive with { Tensioner = change(good.Drive.Tensioner) },
            };
        Tensioner Short(Tensioner t) => t with { StopsDeg = [t.StopsDeg[0], 100], SwitchDeg = null };
        Assert.Contains(DriveRules.Check(With(3, Short)), e => e.Pointer == "/drive/tensioner/stopsDeg");
        Assert.Empty(DriveRules.Check(With(2, Short)));
        foreach (var wrong in new[] { 95.0, 130, 79 })
        {
            Assert.Contains(DriveRules.Check(With(3, t => t with { SwitchDeg = wrong })), e =>
                e.Pointer == "/drive/tensioner/switchDeg"
            );
        }
        Assert.Empty(DriveRules.Check(With(3, t => t)));
    }
}
