using System.Globalization;
using System.Text;
using Idrum.Core.Listening;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>A sound laid round a turn of a part: the loudest place at the top, spokes as long as it is loud, those that stand out
/// in copper.</summary>
public static class TurnRing
{
    private const double Middle = 90,
        Inner = 34,
        Longest = 46;

    /// <summary>Draws it.</summary>
    /// <param name="round">What is laid round.</param>
    /// <param name="what">The part, as "the drum".</param>
    public static HtmlString Of(OnceRound round, string what)
    {
        var most = Math.Max(round.Levels[0], 2);
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"turnring\" viewBox=\"0 0 180 180\" role=\"img\" aria-label=\"{System.Net.WebUtility.HtmlEncode(round.Words(what))}\"><circle class=\"body\" cx=\"{Middle}\" cy=\"{Middle}\" r=\"{Inner}\"/><circle class=\"usual\" cx=\"{Middle}\" cy=\"{Middle}\" r=\"{Inner + Longest / most:0.#}\"/>"
        );
        for (var p = 0; p < OnceRound.Places; p++)
        {
            var near = round.Peaks.Any(peak =>
                Math.Abs(
                    (p - peak * OnceRound.Places + 1.5 * OnceRound.Places) % OnceRound.Places - OnceRound.Places / 2
                ) <= 1.01
            );
            var (x, y) = At(p, Inner);
            var (x2, y2) = At(p, Inner + Longest * round.Levels[p] / most);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"{(near ? "spoke hot" : "spoke")}\" d=\"M{x:0.#} {y:0.#}L{x2:0.#} {y2:0.#}\"/>"
            );
        }
        // The arrow tells that the turn goes on clockwise from the loudest place, whichever way the part turns.
        svg.Append("<path class=\"way\" d=\"M90 70a20 20 0 0 1 19 14m-4-5l4 5 2-6\"/>");
        foreach (var (degrees, x, y, anchor) in Scale)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{x}\" y=\"{y}\" text-anchor=\"{anchor}\">{degrees}°</text>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }

    private static readonly (int Degrees, int X, int Y, string Anchor)[] Scale =
    [
        (90, 178, 94, "end"),
        (180, 90, 178, "middle"),
        (270, 2, 94, "start"),
    ];

    private static (double X, double Y) At(int place, double radius)
    {
        var (sin, cos) = Math.SinCos(2 * Math.PI * place / OnceRound.Places);
        return (Middle + radius * sin, Middle - radius * cos);
    }
}
