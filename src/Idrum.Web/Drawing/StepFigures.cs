using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>One picture of a step.</summary>
/// <param name="Scene">The machine and where the eye stands.</param>
/// <param name="Frame">What of it is shown.</param>
/// <param name="Close">Whether it is the close-up.</param>
/// <param name="Cut">Ids of parts drawn as outlines only, so that the named part is seen behind them.</param>
internal sealed record StepFigure(
    Scene Scene,
    (double Left, double Top, double Right, double Bottom) Frame,
    bool Close,
    IReadOnlySet<PartId> Cut
);

/// <summary>Which pictures a step needs: the machine as the repairer sees it, and a close-up only where it tells what
/// that one does not: a screw, a plug, a part that is small or stands behind others. The close-up is of the same view if
/// that shows the thing, else of the one that does; where none does, what hides it is cut away.</summary>
internal static class StepFigures
{
    /// <summary>A named part must be so wide in the picture, and so much of it free.</summary>
    internal const double LeastPx = 12,
        LeastFree = 0.6;

    /// <summary>Size of one of two pictures side by side on the narrowest phone.</summary>
    internal const double FigurePx = 165,
        FigureHighPx = 400;

    private const double CloseWide = 300,
        CloseHigh = 220;

    /// <summary>Parts up to this size are shown whole beside their screw.</summary>
    private const double Beside = 420;

    private const double Air = 1.25;

    /// <summary>A close-up of more than this share of the machine's width is none.</summary>
    private const double Most = 0.6;

    /// <summary>The pictures of a request, the whole machine first.</summary>
    internal static IReadOnlyList<StepFigure> Of(Layout layout, DrawingRequest request)
    {
        var figures = new List<StepFigure>();
        foreach (var name in request.Views)
        {
            var scene = new Scene(layout, request, Projection.Of(name));
            figures.Add(new(scene, scene.Frame, false, new HashSet<PartId>()));
        }
        if (request is { CloseUp: true, Step: not null } && CloseUp(layout, request, figures[0].Scene) is { } close)
        {
            var whole = figures[0].Frame;
            if (
                close.Scene == figures[0].Scene
                && close.Frame.Right - close.Frame.Left > Most * (whole.Right - whole.Left)
                && Named(close.Scene, request)
                    .All(i => Tells(close.Scene, i, request.Focus, whole, close.Scene.Depth(whole, close.Cut)))
            )
            {
                // What is as large as the machine needs no second picture: the first is cut open.
                figures[0] = figures[0] with { Cut = close.Cut };
            }
            else
            {
                figures.Insert(1, close);
            }
        }
        return figures;
    }

    /// <summary>The parts the step names that are in the picture: not those that sit on another of them.</summary>
    internal static IReadOnlyList<Scene.Item> Named(Scene scene, DrawingRequest request) =>
        [
            .. scene.Items.Where(i =>
                request.Focus.Contains(i.Part.Id) && !request.Focus.Contains(i.Part.On) && i.Solids.Count > 0
            ),
        ];

    /// <summary>Whether a part can be told in a picture: large enough, and enough of it free.</summary>
    internal static bool Tells(
        Scene scene,
        Scene.Item part,
        IReadOnlyCollection<PartId> named,
        (double Left, double Top, double Right, double Bottom) frame,
        DepthBuffer? depth = null
    )
    {
        var scale = Scale(frame);
        var box = scene.BoxOf([part]);
        var (wide, high) = ((box.Right - box.Left) * scale, (box.Bottom - box.Top) * scale);
        return Math.Max(wide, high) >= LeastPx
            && wide * high >= LeastPx * LeastPx
            && scene.Sight(part, named, depth).Free >= LeastFree;
    }

    /// <summary>Pixels a millimetre on the phone.</summary>
    internal static double Scale((double Left, double Top, double Right, double Bottom) frame) =>
        Math.Min(FigurePx / (frame.Right - frame.Left), FigureHighPx / (frame.Bottom - frame.Top));

