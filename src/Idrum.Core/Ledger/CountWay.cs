namespace Idrum.Core.Ledger;

/// <summary>When fasteners are counted, as the log writes it.</summary>
public static class CountWay
{
    /// <summary>When they came out.</summary>
    public const string Out = "out";

    /// <summary>When they went back.</summary>
    public const string In = "in";
}
