using Idrum.Core.Basics;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Idrum.Core.Shop;

namespace Idrum.Core.Jobs.Log;

/// <summary>The seven stations of a job, in order.</summary>
public enum Station
{
    /// <summary>What is wrong, with which machine.</summary>
    Complaint,

    /// <summary>Which fault.</summary>
    Find,

    /// <summary>Open as far as needed.</summary>
    Strip,

    /// <summary>Replace.</summary>
    Fit,

    /// <summary>Put back.</summary>
    Rebuild,

    /// <summary>Prove it.</summary>
    Prove,

    /// <summary>Close the record.</summary>
    Close,
}

/// <summary>Stations in words.</summary>
public static class StationName
{
    /// <summary>What a station is called on pages and in files for people.</summary>
    /// <param name="station">The station.</param>
    public static string Named(this Station station)
    {
        var word = station.Word();
        return char.ToUpperInvariant(word[0]) + word[1..];
    }
}

/// <summary>From a job to what the shop knows of its machine.</summary>
public static class JobMachine
{
    /// <summary>Knowledge of a job's machine.</summary>
    /// <exception cref="ArgumentException">The shop has no such layout.</exception>
    public static MachineKnowledge MachineOf(this ShopSnapshot shop, JobState state) =>
        shop.LayoutOf(state) is { } layout
            ? shop.For(layout, state.FactsOf(layout), state.Schools)
            : throw new ArgumentException($"The shop has no layout '{state.Machine.LayoutId}'.", nameof(state));

    /// <summary>The layout a job is worked with: the one it pins, else the shop's present one; null where there is
    /// none.</summary>
    public static Layout? LayoutOf(this ShopSnapshot shop, JobState state) =>
        shop.FindPinned(state.LayoutHash) ?? shop.FindLayout(state.Machine.LayoutId);
}
