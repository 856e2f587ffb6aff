namespace Idrum.Core.Jobs.Log;

/// <summary>Where a part of a job is had from, as the log writes it.</summary>
public static class BoughtFrom
{
    /// <summary>It is ordered.</summary>
    public const string Supplier = "supplier";

    /// <summary>It is taken out of a van.</summary>
    public const string Van = "van";
}
