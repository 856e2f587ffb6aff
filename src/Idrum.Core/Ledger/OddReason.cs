namespace Idrum.Core.Ledger;

/// <summary>Why a count does not come out even, as the log writes it.</summary>
public static class OddReason
{
    /// <summary>It was missing already.</summary>
    public const string WasMissing = "was-missing";

    /// <summary>It stays in its hole.</summary>
    public const string LeftIn = "left-in";

    /// <summary>It fell inside, and is still to be found.</summary>
    public const string FellIn = "fell-in";

    /// <summary>The machine has more of them.</summary>
    public const string OneMore = "one-more";

    /// <summary>No hole asks for it.</summary>
    public const string LeftOver = "left-over";

    /// <summary>It was looked for and not found.</summary>
    public const string Lost = "lost";

    /// <summary>It is still to be found.</summary>
    public const string ToFind = "to-find";

    /// <summary>One was taken from stock for a missing one.</summary>
    public const string FromStock = "from-stock";

    /// <summary>One was taken from another tray, and is to be exchanged.</summary>
    public const string FromOther = "from-other";

    /// <summary>One of the missing turned up.</summary>
    public const string Found = "found";
}
