namespace Idrum.Web.Pages.Shop;

/// <summary>What a section of the shop's page answers to what was sent to it.</summary>
/// <param name="Words">What was done, or why it was not.</param>
/// <param name="Taken">Whether it was done.</param>
internal sealed record Reply(string Words, bool Taken)
{
    /// <summary>It was done; without a word where the page itself shows it.</summary>
    internal static Reply Said(string words = "") => new(words, true);

    /// <summary>It was not done, and the page says why.</summary>
    internal static Reply Refused(string why) => new(why, false);

    /// <summary>Done where nothing is wrong.</summary>
    internal static Reply Of(string wrong, string said) => wrong.Length == 0 ? Said(said) : Refused(wrong);
}
