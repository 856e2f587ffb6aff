namespace Idrum.Core.Jobs.Log;

/// <summary>What may be done with a part, as the log writes it.</summary>
public static class FittedAs
{
    /// <summary>Another took its place.</summary>
    public const string Replaced = "replaced";

    /// <summary>It was cleaned and went back.</summary>
    public const string Cleaned = "cleaned";

    /// <summary>It was put right where it is.</summary>
    public const string Adjusted = "adjusted";

    /// <summary>Nothing was done.</summary>
    public const string Left = "left";

    /// <summary>Whether there is such a word.</summary>
    public static bool Knows(string action) => action is Replaced or Cleaned or Adjusted or Left;
}
