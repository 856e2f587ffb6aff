namespace Idrum.Core.Jobs.Log;

/// <summary>How a machine is joined to its supply, as its card writes it.</summary>
public static class SupplyBy
{
    /// <summary>By a plug.</summary>
    public const string Plug = "plug";

    /// <summary>Fixed: switched off and secured.</summary>
    public const string HardWired = "hard-wired";
}
