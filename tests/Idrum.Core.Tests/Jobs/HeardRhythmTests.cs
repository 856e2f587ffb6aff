using Idrum.Core.Basics;
using Idrum.Core.Diagnosis;
using Idrum.Core.Drive;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;

namespace Idrum.Core.Tests.Jobs;

/// <summary>One rhythm followed through the house: tapped, matched or counted it names the part that comes round so
/// often, and Find believes it.</summary>
public class HeardRhythmTests
{
    private static readonly Idrum.Core.Shop.MachineKnowledge Machine = TestShop.Machine("ostrel-ot50");

    private static SoundSource Source(Mechanism mechanism) =>
        SoundSource.Of(Machine.Layout, 50).Single(s => s.Mechanism == mechanism);

    private static RhythmHeard Beat(string sound, double hz) => new(sound, "beat", "", hz, null, null, null, null, 50);

    private static double Probability(RhythmHeard? rhythm, string fault, params string[] complaints)
    {
        var state = JobState.Empty with { Complaints = [.. complaints], Rhythms = rhythm is null ? [] : [rhythm] };
        var result = Machine.Diagnostician.Diagnose(
            QuestionOfJob.Of(state, Machine, complaints.ToDictionary(c => c, _ => "yes")),
            CancellationToken.None
        );
        return result.Causes.Single(c => c.Fault.Id == fault).Probability;
    }

    [Fact]
    public void What_is_felt_while_it_is_heard_speaks_with_it_and_what_was_felt_long_before_does_not()
    {
        var at = new DateTimeOffset(2026, 3, 2, 9, 0, 0, TimeSpan.Zero);
        SoundRecorded Made(bool felt, Mechanism mechanism, int minute) =>
            new("", "thump", "", false)
            {
                Felt = felt,
                At = at.AddMinutes(minute),
                Heard = new(
                    30,
                    -20,
                    1,
                    0.01,
                    true,
                    "",
                    [new(mechanism.Word(), mechanism.Word(), Source(mechanism).PartIds, Source(mechanism).Hz, 0.99)]
                ),
            };
        GradedFinding Says(params SoundRecorded[] sounds) =>
            Assert.Single(HeardSound.Evidence(JobState.Empty with { Sounds = [.. sounds] }, Machine.Layout));
        double For(GradedFinding says, string outcome, string against) =>
            says.Likelihoods[outcome] / says.Likelihoods[against];
        var heard = Made(false, Mechanism.BeltPass, 0);
        // By ear and by the cabinet, belt and drum are sometimes taken for each other: two witnesses are surer than one.
        Assert.True(
            For(Says(heard, Made(true, Mechanism.BeltPass, 3)), "belt", "drum") > 1.5 * For(Says(heard), "belt", "drum")
        );
        Assert.True(For(Says(heard, Made(true, Mechanism.Drum, 3)), "belt", "drum") < For(Says(heard), "belt", "drum"));
        Assert.Equal(
            For(Says(Made(true, Mechanism.BeltPass, 40)), "belt", "drum"),
            For(Says(heard, Made(true, Mechanism.BeltPass, 40)), "belt", "drum"),
            9
        );
    }

    [Theory]
    [InlineData("chirp", Mechanism.Idler, "idler-dry", "roller-dry")]
    [InlineData("chirp", Mechanism.Roller, "roller-dry", "idler-dry")]
    [InlineData("thump", Mechanism.Roller, "roller-flat", "drum-lip")]
    public void A_rhythm_speaks_for_the_part_that_comes_round_so_often(
        string sound,
        Mechanism mechanism,
        string cause,
        string other
    )
    {
        var rhythm = Beat(sound, Source(mechanism).Hz * 1.02);
        Assert.True(Probability(rhythm, cause, sound) > 1.5 * Probability(null, cause, sound));
        Assert.True(Probability(rhythm, other, sound) < Probability(null, other, sound));
    }

    [Fact]
    public void The_same_rhythm_tapped_matched_and_counted_names_the_same_part()
    {
        var roller = Source(Mechanism.Roller);
        var drum = Source(Mechanism.Drum).Hz;
        var taps = string.Join(' ', Enumerable.Range(0, 16).Select(k => (int)(1000 * k / drum)));
        Assert.Contains(
            "rum",
            HeardRhythm
                .Of(new RhythmHeard("thump", "taps", taps, null, null, null, null, null, 50), Machine.Layout)!
                .Words
        );
        foreach (
            var way in new[]
            {
                Beat("chirp", roller.Hz),
                new RhythmHeard("chirp", "count", "", null, roller.PerDrumTurn * 5, 5, null, null, 50),
            }
        )
        {
            var heard = HeardRhythm.Of(way, Machine.Layout)!;
            Assert.Equal(Mechanism.Roller, heard.Match.Groups[0].Mechanism);
            Assert.True(heard.Match.Groups[0].Probability > 0.6);
        }
    }

