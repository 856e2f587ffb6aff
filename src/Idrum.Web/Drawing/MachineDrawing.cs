using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Runtime.CompilerServices;
using System.Text;
using Idrum.Core.Drive;
using Idrum.Core.Jobs;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>What a drawing is to show beside the machine itself.</summary>
public sealed record DrawingRequest
{
    /// <summary>How parts stand; those not named are in place.</summary>
    public IReadOnlyDictionary<string, PartCondition> Conditions { get; init; } = new Dictionary<string, PartCondition>();

    /// <summary>Parts in question, filled with copper.</summary>
    public IReadOnlyCollection<string> Focus { get; init; } = [];

    /// <summary>Parts that will come off, hatched.</summary>
    public IReadOnlyCollection<string> ComingOff { get; init; } = [];

    /// <summary>The step shown: its motion as an arrow, its fasteners and plugs as marks.</summary>
    public Operation? Step { get; init; }

    /// <summary>View that is drawn large with the other one small beside it: <c>front</c> or <c>side</c>; null where both
    /// stand on one scale.</summary>
    public string? Lead { get; init; }

    /// <summary>Address a part leads to, with {0} for its id; null where parts are not clickable.</summary>
    public string? Link { get; init; }

    internal string Key => string.Join('|', string.Join(',', Conditions.OrderBy(c => c.Key, StringComparer.Ordinal).Select(c => c.Key + c.Value)),
        string.Join(',', Focus.Order(StringComparer.Ordinal)), string.Join(',', ComingOff.Order(StringComparer.Ordinal)), Step?.Id, Lead, Link);
}

/// <summary>Draws front and side view of a layout as SVG, true to scale. The same layout and request give the same text, so
/// drawings are remembered.</summary>
public static class MachineDrawing
{
    private const double Gap = 60;
    private const double Small = 0.56;
    private static readonly ConditionalWeakTable<Layout, ConcurrentDictionary<string, HtmlString>> Drawn = [];

    public static HtmlString Of(Layout layout, DrawingRequest request)
    {
        var known = Drawn.GetValue(layout, _ => new());
        if (known.Count > 400)
        {
            known.Clear();
        }
        return known.GetOrAdd(request.Key, _ => new(Draw(layout, request)));
    }

    private static string Draw(Layout layout, DrawingRequest request)
    {
        var front = Extent(layout.Drawing.Front, request.Step, "front");
        var side = Extent(layout.Drawing.Side, request.Step, "side");
        // Both stand on the same floor; the leading one stands left.
        var (frontScale, sideScale) = request.Lead switch { "front" => (1.0, Small), "side" => (Small, 1.0), _ => (1.0, 1.0) };
        var floor = Math.Max(layout.Drawing.Front.HeightMm * frontScale, layout.Drawing.Side.HeightMm * sideScale);
        var frontDown = floor - layout.Drawing.Front.HeightMm * frontScale;
        var sideDown = floor - layout.Drawing.Side.HeightMm * sideScale;
        var top = Math.Min(front.Top * frontScale + frontDown, side.Top * sideScale + sideDown);
        var height = Math.Max(front.Bottom * frontScale + frontDown, side.Bottom * sideScale + sideDown) - top;
        var (frontWide, sideWide) = ((front.Right - front.Left) * frontScale, (side.Right - side.Left) * sideScale);
        var (frontAt, sideAt) = request.Lead == "side" ? (sideWide + Gap, 0.0) : (0.0, frontWide + Gap);
        var width = frontWide + Gap + sideWide;
        var svg = new StringBuilder(16_000);
        svg.Append(CultureInfo.InvariantCulture, $"<svg class=\"machine\" viewBox=\"0 0 {width:0} {height:0}\" role=\"group\" aria-label=\"{Text(layout.Title)}, front and side view\">");
        svg.Append("<defs><marker id=\"tip\" viewBox=\"0 0 10 10\" refX=\"7\" refY=\"5\" markerWidth=\"5\" markerHeight=\"5\" orient=\"auto\"><path d=\"M0 0 9 5 0 10\" class=\"tip\"/></marker>")
            .Append("<pattern id=\"hatch\" width=\"14\" height=\"14\" patternUnits=\"userSpaceOnUse\" patternTransform=\"rotate(45)\"><path d=\"M0 0V14\" class=\"hatch\"/></pattern></defs>");
        DrawView(svg, layout, "front", (frontAt - front.Left * frontScale, frontDown - top, frontScale), request);
        DrawView(svg, layout, "side", (sideAt - side.Left * sideScale, sideDown - top, sideScale), request);
        return svg.Append("</svg>").ToString();
    }

