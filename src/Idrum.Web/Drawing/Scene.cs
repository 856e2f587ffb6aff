using Idrum.Core.Jobs.Known;
using Idrum.Core.Machines;

namespace Idrum.Web.Drawing;

/// <summary>The machine in one state, seen one way: what is drawn, in which order, and what is seen.</summary>
internal sealed class Scene
{
    /// <summary>One part with its solids.</summary>
    internal sealed record Item(Part Part, IReadOnlyList<SolidFaces> Solids, bool Moved);

    private const double Margin = 34;

    /// <summary>How far things stand from each other that are drawn apart, mm.</summary>
    internal const double Apart = 520;

    /// <summary>How much of an open part is shown beyond the machine, mm.</summary>
    private const double Open = 130;

    /// <summary>How far behind a face a screw or plug may sit and still be seen by it, mm.</summary>
    private const double Reach = 45;

    internal Scene(Layout layout, DrawingRequest request, Projection view)
    {
        View = view;
        Layout = layout;
        var offsets = request
            .Exploded.Where(o => o.Motion is not null && o.Motion.Kind != MotionKind.Hinge)
            .SelectMany(o =>
                o.TakesOff.Concat(o.Loosens).Select(p => (Part: p, By: Offset(o.Motion!, request.Exploded.Count > 1)))
            )
            .GroupBy(p => p.Part)
            .ToDictionary(g => g.Key, g => g.Last().By);
        var opened = request
            .Exploded.Where(o => o.Motion?.Kind == MotionKind.Hinge)
            .SelectMany(o => o.Loosens)
            .ToHashSet();
        var slack = request
            .Conditions.Where(c => c.Value is PartCondition.Freed or PartCondition.Loose)
            .Select(c => c.Key)
            .ToHashSet();
        // A hinged part that is loose stands open.
        opened.UnionWith(slack);
        // A step that puts a part in is drawn with the part where it goes.
        if (request is { Inward: true, Step: { } goesIn })
        {
            slack.ExceptWith(goesIn.Loosens.Concat(goesIn.Frees));
            opened.ExceptWith(goesIn.Loosens);
        }
        // What is taken off a part that is out already is seen on that part, as it lies there.
        var carriers = request
            .Focus.Select(layout.FindPart)
            .Where(p => p is { On.IsNone: false } && Out(p.On) && !Out(p.Id) && !offsets.ContainsKey(p.On))
            .Select(p => p!.On)
            .ToHashSet();
        // A belt that is off lies round the drum, wherever that is.
        var drums = layout.PartsOfKind([PartKinds.Drum]).Select(d => d.Id).ToList();
        var noDrum = drums.All(d => Out(d) && !offsets.ContainsKey(d));
        bool Off(Part p) => noDrum && p.Kind == PartKinds.Belt && slack.Contains(p.Id) && !offsets.ContainsKey(p.Id);
        if (request.Focus.Select(layout.FindPart).Any(p => p is not null && Off(p)))
        {
            carriers.UnionWith(drums);
        }
        Lying = request.Step is null ? [] : carriers;
        Items =
        [
            .. layout
                .Solids.GroupBy(s => s.Part)
                .Select(g => (Part: layout.FindPart(g.Key)!, Solids: g.ToList()))
                .Where(p => request.Alone ? request.Focus.Contains(p.Part.Id) : Here(p.Part))
                .Select(p => new Item(
                    p.Part,
                    [
                        .. p
                            .Solids.Select(s => SolidFaces.Of(s, layout, By(p.Part), slack.Contains(p.Part.Id)))
                            .Select(f => Swings(p.Part) is { } swing ? f.Swung(swing) : f),
                    ],
                    offsets.ContainsKey(p.Part.Id) || offsets.ContainsKey(p.Part.On)
                )),
        ];
        // What sits on another part leaves with it.
        bool Out(PartId id) => request.Conditions.GetValueOrDefault(id) == PartCondition.Out;
        bool Here(Part p) =>
            Lying.Count > 0
                ? Lying.Contains(p.Id)
                    || Lying.Contains(p.On) && (!Out(p.Id) || offsets.ContainsKey(p.Id))
                    || Off(p) && Lying.Contains(drums[0])
                : offsets.ContainsKey(p.Id)
                    || !Off(p) && !Out(p.Id) && (p.On.IsNone || !Out(p.On) || offsets.ContainsKey(p.On));
        P3 By(Part p) =>
            offsets.TryGetValue(p.Id, out var own)
                ? own + (!p.On.IsNone ? offsets.GetValueOrDefault(p.On) : default)
                : offsets.GetValueOrDefault(p.On);
        Swing? Swings(Part p) => Hinged(layout, p.Id, opened, offsets) ?? Hinged(layout, p.On, opened, offsets);
        Arrow = request.Step?.Motion is { } motion
            ? [.. (request.Inward ? motion.Path.Reverse() : motion.Path).Select(P3.Of)]
            : [];
        Alone = request.Alone;
        swung = opened.Except(request.Focus).ToHashSet();
        Frame = FrameOf();
        whole = Depth(Frame, new HashSet<PartId>(), out var seen);
        Seen = seen;
        Inward = request.Inward;
    }

