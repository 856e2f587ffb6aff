namespace Idrum.Core.Jobs.Log;

/// <summary>What heats a machine, as its card writes it.</summary>
public static class HeatSource
{
    /// <summary>Electricity.</summary>
    public const string Electric = "electric";

    /// <summary>Gas.</summary>
    public const string Gas = "gas";
}
