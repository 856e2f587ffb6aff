using System.Globalization;
using System.Text;
using Idrum.Core.Basics;
using Idrum.Core.Drive;
using Idrum.Core.Listening;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>The rhythm of a recording as a filled curve, and where each part's line and its harmonics would stand at the
/// fitted speed; only those of the part that is named in copper.</summary>
public static class SoundPicture
{
    private const int Wide = 360,
        High = 210,
        Foot = 26,
        Head = 46;

    private const double TopHz = 34;

    /// <summary>Draws it.</summary>
    /// <param name="spectrum">Envelope spectrum of the band in which the rhythm stands out most.</param>
    /// <param name="sources">The machine's sources.</param>
    /// <param name="scale">Fitted speed against the usual.</param>
    /// <param name="named">Ids of the sources that are named.</param>
    public static HtmlString Of(
        EnvelopeSpectrum spectrum,
        IReadOnlyList<SoundSource> sources,
        double scale,
        IReadOnlyCollection<string> named
    )
    {
        var svg = new StringBuilder();
        var shown = sources
            .Where(s =>
                s.Mechanism is not (Mechanism.Mains or Mechanism.Blades or Mechanism.BeltPass or Mechanism.Baffles)
            )
            .ToList();
        var words = $"Rhythm of the recording from 0 to {TopHz:0} a second.";
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"rates sound\" viewBox=\"0 0 {Wide} {High}\" role=\"img\" aria-label=\"{words}\">"
        );
        var ground = High - Foot;
        foreach (var tick in new[] { 0, 5, 10, 15, 20, 25, 30 })
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"tick\" d=\"M{X(tick):0.#} {ground}v5\"/><text class=\"scale\" x=\"{X(tick):0.#}\" y=\"{High - 6}\" text-anchor=\"{(tick == 0 ? "start" : "middle")}\">{tick}{(tick == 30 ? " a second" : "")}</text>"
            );
        }
        svg.Append(CultureInfo.InvariantCulture, $"<path class=\"heardcurve\" d=\"M4 {ground}");
        var most = spectrum.Values.Take((int)(TopHz / spectrum.Step)).DefaultIfEmpty(1).Max();
        double Y(double v) => ground - (ground - Head) * Math.Log(1 + v) / Math.Log(1 + Math.Max(most, 40));
        var each = TopHz / (Wide - 8);
        for (var x = 0; x <= Wide - 8; x++)
        {
            var v = spectrum.Near((x + 0.5) * each, each / 2).Value;
            svg.Append(CultureInfo.InvariantCulture, $"L{x + 4} {Y(v):0.#}");
        }
        svg.Append(CultureInfo.InvariantCulture, $"L{Wide - 4} {ground}Z\"/>");
        foreach (var source in shown.OrderBy(s => named.Contains(s.Id)))
        {
            var hot = named.Contains(source.Id);
            var harmonics = hot ? 12 : 1;
            for (var h = 1; h <= harmonics && h * source.Hz * scale < TopHz; h++)
            {
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<path class=\"line{(hot ? " hot" : "")}{(h > 1 ? " harmonic" : "")}\" d=\"M{X(h * source.Hz * scale):0.#} {Head - 2}V{ground}\"/>"
                );
            }
            var at = X(source.Hz * scale);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"{(hot ? "hotname" : "")}\" x=\"{at:0.#}\" y=\"{14 + 14 * (shown.IndexOf(source) % 2)}\" text-anchor=\"{(at > Wide - 60 ? "end" : at < 40 ? "start" : "middle")}\">{source.Mechanism.Word()}</text>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }

    private static double X(double hz) => 4 + (Wide - 8) * Math.Clamp(hz / TopHz, 0, 1);
}
