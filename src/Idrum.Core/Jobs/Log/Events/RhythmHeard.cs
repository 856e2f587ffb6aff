using System.Globalization;
using System.Text.Json.Serialization;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Listening;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The rhythm of a noise was followed: tapped, matched with a beat, or counted in turns of the drum by hand. Kept
/// as it was made; what it says of the parts is worked out from it and the machine.</summary>
/// <param name="Sound">chirp, thump or double (a double knock).</param>
/// <param name="Way">taps, beat or count.</param>
/// <param name="Taps">When the taps were made, ms, rising, with spaces between; empty where there are none.</param>
/// <param name="Beat">Beats a second that went with the noise.</param>
/// <param name="Count">Noises counted by hand.</param>
/// <param name="Turns">In how many turns of the drum they were counted.</param>
/// <param name="TwentySeconds">How long twenty turns of the drum took with the machine running, s; null where nobody
/// counted.</param>
/// <param name="SlowedBy">How many times slower the recording was played that was tapped to, 1, 2 or 4; null as it
/// was.</param>
/// <param name="MainsHertz">Mains, 50 or 60 Hz.</param>
public sealed record RhythmHeard(
    string Sound,
    string Way,
    string Taps,
    double? Beat,
    double? Count,
    double? Turns,
    double? TwentySeconds,
    double? SlowedBy,
    int MainsHertz
) : JobEvent
{
    /// <summary>Not tapped along, but marked in the picture of a recording.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Marked { get; init; }

    private static readonly string[] Sounds = [SoundWord.Chirp, SoundWord.Thump, SoundWord.Double];

    internal override bool StandsAlone => true;

    internal override ActEffect Effect => ActEffect.Unforeseen;

    /// <summary>The times of the taps, s; null where the text is none.</summary>
    internal IReadOnlyList<double>? Seconds()
    {
        var seconds = new List<double>();
        foreach (var word in Taps.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (
                !double.TryParse(word, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var ms)
                || seconds.Count > 0 && ms / 1000 < seconds[^1]
            )
            {
                return null;
            }
            seconds.Add(ms / 1000);
        }
        return seconds;
    }

    internal override void Check(JobCheck check)
    {
        var errors = check.Errors;
        errors.If(!Sounds.Contains(Sound), "sound", "Say what you hear: a chirp, a thump or a double knock.");
        errors.If(MainsHertz is not (50 or 60), "mainsHertz", "The mains have 50 or 60 Hz.");
        errors.If(
            TwentySeconds is { } t && !(t is >= 6 and <= 120),
            "twentySeconds",
            "Twenty turns of a drum take some 20 to 30 s; 6 to 120 are taken."
        );
        errors.If(SlowedBy is not (null or 1 or 2 or 4), "slowedBy", "A recording is played two or four times slower.");
        switch (Way)
        {
            case "taps":
                errors.If(Seconds() is null, "taps", "The times of the taps rise, in milliseconds.");
                errors.If(
                    Seconds() is { } taps && Listening.TapRhythm.Of(taps) is null,
                    "taps",
                    $"Too few taps for a rhythm: {Listening.TapRhythm.Fewest} at least, ten are better."
                );
                break;
            case "beat":
                errors.If(!(Beat is >= 0.2 and <= 40), "beat", "A beat of 0.2 to 40 a second.");
                break;
            case "count":
                errors.If(!(Count is >= 1 and <= 500), "count", "How many did you count? 1 to 500.");
                errors.If(!(Turns is >= 1 and <= 50), "turns", "In how many turns of the drum? 1 to 50.");
                break;
            default:
                errors.Add("way", "A rhythm is tapped, matched with a beat, or counted.");
                break;
        }
    }

    internal override JobState Apply(JobState state) => state with { Rhythms = state.Rhythms.Add(this) };

    /// <inheritdoc />
    public override string Words(MachineKnowledge machine) =>
        HeardRhythm.Of(this, machine.Layout) is { } heard ? $"Heard: {Name}, {heard.Words}" : $"Heard: {Name}";

    /// <summary>What was heard, in words.</summary>
    public string Name =>
        Sound switch
        {
            SoundWord.Chirp => "chirp",
            SoundWord.Thump => "thump",
            _ => "double knock",
        };
}
