using Idrum.Core.Machines;

namespace Idrum.Core.Teardown;

/// <summary>The sets of tools that would do for a step: one tool of each of its uses.</summary>
/// <param name="Sets">Different sets, one bit a tool, the usual one first; at most <see cref="Most"/>.</param>
/// <param name="Surely">Tools that stand in every set, those left out of <paramref name="Sets"/> too.</param>
/// <param name="Complete">Whether no set was left out.</param>
public sealed record ToolChoice(ulong[] Sets, ulong Surely, bool Complete)
{
    /// <summary>Most sets looked at for one step.</summary>
    public const int Most = 256;

    /// <summary>By bare hand.</summary>
    public static ToolChoice None { get; } = new([0UL], 0, true);

    /// <summary>One set and no other.</summary>
    public static ToolChoice Only(ulong set) => new([set], set, true);

    /// <summary>All choices among alternatives.</summary>
    /// <param name="uses">The tools of a step.</param>
    /// <param name="bit">The bit of a tool.</param>
    public static ToolChoice Of(IReadOnlyList<ToolUse> uses, Func<string, ulong> bit)
    {
        List<ulong> sets = [0UL];
        var complete = true;
        foreach (var use in uses)
        {
            sets = [.. sets.SelectMany(s => use.Any.Select(t => s | bit(t))).Distinct()];
            complete &= sets.Count <= Most;
            sets = sets.Count > Most ? sets[..Most] : sets;
        }
        var surely = complete
            ? sets.Aggregate(ulong.MaxValue, (s, o) => s & o)
            : uses.Where(u => u.Any.Distinct().Count() == 1).Aggregate(0UL, (s, u) => s | bit(u.Any[0]));
        return new([.. sets], surely, complete);
    }
}
