using System.Globalization;
using System.Text;
using Idrum.Core.Jobs.Log;
using Idrum.Core.Listening;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>A recording over time: how loud it is from beginning to end, a few turns of it close up, and which pitch is loud
/// when.</summary>
public static class SoundTime
{
    private const int Wide = 360,
        Foot = 22;

    private static double X(double share) => 4 + (Wide - 8) * Math.Clamp(share, 0, 1);

    /// <summary>The whole of it, with a cursor that goes along while it is played.</summary>
    /// <param name="seconds">Times, s, from 0.</param>
    /// <param name="levels">Levels.</param>
    /// <param name="piece">From and to of the piece that is drawn close up, s; null where none is.</param>
    public static HtmlString Strip(
        IReadOnlyList<double> seconds,
        IReadOnlyList<double> levels,
        (double From, double To)? piece
    )
    {
        const int high = 78;
        const int ground = high - Foot;
        var length = Math.Max(seconds[^1], 0.1);
        var svg = Head(high, $"How loud it is over {length:0} seconds.", "strip");
        if (piece is { } p)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"span\" x=\"{X(p.From / length):0.#}\" y=\"2\" width=\"{Math.Max(2, X(p.To / length) - X(p.From / length)):0.#}\" height=\"{ground - 2}\"/>"
            );
        }
        var columns = new double[Wide - 8];
        for (var i = 0; i < seconds.Count; i++)
        {
            var c = Math.Min(columns.Length - 1, (int)(seconds[i] / length * columns.Length));
            columns[c] = Math.Max(columns[c], levels[i]);
        }
        var most = Math.Max(columns.Max(), 1e-12);
        svg.Append(CultureInfo.InvariantCulture, $"<path class=\"heardcurve\" d=\"M4 {ground}");
        for (var c = 0; c < columns.Length; c++)
        {
            svg.Append(CultureInfo.InvariantCulture, $"L{c + 4} {ground - (ground - 6) * columns[c] / most:0.#}");
        }
        svg.Append(CultureInfo.InvariantCulture, $"L{Wide - 4} {ground}Z\"/>");
        Ticks(svg, 0, length, high);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"cursor\" data-cursor data-length=\"{length:0.##}\" visibility=\"hidden\" d=\"M0 2V{ground}\"/></svg>"
        );
        return new(svg.ToString());
    }

    /// <summary>A long recording, piece by piece: how loud each is; in copper those from which on and until when it is
    /// heard, the upright where who stood by called it.</summary>
    /// <param name="course">What was listened through.</param>
    /// <param name="calledAt">When it was called, s; null where it was not.</param>
    public static HtmlString Course(HeardCourse course, double? calledAt)
    {
        const int high = 96;
        const int ground = high - Foot;
        // The quietest stands a little above the ground, six decibels at least from top to bottom.
        var (least, most) = (course.LevelsDb.Min(), course.LevelsDb.Max());
        var range = Math.Max(6, most - least);
        var length = course.LevelsDb.Count * course.PieceSeconds;
        var svg = Head(high, $"How loud each half minute of {length / 60:0} minutes is.", "course");
        for (var k = 0; k < course.LevelsDb.Count; k++)
        {
            var (from, to) = (k * course.PieceSeconds, (k + 1) * course.PieceSeconds);
            var heard = from >= course.BeginsAt && to <= course.EndsAt;
            var tall = 8 + (ground - 14) * (course.LevelsDb[k] - most + range) / range;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"{(heard ? "bar hot" : "bar")}\" x=\"{X(from / length):0.#}\" y=\"{ground - tall:0.#}\" width=\"{Math.Max(1, X(to / length) - X(from / length) - 1):0.#}\" height=\"{tall:0.#}\"/>"
            );
        }
        if (calledAt is { } called)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"line\" d=\"M{X(called / length):0.#} 2V{ground}\"/>"
            );
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"tick\" d=\"M{X(course.KeptFrom / length):0.#} {ground + 2}H{X(course.KeptTo / length):0.#}\"/>"
        );
        for (var minute = 0; minute * 60 <= length; minute += length > 900 ? 5 : 1)
        {
            var x = X(minute * 60 / length);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"scale\" x=\"{x:0.#}\" y=\"{high - 5}\" text-anchor=\"{(x < 20 ? "start" : x > Wide - 30 ? "end" : "middle")}\">{minute} min</text>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }

    /// <summary>Close up: the sound itself, or what was felt, with the moments at which the noise comes.</summary>
    /// <param name="rate">Values a second.</param>
    /// <param name="values">Values from the beginning of the recording.</param>
    /// <param name="piece">From and to, s.</param>
    /// <param name="moments">When the noise comes, s.</param>
    public static HtmlString Piece(
        double rate,
        IReadOnlyList<float> values,
        (double From, double To) piece,
        IReadOnlyList<double> moments
    )
    {
        const int high = 120;
        const int ground = high - Foot;
        const double middle = (ground + 14) / 2.0;
        var (from, to) = piece;
        var inside = moments.Where(m => m >= from && m <= to).ToList();
        var svg = Head(
            high,
            $"{to - from:0.0} seconds close up, the noise comes {inside.Count} times in them.",
            "piece"
        );
        foreach (var m in inside)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"line hot\" d=\"M{X((m - from) / (to - from)):0.#} 2V{ground}\"/>"
            );
        }
        var (first, last) = (Math.Max(0, (int)(from * rate)), Math.Min(values.Count - 1, (int)(to * rate)));
        var most = 1e-9f;
        for (var i = first; i <= last; i++)
        {
            most = Math.Max(most, Math.Abs(values[i]));
        }
        var (upper, lower) = (new StringBuilder(), new List<string>());
        var columns = Math.Min(Wide - 8, Math.Max(2, last - first + 1));
        for (var c = 0; c < columns; c++)
        {
            var (a, b) = (
                first + (int)((long)(last - first + 1) * c / columns),
                first + (int)((long)(last - first + 1) * (c + 1) / columns)
            );
            var (up, down) = (float.MinValue, float.MaxValue);
            for (var i = a; i < Math.Max(b, a + 1) && i <= last; i++)
            {
                (up, down) = (Math.Max(up, values[i]), Math.Min(down, values[i]));
            }
            var x = X((c + 0.5) / columns);
            upper.Append(
                CultureInfo.InvariantCulture,
                $"{(c == 0 ? "M" : "L")}{x:0.#} {middle - (middle - 8) * up / most:0.#}"
            );
            lower.Add(
                string.Create(CultureInfo.InvariantCulture, $"L{x:0.#} {middle - (middle - 8) * down / most:0.#}")
            );
        }
        lower.Reverse();
        svg.Append(CultureInfo.InvariantCulture, $"<path class=\"wave\" d=\"{upper}{string.Concat(lower)}Z\"/>");
        Ticks(svg, from, to, high);
        return new(svg.Append("</svg>").ToString());
    }

    private const int Columns = 88,
        Steps = 8;

    // A step of the shading, dB.
    private const double StepDb = 6;

    /// <summary>Which pitch is loud when: dark is loud, a step of the shading is 6 dB.</summary>
    /// <param name="bands">Edges, Hz.</param>
    /// <param name="power">Power by band and time.</param>
    /// <param name="length">Length, s.</param>
    public static HtmlString Pitches(IReadOnlyList<(double Low, double High)> bands, float[][] power, double length)
    {
        const int row = 16;
        const int left = 46;
        var high = row * bands.Count + Foot + 4;
        var cells = bands.Select((_, b) => Means(power[b])).ToList();
        var most = cells.SelectMany(c => c).Max();
        var paths = Enumerable.Range(0, Steps).Select(_ => new StringBuilder()).ToArray();
        var wide = (Wide - 4.0 - left) / Columns;
        for (var b = 0; b < bands.Count; b++)
        {
            var y = 2 + row * (bands.Count - 1 - b);
            for (var c = 0; c < Columns; )
            {
                var (shade, start) = (Shade(cells[b][c]), c);
                while (c < Columns && Shade(cells[b][c]) == shade)
                {
                    c++;
                }
                if (shade > 0)
                {
                    paths[shade - 1]
                        .Append(
                            CultureInfo.InvariantCulture,
                            $"M{left + wide * start:0.#} {y}h{wide * (c - start):0.#}v{row}h{-wide * (c - start):0.#}z"
                        );
                }
            }
        }
        var svg = Head(high, "Which pitch is loud when.", "pitches");
        for (var s = 0; s < Steps; s++)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"shade\" fill-opacity=\"{(s + 1.0) / Steps:0.##}\" d=\"{paths[s]}\"/>"
            );
        }
        for (var b = 0; b < bands.Count; b += 2)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"scale\" x=\"{left - 4}\" y=\"{2 + row * (bands.Count - b) - 3}\" text-anchor=\"end\">{Pitch(bands[b].Low)}</text>"
            );
        }
        foreach (var tick in TicksOf(0, length))
        {
            var x = left + (Wide - 4 - left) * tick / length;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"scale\" x=\"{x:0.#}\" y=\"{high - 4}\" text-anchor=\"{(x > Wide - 30 ? "end" : "middle")}\">{tick:0.#}{(tick == 0 ? " s" : "")}</text>"
            );
        }
        return new(svg.Append("</svg>").ToString());

        int Shade(double p) => (int)Math.Clamp(Steps + 10 * Math.Log10(Math.Max(p, 1e-20) / most) / StepDb, 0, Steps);
    }

    /// <summary>A pitch in a word.</summary>
    public static string Pitch(double hz) =>
        hz < 1000
            ? string.Create(CultureInfo.InvariantCulture, $"{hz:0} Hz")
            : string.Create(CultureInfo.InvariantCulture, $"{hz / 1000:0.#} kHz");

    private static double[] Means(float[] power)
    {
        var means = new double[Columns];
        for (var c = 0; c < Columns; c++)
        {
            var (a, b) = ((int)((long)power.Length * c / Columns), (int)((long)power.Length * (c + 1) / Columns));
            means[c] = b > a ? power[a..b].Average() : 0;
        }
        return means;
    }

    private static StringBuilder Head(int high, string words, string kind) =>
        new StringBuilder().Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"rates {kind}\" viewBox=\"0 0 {Wide} {high}\" role=\"img\" aria-label=\"{words}\">"
        );

    private static void Ticks(StringBuilder svg, double from, double to, int high)
    {
        foreach (var tick in TicksOf(from, to))
        {
            var x = X((tick - from) / (to - from));
            var anchor =
                x < 20 ? "start"
                : x > Wide - 30 ? "end"
                : "middle";
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"tick\" d=\"M{x:0.#} {high - Foot}v4\"/><text class=\"scale\" x=\"{x:0.#}\" y=\"{high - 5}\" text-anchor=\"{anchor}\">{tick:0.##} s</text>"
            );
        }
    }

    private static IEnumerable<double> TicksOf(double from, double to)
    {
        var step = new[] { 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60 }.First(s => (to - from) / s <= 6 || s == 60);
        for (var k = (int)Math.Ceiling(from / step - 1e-6); k * step <= to + 1e-6; k++)
        {
            yield return k * step;
        }
    }
}
