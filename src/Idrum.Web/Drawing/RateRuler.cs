using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>A rhythm that was heard.</summary>
/// <param name="Hz">Its rate, 1/s.</param>
/// <param name="Low">Lower end of its interval.</param>
/// <param name="High">Upper end.</param>
/// <param name="Named">Ids of the sources it names.</param>
/// <param name="Words">In a line.</param>
public sealed record RateMark(double Hz, double Low, double High, IReadOnlyList<string> Named, string Words);

/// <summary>How often each part comes round, a bar a part over what the speed may differ by, and the rhythms heard as
/// uprights over them: one sees which bar is met.</summary>
public static class RateRuler
{
    private const int Row = 34,
        Head = 30,
        Wide = 360;

    private const double Low = 0.5,
        High = 40;

    /// <summary>Draws it.</summary>
    /// <param name="sources">The machine's sources.</param>
    /// <param name="tolerance">Share by which the speed may differ.</param>
    /// <param name="heard">Rhythms heard; the last is the one in question.</param>
    public static HtmlString Of(IReadOnlyList<SoundSource> sources, double tolerance, IReadOnlyList<RateMark> heard)
    {
        var rows = sources.Where(s => s.Mechanism is not (Mechanism.Mains or Mechanism.Blades)).ToList();
        HashSet<string> named = heard.Count > 0 ? [.. heard[^1].Named] : [];
        var height = Head + rows.Count * Row + 6;
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"rates\" viewBox=\"0 0 {Wide} {height}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(Said(rows, heard))}\" data-low=\"{Low}\" data-high=\"{High}\">"
        );
        foreach (var tick in new[] { 0.5, 1, 2, 5, 10, 40 })
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"tick\" d=\"M{X(tick):0.#} {Head - 6}V{height}\"/><text class=\"scale\" x=\"{X(tick):0.#}\" y=\"14\" text-anchor=\"{(tick == Low ? "start" : tick == High ? "end" : "middle")}\">{tick}{(tick == High ? " a second" : "")}</text>"
            );
        }
        foreach (var h in heard)
        {
            var last = h == heard[^1];
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"span{(last ? "" : " earlier")}\" x=\"{X(h.Low):0.#}\" y=\"{Head - 4}\" width=\"{Math.Max(1.5, X(h.High) - X(h.Low)):0.#}\" height=\"{height - Head + 4}\"/><path class=\"heard{(last ? "" : " earlier")}\" d=\"M{X(h.Hz):0.#} {Head - 8}V{height}\"/>"
            );
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"heard live\" d=\"M0 {Head - 8}V{height}\" visibility=\"hidden\"/>"
        );
        for (var i = 0; i < rows.Count; i++)
        {
            var (y, source) = (Head + i * Row, rows[i]);
            var (from, to) = (X(source.Hz * (1 - tolerance)), X(source.Hz * (1 + tolerance)));
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<g class=\"{(named.Contains(source.Id) ? "named" : "source")}\"><rect x=\"{from:0.#}\" y=\"{y + 17}\" width=\"{Math.Max(3, to - from):0.#}\" height=\"11\" rx=\"2\"/>"
            );
            // Where the name has room: from the bar on, up to the bar, else from the edge.
            var wide = 7.3 * source.Name.Length;
            var (at, anchor) =
                from + wide < Wide - 4 ? (from, "start")
                : to - wide > 4 ? (to, "end")
                : (4.0, "start");
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{at:0.#}\" y=\"{y + 13}\" text-anchor=\"{anchor}\">{WebUtility.HtmlEncode(source.Name)}</text></g>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }

    private static double X(double hz) =>
        4 + (Wide - 8) * Math.Clamp(Math.Log(Math.Max(hz, 1e-6) / Low) / Math.Log(High / Low), 0, 1);

    private static string Said(List<SoundSource> rows, IReadOnlyList<RateMark> heard) =>
        "How often a second each part comes round: "
        + string.Join(", ", rows.Select(r => string.Create(CultureInfo.InvariantCulture, $"{r.Name} {r.Hz:0.00}")))
        + "."
        + (heard.Count > 0 ? $" Heard: {heard[^1].Words}." : " Nothing was heard yet.");
}
