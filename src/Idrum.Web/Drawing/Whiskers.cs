using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Logbook;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>Values as dots with thin whiskers over one scale: one picture a row, so that the table stands beside it.</summary>
public static class Whiskers
{
    private const int Wide = 300,
        Tall = 26;

    /// <summary>A dot with its whiskers.</summary>
    /// <param name="value">The value; nothing but the scale where it is null.</param>
    /// <param name="low">Left end of the scale.</param>
    /// <param name="high">Right end.</param>
    /// <param name="mark">Where an upright stands, such as "as planned"; null for none.</param>
    public static HtmlString Of(Between? value, double low, double high, double? mark = null)
    {
        double X(double v) => 6 + (Wide - 12) * (Math.Clamp(v, low, high) - low) / (high - low);
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"whiskers\" viewBox=\"0 0 {Wide} {Tall}\" aria-hidden=\"true\" preserveAspectRatio=\"none\"><path class=\"axis\" d=\"M6 13H{Wide - 6}M6 9V17M{Wide - 6} 9V17\"/>"
        );
        if (mark is { } at)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<path class=\"mark\" d=\"M{X(at):0.#} 1V25\"/>");
        }
        if (value is { } v)
        {
            var (from, to) = (X(v.Low), X(v.High));
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"whisker\" d=\"M{from:0.#} 13H{to:0.#}M{from:0.#} 8V18M{to:0.#} 8V18\"/><ellipse class=\"dot\" cx=\"{X(v.Value):0.#}\" cy=\"13\" rx=\"4.5\" ry=\"4.5\"/>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }

    /// <summary>Share failed over age: a step a failure; the fitted curve and the whiskers of its tenth and its half where there are failures
    /// enough.</summary>
    /// <param name="lives">The lives.</param>
    /// <param name="fit">The fit, or null.</param>
    /// <param name="name">What lives.</param>
    public static HtmlString Lives(PartLives lives, Weibull? fit, string name)
    {
        const int wide = 520,
            tall = 240,
            left = 44,
            bottom = 34,
            top = 14,
            right = 12;
        // As far as something failed, and a little beyond.
        var longest = Math.Max(
            1,
            Math.Ceiling(1.25 * lives.Lives.Where(l => l.Failed).Select(l => l.Years).DefaultIfEmpty(1).Max())
        );
        double X(double years) => left + (wide - left - right) * years / longest;
        double Y(double share) => tall - bottom - (tall - bottom - top) * share;
        string N(double v) => v.ToString("0.#", CultureInfo.InvariantCulture);
        var svg = new StringBuilder();
        var words =
            $"{name}: share that had failed by age, {lives.Lives.Count(l => l.Failed)} failures in {lives.Lives.Count} lives"
            + (fit is null ? "" : $"; half by {fit.Age(0.5).Value:0.0} years");
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"lives\" viewBox=\"0 0 {wide} {tall}\" role=\"img\" aria-label=\"{WebUtility.HtmlEncode(words)}\"><path class=\"axis\" d=\"M{left} {top}V{tall - bottom}H{wide - right}\"/>"
        );
        foreach (var share in new[] { 0, 0.25, 0.5, 0.75, 1 })
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"tick\" d=\"M{left - 4} {N(Y(share))}H{wide - right}\"/><text x=\"{left - 7}\" y=\"{N(Y(share) + 4)}\" text-anchor=\"end\">{100 * share:0}%</text>"
            );
        }
        var every = longest <= 6 ? 1 : Math.Ceiling(longest / 6);
        for (var year = 0d; year <= longest; year += every)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text x=\"{N(X(year))}\" y=\"{tall - bottom + 16}\" text-anchor=\"middle\">{year:0}</text>"
            );
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<text x=\"{wide - right}\" y=\"{tall - 4}\" text-anchor=\"end\">years since it went in</text>"
        );
        if (fit is not null)
        {
            svg.Append("<path class=\"curve\" d=\"");
            for (var i = 0; i <= 60; i++)
            {
                var years = longest * i / 60;
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"{(i == 0 ? 'M' : 'L')}{N(X(years))} {N(Y(1 - fit.Runs(years)))}"
                );
            }
            svg.Append("\"/>");
            foreach (var share in new[] { 0.1, 0.5 })
            {
                var age = fit.Age(share);
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<path class=\"whisker\" d=\"M{N(X(Math.Min(longest, age.Low)))} {N(Y(share))}H{N(X(Math.Min(longest, age.High)))}\"/>"
                );
            }
        }
        foreach (var (years, share) in lives.Failed)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<circle class=\"dot\" cx=\"{N(X(years))}\" cy=\"{N(Y(share))}\" r=\"2.6\"/>"
            );
        }
        return new(svg.Append("</svg>").ToString());
    }
}
