namespace Idrum.Core.Diagnosis;

/// <summary>What may be decided about a cause, as the log writes it.</summary>
public static class Decided
{
    /// <summary>It is put right now.</summary>
    public const string Change = "change";

    /// <summary>It is left as it is.</summary>
    public const string Leave = "leave";

    /// <summary>Another trade is asked for it.</summary>
    public const string HandOver = "hand-over";

    /// <summary>Nothing yet: it was opened to look.</summary>
    public const string Look = "look";

    /// <summary>All of them, with words.</summary>
    public static IReadOnlyList<(string Id, string Words)> All { get; } =
    [(Change, "Put right now"), (Leave, "Leave as it is"), (HandOver, "Hand over"), (Look, "Opened to look")];
}
