using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Known;

/// <summary>Two recordings by hand, the supply off: one with the belt on, one with it slipped off. What is gone was driven by
/// the belt, what stays sits where the drum lies.</summary>
/// <param name="On">The last with the belt on; null where none was made.</param>
/// <param name="Off">The last with it off; null where none was made.</param>
public sealed record HeardPair(SoundRecorded? On, SoundRecorded? Off)
{
    // Hand and breath are not alike twice; counted in HeardPairTests.
    private const double Gone = 8,
        Stays = 4.5;

    // What lies below is the hand's own.
    private const int FirstBand = 1;

    /// <summary>Shortest recording that counts, s: by hand a turn takes some four, and what strikes once a turn must strike twice.</summary>
    public const double ShortestSeconds = 8;

    /// <summary>Of a job; null where neither was made.</summary>
    /// <param name="state">The job.</param>
    public static HeardPair? Of(JobState state)
    {
        // What was heard before the repair is not set against what is heard after it.
        var since = HeardAfter.Since(state);
        SoundRecorded? Last(string belt) =>
            state.Sounds.LastOrDefault(s =>
                s.ByHand
                && s.Belt == belt
                && s.Heard?.Seconds >= ShortestSeconds
                && (since is null || s.Happened >= since)
            );
        var pair = new HeardPair(Last("on"), Last("off"));
        return pair is { On: null, Off: null } ? null : pair;
    }

    /// <summary>By how much it is quieter with the belt off, dB, in the band of pitch in which it is most so; null where one of the
    /// two is missing, or the one with the belt on is not good enough.</summary>
    public double? QuieterDb =>
        this is not { On.Heard: { Enough: true } on, Off.Heard: { } off } ? null
        : (on.BandDb, off.BandDb) is ({ } with, { } without) && with.Count == without.Count
            ? Quieter([.. with.Zip(without).Skip(FirstBand)])
        // With the belt off it was too quiet to be listened to.
        : on.LevelDb - off.LevelDb;

    // A band far below the loudest is of no account: what stirs in the room is as loud there.
    private const double OfAccount = 10;

    private static double Quieter(List<(double On, double Off)> bands)
    {
        var loudest = bands.Max(b => b.On);
        return bands.Where(b => b.On > loudest - OfAccount).Max(b => b.On - b.Off);
    }

    /// <summary>silent, sounds, or empty where it is not told: the outcomes of the check by hand with the belt off.</summary>
    public string Outcome =>
        QuieterDb switch
        {
            >= Gone => "silent",
            // What stays is heard as the same kind of noise; a noise that was hardly there to begin with proves nothing.
            <= Stays when On!.Heard!.Kind is { } kind && Off!.Heard!.Kind == kind => "sounds",
            _ => "",
        };

    /// <summary>What it says, or what is to be recorded next, in a sentence.</summary>
    public string Words =>
        On is null && Off is null ? ""
        : On is null ? "Belt off is recorded; now the belt on, by hand, the same spot and pace."
        : Off is null
            ? "Belt on is recorded; now slip the belt off the pulley and record again, the same spot and pace. Supply off all the while."
        : On.Heard is not { Enough: true } ? $"The one with the belt on is not good enough: {On.Heard?.Say}"
        : Outcome == "silent"
            ? $"Gone with the belt off ({QuieterDb:0} dB quieter): it is driven by the belt. Idler, motor, blower, or the belt itself."
        : Outcome == "sounds"
            ? "It stays with the belt off: it sits where the drum lies. Rollers and shafts, felts, glides, the bearing at the rear."
        : $"Not told: {QuieterDb:0} dB quieter with the belt off, and not plainly the same noise. Record both again at the same pace, the phone at the same place.";
}
