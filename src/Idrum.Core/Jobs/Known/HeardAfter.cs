using Idrum.Core.Basics;
using Idrum.Core.Jobs.Log;

namespace Idrum.Core.Jobs.Known;

/// <summary>What became of a noise after the repair.</summary>
public enum HeardAgain
{
    /// <summary>It is gone.</summary>
    Gone,

    /// <summary>It is there as before.</summary>
    Left,

    /// <summary>There is another.</summary>
    New,

    /// <summary>No part comes round in it, before or after.</summary>
    Quiet,

    /// <summary>Nobody recorded after the repair.</summary>
    NotHeard,
}

/// <summary>The noise before the repair beside the noise after it.</summary>
/// <param name="Before">The last recording before the first part was fitted; null where none was made.</param>
/// <param name="After">The last one since; null where none was made.</param>
public sealed record HeardAfter(SoundRecorded? Before, SoundRecorded? After)
{
    /// <summary>Of a job; null where nothing was recorded.</summary>
    /// <param name="state">The job.</param>
    public static HeardAfter? Of(JobState state)
    {
        bool Repaired(SoundRecorded s) => Since(state) is { } since && s.Happened >= since;
        // With the belt off half of the machine stands still: that says nothing of how it was or is.
        List<SoundRecorded> told = [.. state.Sounds.Where(s => s is { Heard.Enough: true, Belt: not "off" })];
        var after = told.LastOrDefault(Repaired);
        // What was felt is set against what was felt, by hand against by hand.
        var before = told.LastOrDefault(s =>
            !Repaired(s) && (after is null ? !s.ByHand : s.Felt == after.Felt && s.ByHand == after.ByHand)
        );
        return before is null && after is null ? null : new(before, after);
    }

    /// <summary>When the first part was fitted; null where none was.</summary>
    internal static DateTimeOffset? Since(JobState state) =>
        state.Fitted.IsEmpty ? null : state.Fitted.Values.Min(f => f.Happened);

    /// <summary>What became of the noise.</summary>
    public HeardAgain Verdict =>
        (Before?.Heard?.Named?.Mechanism, After?.Heard) switch
        {
            (_, null) => HeardAgain.NotHeard,
            ({ } was, { Named: { } now }) when now.Mechanism == was => HeardAgain.Left,
            (_, { Named: not null }) => HeardAgain.New,
            (null, _) => HeardAgain.Quiet,
            _ => HeardAgain.Gone,
        };

    /// <summary>The same in a sentence.</summary>
    public string Words =>
        Verdict switch
        {
            HeardAgain.Gone =>
                $"Gone: {Name(Before!)} is not heard any more ({Sure(1 - After!.Heard!.None)} that any part sounds).",
            HeardAgain.Left =>
                $"Still there: {Name(After!)}, {HeardRhythm.InTen(After!.Heard!.Named!.Probability)}, as before.",
            HeardAgain.New when Before is null =>
                $"Heard after the repair: {Name(After!)}, {HeardRhythm.InTen(After!.Heard!.Named!.Probability)}.",
            HeardAgain.Quiet when Before is null =>
                "No part comes round in it after the repair; nothing was recorded before.",
            HeardAgain.New =>
                $"Something else now: {Name(After!)}, {HeardRhythm.InTen(After!.Heard!.Named!.Probability)}.",
            HeardAgain.Quiet => "No part comes round in it, before or after.",
            _ => $"Before: {Name(Before!)}. Record the same spot again, at the same warmth, to compare.",
        };

    private static string Sure(double p) => p < 0.005 ? "less than 1 in 100" : $"{Math.Round(100 * p):0} in 100";

    private static string Name(SoundRecorded s) =>
        s.Heard?.Named is { } named ? named.Name.Inside() : "no part that comes round";
}
