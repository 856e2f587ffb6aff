using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Runtime.CompilerServices;
using System.Text;
using Idrum.Core.Basics;
using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;
using Microsoft.AspNetCore.Html;

namespace Idrum.Web.Drawing;

/// <summary>Draws a layout as SVG: projections of its solids in the present state of the machine. The same layout and
/// request give the same
/// text, so drawings are remembered.</summary>
public static class MachineDrawing
{
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
        var figures = StepFigures.Of(layout, request);
        var html = new StringBuilder(24_000);
        html.Append(CultureInfo.InvariantCulture, $"<div class=\"views n{figures.Count}\">");
        for (var number = 0; number < figures.Count; number++)
        {
            var figure = figures[number];
            html.Append(figure.Close ? "<figure class=\"close\">" : "<figure>");
            Picture(html, figure, figures[0], request, number);
            html.Append("<figcaption>").Append(Caption(figure, figures[0], request)).Append("</figcaption></figure>");
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
                .Append(Text(string.Join(", ", beside.Select(Wording.Inside))))
                .Append("</p>");
        }
        return html.Append("</div>").ToString();
    }

    /// <summary>Under a picture: where the eye stands, what is cut away, which way what points at the eye.</summary>
    private static string Caption(StepFigure figure, StepFigure first, DrawingRequest request)
    {
        var words = new StringBuilder(
            !figure.Close ? figure.Scene.View.Words
            : figure.Scene == first.Scene ? "close up"
            : "close up, " + figure.Scene.View.Words
        );
        if (!figure.Close && figure.Scene.Lying.Count > 0)
        {
            words.Insert(
                0,
                string.Join(
                    ", ",
                    figure.Scene.Lying.Select(id => Wording.Inside(figure.Scene.Layout.FindPart(id)!.Name))
                ) + " as it lies there, "
            );
        }
        if (figure.Cut.Count > 0)
        {
            words.Append(", seen through what is before it");
        }
        if (request.Step is not null && Pointed(figure, first) && Sighted(figure.Scene) is { } towards)
        {
            words.Append(towards ? " · ⊙ towards you" : " · ⊗ away from you");
        }
        return words.ToString();
    }

    private static void Picture(
        StringBuilder svg,
        StepFigure figure,
        StepFigure first,
        DrawingRequest request,
        int number
    )
    {
        var (scene, frame, close) = (figure.Scene, figure.Frame, figure.Close);
        var (wide, high) = (frame.Right - frame.Left, frame.Bottom - frame.Top);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"machine\" x-ignore=\"\" viewBox=\"{frame.Left:0} {frame.Top:0} {wide:0} {high:0}\" role=\"{(request.Link is null ? "img" : "group")}\" aria-label=\"{Text((close ? "Close up. " : "") + Words(scene, request))}\">"
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<defs><marker id=\"tip{number}\" viewBox=\"0 0 10 10\" refX=\"7\" refY=\"5\" markerWidth=\"5\" markerHeight=\"5\" orient=\"auto\"><path d=\"M0 0 9 5 0 10\" class=\"tip\"/></marker>{(close ? Hatches(number) : "")}</defs>"
        );
        var named = StepFigures.Named(scene, request);
        var seen = close || figure.Cut.Count > 0 ? scene.SeenIn(frame, figure.Cut) : scene.Seen;
        foreach (var run in scene.Order(seen).Where(o => !close || Near(o.Solid, scene.View, frame)))
        {
            if (!figure.Cut.Contains(run.Item.Part.Id))
            {
                Solid(svg, run.Item, [run.Solid], scene, request, Classes(run.Item, request, false));
                if (
                    close
                    && run.Item.Part.Kind is PartKinds.Drum or PartKinds.Bulkhead
                    && !request.Focus.Contains(run.Item.Part.Id)
                )
                {
                    svg.Append(
                        CultureInfo.InvariantCulture,
                        $"<g class=\"hatch\" fill=\"url(#{run.Item.Part.Kind}{number})\">"
                    );
                    SolidSvg.Append(svg, run.Solid, scene.View);
                    svg.Append("</g>");
                }
            }
        }
        foreach (
            var item in scene.Items.Where(i =>
                request.Focus.Contains(i.Part.Id) && !seen.Contains(i.Part.Id) && figure.Cut.Count == 0
            )
        )
        {
            Solid(svg, item, item.Solids, scene, request, Classes(item, request, true));
        }
        foreach (var item in scene.Items.Where(i => figure.Cut.Contains(i.Part.Id)))
        {
            Solid(svg, item, item.Solids, scene, request, "cut");
        }
        if (!close)
        {
            Ends(svg, scene);
        }
        if (request.Step is { } step)
        {
            var unit = wide / (close ? 600 : 760);
            Marks(svg, figure, step, request, unit, named);
            if (Pointed(figure, first))
            {
                Arrow(svg, figure, number, named);
            }
            if (close)
            {
                Names(svg, figure, request, named);
            }
        }
        svg.Append("</svg>");
    }

    /// <summary>Drum and bulkhead are told apart close up by their hatching.</summary>
    private static string Hatches(int number) =>
        string.Concat(
            new[] { ("drum", 45), ("bulkhead", 0) }.Select(h =>
                $"<pattern id=\"{h.Item1}{number}\" width=\"12\" height=\"12\" patternUnits=\"userSpaceOnUse\" patternTransform=\"rotate({h.Item2})\"><path d=\"M0 0V12\" class=\"stroke\"/></pattern>"
            )
        );

    /// <summary>What else is seen in a close-up, by its name, so that a drum is not taken for a bulkhead: the largest
    /// three that leave room for their words beside what the step names.</summary>
    private static void Names(
        StringBuilder svg,
        StepFigure figure,
        DrawingRequest request,
        IReadOnlyList<Scene.Item> named
    )
    {
        var frame = figure.Frame;
        var scale = (frame.Right - frame.Left) / 1000;
        var taken = new List<(double Left, double Top, double Right, double Bottom)>();
        if (named.Count > 0)
        {
            taken.Add(figure.Scene.BoxOf(named));
        }
        if (StepFigures.Place(request.Step!) is { } place)
        {
            var at = figure.Scene.View.Map(place);
            taken.Add((at.U - 40 * scale, at.V - 40 * scale, at.U + 160 * scale, at.V + 160 * scale));
        }
        var depth = figure.Scene.Depth(frame, figure.Cut);
        foreach (
            var (item, spot) in depth
                .Spots()
                .Where(s => depth.Share(s.Value.Cells) > 0.06)
                .OrderByDescending(s => s.Value.Cells)
                .Select(s => (figure.Scene.Items[s.Key], s.Value))
                .Where(s => !request.Focus.Contains(s.Item1.Part.Id) && !figure.Cut.Contains(s.Item1.Part.Id))
                .Where(s => s.Item1.Part.Kind != PartKinds.Cabinet)
                .Take(3)
        )
        {
            var words = Wording.Inside(item.Part.Name);
            var (half, high) = (words.Length * 20 * scale, 45 * scale);
            var u = Math.Clamp(spot.Middle.U, frame.Left + half, Math.Max(frame.Left + half, frame.Right - half));
            var box = (u - half, spot.Middle.V - high, u + half, spot.Middle.V + high / 3);
            if (taken.Any(t => Overlap(t, box)) || u + half > frame.Right)
            {
                continue;
            }
            taken.Add(box);
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"name\" transform=\"translate({u:0} {spot.Middle.V:0}) scale({scale:0.###})\" text-anchor=\"middle\">{Text(words)}</text>"
            );
        }
    }

    private static bool Overlap(
        (double Left, double Top, double Right, double Bottom) a,
        (double Left, double Top, double Right, double Bottom) b
    ) => a.Left < b.Right && b.Left < a.Right && a.Top < b.Bottom && b.Top < a.Bottom;

    /// <summary>Whether the motion is drawn: once for each view.</summary>
    private static bool Pointed(StepFigure figure, StepFigure first) =>
        figure == first || figure.Scene != first.Scene || Sighted(figure.Scene) is null;

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
        if (scene.Alone || scene.View.Name is "door" or "behind")
        {
            return;
        }
        var size = scene.Layout.Size;
        foreach (var (word, z) in new[] { ("door", -14.0), ("rear", size[2] + 14) })
        {
            var at = scene.View.Map(new(size[0] / 2, scene.View.Name == "above" ? size[1] : -8, z));
            // From a side the word begins or ends at the machine's edge, so that the frame does not cut it.
            var anchor =
                scene.View.Name is not ("left" or "right") ? "middle"
                : (scene.View.Name == "left") == z < 0 ? "end"
                : "start";
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"end\" x=\"{at.U:0}\" y=\"{at.V + (scene.View.Name == "above" ? z < 0 ? 40 : -4 : 40):0}\" text-anchor=\"{anchor}\">{word}</text>"
            );
        }
    }

    private static void Marks(
        StringBuilder svg,
        StepFigure figure,
        Operation step,
        DrawingRequest request,
        double unit,
        IReadOnlyList<Scene.Item> named
    )
    {
        var scene = figure.Scene;
        var first = true;
        foreach (var group in step.Fasteners.Where(f => f.At.Count > 0))
        {
            for (var k = 0; k < group.At.Count; k++)
            {
                // The one that carries till last stays in by a turn: it stands open, like what is only loosened.
                var stays = group.LeftInAt.Contains(k);
                var point = P3.Of(group.At[k]);
                var at = scene.View.Map(point);
                MarkSvg.Append(svg, at, group.Head, group.LoosenOnly || stays, unit, Hidden(figure, point, request));
                if (group.IsLeftHand)
                {
                    MarkSvg.Turn(svg, at, unit, scene.Inward);
                }
                if (stays)
                {
                    Word(svg, figure, at, unit, 44, "stays");
                    continue;
                }
                if (figure.Close && first && step.Tools.Count > 0)
                {
                    MarkSvg.Tool(svg, at, step.Tools[0].Any[0], unit, Away(scene, at, named));
                }
                first = false;
            }
            // How many a mark stands for is said where they are not drawn singly.
            if (group.At.Count < group.Count)
            {
                Word(svg, figure, scene.View.Map(P3.Of(group.At[^1])), unit, 12, $"×{group.Count}");
            }
        }
        foreach (var plug in step.Plugs.Where(p => p.At is { Count: 3 }))
        {
            var point = P3.Of(plug.At!);
            MarkSvg.Append(svg, scene.View.Map(point), null, false, unit, Hidden(figure, point, request));
        }
        if (StepFigures.Hook(step) is { Low: var low, High: var high } && named.Count == 0)
        {
            MarkSvg.Hook(svg, scene.View.Map(low), scene.View.Map(high), unit);
        }
    }

    private static bool Hidden(StepFigure figure, P3 point, DrawingRequest request) =>
        figure.Cut.Count == 0 && figure.Scene.Hides(point, request.Focus);

    /// <summary>To which sides a tool points so that it does not lie on the part: away from its middle.</summary>
    private static (int U, int V) Away(Scene scene, P2 tip, IReadOnlyList<Scene.Item> named)
    {
        if (named.Count == 0)
        {
            return (1, 1);
        }
        var box = scene.BoxOf(named);
        return (tip.U < (box.Left + box.Right) / 2 ? -1 : 1, tip.V < (box.Top + box.Bottom) / 2 ? -1 : 1);
    }

    /// <summary>A word beside a mark, on the side where the picture has room.</summary>
    private static void Word(StringBuilder svg, StepFigure figure, P2 at, double unit, double below, string words)
    {
        var share = (at.U - figure.Frame.Left) / (figure.Frame.Right - figure.Frame.Left);
        var (anchor, by) =
            share > 0.75 ? ("end", -28.0)
            : share < 0.25 || below < 20 ? ("start", 28)
            : ("middle", 0);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"<text class=\"count\" transform=\"translate({at.U + by * unit:0} {at.V + below * unit:0}) scale({unit:0.##})\" text-anchor=\"{anchor}\">{words}</text>"
        );
    }

    /// <summary>Whether the motion runs along the line of sight: true towards the eye, false away from it, null where it
    /// runs across.</summary>
    private static bool? Sighted(Scene scene)
    {
        if (scene.Arrow.Count < 2)
        {
            return null;
        }
        var (from, to) = (scene.View.Map(scene.Arrow[0]), scene.View.Map(scene.Arrow[^1]));
        return double.Hypot(to.U - from.U, to.V - from.V) < 28 ? to.Near > from.Near : null;
    }

    /// <summary>The motion in this view; along the line of sight it is a disc with a point (towards the eye) or a cross
    /// (away), beside the part where it would cover it.</summary>
    private static void Arrow(StringBuilder svg, StepFigure figure, int number, IReadOnlyList<Scene.Item> named)
    {
        var scene = figure.Scene;
        if (scene.Arrow.Count < 2)
        {
            return;
        }
        var points = scene.Arrow.Select(scene.View.Map).ToList();
        if (Sighted(scene) is { } towards)
        {
            var (wide, high) = (figure.Frame.Right - figure.Frame.Left, figure.Frame.Bottom - figure.Frame.Top);
            var r = 0.045 * wide;
            var (u, v) = (points[^1].U, points[^1].V);
            if (named.Count > 0 && scene.BoxOf(named) is var box)
            {
                var size = (box.Right - box.Left) * (box.Bottom - box.Top);
                if (size < 40 * r * r)
                {
                    // Left or right of it, where there is room.
                    u = box.Right + 1.6 * r < figure.Frame.Right - r ? box.Right + 1.6 * r : box.Left - 1.6 * r;
                    v = Math.Clamp((box.Top + box.Bottom) / 2, figure.Frame.Top + r, figure.Frame.Top + high - r);
                }
            }
            var scale = r / 24;
            svg.Append(
                CultureInfo.InvariantCulture,
                $"<g class=\"along\" transform=\"translate({u:0} {v:0}) scale({scale:0.##})\"><circle r=\"24\"/>{(towards ? "<circle class=\"eye\" r=\"7\"/>" : "<path d=\"M-15-15L15 15M-15 15L15-15\"/>")}</g>"
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
        string Name(PartId id) => scene.Layout.FindPart(id)?.Name is { Length: > 0 } n ? n.Inside() : id;
        var words = new StringBuilder(scene.Layout.Title).Append(' ').Append(scene.View.Words).Append('.');
        void Say(string head, IEnumerable<PartId> ids)
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
                    .AppendJoin(", ", step.Fasteners.Select(f => $"{f.Count} {f.Head.Word()} {f.Where}"))
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
