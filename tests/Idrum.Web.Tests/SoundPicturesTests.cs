using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Idrum.Core.Practice;
using Idrum.Core.Tests;
using Idrum.Web.Drawing;

namespace Idrum.Web.Tests;

/// <summary>What is drawn of a recording.</summary>
public class SoundPicturesTests
{
    [Fact]
    public void A_flat_roller_is_drawn_once_round_and_close_up()
    {
        var (recording, sources, heard) = Heard(["roller-flat"]);
        var named = sources.Where(s => heard.Groups[0].Sources.Contains(s)).ToList();
        var drawn = SoundPictures.Of(
            SoundTrace.Of(recording, named[0], heard.SpeedScale),
            recording,
            sources,
            heard.SpeedScale,
            named
        );
        Assert.Equal(["the roller", "the drum"], drawn.Rounds.Select(r => r.What));
        Assert.Single(drawn.Rounds[0].Round.Peaks);
        Assert.Contains("Once in each turn of the roller", drawn.Rounds[0].Ring.ToString());
        Assert.Equal(OnceRound.Places, Count(drawn.Rounds[0].Ring, "class=\"spoke"));
        Assert.InRange(Count(drawn.Piece!, "class=\"line hot\""), 3, 5);
        Assert.Equal(11, drawn.Bands.Count);
        Assert.Equal(0, drawn.Bands.Max(b => b.Db), 6);
        var line = drawn.Lines.Single(l => l.Source.Id == named[0].Id);
        Assert.True(
            line.Height > 5 * drawn.Lines.Where(l => l.Source.Mechanism == Mechanism.BeltPass).Max(l => l.Height)
        );
        Assert.DoesNotContain("NaN", All(drawn));
    }

    [Fact]
    public void A_sound_machine_has_no_round_and_nothing_close_up()
    {
        var (recording, sources, heard) = Heard([]);
        var drawn = SoundPictures.Of(SoundTrace.Of(recording, null, heard.SpeedScale), recording, sources, 1, []);
        Assert.Empty(drawn.Rounds);
        Assert.Null(drawn.Piece);
        Assert.NotNull(drawn.Pitches);
        Assert.DoesNotContain("NaN", All(drawn));
    }

    [Fact]
    public void What_was_felt_is_drawn_without_pitches()
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var series = NoiseBench.Shake(
            layout,
            new()
            {
                Faults = ["roller-flat"],
                Seconds = 34,
                Seed = 3,
            }
        );
        var sources = SoundSource.Of(layout, 60);
        var roller = sources.First(s => s.Mechanism == Mechanism.Roller);
        var scale = SoundAnalysis.Felt(series, sources, new()).SpeedScale;
        var drawn = SoundPictures.Of(SoundTrace.Of(series, roller, scale), null, sources, scale, [roller]);
        Assert.Null(drawn.Pitches);
        Assert.Empty(drawn.Bands);
        Assert.Equal(2, drawn.Rounds.Count);
        Assert.DoesNotContain("NaN", All(drawn));
    }

    private static (Recording, IReadOnlyList<SoundSource>, SoundAnalysis) Heard(FaultId[] faults)
    {
        var layout = TestShop.Machine("ostrel-ot50").Layout;
        var recording = NoiseBench.Render(
            layout,
            new()
            {
                Faults = faults,
                Seconds = 15,
                Seed = 1,
            }
        );
        var sources = SoundSource.Of(layout, 60);
        return (recording, sources, SoundAnalysis.Of(recording, sources, new()));
    }

    private static int Count(Microsoft.AspNetCore.Html.HtmlString svg, string what) =>
        svg.ToString().Split(what).Length - 1;

    private static string All(SoundPictures drawn) =>
        $"{drawn.Rhythm}{drawn.Strip}{drawn.Piece}{drawn.Pitches}{string.Concat(drawn.Rounds.Select(r => r.Ring))}";
}
