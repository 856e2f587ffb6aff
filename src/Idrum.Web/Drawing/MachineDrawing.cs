using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Runtime.CompilerServices;
using System.Text;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>Draws a layout as SVG: projections of its solids in the present state of the machine. The same layout and
/// request give the same
/// text, so drawings are remembered.</summary>
public static class MachineDrawing
{
    private const double CloseWide = 300,
        CloseHigh = 220;
    private static readonly ConditionalWeakTable<Layout, ConcurrentDictionary<string, HtmlString>> Drawn = [];

    /// <summary>The views asked for, side by side, each with its name under it.</summary>
    public static HtmlString Of(Layout layout, DrawingRequest request)
    {
        var known = Drawn.GetValue(layout, _ => new());
        if (known.Count > 400)
        {
            known.Clear();
        }
        return known.GetOrAdd(request.Key, _ => new(Draw(layout, request)));
    }

    /// <summary>What a picture shows, in words.</summary>
    public static string Describe(Layout layout, DrawingRequest request, string view) =>
        Words(new(layout, request, Projection.Of(view)), request);

    private static string Draw(Layout layout, DrawingRequest request)
    {
        var html = new StringBuilder(24_000);
        html.Append(
            CultureInfo.InvariantCulture,
            $"<div class=\"views n{request.Views.Count + (request.CloseUp && Place(request) is not null ? 1 : 0)}\">"
        );
        var number = 0;
        foreach (var name in request.Views)
        {
            var scene = new Scene(layout, request, Projection.Of(name));
            html.Append("<figure>");
            Picture(html, scene, request, scene.Frame, number++, 1.1, false);
            html.Append("<figcaption>").Append(scene.View.Words).Append("</figcaption></figure>");
            if (request.CloseUp && number == 1 && Place(request) is { } place)
            {
                var at = scene.View.Map(place);
                html.Append("<figure class=\"close\">");
                Picture(
                    html,
                    scene,
                    request,
                    (at.U - CloseWide / 2, at.V - CloseHigh / 2, at.U + CloseWide / 2, at.V + CloseHigh / 2),
                    number++,
                    0.5,
                    true
                );
                html.Append("<figcaption>close up</figcaption></figure>");
            }
        }
        var beside = request
            .Conditions.Where(c =>
                c.Value == PartCondition.Out && request.Exploded.All(o => !o.TakesOff.Contains(c.Key))
            )
            .Select(c => layout.FindPart(c.Key)?.Name)
            .OfType<string>()
            .ToList();
        if (beside.Count > 0)
        {
            html.Append("<p class=\"beside\">Lies beside it: ")
                .Append(Text(string.Join(", ", beside.Select(b => char.ToLowerInvariant(b[0]) + b[1..]))))
                .Append("</p>");
        }
        return html.Append("</div>").ToString();
    }