    private static (double Left, double Top, double Right, double Bottom) Extent(View view, Operation? step, string name)
    {
        var (left, top, right, bottom) = (-14.0, -14.0, view.WidthMm + 14, view.HeightMm + 10);
        if (step?.Motion is { } motion && motion.View == name)
        {
            left = Math.Min(left, motion.Path.Min(p => p[0]) - 24);
            right = Math.Max(right, motion.Path.Max(p => p[0]) + 24);
            top = Math.Min(top, motion.Path.Min(p => p[1]) - 24);
            bottom = Math.Max(bottom, motion.Path.Max(p => p[1]) + 24);
        }
        return (left, top, right, bottom);
    }

    private static void DrawView(StringBuilder svg, Layout layout, string name, (double Right, double Down, double Scale) at, DrawingRequest request)
    {
        var (view, other) = name == "front" ? (layout.Drawing.Front, layout.Drawing.Side) : (layout.Drawing.Side, layout.Drawing.Front);
        svg.Append(CultureInfo.InvariantCulture, $"<g transform=\"translate({at.Right:0} {at.Down:0}){(at.Scale < 1 ? $" scale({at.Scale:0.##})" : "")}\">");
        foreach (var shape in view.Shapes.OrderByDescending(s => s.Depth))
        {
            var part = layout.FindPart(shape.Part);
            if (part is null)
            {
                continue;
            }
            var link = request.Link is not null && part.Wears && name == "front"
                ? string.Format(CultureInfo.InvariantCulture, request.Link, Uri.EscapeDataString(part.Id)) : null;
            if (link is not null)
            {
                svg.Append("<a href=\"").Append(Text(link)).Append("\" tabindex=\"-1\">");
            }
            svg.Append("<g class=\"").Append(Classes(shape, part, request)).Append("\"><title>").Append(Text(part.Name)).Append("</title>");
            ShapeSvg.Append(svg, shape, layout.Drive);
            svg.Append("</g>");
            if (link is not null)
            {
                svg.Append("</a>");
            }
        }
        if (request.Step is { } step)
        {
            DrawStep(svg, view, other, name, step);
        }
        svg.Append("</g>");
    }

    private static string Classes(Shape shape, Part part, DrawingRequest request)
    {
        var condition = request.Conditions.GetValueOrDefault(part.Id);
        var state = condition switch
        {
            PartCondition.Out => " out",
            PartCondition.Loose => " loose",
            PartCondition.Freed => " freed",
            PartCondition.New => " new",
            _ => "",
        };
        return $"s-{shape.Kind} d{Math.Min(shape.Depth, 4)}{(shape.Hidden ? " hid" : "")}{state}{(request.ComingOff.Contains(part.Id) && condition != PartCondition.Out ? " off" : "")}{(request.Focus.Contains(part.Id) ? " focus" : "")}";
    }

    /// <summary>The view to lead with at a step: where it moves, else where more of its fasteners and plugs are seen.</summary>
    public static string LeadOf(Layout layout, Operation step)
    {
        int Marks(View view) => view.Marks.Count(m => step.Fasteners.Any(f => f.Id == m.Of) || step.Plugs.Any(p => p.Id == m.Of));
        return step.Motion?.View ?? (Marks(layout.Drawing.Side) > Marks(layout.Drawing.Front) ? "side" : "front");
    }

    private static void DrawStep(StringBuilder svg, View view, View other, string name, Operation step)
    {
        foreach (var group in step.Fasteners)
        {
            var marks = view.Marks.Where(m => m.Of == group.Id).ToList();
            foreach (var mark in marks)
            {
                MarkSvg.Append(svg, mark, group.Head, group.LoosenOnly);
            }
            // How many a mark stands for is said where more of them are seen, and only if none is seen singly.
            var elsewhere = other.Marks.Count(m => m.Of == group.Id);
            if (marks.Count > 0 && marks.Count < group.Count && (marks.Count > elsewhere || marks.Count == elsewhere && name == "side"))
            {
                var right = marks[^1].X > view.WidthMm * 0.6;
                svg.Append(CultureInfo.InvariantCulture, $"<text class=\"count\" x=\"{marks[^1].X + (right ? -34 : 34):0}\" y=\"{marks[^1].Y + 18:0}\" text-anchor=\"{(right ? "end" : "start")}\">×{group.Count}</text>");
            }
        }
        foreach (var mark in view.Marks.Where(m => step.Plugs.Any(p => p.Id == m.Of)))
        {
            MarkSvg.Append(svg, mark, "plug", false);
        }
        if (step.Motion is { } motion && motion.View == name)
        {
            svg.Append("<path class=\"motion\" marker-end=\"url(#tip)\" d=\"").Append(ShapeSvg.Smooth(motion.Path)).Append("\"/>");
        }
    }

    private static string Text(string s) => WebUtility.HtmlEncode(s);

    /// <summary>The course of the belt, so that drawing and computation cannot differ.</summary>
    internal static BeltPath Belt(DriveGeometry drive) => BeltPath.Of(drive);
}
