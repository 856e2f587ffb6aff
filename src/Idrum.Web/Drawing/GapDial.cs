using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>A gap round the rim as it was read: a dial a drum angle, each figure at its place of the clock.</summary>
public static class GapDial
{
    private const double Middle = 170;
    private const double Height = 116;
    private const double Ring = 66;
    private const double Words = 96;

    /// <summary>The dials, side by side.</summary>
    /// <param name="gaps">Clock angle, drum angle, degrees; mm.</param>
    public static HtmlString Of(IReadOnlyList<(double ClockDeg, double DrumDeg, double Mm)> gaps)
    {
        var svg = new StringBuilder("<div class=\"courses\">");
        foreach (var drum in gaps.GroupBy(g => g.DrumDeg))
        {
            var said = drum.Key == 0 ? "as it stands" : $"drum turned {drum.Key:0}°";
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<figure><svg class=\"drive\" viewBox=\"0 0 340 232\" role=\"img\" aria-label=\"{said}: {string.Join(", ", drum.Select(g => string.Create(CultureInfo.InvariantCulture, $"{Clock(g.ClockDeg)} {g.Mm:0.0} mm")))}\"><circle class=\"wheel\" cx=\"{Middle}\" cy=\"{Height}\" r=\"{Ring}\"/>"
            );
            // The mark that turns with the drum.
            var (mx, my) = At(drum.Key, Ring - 16);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<circle class=\"mark\" cx=\"{mx:0.#}\" cy=\"{my:0.#}\" r=\"6\"/>"
            );
            foreach (var gap in drum)
            {
                var (x, y) = At(gap.ClockDeg, Words);
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<text x=\"{x:0.#}\" y=\"{y + 6:0.#}\" text-anchor=\"middle\" class=\"figure\">{gap.Mm:0.0}</text>"
                );
            }
            svg.Append(CultureInfo.InvariantCulture, $"</svg><figcaption>{said}</figcaption></figure>");
        }
        return new(svg.Append("</div>").ToString());
    }

    private static (double X, double Y) At(double degrees, double radius)
    {
        var a = degrees * Math.PI / 180;
        return (Middle + radius * Math.Sin(a), Height - radius * Math.Cos(a));
    }

    private static string Clock(double degrees)
    {
        var minutes = (int)Math.Round(degrees * 2);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{(minutes / 60 == 0 ? 12 : minutes / 60)}:{minutes % 60:00}"
        );
    }
}
