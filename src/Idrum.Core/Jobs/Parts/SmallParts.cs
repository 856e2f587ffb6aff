namespace Idrum.Core.Jobs.Parts;

/// <summary>Names of small parts.</summary>
internal static class SmallParts
{
    /// <summary>"retainer ring" is among "retainer rings", "large washer" among "washers".</summary>
    /// <param name="told">What a bag, a kit or a list of what comes over names; may be several.</param>
    /// <param name="piece">One piece.</param>
    public static bool Same(string told, string piece) =>
        told == piece || told == piece + "s" || told == "washers" && piece.EndsWith("washer", StringComparison.Ordinal);
}
