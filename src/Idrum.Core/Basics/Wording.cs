namespace Idrum.Core.Basics;

/// <summary>How a text of the content is set into a sentence.</summary>
public static class Wording
{
    /// <summary>The text as it stands inside a sentence: its first letter small, unless what follows shows that the letter
    /// is not there for the sentence's sake (<c>QD-62</c>, <c>LED</c>, <c>V-groove</c>). An empty text stays empty.</summary>
    public static string Inside(this string text) =>
        text.Length == 0 || (text.Length > 1 && (char.IsUpper(text[1]) || char.IsDigit(text[1]) || text[1] == '-'))
            ? text
            : char.ToLowerInvariant(text[0]) + text[1..];
}
