using System.Globalization;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using SkiaSharp;

namespace Idrum.Web.Paper;

/// <summary>A page of the application as a PDF: what the page says and nothing of its controls, so that there is one
/// writing of it.</summary>
internal sealed class PaperSheet
{
    private const float PointsPerMm = 72 / 25.4f;
    private const float ColumnGap = 8;

    private readonly PaperType type;
    private readonly PaperPages pages;
    private readonly Func<string, byte[]?> pictures;
    private readonly List<SKImage> held = [];

    private PaperSheet(PaperType type, PaperPages pages, Func<string, byte[]?> pictures)
    {
        this.type = type;
        this.pages = pages;
        this.pictures = pictures;
    }

    /// <summary>The sheet of a page.</summary>
    /// <param name="html">The page as it is shown.</param>
    /// <param name="paper">A4 or Letter.</param>
    /// <param name="fonts">Where the typefaces lie.</param>
    /// <param name="pictures">A picture's bytes by its address on the page; null where it is gone.</param>
    internal static byte[] Of(string html, string paper, string fonts, Func<string, byte[]?> pictures)
    {
        var main = new HtmlParser().ParseDocument(html).QuerySelector("main")!;
        foreach (var control in main.QuerySelectorAll(".no-print, form, script, link, svg, noscript").ToList())
        {
            control.Remove();
        }
        var (wide, high) = paper == "Letter" ? (612f, 792f) : (210 * PointsPerMm, 297 * PointsPerMm);
        using var type = new PaperType(fonts);
        var pages = new PaperPages(type, wide, high);
        var sheet = new PaperSheet(type, pages, pictures);
        try
        {
            sheet.Blocks(main);
            return pages.Write(Plain(main.QuerySelector("h1")));
        }
        finally
        {
            sheet.held.ForEach(p => p.Dispose());
        }
    }

    private void Blocks(IElement parent)
    {
        foreach (var block in parent.Children)
        {
            switch (block)
            {
                case { LocalName: "h1" }:
                    Heading(block, 24);
                    break;
                case { LocalName: "h2" or "h3" }:
                    Heading(block, 15);
                    break;
                case { LocalName: "p" or "figcaption" or "dt" or "dd" }:
                    Written(block);
                    break;
                case { LocalName: "li" }:
                    Item(block);
                    break;
                case IHtmlTableElement table:
                    Table(table);
                    break;
                case IHtmlImageElement picture:
                    Picture(picture);
                    break;
                default:
                    Blocks(block);
                    break;
            }
        }
    }

    private void Heading(IElement block, float size)
    {
        pages.Space(size * 0.7f);
        var lines = type.Lines(Words(block), pages.Wide, size);
        // A heading does not stand alone at the foot of a page.
        pages.Keep(lines.Count * size * PaperType.Lead + 3.5f * PaperType.TextSize * PaperType.Lead);
        pages.Text(lines, size);
        pages.Space(3);
    }

    private void Written(IElement block)
    {
        if (block.QuerySelector("img") is IHtmlImageElement picture)
        {
            Picture(picture);
        }
        var head = block.ClassList.Contains("letterhead");
        var lines = type.Lines(head ? Letterhead(block) : Words(block), pages.Wide, PaperType.TextSize);
        if (lines.Count == 0)
        {
            return;
        }
        var framed = block.ClassList.Contains("wrong");
        pages.Keep(framed ? lines.Count * PaperType.TextSize * PaperType.Lead + 8 : 0);
        pages.Space(framed ? 4 : 0);
        var from = pages.Here;
        pages.Text(lines, PaperType.TextSize);
        if (framed)
        {
            pages.Frame(from);
        }
        pages.Space(head ? 14 : 5);
    }

    private void Item(IElement block)
    {
        const float indent = 12;
        var lines = type.Lines(Words(block), pages.Wide - indent, PaperType.TextSize);
        if (lines.Count > 0)
        {
            var dash = new PaperLine([(-indent + 2, "–", false), .. lines[0].Words], lines[0].Width);
            pages.Text([dash, .. lines.Skip(1)], PaperType.TextSize, indent);
            pages.Space(2);
        }
    }

