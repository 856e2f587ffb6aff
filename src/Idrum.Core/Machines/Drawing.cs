namespace Idrum.Core.Machines;

/// <summary>Side and front view on one scale, millimetres; y runs down.</summary>
public sealed record Drawing
{
    /// <summary>Seen from the machine's right; the front is to the left.</summary>
    public required View Side { get; init; }
    /// <summary>Seen from the door.</summary>
    public required View Front { get; init; }
}

/// <summary>One view.</summary>
public sealed record View
{
    /// <summary>Extent to the right, mm.</summary>
    public required double WidthMm { get; init; }
    /// <summary>Extent down, mm.</summary>
    public required double HeightMm { get; init; }
    /// <summary>Shapes, drawn in order of depth.</summary>
    public required IReadOnlyList<Shape> Shapes { get; init; }
    /// <summary>Fasteners, clips, hooks and plugs where they sit.</summary>
    public IReadOnlyList<Mark> Marks { get; init; } = [];
}

/// <summary>One shape of the small drawing vocabulary, bound to a part.</summary>
public sealed record Shape
{
    /// <summary>Part id.</summary>
    public required string Part { get; init; }
    /// <summary>panel, box, cylinder (seen from the side), ring, wheel, arc, duct, path or baffle.</summary>
    public required string Kind { get; init; }
    /// <summary>Left edge or centre, mm.</summary>
    public double X { get; init; }
    /// <summary>Upper edge or centre, mm.</summary>
    public double Y { get; init; }
    /// <summary>Width, mm.</summary>
    public double W { get; init; }
    /// <summary>Height, mm.</summary>
    public double H { get; init; }
    /// <summary>Radius, mm.</summary>
    public double R { get; init; }
    /// <summary>Start and end angle of an arc, degrees clockwise from three o'clock.</summary>
    public IReadOnlyList<double> Angles { get; init; } = [];
    /// <summary>Points of a path, mm.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Points { get; init; } = [];
    /// <summary>Depth: 0 is nearest the eye; deeper is drawn first and thinner.</summary>
    public int Depth { get; init; }
    /// <summary>Drawn thin and dashed, because something stands before it.</summary>
    public bool Hidden { get; init; }
}

/// <summary>A mark on the drawing.</summary>
/// <param name="Of">Fastener group id or plug id.</param>
/// <param name="X">Place to the right, mm.</param>
/// <param name="Y">Place down, mm.</param>
public sealed record Mark(string Of, double X, double Y);