    private readonly DepthBuffer whole;
    private readonly HashSet<PartId> swung;

    /// <summary>Whether nothing of the machine stands round what is drawn.</summary>
    internal bool Alone { get; }

    /// <summary>Whether the step shown goes in.</summary>
    internal bool Inward { get; }

    /// <summary>What is nearest the eye in a frame, without what is cut away.</summary>
    internal DepthBuffer Depth(
        (double Left, double Top, double Right, double Bottom) frame,
        IReadOnlySet<PartId> cut
    ) => Depth(frame, cut, out _);

    private DepthBuffer Depth(
        (double Left, double Top, double Right, double Bottom) frame,
        IReadOnlySet<PartId> cut,
        out IReadOnlySet<PartId> seen
    )
    {
        var depth = new DepthBuffer(View, frame);
        var numbers = depth.Visible([.. Items.Select(i => cut.Contains(i.Part.Id) ? [] : i.Solids)]);
        seen = numbers.Select(i => Items[i].Part.Id).ToHashSet();
        return depth;
    }

    /// <summary>Ids of the parts that are seen in a frame once others are cut away.</summary>
    internal IReadOnlySet<PartId> SeenIn(
        (double Left, double Top, double Right, double Bottom) frame,
        IReadOnlySet<PartId> cut
    )
    {
        Depth(frame, cut, out var seen);
        return seen;
    }

    /// <summary>How much of a part is not behind others, 0 to 1, and who is before it; what is named beside it does not
    /// hide it.</summary>
    internal (double Free, IReadOnlySet<PartId> Before) Sight(
        Item item,
        IReadOnlyCollection<PartId> named,
        DepthBuffer? depth = null
    )
    {
        var over = (depth ?? whole).Over(item.Solids);
        var all = over.Values.Sum();
        var before = over.Where(o => o.Key >= 0 && Items[o.Key] != item && !named.Contains(Items[o.Key].Part.Id))
            .ToList();
        return all == 0
            ? (0, new HashSet<PartId>())
            : (1 - (double)before.Sum(o => o.Value) / all, before.Select(o => Items[o.Key].Part.Id).ToHashSet());
    }

    /// <summary>Whether another part than the named ones stands before a point.</summary>
    internal bool Hides(P3 point, IReadOnlyCollection<PartId> named)
    {
        var at = View.Map(point);
        var (part, near) = whole.At(at.U, at.V);
        return part >= 0 && near > at.Near + Reach && !named.Contains(Items[part].Part.Id);
    }

