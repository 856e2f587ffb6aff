using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Gauging;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>How the tool is held for the reading that comes next, and the verdict as one bar to scale.</summary>
public static class GaugePicture
{
    /// <summary>The tool at its place.</summary>
    /// <param name="protocol">How it is measured.</param>
    /// <param name="position">Where the next reading goes.</param>
    /// <param name="drumDeg">How far the drum is turned.</param>
    public static HtmlString Of(GaugeProtocol protocol, GaugePosition position, double? drumDeg)
    {
        var at = position.Id;
        var body = protocol.Reduce switch
        {
            Reduction.Range => Jaws(at),
            Reduction.HalfDifference => Shaft(at == "groove"),
            Reduction.Lever => Lever(),
            Reduction.PinPull => Pin(),
            Reduction.RimGap => Clock(protocol, at, drumDeg ?? 0) + Word(290, 100, "strips here:", "start"),
            Reduction.RimAxial => Clock(protocol, at, drumDeg ?? 0) + Word(290, 100, "depth here:", "start") + Depth(),
            Reduction.Stretch => Round(at == "drum"),
            Reduction.Torque => Pull(at == "off"),
            Reduction.Belt => Belt(at),
            Reduction.Slip => Mark(),
            Reduction.Windings or Reduction.Capacitor => Leads(at),
            Reduction.Amps => Clamp(),
            Reduction.Outlet => Outlet(at),
            Reduction.Air => Hood(at),
            _ => protocol.Instrument == "ruler" ? Rock() : Strip(),
        };
        return new(
            $"<svg class=\"gauge\" viewBox=\"0 0 360 190\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode($"{protocol.Name}: {position.Name}. {position.Do}")}\">{body}</svg>"
        );
    }

    private static string N(double v) => v.ToString("0.#", CultureInfo.InvariantCulture);

