using Idrum.Core.Listening;

namespace Idrum.Core.Tests;

public class SpotLevelsTests
{
    public static TheoryData<string> LayoutIds => TestShop.LayoutIds;

    /// <summary>Each roller of a machine as the place, heard at the corners of its own cabinet: level falls with the
    /// square of the distance down to what the room gives back, and the phone is held now so, now so.</summary>
    [Theory]
    [MemberData(nameof(LayoutIds))]
    public void A_roller_is_told_from_its_twin_by_the_four_spots(string layoutId)
    {
        var layout = TestShop.Machine(layoutId).Layout;
        var random = new Random(7);
        double Gauss() =>
            Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        var (right, all) = (0, 0);
        foreach (var roller in layout.Drive.Rollers)
        {
            var solid = layout.Solids.FirstOrDefault(s => s.Part == roller.Part);
            var z = solid is null ? layout.Size[2] * 0.85 : solid.At[2] + solid.LengthMm / 2;
            for (var run = 0; run < 100; run++)
            {
                var levels = SpotLevels.Spots.ToDictionary(
                    s => s,
                    s =>
                    {
                        var (x, at) = (
                            s.EndsWith("left", StringComparison.Ordinal) ? 0.0 : layout.Size[0],
                            s.StartsWith("door", StringComparison.Ordinal) ? 0.0 : layout.Size[2]
                        );
                        var square = Math.Pow(x - roller.X, 2) + Math.Pow(100 - roller.Y, 2) + Math.Pow(at - z, 2);
                        return 10 * Math.Log10(1e5 / square + 0.12) - 40 + 1.5 * Gauss();
                    }
                );
                var told = SpotLevels.Of(levels)!;
                all++;
                right +=
                    told.Side == (roller.X < layout.Size[0] / 2 ? "left" : "right")
                    && told.End == (z < layout.Size[2] / 2 ? "door" : "rear")
                        ? 1
                        : 0;
                Assert.InRange(told.Probability, 0.25, 1);
            }
        }
        Assert.True(right >= 0.9 * all, $"{right} of {all}");
    }

    [Fact]
    public void Alike_everywhere_says_nothing_and_a_missing_spot_is_no_answer()
    {
        var alike = SpotLevels.Spots.ToDictionary(s => s, _ => -30.0);
        Assert.Equal(0.25, SpotLevels.Of(alike)!.Probability, 6);
        alike.Remove("rear-left");
        Assert.Null(SpotLevels.Of(alike));
        alike["rear-left"] = double.NaN;
        Assert.Null(SpotLevels.Of(alike));
    }
}
