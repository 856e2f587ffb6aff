using SkiaSharp;

namespace Idrum.Web.Paper;

/// <summary>The page's own typefaces, for paper: nothing of the system's is used, so a sheet looks the same
/// everywhere.</summary>
internal sealed class PaperType : IDisposable
{
    /// <summary>Size of running text, points.</summary>
    internal const float TextSize = 10;

    /// <summary>From line to line, by the size of the type.</summary>
    internal const float Lead = 1.32f;

    private readonly SKTypeface plain;
    private readonly SKTypeface strong;
    private readonly SKTypeface head;
    private readonly Dictionary<(bool, float), SKFont> fonts = [];

    /// <param name="folder">Where the typefaces lie.</param>
    internal PaperType(string folder)
    {
        SKTypeface Face(string name) =>
            SKTypeface.FromFile(Path.Combine(folder, name + ".ttf"))
            ?? throw new FileNotFoundException($"The typeface {name} is missing.", name);
        (plain, strong, head) = (Face("atkinson-400"), Face("atkinson-700"), Face("barlow-condensed-600"));
    }

    /// <summary>Type of a size; from 12 points on that of headings.</summary>
    internal SKFont Of(bool bold, float size)
    {
        if (!fonts.TryGetValue((bold, size), out var font))
        {
            font = fonts[(bold, size)] = new SKFont(
                size > 12 ? head
                    : bold ? strong
                    : plain,
                size
            )
            {
                Subpixel = true,
                Hinting = SKFontHinting.None,
            };
        }
        return font;
    }

    /// <summary>Breaks words into lines.</summary>
    /// <param name="words">Words in order; an empty one ends a line.</param>
    /// <param name="width">Width of a line, points.</param>
    /// <param name="size">Size of the type, points.</param>
    internal List<PaperLine> Lines(IEnumerable<PaperWord> words, float width, float size)
    {
        var space = Of(false, size).MeasureText(" ");
        var (lines, line, x) = (new List<PaperLine>(), new List<(float X, string Text, bool Bold)>(), 0f);
        void End()
        {
            lines.Add(new([.. line], x));
            line.Clear();
            x = 0;
        }
        foreach (var word in words)
        {
            if (word.Text.Length == 0)
            {
                End();
                continue;
            }
            var rest = word.Text;
            var glued = word.Glued && line.Count > 0;
            while (rest.Length > 0)
            {
                var font = Of(word.Bold, size);
                var gap = line.Count == 0 || glued ? 0 : space;
                var long_ = font.MeasureText(rest);
                if (x + gap + long_ <= width)
                {
                    line.Add((x + gap, rest, word.Bold));
                    x += gap + long_;
                    break;
                }
                if (line.Count > 0)
                {
                    End();
                    glued = false;
                    continue;
                }
                // Longer than a line: broken where it must be.
                var fits = Math.Max(1, font.BreakText(rest, width));
                line.Add((0, rest[..fits], word.Bold));
                x = width;
                rest = rest[fits..];
                End();
            }
        }
        if (line.Count > 0)
        {
            End();
        }
        return lines;
    }

    public void Dispose()
    {
        foreach (var font in fonts.Values)
        {
            font.Dispose();
        }
        plain.Dispose();
        strong.Dispose();
        head.Dispose();
    }
}

/// <summary>A word to be set.</summary>
/// <param name="Text">Its letters; empty to end the line.</param>
/// <param name="Bold">Whether it is strong.</param>
/// <param name="Glued">Whether it follows the word before it without a space.</param>
internal sealed record PaperWord(string Text, bool Bold, bool Glued);

/// <summary>A line that is set.</summary>
/// <param name="Words">Each with where it begins, points.</param>
/// <param name="Width">How wide it is, points.</param>
internal sealed record PaperLine(IReadOnlyList<(float X, string Text, bool Bold)> Words, float Width);
