namespace Idrum.Core.Basics;

/// <summary>How long a search may go on. By a clock that is handed in; without one by the work done, so that the same question always
/// ends at the same place.</summary>
/// <param name="clock">Measures the time; null to count work.</param>
/// <param name="span">How long; <see cref="Timeout.InfiniteTimeSpan"/> for no end.</param>
public sealed class Allowance(TimeProvider? clock, TimeSpan span)
{
    /// <summary>Branches that count as a second where there is no clock: about what one core looks at in one.</summary>
    public const double WorkPerSecond = 100_000;

    private readonly long started = clock?.GetTimestamp() ?? 0;
    private readonly bool endless = span == Timeout.InfiniteTimeSpan;
    private long work;

    /// <summary>Whether it is used up.</summary>
    public bool Over =>
        !endless && (clock is null ? work > span.TotalSeconds * WorkPerSecond : clock.GetElapsedTime(started) > span);

    /// <summary>Counts work that was done.</summary>
    /// <param name="branches">How many branches were looked at.</param>
    public void Spend(int branches) => work += branches;
}
