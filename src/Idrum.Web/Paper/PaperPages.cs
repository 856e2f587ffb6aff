using SkiaSharp;

namespace Idrum.Web.Paper;

/// <summary>Pages that fill from above: lines, rows and pictures are laid down one after the other, and drawn once it is
/// known how many pages there are.</summary>
internal sealed class PaperPages(PaperType type, float width, float height)
{
    private const float Margin = 56;
    private const float Foot = 30;

    private readonly List<List<Action<SKCanvas>>> pages =
    [
        [],
    ];
    private float y = Margin;

    /// <summary>Width of a line, points.</summary>
    internal float Wide => width - 2 * Margin;

    private float Bottom => height - Margin;

    /// <summary>Leaves room, but not at the head of a page.</summary>
    internal void Space(float points)
    {
        if (y > Margin)
        {
            y += points;
        }
    }

    /// <summary>Begins a new page where so much does not fit on this one.</summary>
    internal void Keep(float points)
    {
        if (y + points > Bottom && y > Margin)
        {
            pages.Add([]);
            y = Margin;
        }
    }

    /// <summary>Lines of text.</summary>
    /// <param name="lines">As they are set.</param>
    /// <param name="size">Size of the type, points.</param>
    /// <param name="indent">From the margin, points.</param>
    internal void Text(IReadOnlyList<PaperLine> lines, float size, float indent = 0)
    {
        foreach (var line in lines)
        {
            Keep(size * PaperType.Lead);
            Draw(line, Margin + indent, y, size);
            y += size * PaperType.Lead;
        }
    }

    /// <summary>A row of a table, whole where it fits on a page.</summary>
    /// <param name="cells">Lines of each cell.</param>
    /// <param name="columns">Where each begins and how wide it is, points from the margin.</param>
    /// <param name="right">Which are set to the right.</param>
    /// <param name="again">Draws the head anew on a new page.</param>
    internal void Row(
        IReadOnlyList<IReadOnlyList<PaperLine>> cells,
        IReadOnlyList<(float X, float Width)> columns,
        IReadOnlyList<bool> right,
        Action? again
    )
    {
        const float lead = PaperType.TextSize * PaperType.Lead;
        const float pad = 2.5f;
        var tall = cells.Max(c => c.Count);
        for (var done = 0; done < tall; )
        {
            var left = tall - done;
            var fit = (int)((Bottom - y - 2 * pad) / lead);
            var whole = (int)((Bottom - Margin - 4 * lead) / lead);
            if (fit < left && (left <= whole || fit < 2))
            {
                Keep(float.MaxValue);
                again?.Invoke();
                fit = (int)((Bottom - y - 2 * pad) / lead);
            }
            var now = Math.Min(left, Math.Max(1, fit));
            for (var c = 0; c < cells.Count; c++)
            {
                for (var l = done; l < Math.Min(done + now, cells[c].Count); l++)
                {
                    var line = cells[c][l];
                    Draw(
                        line,
                        Margin + columns[c].X + (right[c] ? columns[c].Width - line.Width : 0),
                        y + pad + (l - done) * lead,
                        PaperType.TextSize
                    );
                }
            }
            y += now * lead + 2 * pad;
            var under = y;
            pages[^1]
                .Add(canvas =>
                {
                    using var pen = new SKPaint { Color = new(0x8c, 0x8a, 0x84), StrokeWidth = 0.5f };
                    canvas.DrawLine(Margin, under, Margin + Wide, under, pen);
                });
            done += now;
        }
    }

    /// <summary>A picture of a width, or smaller where it would be higher than half a page.</summary>
    internal void Picture(SKImage picture, float wide)
    {
        var scale = Math.Min(wide / picture.Width, (height - 2 * Margin) / 2 / picture.Height);
        Keep(picture.Height * scale + 6);
        var place = SKRect.Create(Margin, y, picture.Width * scale, picture.Height * scale);
        pages[^1].Add(canvas => canvas.DrawImage(picture, place, new SKSamplingOptions(SKCubicResampler.Mitchell)));
        y += place.Height + 6;
    }

    /// <summary>A frame round what was laid down since a height on the same page.</summary>
    internal (int Page, float Y) Here => (pages.Count, y);

    /// <summary>Draws a frame from a place to here, where both are on one page.</summary>
    internal void Frame((int Page, float Y) from)
    {
        if (from.Page != pages.Count)
        {
            return;
        }
        var frame = SKRect.Create(Margin - 5, from.Y - 2, Wide + 10, y - from.Y + 3);
        pages[^1]
            .Add(canvas =>
            {
                using var pen = new SKPaint { IsStroke = true, StrokeWidth = 1 };
                canvas.DrawRect(frame, pen);
            });
    }

    /// <summary>The pages as a PDF, each with the title and its number at its foot.</summary>
    internal byte[] Write(string title)
    {
        using var file = new MemoryStream();
        using (
            var document = SKDocument.CreatePdf(file, new SKDocumentPdfMetadata { Title = title, Creator = "Idrum" })
        )
        {
            for (var n = 0; n < pages.Count; n++)
            {
                using var canvas = document.BeginPage(width, height);
                foreach (var mark in pages[n])
                {
                    mark(canvas);
                }
                var font = type.Of(false, 8.5f);
                var of = $"page {n + 1} of {pages.Count}";
                using var ink = new SKPaint { IsAntialias = true };
                canvas.DrawText(title, Margin, height - Foot, font, ink);
                canvas.DrawText(of, width - Margin - font.MeasureText(of), height - Foot, font, ink);
                document.EndPage();
            }
            document.Close();
        }
        return file.ToArray();
    }

    private void Draw(PaperLine line, float x, float top, float size) =>
        pages[^1]
            .Add(canvas =>
            {
                using var ink = new SKPaint { Color = new(0x20, 0x26, 0x2b), IsAntialias = true };
                foreach (var (at, text, bold) in line.Words)
                {
                    canvas.DrawText(text, x + at, top + size, type.Of(bold, size), ink);
                }
            });
}
