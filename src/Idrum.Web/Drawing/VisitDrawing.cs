using System.Globalization;
using System.Net;
using System.Text;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Parts;
using Idrum.Core.Jobs.Work;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>The rest of a visit as a line of time: hands above, each glued part below with its window.</summary>
public static class VisitDrawing
{
    private const int Row = 26;
    private const int Head = 18;

    // Minutes between two marks.
    private static readonly int[] Steps = [5, 10, 15, 30, 60, 120, 240];

    /// <summary>Draws it.</summary>
    /// <param name="visit">The visit.</param>
    /// <param name="layout">Names of parts.</param>
    /// <param name="now">Now, as the place has it.</param>
    public static HtmlString Of(Visit visit, Layout layout, DateTimeOffset now)
    {
        // Glue is drawn as far as it is waited for; what cures for hours runs out at the edge.
        var span = Math.Max(10, Math.Max(visit.Slow, visit.Glue.Select(g => g.Load).DefaultIfEmpty(0).Max()) * 1.04);
        string X(double minute) =>
            (Math.Clamp(minute, 0, span) / span * 100).ToString("0.##", CultureInfo.InvariantCulture) + "%";
        string Width(double from, double to) =>
            (Math.Max(0.4, (Math.Clamp(to, 0, span) - Math.Clamp(from, 0, span)) / span * 100)).ToString(
                "0.##",
                CultureInfo.InvariantCulture
            ) + "%";
        var height = Head + Row * (1 + visit.Glue.Count) + 4;
        var svg = new StringBuilder();
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"visit\" width=\"100%\" height=\"{height}\" role=\"img\" aria-label=\"{Said(visit, layout, now)}\">"
        );
        var step = Steps.First(s => span / s <= 6 || s == 240);
        var first = step - (now.Minute + now.Hour * 60) % step;
        for (var at = (double)first; at < span * 0.94; at += step)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"tick\" x1=\"{X(at)}\" x2=\"{X(at)}\" y1=\"{Head - 3}\" y2=\"{height}\"/><text x=\"{X(at)}\" y=\"11\">{now.AddMinutes(at).ToString("HH:mm", CultureInfo.InvariantCulture)}</text>"
            );
        }
        foreach (var item in visit.Items)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"{item.Chore.Kind.Word()}\" x=\"{X(item.Start)}\" y=\"{Head}\" width=\"{Width(item.Start, item.End)}\" height=\"{Row - 8}\"><title>{WebUtility.HtmlEncode(item.Words)}</title></rect>"
            );
        }
        for (var i = 0; i < visit.Glue.Count; i++)
        {
            var (glue, y) = (visit.Glue[i], Head + Row * (i + 1));
            if (glue.Closes is { } closes && closes > glue.Joined)
            {
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<rect class=\"window\" x=\"{X(glue.Opens)}\" y=\"{y}\" width=\"{Width(glue.Opens, closes)}\" height=\"{Row - 8}\"/>"
                );
            }
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"cure\" x=\"{X(glue.Joined)}\" y=\"{y + 5}\" width=\"{Width(glue.Joined, glue.Heat)}\" height=\"{Row - 18}\"/>"
            );
            if (glue.Joined >= 0)
            {
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<rect class=\"join\" x=\"{X(glue.Joined)}\" y=\"{y - 3}\" width=\"4\" height=\"{Row - 2}\"/>"
                );
            }
        }
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<rect class=\"nowline\" x=\"0\" y=\"{Head - 4}\" width=\"3\" height=\"{height - Head + 2}\"/></svg>"
        );
        return new(svg.ToString());
    }

    private static string Said(Visit visit, Layout layout, DateTimeOffset now) =>
        WebUtility.HtmlEncode(
            string.Create(
                CultureInfo.InvariantCulture,
                $"The rest of the visit from now, {now:HH:mm}, to {now.AddMinutes(visit.Minutes):HH:mm}. {string.Join(" ", visit.Glue.Select(g => $"{layout.FindPart(g.PartId)?.Name ?? g.PartId}: {(g.Joined >= 0 ? $"join at {now.AddMinutes(g.Joined):HH:mm}, " : "")}heat from {now.AddMinutes(g.Heat):HH:mm}."))}"
            )
        );
}
