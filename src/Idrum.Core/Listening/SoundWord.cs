namespace Idrum.Core.Listening;

/// <summary>What a noise is called, as the log writes it.</summary>
public static class SoundWord
{
    /// <summary>Short and high, again and again.</summary>
    public const string Chirp = "chirp";

    /// <summary>High and steady.</summary>
    public const string Squeal = "squeal";

    /// <summary>Dull, once a turn of something.</summary>
    public const string Thump = "thump";

    /// <summary>Two knocks close together.</summary>
    public const string Double = "double";

    /// <summary>Loose and irregular.</summary>
    public const string Rattle = "rattle";

    /// <summary>Along the whole round.</summary>
    public const string Scrape = "scrape";

    /// <summary>Air and blades.</summary>
    public const string Flutter = "flutter";

    /// <summary>Rough and low.</summary>
    public const string Grind = "grind";

    /// <summary>Of the mains.</summary>
    public const string Hum = "hum";

    /// <summary>None of these.</summary>
    public const string Other = "other";
}