    [Fact]
    public void What_is_tapped_on_a_slowed_playback_is_the_rate_of_the_noise()
    {
        var roller = Source(Mechanism.Roller);
        // A quarter of the speed: some one and a half a second, which a finger can do.
        var taps = string.Join(' ', Enumerable.Range(0, 20).Select(k => (int)(4000 * k / roller.Hz)));
        RhythmHeard Tapped(double? slowedBy) => new("chirp", "taps", taps, null, null, null, null, slowedBy, 50);
        var slowed = HeardRhythm.Of(Tapped(4), Machine.Layout)!;
        Assert.Equal(roller.Hz, slowed.Hz, 0.02);
        Assert.Equal(Mechanism.Roller, slowed.Match.Groups[0].Mechanism);
        Assert.Equal(roller.Hz / 4, HeardRhythm.Of(Tapped(null), Machine.Layout)!.Hz, 0.01);
    }

    [Theory]
    [InlineData("roller", "none", HeardAgain.Gone, "Gone")]
    [InlineData("roller", "roller", HeardAgain.Left, "Still there")]
    [InlineData("roller", "idler", HeardAgain.New, "Something else")]
    [InlineData("none", "none", HeardAgain.Quiet, "No part")]
    [InlineData("roller", null, HeardAgain.NotHeard, "Record the same spot")]
    [InlineData(null, "roller", HeardAgain.New, "Heard after the repair")]
    [InlineData(null, "none", HeardAgain.Quiet, "nothing was recorded before")]
    public void The_noise_after_the_repair_stands_beside_the_one_before(
        string? before,
        string? after,
        HeardAgain verdict,
        string words
    )
    {
        var fitted = new DateTimeOffset(2026, 11, 29, 12, 0, 0, TimeSpan.Zero);
        IEnumerable<SoundRecorded> Sound(string? named, int minutes) =>
            named is null
                ? []
                :
                [
                    new("", "thump", "", false)
                    {
                        At = fitted.AddMinutes(minutes),
                        Heard = new(
                            10,
                            -30,
                            1,
                            named == "none" ? 1 : 0,
                            true,
                            "",
                            named == "none" ? [] : [new(named, named, [], 6, 1)]
                        ),
                    },
                ];
        var part = new PartFitted("roller-left", FittedAs.Replaced, "", [], "") { At = fitted };
        var state = JobState.Empty with
        {
            Fitted = JobState.Empty.Fitted.SetItem("roller-left", part),
            Sounds = [.. Sound(before, -60), .. Sound(after, 60)],
        };
        // What was recorded by hand with the belt off, before or after, changes nothing of it.
        state = state with
        {
            Sounds =
            [
                .. state.Sounds.SelectMany(s =>
                    new[]
                    {
                        s,
                        s with
                        {
                            At = s.At.AddMinutes(1),
                            ByHand = true,
                            Belt = "off",
                            Heard = s.Heard! with { None = 1, Sources = [] },
                        },
                    }
                ),
            ],
        };
        var compared = HeardAfter.Of(state)!;
        Assert.Equal(verdict, compared.Verdict);
        Assert.Contains(words, compared.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void It_is_not_asked_for_again_and_an_answer_given_in_words_wins()
    {
        var rhythm = Beat("chirp", Source(Mechanism.Idler).Hz);
        var state = JobState.Empty with { Complaints = ["chirp"], Rhythms = [rhythm] };
        var told = new Dictionary<string, string> { ["chirp"] = "yes" };
        var heard = Machine.Diagnostician.Diagnose(QuestionOfJob.Of(state, Machine, told), CancellationToken.None);
        Assert.DoesNotContain(heard.Checks, c => c.Finding.Id == "chirp-rate");
        Assert.Contains(heard.Causes[0].Because, w => w.FindingId == "chirp-rate");
        told["chirp-rate"] = "roller";
        var answered = Machine.Diagnostician.Diagnose(QuestionOfJob.Of(state, Machine, told), CancellationToken.None);
        var plain = Machine.Diagnostician.Diagnose(
            QuestionOfJob.Of(state with { Rhythms = [] }, Machine, told),
            CancellationToken.None
        );
        Assert.Equal(
            plain.Causes.Select(c => (c.Fault.Id, Math.Round(c.Probability, 9))),
            answered.Causes.Select(c => (c.Fault.Id, Math.Round(c.Probability, 9)))
        );
    }
}