    /// <summary>Parts that stand before a point, layer behind layer.</summary>
    internal IEnumerable<PartId> Hiding(P3 point)
    {
        var at = View.Map(point);
        return Items
            .Where(i =>
                i.Solids.Any(s =>
                {
                    var flat = Flat(s);
                    return at.U >= flat.Left
                        && at.U <= flat.Right
                        && at.V >= flat.Top
                        && at.V <= flat.Bottom
                        && s.Middle(View.Eye) > at.Near + Reach;
                })
            )
            .Select(i => i.Part.Id);
    }

    /// <summary>The box of some parts in the picture.</summary>
    internal (double Left, double Top, double Right, double Bottom) BoxOf(IEnumerable<Item> items)
    {
        var corners = items.SelectMany(i => i.Solids).SelectMany(s => Corners(s.Low, s.High)).Select(View.Map).ToList();
        return (corners.Min(c => c.U), corners.Min(c => c.V), corners.Max(c => c.U), corners.Max(c => c.V));
    }

    internal Projection View { get; }

    internal Layout Layout { get; }

    internal IReadOnlyList<Item> Items { get; }

    /// <summary>Parts that lie beside the machine and are what the picture shows; none where it shows the
    /// machine.</summary>
    internal IReadOnlySet<PartId> Lying { get; }

    /// <summary>Ids of the parts that are seen.</summary>
    internal IReadOnlySet<PartId> Seen { get; }

    /// <summary>Points of the motion's arrow; none where nothing moves.</summary>
    internal IReadOnlyList<P3> Arrow { get; }

    internal (double Left, double Top, double Right, double Bottom) Frame { get; }

    /// <summary>Solids that are seen, farthest first: one that lies wholly beyond a plane between the two is drawn
    /// before the other; where they
    /// reach into each other, lines come after bodies and else the farther middle comes first.</summary>
    /// <param name="seen">Ids of the parts that are seen.</param>
    internal IReadOnlyList<(Item Item, SolidFaces Solid)> Order(IReadOnlySet<PartId> seen)
    {
        var all = Items
            .Where(i => seen.Contains(i.Part.Id))
            .SelectMany(i => i.Solids.Select(s => (Item: i, Solid: s, Flat: Flat(s))))
            .ToList();
        var n = all.Count;
        var after = new List<int>[n];
        var waits = new int[n];
        for (var i = 0; i < n; i++)
        {
            after[i] = [];
        }
        for (var a = 0; a < n; a++)
        {
            for (var b = a + 1; b < n; b++)
            {
                if (
                    all[a].Flat.Right < all[b].Flat.Left
                    || all[b].Flat.Right < all[a].Flat.Left
                    || all[a].Flat.Bottom < all[b].Flat.Top
                    || all[b].Flat.Bottom < all[a].Flat.Top
                )
                {
                    continue;
                }
                var (first, second) = Behind(all[a].Solid, all[b].Solid) ? (a, b) : (b, a);
                after[first].Add(second);
                waits[second]++;
            }
        }
        var ready = new PriorityQueue<int, double>();
        var left = new HashSet<int>(Enumerable.Range(0, n));
        foreach (var i in left.Where(i => waits[i] == 0))
        {
            ready.Enqueue(i, all[i].Solid.Middle(View.Eye));
        }
        var order = new List<(Item, SolidFaces)>(n);
        while (left.Count > 0)
        {
            // Solids that overlap in a ring have no order; the farthest of them begins.
            var next = ready.TryDequeue(out var r, out _) ? r : left.MinBy(i => all[i].Solid.Middle(View.Eye));
            if (!left.Remove(next))
            {
                continue;
            }
            order.Add((all[next].Item, all[next].Solid));
            foreach (var later in after[next].Where(later => --waits[later] == 0 && left.Contains(later)))
            {
                ready.Enqueue(later, all[later].Solid.Middle(View.Eye));
            }
        }
        return order;
    }

    private bool Behind(SolidFaces a, SolidFaces b)
    {
        var (aHides, bHides) = (MayHide(a, b), MayHide(b, a));
        if (aHides != bHides)
        {
            return bHides;
        }
        var (aLine, bLine) = (a.Line.Count > 0, b.Line.Count > 0);
        return aLine != bLine && aHides ? bLine : a.Middle(View.Eye) <= b.Middle(View.Eye);
    }

