namespace Idrum.Core.Basics;

/// <summary>In what lengths are shown, as files write it.</summary>
public static class LengthUnit
{
    /// <summary>Millimetres.</summary>
    public const string Mm = "mm";

    /// <summary>Inches.</summary>
    public const string Inch = "inch";
}
