namespace Idrum.Core.Jobs.Log;

/// <summary>How a proof came out, as the log writes it.</summary>
public static class ProofOutcome
{
    /// <summary>As it should be.</summary>
    public const string Right = "ok";

    /// <summary>Not as it should be.</summary>
    public const string Wrong = "not-ok";

    /// <summary>Whether there is such a word.</summary>
    public static bool Knows(string outcome) => outcome is Right or Wrong;
}