    /// <summary>Whether the one may stand before the other: not where a plane parts them and the eye is on the other's
    /// side.</summary>
    private bool MayHide(SolidFaces one, SolidFaces other)
    {
        bool Beyond(double low, double high, double otherLow, double otherHigh, double eye) =>
            eye > 1e-6 && high <= otherLow + 0.5 || eye < -1e-6 && low >= otherHigh - 0.5;
        return !(
            Beyond(one.Low.X, one.High.X, other.Low.X, other.High.X, View.Eye.X)
            || Beyond(one.Low.Y, one.High.Y, other.Low.Y, other.High.Y, View.Eye.Y)
            || Beyond(one.Low.Z, one.High.Z, other.Low.Z, other.High.Z, View.Eye.Z)
        );
    }

    private (double Left, double Top, double Right, double Bottom) FrameOf()
    {
        // A top that stands open is not what the picture is of: a hand's breadth of it is enough.
        double[] size = [.. Layout.Size];
        P3 Within(P3 p) =>
            new(
                Math.Clamp(p.X, -Open, size[0] + Open),
                Math.Clamp(p.Y, -Open, size[1] + Open),
                Math.Clamp(p.Z, -Open, size[2] + Open)
            );
        var corners = (Lying.Count > 0 || Alone ? [] : Corners(new(0, 0, 0), new(size[0], size[1], size[2])))
            .Concat(
                Items.SelectMany(i =>
                    i.Solids.SelectMany(s => Corners(s.Low, s.High))
                        .Select(c => swung.Contains(i.Part.Id) ? Within(c) : c)
                )
            )
            .Concat(Arrow)
            .Select(View.Map)
            .ToList();
        // A small part keeps little air about it, so that it is seen at all.
        var margin = Alone
            ? Math.Min(
                Margin,
                0.1
                    * Math.Max(
                        corners.Max(c => c.U) - corners.Min(c => c.U),
                        corners.Max(c => c.V) - corners.Min(c => c.V)
                    )
            )
            : Margin;
        var above = View.Name == "above" ? margin * 1.5 : margin;
        return (
            corners.Min(c => c.U) - margin,
            corners.Min(c => c.V) - above,
            corners.Max(c => c.U) + margin,
            corners.Max(c => c.V) + above + margin / 2
        );
    }

    private (double Left, double Top, double Right, double Bottom) Flat(SolidFaces s)
    {
        var corners = Corners(s.Low, s.High).Select(View.Map).ToList();
        return (corners.Min(c => c.U), corners.Min(c => c.V), corners.Max(c => c.U), corners.Max(c => c.V));
    }

    private static IEnumerable<P3> Corners(P3 low, P3 high)
    {
        for (var i = 0; i < 8; i++)
        {
            yield return new(
                (i & 1) == 0 ? low.X : high.X,
                (i & 2) == 0 ? low.Y : high.Y,
                (i & 4) == 0 ? low.Z : high.Z
            );
        }
    }

    private static Swing? Hinged(Layout layout, PartId partId, HashSet<PartId> opened, Dictionary<PartId, P3> offsets)
    {
        if (
            !opened.Contains(partId)
            || offsets.ContainsKey(partId)
            || layout.Operations.FirstOrDefault(o => o.Motion?.Kind == MotionKind.Hinge && o.Loosens.Contains(partId))
                is not { } operation
        )
        {
            return null;
        }
        return Swing.Of(layout, operation, partId);
    }

    /// <summary>Along the motion, far enough that what lies behind is seen.</summary>
    private static P3 Offset(Motion motion, bool apart)
    {
        var by = P3.Of(motion.Path[^1]) - P3.Of(motion.Path[0]);
        return apart && by.Length is > 0 and < Apart ? by * (Apart / by.Length) : by;
    }
}