    private static string Word(double x, double y, string text, string anchor = "middle", bool hot = false) =>
        $"<text x=\"{N(x)}\" y=\"{N(y)}\" text-anchor=\"{anchor}\"{(hot ? " class=\"hot\"" : "")}>{WebUtility.HtmlEncode(text)}</text>";

    // A roller between the jaws; its flat turned to them, square to them, or away.
    private static string Jaws(string at)
    {
        var turn = at switch
        {
            "smallest" => 0,
            "square" => 90,
            _ => 45,
        };
        return $"<g transform=\"rotate({turn} 180 95)\"><path class=\"part\" d=\"M153 46A56 56 0 1 0 207 46Z\"/><circle class=\"thin\" cx=\"180\" cy=\"95\" r=\"13\"/></g>"
            + "<path class=\"tool\" d=\"M110 20H60V34H120V46H240M110 20V12H44V180\" visibility=\"hidden\"/>"
            + $"<path class=\"tool\" d=\"M150 {(at == "smallest" ? 45 : 38)}H210M150 152H210M70 {(at == "smallest" ? 45 : 38)}H150M70 152H150M70 20V172\"/>"
            + $"<path class=\"move\" d=\"M258 60A82 82 0 0 1 258 130\" marker-end=\"url(#none)\"/><path class=\"hotline\" d=\"M262 122l-4 10l-9 -5\"/>"
            + Word(60, 100, "jaws", "end")
            + Word(
                272,
                100,
                at == "smallest" ? "the flat"
                    : at == "square" ? "a quarter on"
                    : "roll it",
                "start",
                true
            );
    }

    private static string Shaft(bool groove) =>
        "<path class=\"part\" d=\"M40 62H170L178 68H226L234 62H330V128H234L226 122H178L170 128H40Z\"/>"
        + (
            groove
                ? "<path class=\"tool\" d=\"M202 20V67M202 170V123M186 20H218M186 170H218\"/>"
                : "<path class=\"tool\" d=\"M110 20V61M110 170V129M94 20H126M94 170H126\"/>"
        )
        + Word(groove ? 202 : 110, 14, groove ? "in the groove" : "beside the wear", "middle", true)
        + Word(300, 148, "shaft");

    private static string Lever() =>
        "<path class=\"part\" d=\"M60 30H290V150H60Z\"/><path class=\"thin\" d=\"M290 90H330M322 80V100\"/>"
        + "<path class=\"part\" d=\"M100 150L260 150L250 138L110 138Z\"/><path class=\"hotline\" d=\"M262 132V100M254 108L262 98L270 108\"/>"
        + "<path class=\"tool\" d=\"M300 20V40M294 24H306M294 36H306\"/>"
        + Word(60, 170, "door", "start")
        + Word(246, 122, "lift by the baffle", "end", true)
        + Word(310, 34, "read here", "start");

    private static string Pin() =>
        "<path class=\"part\" d=\"M90 160L96 166L206 66L200 60Z\"/><circle class=\"part\" cx=\"92\" cy=\"162\" r=\"10\"/><circle class=\"thin\" cx=\"204\" cy=\"62\" r=\"30\"/><circle class=\"part\" cx=\"204\" cy=\"62\" r=\"5\"/>"
        + "<path class=\"hotline\" d=\"M208 66L266 128M256 126L268 130L266 118\"/><path class=\"tool\" d=\"M272 134L296 160\"/>"
        + Word(214, 22, "pin", "start")
        + Word(280, 120, "square to the arm", "start", true)
        + Word(110, 172, "pivot", "start");

    private static string Clock(GaugeProtocol protocol, string at, double drum)
    {
        var svg = new StringBuilder(
            "<circle class=\"thin\" cx=\"180\" cy=\"95\" r=\"82\"/><circle class=\"part\" cx=\"180\" cy=\"97\" r=\"70\"/>"
        );
        // The mark that was made on the drum's lip: it shows how far the drum was turned.
        var turned = drum * Math.PI / 180;
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<circle class=\"mark\" cx=\"{180 + 60 * Math.Sin(turned):0.#}\" cy=\"{97 - 60 * Math.Cos(turned):0.#}\" r=\"5\"/>"
        );
        foreach (var p in protocol.Positions)
        {
            var a = (RimGap.ClockDeg(p.Id) ?? 0) * Math.PI / 180;
            var here = p.Id == at;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"{(here ? "hotline" : "tick")}\" d=\"M{180 + 68 * Math.Sin(a):0.#} {96 - 68 * Math.Cos(a):0.#}L{180 + (here ? 96 : 86) * Math.Sin(a):0.#} {96 - (here ? 96 : 86) * Math.Cos(a):0.#}\"/>"
            );
        }
        svg.Append(Word(290, 118, at, "start", true));
        svg.Append(Word(84, 118, "mark at", "end")).Append(Word(84, 136, drum == 0 ? "the top" : $"{drum:0}°", "end"));
        return svg.ToString();
    }

    // From the side: the opening's edge, the lip behind it, the rod between the two.
    private static string Depth() =>
        "<path class=\"part\" d=\"M20 20H30V70H20Z\"/><path class=\"thin\" d=\"M78 40V24Q78 20 82 20H120\"/><path class=\"hotline\" d=\"M30 32H76M70 27L77 32L70 37\"/>"
        + Word(20, 86, "edge", "start")
        + Word(78, 56, "lip", "start");

    // Felt and drum edge on: the tape once round the one or the other.
    private static string Round(bool drum) =>
        "<circle class=\"part\" cx=\"120\" cy=\"95\" r=\"62\"/><circle class=\"thin\" cx=\"262\" cy=\"95\" r=\"58\"/><circle class=\"thin\" cx=\"262\" cy=\"95\" r=\"48\"/>"
        + $"<circle class=\"hotline\" cx=\"{(drum ? 120 : 262)}\" cy=\"95\" r=\"{(drum ? 67 : 45)}\"/><path class=\"hotline\" d=\"M{(drum ? 120 : 262)} {(drum ? 22 : 44)}v{(drum ? 14 : 12)}\"/>"
        + Word(120, 100, "drum")
        + Word(262, 100, "felt")
        + Word(drum ? 120 : 262, 184, "tape, once round", "middle", true);

    private static string Pull(bool off) =>
        "<circle class=\"part\" cx=\"150\" cy=\"95\" r=\"78\"/><circle class=\"thin\" cx=\"150\" cy=\"95\" r=\"64\"/>"
        + "<path class=\"hotline\" d=\"M228 95V166M220 156L228 168L236 156\"/><path class=\"tool\" d=\"M228 170V184\"/>"
        + Word(244, 130, "scale, drawn square", "start", true)
        + Word(150, 100, off ? "belt off" : "belt on");

    private static string Belt(string at) =>
        at == "ribs" || at == "width" || at == "thickness"
            ? "<path class=\"part\" d=\"M70 60H290V90L280 120L262 90L244 120L226 90L208 120L190 90L172 120L154 90L136 120L118 90L100 120L82 90H70Z\"/>"
                + (
                    at == "width" ? "<path class=\"hotline\" d=\"M70 44H290M70 36V52M290 36V52\"/>"
                    : at == "thickness" ? "<path class=\"hotline\" d=\"M310 60V120M302 60H318M302 120H318\"/>"
                    : "<path class=\"hotline\" d=\"M82 140V150M100 140V150M118 140V150\" visibility=\"hidden\"/>"
                )
                + Word(
                    180,
                    160,
                    at == "ribs" ? "count the ribs"
                        : at == "width" ? "across the back"
                        : "over the ribs",
                    "middle",
                    true
                )
            : "<path class=\"part\" d=\"M60 80A16 16 0 0 1 60 112H300A16 16 0 0 0 300 80Z\"/><circle class=\"thin\" cx=\"62\" cy=\"96\" r=\"10\"/><circle class=\"thin\" cx=\"298\" cy=\"96\" r=\"10\"/><path class=\"tool\" d=\"M46 136H314M46 130V142M314 130V142\"/>"
                + Word(180, 162, "two rods drawn apart: twice this, and once round a rod", "middle", true);

    private static string Mark() =>
        "<circle class=\"part\" cx=\"180\" cy=\"95\" r=\"78\"/><path class=\"hotline\" d=\"M180 17V45\"/><path class=\"thin\" d=\"M180 95L220 60M180 95L140 60M180 95V145\"/>"
        + Word(190, 36, "tape mark", "start", true)
        + Word(290, 100, "20 turns", "middle");

    private static string Leads(string at) =>
        "<path class=\"part\" d=\"M60 40H180V150H60Z\"/>"
        + "<circle class=\"thin\" cx=\"90\" cy=\"30\" r=\"6\"/><circle class=\"thin\" cx=\"120\" cy=\"30\" r=\"6\"/><circle class=\"thin\" cx=\"150\" cy=\"30\" r=\"6\"/>"
        + (
            at == "leads" ? "<path class=\"hotline\" d=\"M230 90L270 70M230 50L270 70\"/>"
            : at == "frame" ? "<path class=\"hotline\" d=\"M230 60L122 30M230 110L180 120\"/>"
            : at == "start" ? "<path class=\"hotline\" d=\"M230 60L92 30M230 90L152 30\"/>"
            : "<path class=\"hotline\" d=\"M230 60L92 30M230 90L122 30\"/>"
        )
        + "<path class=\"tool\" d=\"M230 40H320V140H230Z\"/><path class=\"thin\" d=\"M240 50H310V80H240Z\"/>"
        + Word(
            120,
            170,
            at == "frame" ? "the bare frame"
                : at == "leads" ? "tips together"
                : at,
            "middle",
            true
        );

    private static string Clamp() =>
        "<path class=\"part\" d=\"M40 60C120 60 120 60 330 60M40 75C120 75 120 120 330 120\"/>"
        + "<circle class=\"tool\" cx=\"220\" cy=\"60\" r=\"30\"/><path class=\"tool\" d=\"M220 90V150\"/>"
        + Word(240, 34, "one conductor", "start", true);

    private static string Outlet(string at) =>
        "<path class=\"part\" d=\"M110 30H250V160H110Z\"/><path class=\"thin\" d=\"M145 60V90M215 60V90M180 115V140\"/>"
        + (
            at switch
            {
                "leg-1" => "<path class=\"hotline\" d=\"M145 75L180 128\"/>",
                "leg-2" => "<path class=\"hotline\" d=\"M215 75L180 128\"/>",
                _ => "<path class=\"hotline\" d=\"M145 75H215\"/>",
            }
        )
        + Word(262, 80, at == "load" ? "while it heats" : "", "start", true)
        + Word(100, 80, "leg", "end")
        + Word(195, 145, "neutral", "start");

    private static string Hood(string at) =>
        "<circle class=\"part\" cx=\"170\" cy=\"95\" r=\"76\"/>"
        + (
            at == "edge"
                ? "<circle class=\"hotline\" cx=\"170\" cy=\"50\" r=\"16\"/><circle class=\"thin\" cx=\"170\" cy=\"140\" r=\"16\"/><circle class=\"thin\" cx=\"125\" cy=\"95\" r=\"16\"/><circle class=\"thin\" cx=\"215\" cy=\"95\" r=\"16\"/>"
                : "<circle class=\"hotline\" cx=\"170\" cy=\"95\" r=\"18\"/>"
        )
        + Word(
            260,
            100,
            at == "screen-out" ? "screen out"
                : at == "edge" ? "half-way out"
                : "middle",
            "start",
            true
        );

    private static string Rock() =>
        "<path class=\"part\" d=\"M150 30H190V160H150Z\"/><path class=\"thin\" d=\"M60 88H150M60 102H150\"/>"
        + "<path class=\"hotline\" d=\"M130 24H210M138 18L128 24L138 30M202 18L212 24L202 30\"/><path class=\"tool\" d=\"M210 34V60M206 34H222M206 40H216M206 46H222M206 52H216M206 58H222\"/>"
        + Word(226, 30, "rock, read the way", "start", true)
        + Word(60, 122, "shaft", "start");

    private static string Strip() =>
        "<path class=\"part\" d=\"M40 90C140 76 220 76 320 90V112C220 98 140 98 40 112Z\"/><path class=\"thin\" d=\"M40 112C140 98 220 98 320 112V124C220 110 140 110 40 124Z\"/>"
        + "<path class=\"tool\" d=\"M180 40V78M166 40H194M180 150V101M166 150H194\"/>"
        + Word(200, 46, "jaws, pressed lightly", "start", true)
        + Word(322, 144, "metal", "end");

    /// <summary>The verdict: value with its 95 % interval over a bar from new to beyond the limit, the guard band hatched.</summary>
    public static HtmlString Bar(GaugeResult result)
    {
        var (q, limit) = (result.Quantity, result.Limit);
        var half = GaugeMath.Half95(q);
        var span = Math.Abs(limit.Worn - limit.New);
        var low = Math.Min(Math.Min(limit.New, limit.Worn), q.Value - half) - 0.08 * span;
        var high = Math.Max(Math.Max(limit.New, limit.Worn) + 0.35 * span, q.Value + half);
        double X(double v) => 14 + 332 * Math.Clamp((v - low) / (high - low), 0, 1);
        var worn = limit.Worn > limit.New;
        var (from, to) = worn ? (X(limit.Worn), 346.0) : (14.0, X(limit.Worn));
        var (g1, g2) = (X(limit.Worn - result.GuardBand), X(limit.Worn + result.GuardBand));
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"verdict\" viewBox=\"0 0 360 84\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(result.Say)}\">"
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<rect class=\"bar\" x=\"14\" y=\"30\" width=\"332\" height=\"16\"/><rect class=\"worn\" x=\"{N(from)}\" y=\"30\" width=\"{N(Math.Max(0, to - from))}\" height=\"16\"/>"
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"guard\" d=\"M{N(g1)} 28V48M{N(g2)} 28V48\"/><path class=\"limit\" d=\"M{N(X(limit.Worn))} 22V54\"/>"
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"spread\" d=\"M{N(X(q.Value - half))} 38H{N(X(q.Value + half))}M{N(X(q.Value - half))} 32V44M{N(X(q.Value + half))} 32V44\"/><circle class=\"value\" cx=\"{N(X(q.Value))}\" cy=\"38\" r=\"6\"/>"
        );
        var wornAt = X(limit.Worn);
        var newAt = X(limit.New);
        svg.Append(
            Word(
                Math.Clamp(wornAt, 60, 300),
                16,
                string.Create(CultureInfo.InvariantCulture, $"limit {limit.Worn:0.##} {limit.Unit}")
            )
        );
        svg.Append(
            Word(Math.Clamp(newAt, 40, 320), 72, string.Create(CultureInfo.InvariantCulture, $"new {limit.New:0.##}"))
        );
        svg.Append(
            Word(
                Math.Clamp(X(q.Value), 40, 320),
                Math.Abs(X(q.Value) - newAt) < 90 ? 16 : 72,
                string.Create(CultureInfo.InvariantCulture, $"{q.Value:0.##}"),
                "middle",
                true
            )
        );
        return new(svg.Append("</svg>").ToString());
    }
}