    private static void Picture(
        StringBuilder svg,
        Scene scene,
        DrawingRequest request,
        (double Left, double Top, double Right, double Bottom) frame,
        int number,
        double markScale,
        bool close
    )
    {
        var (wide, high) = (frame.Right - frame.Left, frame.Bottom - frame.Top);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"machine\" x-ignore=\"\" viewBox=\"{frame.Left:0} {frame.Top:0} {wide:0} {high:0}\" role=\"{(request.Link is null ? "img" : "group")}\" aria-label=\"{Text((close ? "Close up. " : "") + Words(scene, request))}\">"
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<defs><marker id=\"tip{number}\" viewBox=\"0 0 10 10\" refX=\"7\" refY=\"5\" markerWidth=\"5\" markerHeight=\"5\" orient=\"auto\"><path d=\"M0 0 9 5 0 10\" class=\"tip\"/></marker></defs>"
        );
        foreach (var run in scene.Order().Where(o => !close || Near(o.Solid, scene.View, frame)))
        {
            Solid(svg, run.Item, [run.Solid], scene, request, Classes(run.Item, request, false));
        }
        foreach (
            var item in scene.Items.Where(i => request.Focus.Contains(i.Part.Id) && !scene.Seen.Contains(i.Part.Id))
        )
        {
            Solid(svg, item, item.Solids, scene, request, Classes(item, request, true));
        }
        if (!close)
        {
            Ends(svg, scene);
        }
        if (request.Step is { } step)
        {
            Marks(svg, scene, step, markScale, close);
            Arrow(svg, scene, number);
        }
        svg.Append("</svg>");
    }

    private static void Solid(
        StringBuilder svg,
        Scene.Item item,
        IReadOnlyList<SolidFaces> solids,
        Scene scene,
        DrawingRequest request,
        string classes
    )
    {
        var link =
            request.Link is not null && item.Part.Wears
                ? string.Format(CultureInfo.InvariantCulture, request.Link, Uri.EscapeDataString(item.Part.Id))
                : null;
        if (link is not null)
        {
            svg.Append("<a href=\"").Append(Text(link)).Append("\" tabindex=\"-1\">");
        }
        svg.Append("<g class=\"").Append(classes).Append("\"><title>").Append(Text(item.Part.Name)).Append("</title>");
        foreach (var solid in solids)
        {
            SolidSvg.Append(svg, solid, scene.View);
        }
        svg.Append(link is null ? "</g>" : "</g></a>");
    }

    private static string Classes(Scene.Item item, DrawingRequest request, bool hidden)
    {
        var id = item.Part.Id;
        var state = request.Conditions.GetValueOrDefault(id) switch
        {
            PartCondition.Loose => " loose",
            PartCondition.Freed => " freed",
            PartCondition.New => " new",
            _ => "",
        };
        return $"k-{item.Part.Kind}{state}{(request.ComingOff.Contains(id) ? " off" : "")}{(request.Focus.Contains(id) ? " focus" : "")}{(item.Moved ? " moved" : "")}{(hidden ? " hid" : "")}";
    }

    private static void Ends(StringBuilder svg, Scene scene)
    {
        if (scene.View.Name is "door" or "behind")
        {
            return;
        }
        var size = scene.Layout.Size;
        foreach (var (word, z) in new[] { ("door", -14.0), ("rear", size[2] + 14) })
        {
            var at = scene.View.Map(new(size[0] / 2, scene.View.Name == "above" ? size[1] : -8, z));
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"end\" x=\"{at.U:0}\" y=\"{at.V + (scene.View.Name == "above" ? z < 0 ? 40 : -4 : 40):0}\" text-anchor=\"middle\">{word}</text>"
            );
        }
    }

    private static void Marks(StringBuilder svg, Scene scene, Operation step, double scale, bool close)
    {
        var first = true;
        foreach (var group in step.Fasteners.Where(f => f.At.Count > 0))
        {
            for (var k = 0; k < group.At.Count; k++)
            {
                // The one that carries till last stays in by a turn: it stands open, like what is only loosened.
                var stays = group.LeftInAt.Contains(k);
                var at = scene.View.Map(P3.Of(group.At[k]));
                MarkSvg.Append(svg, at, group.Head, group.LoosenOnly || stays, scale);
                if (stays)
                {
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<text class=\"count\" x=\"{at.U:0}\" y=\"{at.V + 44 * scale:0}\" text-anchor=\"middle\">stays</text>"
                    );
                    continue;
                }
                if (close && first && step.Tools.Count > 0)
                {
                    MarkSvg.Tool(svg, at, step.Tools[0].Any[0]);
                }
                first = false;
            }
            // How many a mark stands for is said where they are not drawn singly.
            if (group.At.Count < group.Count)
            {
                var at = scene.View.Map(P3.Of(group.At[^1]));
                svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<text class=\"count\" x=\"{at.U + 32 * scale:0}\" y=\"{at.V + 12 * scale:0}\">×{group.Count}</text>"
                );
            }
        }
        foreach (var plug in step.Plugs.Where(p => p.At is { Count: 3 }))
        {
            MarkSvg.Append(svg, scene.View.Map(P3.Of(plug.At!)), "plug", false, scale);
        }
    }

    /// <summary>The motion in this view; along the line of sight it is a disc with a point (towards the eye) or a cross
    /// (away).</summary>
    private static void Arrow(StringBuilder svg, Scene scene, int number)
    {
        if (scene.Arrow.Count < 2)
        {
            return;
        }
        var points = scene.Arrow.Select(scene.View.Map).ToList();
        var (from, to) = (points[0], points[^1]);
        if (Math.Sqrt((to.U - from.U) * (to.U - from.U) + (to.V - from.V) * (to.V - from.V)) < 28)
        {
            var towards = to.Near > from.Near;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<g class=\"along\" transform=\"translate({to.U:0} {to.V:0})\"><circle r=\"24\"/>{(towards ? "<circle class=\"eye\" r=\"7\"/>" : "<path d=\"M-15-15L15 15M-15 15L15-15\"/>")}<text y=\"52\" text-anchor=\"middle\">{(towards ? "towards you" : "away from you")}</text></g>"
            );
            return;
        }
        var d =
            points.Count == 3
                ? string.Create(
                    CultureInfo.InvariantCulture,
                    $"M{points[0].U:0} {points[0].V:0}Q{points[1].U:0} {points[1].V:0} {points[2].U:0} {points[2].V:0}"
                )
                : SolidSvg.Line(points);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<path class=\"motion\" marker-end=\"url(#tip{number})\" d=\"{d}\"/>"
        );
    }

    /// <summary>Where the step happens: its first fastener, plug, or what moves.</summary>
    private static P3? Place(DrawingRequest request) =>
        request.Step is not { } step ? null
        : step.Fasteners.FirstOrDefault(f => f.At.Count > 0) is { } f
            ? P3.Of(f.At[Enumerable.Range(0, f.At.Count).FirstOrDefault(k => !f.LeftInAt.Contains(k))])
        : step.Plugs.FirstOrDefault(p => p.At is { Count: 3 }) is { } plug ? P3.Of(plug.At!)
        : step.Motion is { } m ? P3.Of(m.Path[0])
        : null;

    private static bool Near(
        SolidFaces solid,
        Projection view,
        (double Left, double Top, double Right, double Bottom) frame
    )
    {
        var points = new[]
        {
            solid.Low,
            solid.High,
            new P3(solid.Low.X, solid.High.Y, solid.Low.Z),
            new P3(solid.High.X, solid.Low.Y, solid.High.Z),
            new P3(solid.Low.X, solid.Low.Y, solid.High.Z),
            new P3(solid.High.X, solid.High.Y, solid.Low.Z),
            new P3(solid.High.X, solid.Low.Y, solid.Low.Z),
            new P3(solid.Low.X, solid.High.Y, solid.High.Z),
        }
            .Select(view.Map)
            .ToList();
        return points.Max(p => p.U) >= frame.Left
            && points.Min(p => p.U) <= frame.Right
            && points.Max(p => p.V) >= frame.Top
            && points.Min(p => p.V) <= frame.Bottom;
    }

    private static string Words(Scene scene, DrawingRequest request)
    {
        string Name(string id) =>
            scene.Layout.FindPart(id)?.Name is { Length: > 0 } n ? char.ToLowerInvariant(n[0]) + n[1..] : id;
        var words = new StringBuilder(scene.Layout.Title).Append(' ').Append(scene.View.Words).Append('.');
        void Say(string head, IEnumerable<string> ids)
        {
            var list = ids.Select(Name).ToList();
            if (list.Count > 0)
            {
                words.Append(' ').Append(head).Append(": ").AppendJoin(", ", list).Append('.');
            }
        }
        Say("Out", request.Conditions.Where(c => c.Value == PartCondition.Out).Select(c => c.Key));
        Say("Loose", request.Conditions.Where(c => c.Value == PartCondition.Loose).Select(c => c.Key));
        Say("Free", request.Conditions.Where(c => c.Value == PartCondition.Freed).Select(c => c.Key));
        Say("Seen", scene.Items.Select(i => i.Part.Id).Where(scene.Seen.Contains));
        var here = scene.Items.Select(i => i.Part.Id).ToHashSet();
        Say("In question", request.Focus.Where(f => scene.Seen.Contains(f)));
        Say("In question and hidden from here", request.Focus.Where(f => here.Contains(f) && !scene.Seen.Contains(f)));
        if (request.Step is { } step)
        {
            if (step.Fasteners.Count > 0)
            {
                words
                    .Append(" Marked: ")
                    .AppendJoin(", ", step.Fasteners.Select(f => $"{f.Count} {f.Head} {f.Where}"))
                    .Append('.');
            }
            if (step.Plugs.Count > 0)
            {
                words.Append(" Plug: ").AppendJoin(", ", step.Plugs.Select(p => $"{p.Name}, {p.Where}")).Append('.');
            }
            if (step.Motion is { } motion)
            {
                words
                    .Append(request.Inward ? " Arrow: back the way it came out (" : " Arrow: ")
                    .Append(motion.Text)
                    .Append(request.Inward ? ")." : ".");
            }
        }
        return words.ToString();
    }

    private static string Text(string s) => WebUtility.HtmlEncode(s);
}
