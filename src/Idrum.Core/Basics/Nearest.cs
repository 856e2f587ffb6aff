namespace Idrum.Core.Basics;

/// <summary>The known word nearest to one that is not known, for messages.</summary>
public static class Nearest
{
    private const int MostLooked = 2000;

    /// <summary>A sentence that names the nearest known id, or nothing where none is near.</summary>
    /// <param name="id">What stands there.</param>
    /// <param name="known">What could stand there.</param>
    /// <returns><c> Did you mean 'x'?</c> with a space before it, or the empty text.</returns>
    public static string Hint(string id, IEnumerable<string> known) =>
        Of(id, known) is { } near ? $" Did you mean '{near}'?" : "";

    /// <summary>The nearest of the known ids by letters changed, left out, added or swapped (optimal string alignment
    /// distance); of several the first.</summary>
    /// <param name="id">What stands there.</param>
    /// <param name="known">What could stand there.</param>
    /// <returns>Null where none is within half of its letters.</returns>
    public static string? Of(string id, IEnumerable<string> known)
    {
        if (id.Length is 0 or > 80)
        {
            return null;
        }
        var (best, least) = ((string?)null, Math.Max(1, id.Length / 2) + 1);
        foreach (var word in known.Where(k => k != id).Take(MostLooked))
        {
            var distance = Distance(id, word, least);
            if (distance < least)
            {
                (best, least) = (word, distance);
            }
        }
        return best;
    }

    private static int Distance(string a, string b, int enough)
    {
        if (Math.Abs(a.Length - b.Length) >= enough)
        {
            return enough;
        }
        var (before, last, row) = (
            new int[b.Length + 1],
            Enumerable.Range(0, b.Length + 1).ToArray(),
            new int[b.Length + 1]
        );
        for (var i = 1; i <= a.Length; i++)
        {
            row[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                row[j] = Math.Min(Math.Min(row[j - 1], last[j]) + 1, last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1));
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                {
                    row[j] = Math.Min(row[j], before[j - 2] + 1);
                }
            }
            (before, last, row) = (last, row, before);
        }
        return last[b.Length];
    }
}
