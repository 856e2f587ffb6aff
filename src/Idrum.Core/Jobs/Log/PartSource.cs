namespace Idrum.Core.Jobs.Log;

/// <summary>Where a part that goes in is from, as the log writes it.</summary>
public static class PartSource
{
    /// <summary>Out of what was ordered for this job.</summary>
    public const string Order = "order";

    /// <summary>Out of the van.</summary>
    public const string Van = "van";

    /// <summary>Whoever repairs had it, and it is paid for.</summary>
    public const string Had = "had";

    /// <summary>The customer brought it, and it is not paid for.</summary>
    public const string Customer = "customer";

    /// <summary>The old one went back in: it is good.</summary>
    public const string Old = "old";

    /// <summary>All of them, with words.</summary>
    public static IReadOnlyList<(string Id, string Words)> All { get; } =
    [
        (Order, "from this order"),
        (Van, "out of the van"),
        (Had, "I had it"),
        (Customer, "the customer's own"),
        (Old, "the old one, good"),
    ];

    /// <summary>In words; empty where nobody said.</summary>
    public static string Words(string? source) => All.FirstOrDefault(s => s.Id == source).Words ?? "";
}
