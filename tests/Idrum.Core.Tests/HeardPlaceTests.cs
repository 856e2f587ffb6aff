using System.Collections.Immutable;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Idrum.Core.Machines;
using Idrum.Core.Practice;

namespace Idrum.Core.Tests;

/// <summary>Four recordings low on the cabinet tell which of two rollers that come round alike makes the noise.</summary>
public class HeardPlaceTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 30, 9, 0, 0, TimeSpan.Zero);

    private static SoundRecorded Recorded(Layout layout, NoiseOrder order) =>
        new("", "thump", order.Spot, false)
        {
            Id = Guid.NewGuid(),
            At = Now,
            Heard = HeardInSound.Of(
                SoundAnalysis.Of(NoiseBench.Render(layout, order), SoundSource.Of(layout, order.MainsHertz), new())
            ),
        };

    private static JobState With(IEnumerable<SoundRecorded> sounds) => new() { Sounds = [.. sounds] };

    [Fact]
    public void The_roller_at_the_loud_corner_is_named_although_its_twin_comes_round_alike()
    {
        var (right, all) = (0, 0);
        foreach (var layout in TestShop.Shop.Layouts)
        {
            var twins = SoundSource
                .Of(layout, 60)
                .Where(s => s.Mechanism == Mechanism.Roller && s.PartIds.Count > 1)
                .SelectMany(s => s.PartIds)
                .Where(p => SpotPlace.NearestTo(layout, p) is not null)
                .ToList();
            foreach (var part in TestSize.Every(2, twins))
            {
                var state = With(
                    SpotLevels.Spots.Select(spot =>
                        Recorded(
                            layout,
                            new()
                            {
                                Faults = ["roller-flat"],
                                Part = part,
                                Spot = spot,
                                Seed = 7 + all,
                                Seconds = 10,
                            }
                        )
                    )
                );
                var place = HeardPlace.Of(state, layout, 60)!;
                var at = SpotPlace.NearestTo(layout, part)!.Split('-');
                right += place.Levels.End == at[0] && place.Levels.Side == at[1] ? 1 : 0;
                Assert.True(
                    place.PartId.Value.Length == 0
                        || SpotPlace.NearestTo(layout, place.PartId) == $"{place.Levels.End}-{place.Levels.Side}"
                );
                all++;
            }
        }
        Assert.True(all >= 4 && right >= 0.9 * all, $"{right} of {all}");
    }

    [Fact]
    public void Fewer_than_four_spots_say_nothing()
    {
        var layout = TestShop.Shop.Layouts[0];
        var three = SpotLevels.Spots.Take(3).Select(s => Recorded(layout, new() { Spot = s, Seconds = 5 })).ToList();
        Assert.Null(HeardPlace.Of(With(three), layout, 60));
    }

    [Fact]
    public void The_level_falls_with_the_distance_and_the_motor_has_a_place_too()
    {
        var layout = TestShop.Shop.FindLayout("ostrel-ot50")!;
        double Db(string fault, string part, string spot) =>
            20
            * Math.Log10(
                NoiseSounds.Rms(
                    NoiseBench
                        .Render(
                            layout,
                            new()
                            {
                                Faults = [fault],
                                Part = part,
                                Spot = spot,
                                FaultDb = null,
                                Seed = 3,
                                Seconds = 5,
                            }
                        )
                        .Samples
                )
            );
        Assert.True(Db("roller-flat", "roller-left", "rear-left") > Db("roller-flat", "roller-left", "door-right") + 2);
        Assert.True(
            Db("roller-flat", "roller-right", "rear-right") > Db("roller-flat", "roller-right", "door-left") + 2
        );
    }
}
