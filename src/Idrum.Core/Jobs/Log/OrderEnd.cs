namespace Idrum.Core.Jobs.Log;

/// <summary>How an order ends, as the log writes it.</summary>
public static class OrderEnd
{
    /// <summary>It came.</summary>
    public const string Came = "came";

    /// <summary>It came, and was wrong.</summary>
    public const string Wrong = "wrong";

    /// <summary>It cannot be had.</summary>
    public const string Missing = "missing";
}