    private void Table(IHtmlTableElement from)
    {
        var rows = from.Rows.Where(r => r.Cells.Length > 0).ToList();
        if (rows.Count == 0)
        {
            return;
        }
        var columns = Columns(rows, rows.Max(r => r.Cells.Length));
        var heads = rows.Where(r => r.ParentElement is { LocalName: "thead" }).ToList();
        var right = columns.Select((_, n) => n > 0 && OfNumbers(rows.Except(heads), n)).ToList();
        void Lay(IHtmlTableRowElement row, bool head)
        {
            var cells = row
                .Cells.Select((c, n) => type.Lines(Words(c, head), columns[n].Width, PaperType.TextSize))
                .ToList();
            if (cells.Any(c => c.Count > 0))
            {
                pages.Row(cells, columns, right, head ? null : () => heads.ForEach(h => Lay(h, true)));
            }
        }
        foreach (var row in rows)
        {
            Lay(row, heads.Contains(row));
        }
        pages.Space(6);
    }

    /// <summary>Where columns begin and how wide they are: by the square root of their longest words, so that long ones
    /// wrap and short ones keep their line.</summary>
    private List<(float X, float Width)> Columns(IReadOnlyList<IHtmlTableRowElement> rows, int count)
    {
        var shares = Enumerable
            .Range(0, count)
            .Select(n =>
                MathF.Sqrt(Math.Clamp(rows.Where(r => r.Cells.Length > n).Max(r => Plain(r.Cells[n]).Length), 6, 120))
            )
            .ToList();
        var (x, room) = (0f, pages.Wide - ColumnGap * (count - 1));
        return
        [
            .. shares.Select(share =>
            {
                var column = (X: x, Width: room * share / shares.Sum());
                x += column.Width + ColumnGap;
                return column;
            }),
        ];
    }

    private void Picture(IHtmlImageElement from)
    {
        if (pictures(from.GetAttribute("src") ?? "") is { } bytes && SKImage.FromEncodedData(bytes) is { } picture)
        {
            held.Add(picture);
            pages.Picture(picture, (from.ClassList.Contains("logo") ? 40 : 80) * PointsPerMm);
            return;
        }
        var words = from.AlternativeText is { Length: > 0 } alt ? alt : "picture";
        pages.Text(
            type.Lines([new($"({words}: not here)", false, false)], pages.Wide, PaperType.TextSize),
            PaperType.TextSize
        );
    }

    /// <summary>Whether most of a column is numbers.</summary>
    private static bool OfNumbers(IEnumerable<IHtmlTableRowElement> rows, int column)
    {
        var filled = rows.Where(r => r.Cells.Length > column)
            .Select(r => Plain(r.Cells[column]))
            .Where(t => t.Trim('–').Length > 0)
            .ToList();
        return filled.Count(t => double.TryParse(t, NumberStyles.Float, CultureInfo.InvariantCulture, out _))
            > filled.Count * 0.6;
    }

    private static IEnumerable<PaperWord> Letterhead(IElement block) =>
        block
            .TextContent.Trim()
            .Split('\n')
            .SelectMany(line => line.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Append(""))
            .Select(word => new PaperWord(word, false, false));

    private static string Plain(IElement? element) =>
        element is null
            ? ""
            : string.Join(' ', element.TextContent.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    /// <summary>The words of an element, strong ones told apart, in order.</summary>
    private static List<PaperWord> Words(INode from, bool bold = false)
    {
        var words = new List<PaperWord>();
        var glued = false;
        void Walk(INode node, bool strong)
        {
            foreach (var child in node.ChildNodes)
            {
                if (child is IText text && text.Data.Length > 0)
                {
                    glued &= !char.IsWhiteSpace(text.Data[0]);
                    foreach (var word in text.Data.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))
                    {
                        words.Add(new(word, strong, glued));
                        glued = false;
                    }
                    glued = !char.IsWhiteSpace(text.Data[^1]);
                }
                else if (child is IElement element)
                {
                    // What stands on a line of its own is a line of its own.
                    if (element.LocalName is "small" or "br" or "p" or "li" && words.Count > 0)
                    {
                        words.Add(new("", false, false));
                        glued = false;
                    }
                    Walk(element, strong || element.LocalName is "b" or "strong");
                }
            }
        }
        Walk(from, bold);
        return words;
    }
}
