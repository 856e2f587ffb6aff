namespace Idrum.Core.Jobs.Log;

/// <summary>In what reality may differ from the plan, as the log writes it.</summary>
public static class Problem
{
    /// <summary>A screw more than the layout knows.</summary>
    public const string ExtraScrew = "extra-screw";

    /// <summary>A screw less.</summary>
    public const string MissingScrew = "missing-screw";

    /// <summary>A screw that was missing turned up.</summary>
    public const string FoundScrew = "found-screw";

    /// <summary>Somebody did it before.</summary>
    public const string AlreadyDone = "already-done";

    /// <summary>This machine does not have it.</summary>
    public const string Absent = "absent";

    /// <summary>Wanted first, blocks nothing, and is not done.</summary>
    public const string LeftOut = "left-out";

    /// <summary>It does not come off.</summary>
    public const string Stuck = "stuck";

    /// <summary>It broke.</summary>
    public const string Broken = "broken";

    /// <summary>A cable tie was cut.</summary>
    public const string TieCut = "tie-cut";

    /// <summary>Colours or places other than the layout’s.</summary>
    public const string OtherWires = "other-wires";

    /// <summary>A screw of another kind than the layout’s.</summary>
    public const string OtherScrew = "other-screw";

    /// <summary>Something else.</summary>
    public const string Other = "other";
}
