namespace Idrum.Core.Practice;

/// <summary>When a card comes again: boxes after Leitner (So lernt man lernen, 1972). A right answer puts it one box on, a wrong one back
/// into the first.</summary>
public static class DrillBoxes
{
    /// <summary>Days until a card of each box comes again.</summary>
    public static IReadOnlyList<int> Days { get; } = [0, 1, 3, 7, 16, 35];

    /// <summary>The box after an answer.</summary>
    /// <param name="box">The box before, from 0.</param>
    /// <param name="right">Whether it was right.</param>
    public static int Next(int box, bool right) => right ? Math.Min(Math.Max(0, box) + 1, Days.Count - 1) : 0;
}