    private static StepFigure? CloseUp(Layout layout, DrawingRequest request, Scene whole)
    {
        var step = request.Step!;
        var place = Place(step);
        if (place is null && Named(whole, request).Count == 0 && Hook(step) is { Low: var low, High: var high })
        {
            // A wire round the drum's lip is seen from the side, through what is before it.
            var side = new Scene(layout, request, Projection.Of("left"));
            var middle = side.View.Map((low + high) * 0.5);
            return new(side, Round(middle.U, middle.V, CloseWide * 0.8), true, side.Hiding(low).ToHashSet());
        }
        var poor = Named(whole, request)
            .Where(i => !Tells(whole, i, request.Focus, whole.Frame))
            .Select(i => i.Part.Id)
            .ToHashSet();
        if (place is null && poor.Count == 0)
        {
            return null;
        }
        var scene = whole;
        // A belt is followed where the hands are, through what is before it.
        var belt = poor.All(id => layout.FindPart(id)?.Kind == PartKinds.Belt) && poor.Count > 0;
        if (Worth(whole) < LeastFree && !belt)
        {
            var best = Projection
                .Names.Where(n => n != whole.View.Name)
                .Select(n => new Scene(layout, request, Projection.Of(n)))
                .MaxBy(Worth)!;
            scene = Worth(best) >= LeastFree ? best : whole;
        }
        double Worth(Scene s)
        {
            var parts = Named(s, request).Where(i => poor.Contains(i.Part.Id)).ToList();
            var depth = parts.Count > 0 ? s.Depth(FrameOf(s, request, place, poor), new HashSet<PartId>()) : null;
            var free = parts.Select(i => s.Sight(i, request.Focus, depth).Free).DefaultIfEmpty(1).Min();
            // A place of its own counts only where no part does: beside a part the first picture shows it.
            return poor.Count > 0 || place is null || !s.Hides(place.Value, request.Focus) ? free : 0;
        }
        var frame = FrameOf(scene, request, place, poor);
        var cut = new HashSet<PartId>();
        if (poor.Count == 0 && Worth(scene) < LeastFree && place is { } hidden)
        {
            cut.UnionWith(scene.Hiding(hidden));
        }
        foreach (var part in Named(scene, request).Where(i => poor.Contains(i.Part.Id)))
        {
            // Layer behind layer, until enough of it is free.
            while (scene.Sight(part, request.Focus, scene.Depth(frame, cut)) is { Free: < LeastFree } sight)
            {
                var known = cut.Count;
                cut.UnionWith(sight.Before);
                if (cut.Count == known)
                {
                    break;
                }
            }
        }
        return new(scene, frame, true, cut);
    }

    /// <summary>The lip and the edge a wire hook goes over, where the step hangs the drum on one.</summary>
    internal static (P3 Low, P3 High)? Hook(Operation step)
    {
        if (step.Motion is not { } motion || !step.Tools.Any(t => t.Any.Contains("wire-hook")))
        {
            return null;
        }
        var (a, b) = (P3.Of(motion.Path[0]), P3.Of(motion.Path[^1]));
        return a.Y <= b.Y ? (a, b) : (b, a);
    }

    private static (double Left, double Top, double Right, double Bottom) Round(double u, double v, double wide)
    {
        var high = wide * CloseHigh / CloseWide;
        return (u - wide / 2, v - high / 2, u + wide / 2, v + high / 2);
    }

    /// <summary>Where the step's first fastener or plug is; null where it has none that is drawn.</summary>
    internal static P3? Place(Operation step) =>
        step.Fasteners.FirstOrDefault(f => f.At.Count > 0) is { } f
            ? P3.Of(f.At[Enumerable.Range(0, f.At.Count).FirstOrDefault(k => !f.LeftInAt.Contains(k))])
        : step.Plugs.FirstOrDefault(p => p.At is { Count: 3 }) is { } plug ? P3.Of(plug.At!)
        : null;

    private static (double Left, double Top, double Right, double Bottom) FrameOf(
        Scene scene,
        DrawingRequest request,
        P3? place,
        HashSet<PartId> poor
    )
    {
        var named = Named(scene, request);
        var shown = named.Where(i => poor.Contains(i.Part.Id)).ToList();
        if (shown.Count == 0)
        {
            shown =
            [
                .. named.Where(i =>
                {
                    var box = scene.BoxOf([i]);
                    return box.Right - box.Left <= Beside && box.Bottom - box.Top <= Beside;
                }),
            ];
        }
        var (left, top, right, bottom) = shown.Count > 0 ? scene.BoxOf(shown) : default;
        var (u, v) = ((left + right) / 2, (top + bottom) / 2);
        var (wide, high) = ((right - left) * Air, (bottom - top) * Air);
        if (place is { } p)
        {
            var at = scene.View.Map(p);
            if (shown.Count == 0)
            {
                (u, v, wide, high) = (at.U, at.V, CloseWide, CloseHigh);
            }
            else if (!scene.Hides(p, request.Focus))
            {
                // The screw with the part, where it can be seen with it.
                (left, right) = (Math.Min(left, at.U - 20), Math.Max(right, at.U + 20));
                (top, bottom) = (Math.Min(top, at.V - 20), Math.Max(bottom, at.V + 20));
                (u, v) = ((left + right) / 2, (top + bottom) / 2);
                (wide, high) = ((right - left) * Air, (bottom - top) * Air);
            }
        }
        // A small thing is drawn large enough to be told, with as much round it as says where it is.
        var small = poor.Count > 0 && shown.Count > 0 ? 10 * Math.Max(right - left, bottom - top) : CloseWide;
        wide = Math.Max(Math.Max(wide, Math.Min(small, CloseWide * 0.6)), high * CloseWide / CloseHigh);
        return Round(u, v, wide);
    }
}
